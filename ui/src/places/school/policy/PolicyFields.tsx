import { Button, Input } from "antd";
import type { ReactNode } from "react";
import type { Schemas } from "../../../api/client";
import { Choice } from "../../../parts/controls/Choice";
import { OneOf } from "../../../parts/controls/OneOf";
import { Tick } from "../../../parts/controls/Tick";

type Form = Schemas["PolicyForm"];
type Line = Schemas["TriggerForm"];
type Ladder = Schemas["LadderForm"];

const units = [
  { value: "day", label: "days" },
  { value: "session", label: "sessions" },
  { value: "minute", label: "minutes" },
];
const counts = [
  { value: "days", label: "days" },
  { value: "sessions", label: "sessions" },
  { value: "minutes", label: "time" },
  { value: "lates", label: "lates" },
];
const sides = ["unexcused", "excused", "medical", "excused_nonmedical"] as const;
const sideWords: Record<string, string> = { excused_nonmedical: "excused, not medical" };
const windows = [
  { value: "year", label: "in the year" },
  { value: "term", label: "in the term" },
  { value: "grading_period", label: "in the grading period" },
  { value: "month", label: "in the month" },
  { value: "four_weeks", label: "in four school weeks" },
  { value: "rolling_weeks", label: "in so many school weeks" },
  { value: "rolling_days", label: "in so many school days" },
  { value: "run", label: "in a run" },
];
const pers = [
  { value: "class", label: "for each class" },
  { value: "slot", label: "for each slot" },
  { value: "day", label: "once a day" },
  { value: "school", label: "all together" },
];
const withins = windows.filter((w) => ["grading_period", "term", "year"].includes(w.value));

const replaced = <T,>(list: readonly T[], at: number, next: Partial<T>): T[] =>
  list.map((one, i) => (i === at ? { ...one, ...next } : one));
const without = <T,>(list: readonly T[], at: number): T[] => list.filter((_, i) => i !== at);

/** A new id that is not taken: its word, with a number where needed. */
function fresh(word: string, taken: readonly string[]): string {
  let n = 1;
  while (taken.includes(n === 1 ? word : `${word}-${n}`)) n++;
  return n === 1 ? word : `${word}-${n}`;
}

