import { Button, Input, Select } from "antd";
import { useEffect, useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useWrite, write } from "../../api/client";
import { OneOf } from "../../parts/controls/OneOf";
import { Tick } from "../../parts/controls/Tick";
import { KeepList } from "../../parts/KeepList";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { WriteToMany } from "../../parts/WriteToMany";
import { plural } from "../../parts/words";
import { PieceEditor } from "./PieceEditor";
import { type Condition, conditionOf, type Form, type Piece } from "./rule";
import { Trial } from "./Trial";

const pause = 300; // ms without a change until what is built is looked at
const few = 8; // students who are named at once

const tells = [
  { value: "pastoral", label: "the pastoral leads" },
  { value: "officer", label: "the attendance officers" },
  { value: "leader", label: "the leaders" },
  { value: "tutor", label: "the student’s tutor" },
];

/** Who is told of those whom the rule comes to find. */
function Told({ form, change }: { form: Form; change: (next: Form) => void }) {
  return (
    <div className="look-line look-wrap">
      <span className="look-small">Once a day, of those newly found, tell</span>
      <Select
        mode="multiple"
        size="small"
        className="several"
        aria-label="Who is told"
        placeholder="nobody"
        value={form.tell}
        popupMatchSelectWidth={false}
        onChange={(tell: string[]) => change({ ...form, tell })}
        options={tells}
      />
      {form.tell.length > 0 && (
        <Tick checked={form.send} onChange={(send) => change({ ...form, send })}>
          by e-mail too, without names
        </Tick>
      )}
    </div>
  );
}

