import { useEffect, useRef } from "react";
import { isTyping } from "./keys";

/** A reader types its keys closer together than a hand can, and ends with Enter. */
const longestGap = 40; // ms between two keys of a reader
const shortestCode = 4; // characters

const codeCharacter = /^[\w.$/+%-]$/;

type Field = HTMLInputElement | HTMLTextAreaElement;

function fieldOf(target: EventTarget | null): Field | undefined {
  return target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement ? target : undefined;
}

/** Puts a text into a field as typing would, so that the page notices. */
function fill(field: Field, value: string) {
  const own = field instanceof HTMLInputElement ? HTMLInputElement.prototype : HTMLTextAreaElement.prototype;
  Object.getOwnPropertyDescriptor(own, "value")?.set?.call(field, value);
  field.dispatchEvent(new Event("input", { bubbles: true }));
}

function keyDown(key: string) {
  return new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true });
}

/** Presses one key where the focus is, as a keyboard would. */
function press(event: KeyboardEvent) {
  const target = document.activeElement ?? document.body;
  if (!target.dispatchEvent(event)) return;
  const field = fieldOf(document.activeElement);
  if (field && event.key.length === 1) fill(field, field.value + event.key);
}

/**
 * Tells a card reader from a hand by its rhythm. Keys that may be the start of a scan are
 * held back for an instant and then let go in their order, so that a scan never triggers
 * a key; what a scan left in a field is taken out again.
 */
export function listenForScans(onScan: (code: string) => void): () => void {
  let held: string[] = [];
  let last = 0;
  let field: { element: Field; before: string } | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const ours = new WeakSet<Event>();

  const pressAgain = (key: string) => {
    const event = keyDown(key);
    ours.add(event);
    press(event);
  };
  const letGo = () => {
    clearTimeout(timer);
    const keys = held;
    const inField = field;
    held = [];
    field = undefined;
    if (!inField) for (const key of keys) pressAgain(key);
  };
  const stop = (event: KeyboardEvent) => {
    event.preventDefault();
    event.stopImmediatePropagation();
  };
  const onKey = (event: KeyboardEvent) => {
    if (ours.has(event)) return;
    const quick = event.timeStamp - last <= longestGap;
    last = event.timeStamp;
    if (event.key === "Shift") return; // a reader presses it for capitals
    if (event.key === "Enter" && held.length >= shortestCode && quick && !event.ctrlKey) {
      stop(event);
      const code = held.join("");
      if (field) fill(field.element, field.before);
      clearTimeout(timer);
      held = [];
      field = undefined;
      onScan(code);
      return;
    }
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey && !event.repeat;
    if (!plain || !codeCharacter.test(event.key)) {
      letGo();
      // The keys before it may have moved the focus: this one follows them there.
      if (plain && document.activeElement !== event.target && isTyping(document.activeElement)) {
        stop(event);
        pressAgain(event.key);
      }
      return;
    }
    if (held.length > 0 && !quick) letGo();
    if (held.length === 0 && isTyping(event.target)) {
      const element = fieldOf(event.target);
      field = element && { element, before: element.value };
    }
    held.push(event.key);
    if (!field) stop(event);
    clearTimeout(timer);
    // Once more to the end of the queue: where the page was busy, keys may be waiting there.
    timer = setTimeout(() => {
      timer = setTimeout(letGo, 0);
    }, longestGap);
  };
  window.addEventListener("keydown", onKey, { capture: true });
  return () => {
    window.removeEventListener("keydown", onKey, { capture: true });
    letGo();
  };
}

/** Listens for scans while a page is open, wherever the focus is. */
export function useScanner(onScan: (code: string) => void, active = true) {
  const latest = useRef(onScan);
  latest.current = onScan;
  useEffect(() => (active ? listenForScans((code) => latest.current(code)) : undefined), [active]);
}

/**
 * Types a code into this window as a reader would: for the stand-in of a reader. Its keys are of one
 * moment, however long the page takes over each.
 */
export function typeAsReader(code: string) {
  for (const event of [...code, "Enter"].map(keyDown)) press(event);
}

type Held = { kind: "card held to the reader"; code: string };

/** Connects this window to a reader's stand-in in another window, as a cable would. */
export function useReaderStandIn(active: boolean) {
  useEffect(() => {
    if (!active) return;
    const onMessage = (event: MessageEvent<Held>) => {
      if (event.origin === window.location.origin && event.data?.kind === "card held to the reader")
        typeAsReader(event.data.code);
    };
    window.addEventListener("message", onMessage);
    return () => window.removeEventListener("message", onMessage);
  }, [active]);
}

/** Holds a card to the reader that is connected to another window. */
export function holdCard(to: Window, code: string) {
  to.postMessage({ kind: "card held to the reader", code } satisfies Held, window.location.origin);
}