/** A policy filled in. What is wrong in it is told beside its file. */
export function PolicyFields({ form, change }: { form: Form; change: (next: Form) => void }) {
  const set = (next: Partial<Form>) => change({ ...form, ...next });
  return (
    <div className="fields">
      <Field label="Name">
        <Text label="Name" value={form.title} change={(title) => set({ title })} />
      </Field>
      <Field label="Id, in files">
        <Text label="Id, in files" value={form.id} change={(id) => set({ id })} className="short" />
        <span className="look-muted look-small">another id makes it a policy more, beside this one</span>
      </Field>
      <Field label="Source">
        <Text label="Source" value={form.source} change={(source) => set({ source })} />
      </Field>
      <Field label="Counts">
        <OneOf label="Counts" value={form.unit} onChange={(unit) => set({ unit })} options={units} />
      </Field>
      <Field label="Of">
        <OneOf
          label="Of which slots"
          value={form.slots}
          onChange={(slots) => set({ slots })}
          options={[
            { value: "all", label: "registrations and lessons" },
            { value: "registration", label: "registrations alone" },
          ]}
        />
      </Field>
      <Field label="A day is missed from">
        <Text
          label="A day is missed from"
          value={form.dayAbsentAt}
          change={(dayAbsentAt) => set({ dayAbsentAt })}
          className="short"
        />
        <span className="look-muted">of what was due on it</span>
      </Field>
      <Field label="A whole day is charged">
        <OneOf
          label="A whole day is charged"
          value={form.basis}
          onChange={(basis) => set({ basis })}
          options={[
            { value: "scheduled", label: "as it was due here" },
            { value: "full_day", label: "as a full day" },
          ]}
        />
      </Field>
      <Field label="The line">
        <Text label="The line" value={form.threshold} change={(threshold) => set({ threshold })} className="short" />
        <span className="look-muted">missed or more</span>
      </Field>
      <Field label="In a band from">
        <Text
          label="In a band from"
          value={form.minPossible}
          change={(minPossible) => set({ minPossible })}
          className="short"
        />
        <span className="look-muted">{units.find((u) => u.value === form.unit)?.label} possible on</span>
      </Field>
      <Field label="A reason is due within">
        <Text
          label="A reason is due within"
          value={form.unexplainedAfter}
          change={(unexplainedAfter) => set({ unexplainedAfter })}
          className="short"
        />
        <span className="look-muted">school days; 0 for never</span>
      </Field>

      <h3>Bands</h3>
      {form.bands.map((b, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a band is told by its place
        <div className="row" key={i}>
          <Text
            label={`Band ${i + 1}`}
            value={b.name}
            change={(name) => set({ bands: replaced(form.bands, i, { name }) })}
          />
          {i < form.bands.length - 1 || b.below ? (
            <>
              <span className="look-muted">below</span>
              <Text
                label={`Band ${i + 1}, below`}
                value={b.below}
                change={(below) => set({ bands: replaced(form.bands, i, { below }) })}
                className="short"
              />
            </>
          ) : (
            <span className="look-muted">and above</span>
          )}
          <Remove what={b.name || "the band"} done={() => set({ bands: without(form.bands, i) })} />
        </div>
      ))}
      <Add
        done={() =>
          set({
            bands: form.bands.length
              ? [...form.bands.slice(0, -1), { name: "new band", below: "50 %" }, ...form.bands.slice(-1)]
              : [
                  { name: "below the line", below: form.threshold },
                  { name: "over the line", below: "" },
                ],
          })
        }
      >
        Add a band
      </Add>

      <h3>Lines</h3>
      {form.triggers.map((t, i) => (
        <LineFields
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is told by its place
          key={i}
          line={t}
          change={(next) => set({ triggers: replaced(form.triggers, i, next) })}
          remove={() => set({ triggers: without(form.triggers, i) })}
        />
      ))}
      <Add
        done={() =>
          set({
            triggers: [
              ...form.triggers,
              {
                id: fresh(
                  "line",
                  form.triggers.map((t) => t.id),
                ),
                title: "New line",
                count: "days",
                of: ["unexcused"],
                reach: "3",
                window: "year",
                n: "",
              },
            ],
          })
        }
      >
        Add a line
      </Add>

      <h3>Lates</h3>
      {form.ladders.map((l, i) => (
        <LadderFields
          // biome-ignore lint/suspicious/noArrayIndexKey: a ladder is told by its place
          key={i}
          ladder={l}
          change={(next) => set({ ladders: replaced(form.ladders, i, next) })}
          remove={() => set({ ladders: without(form.ladders, i) })}
        />
      ))}
      <Add
        done={() =>
          set({
            ladders: [
              ...form.ladders,
              {
                id: fresh(
                  "lateness",
                  form.ladders.map((l) => l.id),
                ),
                title: "Lateness",
                per: "school",
                within: "term",
                steps: [{ from: "3", to: "3", do: "word" }],
              },
            ],
          })
        }
      >
        Add steps for lates
      </Add>
    </div>
  );
}

