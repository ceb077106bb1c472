import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite, write } from "../../api/client";
import { Icon, icons } from "../../look/Icon";
import { Choice } from "../../parts/controls/Choice";
import { FileField } from "../../parts/controls/FileField";
import { Tick } from "../../parts/controls/Tick";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type Field = Schemas["OwnField"];
type Kind = Field["kind"];

const kinds: Kind[] = ["text", "choice", "date", "time span", "number"];
const places = [
  { value: "roll", words: "register" },
  { value: "call", words: "calls" },
  { value: "desk", words: "desk" },
];
const roleWords: Record<string, string> = {
  officer: "attendance officer",
  pastoral: "pastoral lead",
  teacher: "teachers",
  desk: "front desk",
  leader: "leaders",
};

const flip = <T,>(list: readonly T[], one: T, on: boolean): T[] =>
  on ? [...list, one] : list.filter((x) => x !== one);

/** The school's own fields on its students: what there is, who sees and changes it, where it shows; in and out by CSV. */
export function OwnFields() {
  const page = useRead("/api/school/own-fields");
  const [draft, setDraft] = useState<Field[]>();
  const save = useWrite({
    done: (r) => {
      tell.receipt(r);
      setDraft(undefined);
      void page.refetch();
    },
    failed: (e) => tell.wrong(e.message),
  });
  if (!page.data) return null;
  const fields = draft ?? page.data.fields;
  const change = (at: number, next: Partial<Field>) =>
    setDraft(fields.map((f, i) => (i === at ? { ...f, ...next } : f)));
  const move = (at: number, to: number) => {
    const next = [...fields];
    next.splice(to, 0, ...next.splice(at, 1));
    setDraft(next);
  };
  const held = (f: Field) => page.data.held.find((h) => h.field === f.id)?.students ?? 0;
  return (
    <Panel title="Own fields on students" extra={fields.filter((f) => !f.retired).length} className="own-set">
      {fields.length === 0 && (
        <p className="empty look-small">
          What the school wants to know of a student beside what is here: a text, a choice, a date, a time span, a
          number.
        </p>
      )}
      {fields.map((f, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a field that is being written is told by its place
        <div className="one" key={i}>
          <div className="look-line look-wrap">
            <Input
              size="small"
              className="name"
              aria-label={`Name of field ${i + 1}`}
              value={f.name}
              maxLength={60}
              onChange={(e) => change(i, { name: e.target.value })}
            />
            <Choice
              label={`${f.name}: kind`}
              size="small"
              value={f.kind}
              disabled={f.id !== undefined}
              onChange={(kind) => change(i, { kind })}
              options={kinds.map((k) => ({ value: k, label: k }))}
            />
            <Choice
              label={`${f.name}: icon`}
              size="small"
              value={f.icon ?? ""}
              onChange={(icon) => change(i, { icon: icon as Field["icon"] })}
              options={[{ value: "", label: "no icon" }, ...icons.map((name) => ({ value: name, label: name }))]}
            />
            <Icon name={f.icon ?? ""} />
            <span className="look-small look-muted">
              {f.id !== undefined && (held(f) > 0 ? plural(held(f), "student") : "holds nothing yet")}
            </span>
            <span className="look-actions look-small">
              <button
                type="button"
                className="link"
                aria-label={`↑ ${f.name} further up`}
                disabled={i === 0}
                onClick={() => move(i, i - 1)}
              >
                ↑
              </button>
              <Tick checked={!f.retired} onChange={(on) => change(i, { retired: !on })} label={`${f.name} is offered`}>
                offered
              </Tick>
            </span>
          </div>
          {f.kind === "choice" && (
            <div className="look-line">
              <Input
                size="small"
                aria-label={`${f.name}: what can be chosen`}
                placeholder="what can be chosen, with commas between"
                defaultValue={(f.choices ?? []).join(", ")}
                onChange={(e) =>
                  change(i, {
                    choices: e.target.value
                      .split(",")
                      .map((c) => c.trim())
                      .filter(Boolean),
                  })
                }
              />
            </div>
          )}
          <table className="rows">
            <thead>
              <tr>
                <td />
                {page.data.roles.map((r) => (
                  <th key={r}>{roleWords[r] ?? r}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              <tr>
                <th scope="row">see it</th>
                {page.data.roles.map((r) => (
                  <td key={r}>
                    <Tick
                      checked={f.sees.includes(r)}
                      label={`${f.name}: ${roleWords[r] ?? r} see it`}
                      onChange={(on) =>
                        change(i, { sees: flip(f.sees, r, on), changes: on ? f.changes : flip(f.changes, r, false) })
                      }
                    />
                  </td>
                ))}
              </tr>
              <tr>
                <th scope="row">change it</th>
                {page.data.roles.map((r) => (
                  <td key={r}>
                    <Tick
                      checked={f.changes.includes(r)}
                      disabled={!f.sees.includes(r)}
                      label={`${f.name}: ${roleWords[r] ?? r} change it`}
                      onChange={(on) => change(i, { changes: flip(f.changes, r, on) })}
                    />
                  </td>
                ))}
              </tr>
            </tbody>
          </table>
          <div className="look-line look-wrap">
            <span className="look-muted">beside the sheet on</span>
            {places.map((p) => (
              <Tick
                key={p.value}
                checked={f.shown.includes(p.value)}
                label={`${f.name}: on ${p.words}`}
                onChange={(on) => change(i, { shown: flip(f.shown, p.value, on) })}
              >
                {p.words}
              </Tick>
            ))}
          </div>
        </div>
      ))}
      <div className="look-line look-wrap">
        <Button
          size="small"
          onClick={() =>
            setDraft([
              ...fields,
              { name: "", kind: "text", sees: ["officer", "pastoral"], changes: ["officer", "pastoral"], shown: [] },
            ])
          }
        >
          Add a field
        </Button>
        <Button
          size="small"
          type="primary"
          disabled={!draft}
          loading={save.isPending}
          onClick={() => save.mutate({ path: "/api/school/own-fields", body: { fields, seen: page.data.seen } })}
        >
          Save
        </Button>
        <span className="look-push" />
        <Button size="small" href="/api/own-fields/file?format=csv">
          CSV
        </Button>
        <Button size="small" href="/api/own-fields/file?format=xlsx">
          Spreadsheet
        </Button>
      </div>
      <Values />
    </Panel>
  );
}

/** Values from a file: looked at first, taken whole or not at all. */
function Values() {
  const [text, setText] = useState("");
  const [plan, setPlan] = useState<Schemas["OwnImportPlan"]>();
  const ask = async (what: string, apply: boolean) => {
    try {
      const p = await write({ path: "/api/school/own-fields/import", body: { text: what, apply } });
      setText(what);
      setPlan(p.applied ? undefined : p);
      if (p.receipt) tell.receipt(p.receipt);
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  return (
    <>
      <div className="look-line">
        <FileField accept=".csv" chosen={([file]) => void file?.text().then((t) => ask(t, false))}>
          Values from a CSV file …
        </FileField>
        <span className="look-small look-muted">a column number, and one for each field by its name</span>
      </div>
      {plan && (
        <div className="look-line look-wrap" role="status">
          <span>
            <b>{plural(plan.set, "value")}</b> set, {plan.taken} taken away, {plan.same} as they are.
          </span>
          {plan.problems.length === 0 ? (
            <Button
              size="small"
              type="primary"
              disabled={plan.set + plan.taken === 0}
              onClick={() => void ask(text, true)}
            >
              Take them
            </Button>
          ) : (
            <ul className="look-overdue">
              {plan.problems.slice(0, 20).map((p) => (
                <li key={p}>{p}</li>
              ))}
            </ul>
          )}
        </div>
      )}
    </>
  );
}
