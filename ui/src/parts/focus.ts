import { useEffect, useState } from "react";

const able = "a[href], button:not(:disabled), input:not(:disabled), select, textarea, [tabindex='0']";

/** The focus goes back, when what is shown closes, to where it was when it opened. */
export function useFocusBack() {
  const [before] = useState(() => document.activeElement);
  useEffect(
    () => () => {
      // After whatever closes has let go of it; where the person has gone elsewhere, they stay there.
      setTimeout(() => {
        if (document.activeElement === document.body && before instanceof HTMLElement && before.isConnected)
          before.focus();
      });
    },
    [before],
  );
}

type Place = { element: Element; row: Element; list: Element; at: number; within: number };

/** Where an element stands: in which row of what list, and which stop of the row it is. */
function placeOf(element: Element): Place | undefined {
  const row = element.closest("tr, li, .look-line, .case, .receipt, .member");
  const list = row?.parentElement;
  if (!row || !list) return undefined;
  return {
    element,
    row,
    list,
    at: [...list.children].indexOf(row),
    within: [...row.querySelectorAll(able)].indexOf(element),
  };
}

/**
 * A row that an action takes off its list leaves the focus on the row that comes to stand there, and not at the top
 * of the page. It returns what ends it.
 */
export function keepFocusInLists(): () => void {
  let last: Place | undefined;
  const onFocus = (e: FocusEvent) => {
    last = e.target instanceof Element ? placeOf(e.target) : undefined;
  };
  const look = () => {
    if (!last || last.element.isConnected || document.activeElement !== document.body) return;
    const { list, at, within } = last;
    last = undefined;
    const row = list.isConnected ? (list.children[at] ?? list.lastElementChild) : undefined;
    const stops = row ? [...row.querySelectorAll<HTMLElement>(able)] : [];
    (stops[within] ?? stops.at(-1))?.focus();
  };
  const watch = new MutationObserver(look);
  watch.observe(document.body, { childList: true, subtree: true });
  document.addEventListener("focusin", onFocus);
  return () => {
    watch.disconnect();
    document.removeEventListener("focusin", onFocus);
  };
}
