import { type Schemas, useRead, useWrite } from "../api/client";
import { tell } from "./told";

type Answer = Schemas["HelpAnswer"];
type Pin = Schemas["PinRef"];

/** What in an address is no choice of the page: the student in hand, and what is open over it. */
export const passing = ["student", "why", "at", "step", "notice", "incident"];

/** A page's address without what is passing. */
export function lasting(pathname: string, search: string): string {
  const params = new URLSearchParams(search);
  for (const name of passing) params.delete(name);
  return params.size > 0 ? `${pathname}?${params}` : pathname;
}

/** The pages that somebody has put first, and how a page comes to be one. */
export function usePins() {
  const pins = useRead("/api/pins").data ?? [];
  const change = useWrite({ done: tell.receipt, failed: (e) => tell.wrong(e.message) });
  return {
    pins,
    pin: (path: string, title: string) => change.mutate({ path: "/api/pins", body: { path, title } }),
    unpin: (pin: Pin) => change.mutate({ path: "/api/pins/{pin}/end", params: { pin: pin.id } }),
    busy: change.isPending,
  };
}

/** Pins as they are offered before anything is asked. */
export const asAnswers = (pins: Pin[]): Answer[] =>
  pins.map((p) => ({ path: p.path, title: p.title, answer: "pinned" }));

/** Answers with those that are pinned first. */
export function pinnedFirst(answers: Answer[], pins: Pin[]): Answer[] {
  const is = (a: Answer) => pins.some((p) => p.path === a.path);
  return [...answers.filter(is), ...answers.filter((a) => !is(a))];
}
