import { createContext } from "react";

let students: readonly number[] = [];

/** The students of a long list, of which not all are on the page. */
export const WholeList = createContext<readonly number[] | undefined>(undefined);

/** Whom a row is about. */
export const ofStudent = (row: { student: { id: number } }) => row.student.id;

/**
 * Remembers the students of the list in which a name was chosen, in their order: the sheet goes on through them. They
 * are those of a long list as a whole, or those whose names stand beside it.
 */
export function rememberList(of: Element, whole: readonly number[] | undefined) {
  if (whole) {
    students = whole;
    return;
  }
  const list = of.closest(".panel, table, section, main") ?? document.body;
  const ids = [...list.querySelectorAll<HTMLElement>("[data-student]")].map((e) => Number(e.dataset.student));
  students = [...new Set(ids)];
}

/** Where a student stands in the list that was remembered, with the ones before and after. */
export function placeInList(student: number) {
  const at = students.indexOf(student);
  if (at < 0 || students.length < 2) return undefined;
  return { number: at + 1, of: students.length, before: students[at - 1], after: students[at + 1] };
}
