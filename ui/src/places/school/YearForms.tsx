import { Button, Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { OneOf } from "../../parts/controls/OneOf";
import { TimeField } from "../../parts/controls/TimeField";
import { LookFirst } from "../../parts/LookFirst";

type Year = Schemas["SectionYear"];
type Kind = Schemas["Terms"]["kind"];
type Span = Schemas["NamedSpan"];

const spansOf = (list: Schemas["TermDates"][]): Span[] =>
  list.map((t) => ({ name: t.name, from: t.first, to: t.last }));

/** The terms or grading periods of a school year, as they are to be. */
export function TermsForm({ year, close }: { year: Year; close: (changed: boolean) => void }) {
  const [kind, setKind] = useState<Kind>("term");
  const [spans, setSpans] = useState<Record<Kind, Span[]>>({
    term: spansOf(year.terms),
    "grading period": spansOf(year.periods),
  });
  const list = spans[kind];
  const set = (next: Span[]) => setSpans({ ...spans, [kind]: next });
  const change = (at: number, next: Partial<Span>) => set(list.map((s, i) => (i === at ? { ...s, ...next } : s)));
  return (
    <LookFirst
      title={`Terms and grading periods${year.name && `, ${year.name}`}`}
      path="/api/school/terms"
      body={{ section: year.section, year: year.first, kind, spans: list }}
      ready
      said={(p) => `Saved, ${p.when}`}
      began={[year.terms, year.periods]}
      width={640}
      close={close}
    >
      <OneOf
        label="Which"
        value={kind}
        onChange={setKind}
        options={[
          { value: "term" as const, label: "terms" },
          { value: "grading period" as const, label: "grading periods" },
        ]}
      />
      <div className="spans">
        {list.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: one that is being written is told by its place
          <div key={i}>
            <Input
              aria-label={`Name of ${kind} ${i + 1}`}
              value={s.name}
              maxLength={60}
              onChange={(e) => change(i, { name: e.target.value })}
            />
            <DateField label={`${s.name}, first date`} back value={s.from} onChange={(from) => change(i, { from })} />–
            <DateField label={`${s.name}, last date`} back value={s.to} onChange={(to) => change(i, { to })} />
            <button
              type="button"
              className="link look-small"
              aria-label={`take out: ${s.name}`}
              onClick={() => set(list.filter((_, x) => x !== i))}
            >
              take out
            </button>
          </div>
        ))}
        <span>
          <Button size="small" onClick={() => set([...list, { name: "", from: "", to: "" }])}>
            Add a {kind}
          </Button>
        </span>
      </div>
    </LookFirst>
  );
}

/** Dates that go by another pattern, or have school against the calendar. */
export function PatternForm({ years, close }: { years: Year[]; close: (changed: boolean) => void }) {
  const [section, setSection] = useState(years[0]?.section ?? 0);
  const year = years.find((y) => y.section === section);
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [pattern, setPattern] = useState(year?.patterns[0] ?? "");
  return (
    <LookFirst
      title="School by another day pattern"
      path="/api/school/day-pattern"
      body={{ section, from, to: to || undefined, pattern }}
      ready={from !== "" && pattern !== ""}
      said={(p) => `${pattern} ${p.when}`}
      correctsPast
      close={close}
    >
      <div className="pair">
        <span>
          <span aria-hidden="true">Date</span>
          <DateField label="Date" value={from} onChange={setFrom} autoFocus />
        </span>
        <span>
          <span aria-hidden="true">to, if several</span>
          <DateField label="Last date" optional value={to} onChange={setTo} />
        </span>
        <span>
          <span aria-hidden="true">goes by</span>
          <Choice
            label="Day pattern"
            value={pattern}
            onChange={setPattern}
            options={(year?.patterns ?? []).map((p) => ({ value: p, label: p }))}
          />
        </span>
      </div>
      {years.length > 1 && (
        <Choice
          label="Section"
          value={section}
          onChange={setSection}
          options={years.map((y) => ({ value: y.section, label: y.name }))}
        />
      )}
      <p className="look-small look-muted">
        A single date without school has school then. Patterns are made under Timetable.
      </p>
    </LookFirst>
  );
}

type Slot = Schemas["BellSlot"];

/** The times of a day pattern from a date on; or a pattern that is new. */
export function BellsForm({
  section,
  pattern,
  slots,
  close,
}: {
  section: number;
  pattern: string; // empty for a new one
  slots: Schemas["SlotLine"][];
  close: (changed: boolean) => void;
}) {
  const [name, setName] = useState(pattern);
  const [from, setFrom] = useState("");
  const [list, setList] = useState<Slot[]>(
    slots.filter((s) => s.last).map((s) => ({ slot: s.slot, kind: s.kind, from: s.from, to: s.to })),
  );
  const change = (at: number, next: Partial<Slot>) => setList(list.map((s, i) => (i === at ? { ...s, ...next } : s)));
  return (
    <LookFirst
      title={pattern ? `Times of ${pattern} from a date on` : "A new day pattern"}
      path="/api/school/bells"
      body={{ section, pattern: name.trim(), from, slots: list, new: !pattern || undefined }}
      ready={from !== "" && name.trim() !== "" && list.length > 0}
      said={(p) => `${name.trim()}: ${p.when}`}
      correctsPast
      began={slots}
      width={600}
      close={close}
    >
      <div className="pair">
        {!pattern && (
          <label>
            Name
            <Input className="short" value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
          </label>
        )}
        <span>
          <span aria-hidden="true">Holds from</span>
          <DateField label="Holds from" back value={from} onChange={setFrom} />
        </span>
      </div>
      <div className="spans">
        {list.map((s, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: one that is being written is told by its place
          <div key={i}>
            <Input
              aria-label={`Name of slot ${i + 1}`}
              value={s.slot}
              maxLength={20}
              onChange={(e) => change(i, { slot: e.target.value })}
            />
            <Choice
              label={`${s.slot}: kind`}
              value={s.kind}
              onChange={(kind) => change(i, { kind })}
              options={[
                { value: "registration" as const, label: "registration" },
                { value: "lesson" as const, label: "lesson" },
              ]}
            />
            <TimeField label={`${s.slot}, from`} value={s.from} onChange={(v) => change(i, { from: v })} />–
            <TimeField label={`${s.slot}, to`} value={s.to} onChange={(v) => change(i, { to: v })} />
            <button
              type="button"
              className="link look-small"
              aria-label={`take out: ${s.slot}`}
              onClick={() => setList(list.filter((_, x) => x !== i))}
            >
              take out
            </button>
          </div>
        ))}
        <span>
          <Button size="small" onClick={() => setList([...list, { slot: "", kind: "lesson", from: "", to: "" }])}>
            Add a slot
          </Button>
        </span>
      </div>
    </LookFirst>
  );
}