/** A rule in pieces that read as a sentence; whom it finds moves with each change. */
export function Builder({
  begun,
  version,
  versions,
  v,
  saved,
}: {
  begun: Form;
  version: number;
  versions: Schemas["RuleVersion"][];
  v: Schemas["RulesView"];
  saved: () => void;
}) {
  const { at } = useAddress();
  const where = JSON.stringify({ at, section: useScope() }); // by what it says: a list is another each time
  const [form, setForm] = useState(begun);
  const [found, setFound] = useState<Schemas["RuleFound"]>();
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(async () => {
      try {
        const next = await write({ path: "/api/rules/look", body: { rule: form, ...JSON.parse(where) } });
        if (!gone) setFound(next);
      } catch (e) {
        if (!gone) tell.wrong((e as Error).message);
      }
    }, pause);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [form, where]);
  const save = useWrite({
    done: (r) => {
      tell.receipt(r);
      saved();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const changed = JSON.stringify(form) !== JSON.stringify(begun);
  const put = (off: boolean) => save.mutate({ path: "/api/rules", body: { rule: off ? begun : form, version, off } });
  const several = (key: "years" | "forms" | "classes" | "lists", options: string[], any: string) =>
    options.length > 0 && (
      <Select
        mode="multiple"
        size="small"
        className="several"
        aria-label={any}
        placeholder={any}
        value={form[key]}
        popupMatchSelectWidth={false}
        disabled={!v.mayChange}
        onChange={(x: string[]) => setForm({ ...form, [key]: x })}
        options={options.map((x) => ({ value: x, label: x }))}
      />
    );
  return (
    <div className="stack builder">
      <Panel title={begun.title || "New rule"} extra={begun.source || undefined}>
        <div className="sentence" role="status">
          {found?.problem ? (
            <span className="look-overdue">{found.problem}</span>
          ) : (
            found?.sentence && `A student ${found.sentence}.`
          )}
        </div>
        {v.mayChange && (
          <div className="pieces">
            <div className="look-line look-wrap">
              <label>
                Called{" "}
                <Input
                  size="small"
                  className="called"
                  value={form.title}
                  onChange={(e) => setForm({ ...form, title: e.target.value })}
                />
              </label>
              <Tick checked={form.on} onChange={(on) => setForm({ ...form, on })}>
                on
              </Tick>
              {several("years", v.choices.years, "in every year")}
              {several("forms", v.choices.forms, "in every form")}
              {several("classes", v.choices.classes, "in any class")}
              {several("lists", v.choices.lists, "on any list or none")}
              <Tick checked={form.onPlan} onChange={(onPlan) => setForm({ ...form, onPlan })}>
                part-time only
              </Tick>
            </div>
            <Pieces form={form} v={v} change={setForm} />
            <Told form={form} change={setForm} />
            <div className="look-line look-wrap">
              <Button
                type="primary"
                disabled={!form.title.trim() || !found || found.problem !== "" || (!changed && version !== 0)}
                loading={save.isPending}
                onClick={() => put(false)}
              >
                {form.on ? "Save, and it is on" : "Save, switched off"}
              </Button>
              {begun.id && (
                <Button danger loading={save.isPending} onClick={() => put(true)}>
                  Take the rule off
                </Button>
              )}
            </div>
          </div>
        )}
        {versions.length > 1 && <Versions list={versions} again={v.mayChange ? setForm : undefined} />}
      </Panel>
      {found && !found.problem && <Now found={found} />}
      <Trial form={form} ready={found !== undefined && found.problem === ""} v={v} />
    </div>
  );
}

/** The pieces, joined by all or any; a piece may hold pieces of its own. */
function Pieces({ form, v, change }: { form: Form; v: Schemas["RulesView"]; change: (f: Form) => void }) {
  const first = v.indicators[0];
  const fresh = (): Condition | undefined => first && conditionOf(first, v.choices.policies[0]?.value ?? "");
  const put = (n: number, p: Piece | undefined) =>
    change({
      ...form,
      pieces: p ? form.pieces.map((x, i) => (i === n ? p : x)) : form.pieces.filter((_, i) => i !== n),
    });
  const add = (within: boolean) => {
    const c = fresh();
    if (c)
      change({
        ...form,
        pieces: [...form.pieces, within ? { any: true, within: [c] } : { condition: c, any: false, within: [] }],
      });
  };
  return (
    <>
      {form.pieces.length > 1 && (
        <div className="look-line">
          <OneOf
            label="How the pieces are joined"
            value={form.any ? "any" : "all"}
            onChange={(x) => change({ ...form, any: x === "any" })}
            options={[
              { value: "all", label: "all of these" },
              { value: "any", label: "at least one of these" },
            ]}
          />
        </div>
      )}
      <ol className="list">
        {form.pieces.map((p, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other name than their place
          <li key={n}>
            {p.condition ? (
              <PieceEditor
                name={`piece ${n + 1}`}
                c={p.condition}
                indicators={v.indicators}
                choices={v.choices}
                change={(condition) => put(n, { ...p, condition })}
                remove={() => put(n, undefined)}
              />
            ) : (
              <div className="within">
                <OneOf
                  label={`How the pieces within piece ${n + 1} are joined`}
                  value={p.any ? "any" : "all"}
                  onChange={(x) => put(n, { ...p, any: x === "any" })}
                  options={[
                    { value: "any", label: "at least one of" },
                    { value: "all", label: "all of" },
                  ]}
                />
                {p.within.map((c, k) => (
                  <PieceEditor
                    // biome-ignore lint/suspicious/noArrayIndexKey: as above
                    key={k}
                    name={`piece ${n + 1}.${k + 1}`}
                    c={c}
                    indicators={v.indicators}
                    choices={v.choices}
                    change={(next) => put(n, { ...p, within: p.within.map((x, i) => (i === k ? next : x)) })}
                    remove={() => {
                      const within = p.within.filter((_, i) => i !== k);
                      put(n, within.length > 0 ? { ...p, within } : undefined);
                    }}
                  />
                ))}
                <Button
                  size="small"
                  onClick={() => {
                    const c = fresh();
                    if (c) put(n, { ...p, within: [...p.within, c] });
                  }}
                >
                  Add within
                </Button>
              </div>
            )}
          </li>
        ))}
      </ol>
      <div className="look-line">
        <Button size="small" onClick={() => add(false)}>
          Add a piece
        </Button>
        <Button size="small" onClick={() => add(true)}>
          Add several of which one is enough
        </Button>
      </div>
    </>
  );
}

/** Whom the rule finds now, and of whom it can't be said. */
function Now({ found }: { found: Schemas["RuleFound"] }) {
  const { at } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const [all, setAll] = useState(false);
  const shown = all ? found.students : found.students.slice(0, few);
  return (
    <Panel title={`${found.students.length} of ${found.of}`} extra={`as at ${found.asAt}`}>
      {shown.map((s) => (
        <div className="look-line" key={s.student.id}>
          <StudentName student={s.student} />
          <span className="look-small look-muted">{s.why}</span>
          <span className="look-push look-small look-nowrap">since {s.since}</span>
        </div>
      ))}
      <div className="look-line look-wrap">
        {found.students.length > few && (
          <button type="button" className="link" onClick={() => setAll(!all)}>
            {all ? "fewer" : `all ${found.students.length}`}
          </button>
        )}
        <KeepList students={found.students.map((s) => s.student)}>Keep as a list …</KeepList>
        {who.inOffice && !at && <WriteToMany students={found.students.map((s) => s.student)} />}
      </div>
      {found.unknown.length > 0 && (
        <details className="unknown">
          <summary>It can’t be judged of {plural(found.unknown.length, "student")}</summary>
          <p className="look-small">
            {found.unknown.map((s, i) => (
              <span key={s.student.id}>
                {i > 0 && ", "}
                <StudentName student={s.student} form={false} />
              </span>
            ))}
          </p>
        </details>
      )}
    </Panel>
  );
}

function Versions({ list, again }: { list: Schemas["RuleVersion"][]; again?: (f: Form) => void }) {
  return (
    <details className="unknown">
      <summary>{plural(list.length, "version")}</summary>
      <ul className="look-small">
        {list.map((x) => (
          <li key={x.at + x.sentence}>
            {x.at}, {x.by || "as it shipped"}
            {x.until && `, until ${x.until}`}: {x.sentence}{" "}
            {x.until && x.form && again && (
              <Button size="small" onClick={() => x.form && again(x.form)}>
                Begin from it again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
