import { Button } from "antd";
import { useState } from "react";
import { type Schemas, write } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { FileField } from "../../parts/controls/FileField";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { CodesEditor } from "./CodesEditor";

type Plan = Schemas["CodesPlan"];

/** The school's codes, and choosing another set: looked at first, used from a date on. */
export function Codes({
  codes,
  section,
  refresh,
}: {
  codes: Schemas["CodesInUse"];
  section: number | undefined;
  refresh: () => void;
}) {
  const [set, setSet] = useState("");
  const [own, setOwn] = useState<{ name: string; text: string }>();
  const [from, setFrom] = useState("");
  const [plan, setPlan] = useState<Plan>();
  const [edits, setEdits] = useState(false);
  const choose = async (
    apply: boolean,
    change: { set?: string; text?: string; from?: string; table?: Plan["table"] },
  ) => {
    const asked = { set, from, text: own?.text, ...change };
    try {
      const p = await write({
        path: "/api/school/codes",
        body: {
          section: section ?? 0,
          set: asked.set,
          text: asked.text || undefined,
          from: asked.from || undefined,
          table: change.table,
          apply,
        },
      });
      setPlan(p.applied ? undefined : p);
      if (p.receipt) {
        tell.receipt(p.receipt);
        setSet("");
        setOwn(undefined);
        refresh();
      }
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  const pick = (name: string) => {
    setSet(name);
    setPlan(undefined);
    if (name && name !== codes.set) void choose(false, { set: name, text: "" });
  };
  const upload = async (file?: File) => {
    if (!file) return;
    const name = file.name.replace(/\.ya?ml$/i, "").toLowerCase();
    const text = await file.text();
    setOwn({ name, text });
    setSet(name);
    await choose(false, { set: name, text });
  };
  return (
    <Panel title="Codes" extra={codes.set}>
      <details>
        <summary>The {codes.codes.length} codes of the set, and what they are used for</summary>
        <table className="rows">
          <thead>
            <tr>
              <th>Code</th>
              <th>Word</th>
              <th>Counts as</th>
              <th>Used for</th>
            </tr>
          </thead>
          <tbody>
            {codes.codes.map((c) => (
              <tr key={c.code}>
                <td className="look-nowrap">
                  {isState(c.state) && <Shape state={c.state} silent />} <b>{c.code}</b>
                </td>
                <td>{c.word}</td>
                <td>{c.counts}</td>
                <td className="look-muted">{c.uses.join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {codes.lacks.length > 0 && <p className="empty look-small">With this set {codes.lacks.join("; ")}.</p>}
      {codes.later.map((l) => (
        <p className="empty look-small" key={l.set}>
          {l.set} is used {l.when}.
        </p>
      ))}
      <div className="look-line look-wrap">
        <Choice
          label="Another code set"
          value={set}
          onChange={pick}
          options={[
            { value: "", label: "another set …" },
            ...[...codes.sets, ...(own && !codes.sets.includes(own.name) ? [own.name] : [])]
              .filter((s) => s !== codes.set)
              .map((s) => ({ value: s, label: s })),
          ]}
        />
        <FileField accept=".yaml,.yml" chosen={([file]) => void upload(file)}>
          A code set of your own, as YAML …
        </FileField>
        <Button size="small" onClick={() => setEdits(true)}>
          Edit a copy of {set || codes.set} …
        </Button>
      </div>
      {edits && (
        <CodesEditor
          key={set || codes.set}
          copy={codes.sets.includes(set) ? set : codes.set}
          close={() => setEdits(false)}
          done={(name, text) => {
            setOwn({ name, text });
            setSet(name);
            void choose(false, { set: name, text });
          }}
        />
      )}
      {plan && (
        <CodesLook
          plan={plan}
          from={from}
          setFrom={(d) => {
            setFrom(d);
            void choose(false, { from: d, table: plan.table });
          }}
          setTable={(table) => void choose(false, { table })}
          use={() => void choose(true, { table: plan.table })}
        />
      )}
    </Panel>
  );
}

/** What a set would mean: from when, what it lacks, and which code takes the place of which. */
function CodesLook({
  plan,
  from,
  setFrom,
  setTable,
  use,
}: {
  plan: Plan;
  from: string;
  setFrom: (d: string) => void;
  setTable: (table: Plan["table"]) => void;
  use: () => void;
}) {
  return (
    <>
      {plan.lacks.length > 0 && (
        <p className="empty look-small">
          With {plan.set} {plan.lacks.join("; ")}.
        </p>
      )}
      <p className="empty look-small">
        What was marked before stays as it was marked. The school’s reasons give the code that takes the place of
        theirs:
      </p>
      <table className="rows">
        <thead>
          <tr>
            <th>Now</th>
            <th>From then on</th>
          </tr>
        </thead>
        <tbody>
          {plan.table.map((c) => (
            <tr key={c.old}>
              <td>
                <b>{c.old}</b> {c.oldWord}
              </td>
              <td>
                {c.new === "" && c.newWord !== "" ? (
                  c.newWord
                ) : (
                  <Choice
                    size="small"
                    label={`In place of ${c.old}`}
                    value={c.new}
                    onChange={(code) => setTable(plan.table.map((x) => (x === c ? { ...x, new: code } : x)))}
                    options={[
                      { value: "", label: "none" },
                      ...plan.choices.map((n) => ({ value: n.code, label: `${n.code} ${n.word}` })),
                    ]}
                  />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="look-line look-wrap">
        {plan.from && <DateField label="Used from" value={from || plan.from} onChange={setFrom} />}
        <Button type="primary" onClick={use}>
          Use {plan.set} {plan.when}
        </Button>
      </div>
    </>
  );
}
