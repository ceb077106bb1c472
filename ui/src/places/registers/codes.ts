import type { Schemas } from "../../api/client";

type View = Pick<Schemas["RegisterView"], "codes">;

/** The code that the school uses for something, where it has one. */
export function codeFor(view: View, use: string): Schemas["CodeView"] | undefined {
  return view.codes.find((c) => c.uses.includes(use));
}

/** Whether a letter that would do something else on a register marks there instead. */
export function marksWith(view: View, key: string): boolean {
  return view.codes.some((c) => c.key === key);
}

/** The codes with a button in every row, in their order; the others have keys. */
export function buttonsOf(view: View): Schemas["CodeView"][] {
  return view.codes.filter((c) => c.button > 0).sort((a, b) => a.button - b.button);
}

/** Whether a row's code shows on a button: its own, or any lateness on that of late. */
export function showsOn(button: Schemas["CodeView"], own: Schemas["CodeView"] | undefined): boolean {
  return own !== undefined && (own.code === button.code || (own.late && button.uses.includes("late")));
}
