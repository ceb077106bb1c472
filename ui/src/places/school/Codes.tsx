import { App, Button, Input } from "antd";
import { type ChangeEvent, useState } from "react";
import { type Schemas, write } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { Panel } from "../../parts/Panel";

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
  const { message } = App.useApp();
  const [set, setSet] = useState("");
  const [own, setOwn] = useState<{ name: string; text: string }>();
  const [from, setFrom] = useState("");
  const [plan, setPlan] = useState<Plan>();
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
        message.success(p.receipt.text);
        setSet("");
        setOwn(undefined);
        refresh();
      }
    } catch (e) {
      message.error((e as Error).message, 8);
    }
  };
  const pick = (name: string) => {
    setSet(name);
    setPlan(undefined);
    if (name && name !== codes.set) void choose(false, { set: name, text: "" });
  };
  const upload = async (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    e.target.value = "";
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
                <td className="nowrap">
                  {isState(c.state) && <Shape state={c.state} silent />} <b>{c.code}</b>
                </td>
                <td>{c.word}</td>
                <td>{c.counts}</td>
                <td className="muted">{c.uses.join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {codes.lacks.length > 0 && <p className="empty small">With this set {codes.lacks.join("; ")}.</p>}
      {codes.later.map((l) => (
        <p className="empty small" key={l.set}>
          {l.set} is used {l.when}.
        </p>
      ))}
      <div className="line wrap">
        <select className="plain" aria-label="Another code set" value={set} onChange={(e) => pick(e.target.value)}>
          <option value="">another set …</option>
          {codes.sets
            .filter((s) => s !== codes.set)
            .map((s) => (
              <option key={s}>{s}</option>
            ))}
          {own && !codes.sets.includes(own.name) && <option>{own.name}</option>}
        </select>
        <label className="small">
          or a set of your own, as YAML{" "}
          <input type="file" accept=".yaml,.yml" aria-label="A code set of your own" onChange={(e) => void upload(e)} />
        </label>
      </div>
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
        <p className="empty small">
          With {plan.set} {plan.lacks.join("; ")}.
        </p>
      )}
      <p className="empty small">
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
                  <select
                    className="plain"
                    aria-label={`In place of ${c.old}`}
                    value={c.new}
                    onChange={(e) => setTable(plan.table.map((x) => (x === c ? { ...x, new: e.target.value } : x)))}
                  >
                    <option value="">none</option>
                    {plan.choices.map((n) => (
                      <option key={n.code} value={n.code}>
                        {n.code} {n.word}
                      </option>
                    ))}
                  </select>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="line wrap">
        {plan.from && (
          <Input
            className="name"
            type="date"
            aria-label="Used from"
            value={from || plan.from}
            onChange={(e) => setFrom(e.target.value)}
          />
        )}
        <Button type="primary" onClick={use}>
          Use {plan.set} {plan.when}
        </Button>
      </div>
    </>
  );
}
