import { Select } from "antd";
import type { Schemas } from "../../api/client";

type Household = Schemas["HouseholdView"];

/** What a home can be picked out by; each with whether it fits. */
const states: { value: string; label: string; fits: (h: Household) => boolean }[] = [
  { value: "held", label: "held", fits: (h) => h.held !== "" },
  { value: "not held", label: "not held", fits: (h) => h.held === "" },
  { value: "tried", label: "tried", fits: (h) => h.attempts.length > 0 },
  { value: "not tried", label: "not yet tried", fits: (h) => h.attempts.length === 0 },
  { value: "none", label: "no contact", fits: (h) => h.contacts.length === 0 },
  { value: "care", label: "with a warning", fits: (h) => h.students.some((s) => s.warnings.length > 0) },
];

/** Whether a home fits what was chosen: one of each kind that is asked for. */
export function fits(h: Household, chosen: string[]): boolean {
  const of = (kind: string) => chosen.filter((c) => c.startsWith(`${kind} `)).map((c) => c.slice(kind.length + 1));
  const some = (kind: string, is: (value: string) => boolean) => {
    const asked = of(kind);
    return asked.length === 0 || asked.some(is);
  };
  return (
    some("year", (y) => h.students.some((s) => s.student.year === y)) &&
    some("form", (f) => h.students.some((s) => s.student.form === f)) &&
    some("is", (v) => states.find((s) => s.value === v)?.fits(h) ?? true)
  );
}

/** Picks homes by year, form, and how far they got. */
export function Filter({
  t,
  value,
  onChange,
}: {
  t: { households: Household[] };
  value: string[];
  onChange: (chosen: string[]) => void;
}) {
  const all = (of: (s: Schemas["HouseholdStudent"]) => string) =>
    [...new Set(t.households.flatMap((h) => h.students.map(of)))].sort((a, b) =>
      a.localeCompare(b, "en", { numeric: true }),
    );
  return (
    <Select
      mode="multiple"
      size="small"
      className="filter look-push no-print"
      aria-label="Show only"
      placeholder="all; by year, form, held, tried …"
      value={value}
      onChange={onChange}
      maxTagCount="responsive"
      options={[
        { label: "State", options: states.map((s) => ({ value: `is ${s.value}`, label: s.label })) },
        { label: "Year", options: all((s) => s.student.year).map((y) => ({ value: `year ${y}`, label: `year ${y}` })) },
        { label: "Form", options: all((s) => s.student.form).map((f) => ({ value: `form ${f}`, label: f })) },
      ]}
    />
  );
}
