import type { Schemas } from "../../../api/client";

export type Setup = Schemas["Setup"];
export type Column = Schemas["PaperListColumn"];

const narrowest = 4; // mm
const widest = 400;

/** The columns with one moved by some places, as far as there are places. */
export function moved(columns: Column[], from: number, by: number): Column[] {
  const next = [...columns];
  const [one] = next.splice(from, 1);
  if (one) next.splice(Math.min(Math.max(from + by, 0), next.length), 0, one);
  return next;
}

/** The columns with one wider or narrower by some millimetres. */
export function widened(columns: Column[], at: number, by: number): Column[] {
  return columns.map((c, i) =>
    i === at ? { ...c, width: Math.round(Math.min(Math.max(c.width + by, narrowest), widest)) } : c,
  );
}

/** A column of a field. */
export function columnOf(f: Schemas["FieldRef"]): Column {
  return { field: f.id, heading: f.heading, width: f.width };
}

/** A list of students who were chosen elsewhere, as a group under a name. */
export function groupOf(students: number[], name: string): string {
  return `students:${students.join(",")} ${name}`;
}

/** A list to start from where none of the ready ones is chosen. */
export function blank(): Setup {
  return {
    title: "List",
    kind: "table",
    points: 10,
    columns: [
      { field: "sorted", heading: "Name", width: 50 },
      { field: "form", heading: "Form", width: 24 },
    ],
    order: [{ field: "sorted" }],
    sign: [],
    extra: [],
    without: [],
  };
}

/** Whether two lists are shaped alike: what is empty is the same as what is not there. */
export function alike(a: Setup, b: Setup): boolean {
  const plain = (s: Setup) =>
    JSON.stringify(
      Object.entries(s)
        .filter(([, value]) => value)
        .map(([name, value]) => [
          name,
          name === "order" ? (value as Setup["order"]).map((o) => [o.field, !!o.down]) : value,
        ])
        .sort(([x], [y]) => (String(x) < String(y) ? -1 : 1)),
    );
  return plain(a) === plain(b);
}
