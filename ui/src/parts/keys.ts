import { useEffect, useRef } from "react";

/** Whether what is typed belongs to a field. */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName))
  );
}

/** Whether a key does nothing to a chosen option, which takes arrows and the space bar only. */
function passesBy(target: EventTarget | null, name: string): boolean {
  return target instanceof HTMLInputElement && target.type === "radio" && name !== " " && !name.startsWith("Arrow");
}

const offName = "meldung single keys off";

/** Whether single letters, digits and signs are keys on this machine: whoever speaks to it switches them off. */
export const singleKeys = {
  off: () => localStorage.getItem(offName) !== null,
  set: (off: boolean) => (off ? localStorage.setItem(offName, "1") : localStorage.removeItem(offName)),
};

/** Whether something lies over the page, wherever the focus is: the page's keys are silent then. */
const covered = () =>
  [...document.querySelectorAll(".ant-modal-wrap, .ant-drawer-open .ant-drawer-content-wrapper")].some(
    (one) => (one as HTMLElement).style.display !== "none",
  );

export type Keys = Record<string, (event: KeyboardEvent) => void>;

/** The name under which a key press is listed: "a", "ArrowDown", "Ctrl+Enter". */
export function keyName(event: KeyboardEvent): string {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  return event.ctrlKey || event.metaKey ? `Ctrl+${name}` : name;
}

/**
 * Keys of a page; they are silent while a field has the focus or a dialogue is open. Single letters and signs are
 * keys unless they are switched off.
 */
export function useKeys(keys: Keys, active = true) {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    if (!active) return;
    const onKey = (event: KeyboardEvent) => {
      const name = keyName(event);
      if (event.altKey || event.defaultPrevented) return;
      if (isTyping(event.target) && !name.startsWith("Ctrl+") && !passesBy(event.target, name)) return;
      if (event.target instanceof HTMLElement && event.target.closest("[role=dialog]")) return;
      if (event.key === "Enter" && !event.ctrlKey && event.target instanceof HTMLButtonElement) return;
      const act = latest.current[name];
      if (!act || covered() || (name.length === 1 && name !== " " && singleKeys.off())) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [active]);
}
