import type { Schemas } from "../api/client";

const kinds: Record<string, string> = {
  term: "Terms",
  "grading period": "Grading periods",
  month: "Months",
  year: "Years",
  leaving: "Leaving cohorts",
  form: "Forms",
  class: "Classes",
  transport: "Transport",
  timetable: "Timetable",
  trip: "Trips",
  concern: "Found by a rule",
  list: "Lists",
  "own field": "Own fields",
};

/** Choices under headings, in the order in which their kinds come. */
export function grouped(choices: Schemas["Choice"][]) {
  const seen = [...new Set(choices.map((c) => c.kind))];
  return seen.map((kind) => ({
    label: kinds[kind] ?? kind,
    options: choices.filter((c) => c.kind === kind).map((c) => ({ value: c.value, label: c.label })),
  }));
}