/** One line: what is counted, of which sides, how many, over what. */
function LineFields({
  line: t,
  change,
  remove,
}: {
  line: Line;
  change: (next: Partial<Line>) => void;
  remove: () => void;
}) {
  const rolls = t.window === "rolling_weeks" || t.window === "rolling_days";
  return (
    <div className="line">
      <div className="row">
        <Text label={`Name of the line ${t.id}`} value={t.title} change={(title) => change({ title })} />
        <Text label={`Id of the line ${t.id}`} value={t.id} change={(id) => change({ id })} className="id" />
        <Remove what={t.title || t.id} done={remove} />
      </div>
      <div className="row">
        <Text
          label={`${t.title}: reached at`}
          value={t.reach}
          change={(reach) => change({ reach })}
          className="short"
        />
        <Choice
          label={`${t.title}: what is counted`}
          size="small"
          value={t.count}
          onChange={(count) =>
            change(count === "lates" ? { count, of: [] } : { count, of: t.of.length ? t.of : ["unexcused"] })
          }
          options={counts}
        />
        <Choice
          label={`${t.title}: over what`}
          size="small"
          value={t.window}
          onChange={(window) => change({ window })}
          options={windows}
        />
        {rolls && <Text label={`${t.title}: over how many`} value={t.n} change={(n) => change({ n })} className="id" />}
      </div>
      {t.count !== "lates" && (
        <div className="row">
          {sides.map((s) => (
            <Tick
              key={s}
              checked={t.of.includes(s)}
              label={`${t.title}: ${sideWords[s] ?? s}`}
              onChange={(on) => change({ of: on ? [...t.of, s] : t.of.filter((x) => x !== s) })}
            >
              {sideWords[s] ?? s}
            </Tick>
          ))}
        </div>
      )}
    </div>
  );
}

/** Steps that follow on lates. */
function LadderFields({
  ladder: l,
  change,
  remove,
}: {
  ladder: Ladder;
  change: (next: Partial<Ladder>) => void;
  remove: () => void;
}) {
  return (
    <div className="line">
      <div className="row">
        <Text label={`Name of the steps ${l.id}`} value={l.title} change={(title) => change({ title })} />
        <Choice
          label={`${l.title}: how lates are counted`}
          size="small"
          value={l.per}
          onChange={(per) => change({ per })}
          options={pers}
        />
        <Choice
          label={`${l.title}: over what`}
          size="small"
          value={l.within}
          onChange={(within) => change({ within })}
          options={withins}
        />
        <Remove what={l.title || l.id} done={remove} />
      </div>
      {l.steps.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a step is told by its place
        <div className="row" key={i}>
          <span className="look-muted">late</span>
          <Text
            label={`Step ${i + 1}, from late`}
            value={s.from}
            change={(from) => change({ steps: replaced(l.steps, i, { from }) })}
            className="id"
          />
          <span className="look-muted">to</span>
          <Text
            label={`Step ${i + 1}, to late`}
            value={s.to}
            change={(to) => change({ steps: replaced(l.steps, i, { to }) })}
            className="id"
          />
          <Text
            label={`Step ${i + 1}, what is done`}
            value={s.do}
            change={(what) => change({ steps: replaced(l.steps, i, { do: what }) })}
          />
          <Remove what={`step ${i + 1}`} done={() => change({ steps: without(l.steps, i) })} />
        </div>
      ))}
      <Add
        done={() => {
          const last = l.steps.at(-1);
          const next = String(Number(last?.to || last?.from || 0) + 1);
          change({ steps: [...l.steps, { from: next, to: next, do: "word" }] });
        }}
      >
        Add a step
      </Add>
    </div>
  );
}

function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="field">
      <span>{label}</span>
      <span className="row">{children}</span>
    </div>
  );
}

function Text({
  label,
  value,
  change,
  className,
}: {
  label: string;
  value: string;
  change: (value: string) => void;
  className?: string;
}) {
  return (
    <Input
      size="small"
      aria-label={label}
      className={className}
      value={value}
      maxLength={400}
      onChange={(e) => change(e.target.value)}
    />
  );
}

function Add({ done, children }: { done: () => void; children: string }) {
  return (
    <div className="row">
      <Button size="small" onClick={done}>
        {children}
      </Button>
    </div>
  );
}

function Remove({ what, done }: { what: string; done: () => void }) {
  return (
    <button type="button" className="link look-small look-push" aria-label={`take out: ${what}`} onClick={done}>
      take out
    </button>
  );
}
