import { useSyncExternalStore } from "react";
import type { Schemas } from "../api/client";

/** What a person is told of what they have just done: that it is stored, what was wrong, or that it goes on. */
export type Told = {
  id: number;
  kind: "done" | "wrong" | "waits";
  text: string;
  undo?: number; // the entry of the journal that can be taken back
};

const most = 3; // that stand at once
const stays = { done: 7_000, wrong: 14_000 }; // ms; what went wrong has to be read while something else is at hand

let list: readonly Told[] = [];
let last = 0;
const listeners = new Set<() => void>();
const timers = new Map<number, ReturnType<typeof setTimeout>>();

function put(next: readonly Told[]) {
  list = next;
  for (const listener of listeners) listener();
}

function close(id: number) {
  clearTimeout(timers.get(id));
  timers.delete(id);
  put(list.filter((t) => t.id !== id));
}

/** Lets what stands go after its time; while it is looked at, or has the focus, it stays. */
function leave(t: Told) {
  if (t.kind !== "waits")
    timers.set(
      t.id,
      setTimeout(() => close(t.id), stays[t.kind]),
    );
}

function add(kind: Told["kind"], text: string, undo?: number): number {
  const t: Told = { id: ++last, kind, text: text.charAt(0).toUpperCase() + text.slice(1), undo };
  const same = list.filter((o) => o.text !== t.text || o.kind !== kind);
  put([...same.slice(1 - most), t]);
  leave(t);
  return t.id;
}

/** Tells the person, in the frame. It is no part of a page: a page that closes leaves what it told. */
export const tell = {
  done: (text: string) => void add("done", text),
  receipt: (r: Schemas["Receipt"]) => void add("done", r.text, r.undo ? r.seq : undefined),
  wrong: (text: string) => void add("wrong", text),
  /** Something takes a while; the function that is returned says that it is over. */
  waits: (text: string) => {
    const id = add("waits", text);
    return () => close(id);
  },
  close,
  hold: (id: number) => clearTimeout(timers.get(id)),
  leave,
  /** Nobody is told anything any more: of another person, or in another test. */
  forget: () => {
    for (const timer of timers.values()) clearTimeout(timer);
    timers.clear();
    put([]);
  },
};

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useTold = () => useSyncExternalStore(subscribe, () => list);
