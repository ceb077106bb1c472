import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, write } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { FileField } from "../../parts/controls/FileField";
import { Panel } from "../../parts/Panel";
import { PolicyLink } from "../../parts/PolicyLink";
import { tell } from "../../parts/told";
import { Compared } from "./policy/Compared";

/** The policies by which the school measures, and taking one of its own. */
export function Policies({
  s,
  section,
  refresh,
}: {
  s: Schemas["SchoolView"];
  section: number | undefined;
  refresh: () => void;
}) {
  const [asked, setAsked] = useState<{ text?: string; id?: string }>({});
  const [from, setFrom] = useState("");
  const [plan, setPlan] = useState<Schemas["PolicyPlan"]>();
  const take = async (what: { text?: string; id?: string }, when: string, apply: boolean) => {
    try {
      const p = await write({
        path: "/api/school/policies",
        body: {
          section: section ?? 0,
          ...what,
          from: when || undefined,
          seen: apply && plan ? plan.version || "none" : undefined,
          apply,
        },
      });
      setAsked(what);
      setPlan(p.applied ? undefined : p);
      if (p.receipt) {
        tell.receipt(p.receipt);
        refresh();
      }
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  const upload = async (file?: File) => {
    if (file) await take({ text: await file.text() }, from, false);
  };
  return (
    <Panel title="Policies" extra={s.policies.length}>
      {s.policies.map((p) => (
        <div className="look-line" key={p.id + p.when}>
          <span>
            <PolicyLink id={p.id}>
              <b>{p.title}</b>
            </PolicyLink>{" "}
            <span className="look-small look-muted">{[p.when, p.source].filter(Boolean).join(" · ")}</span>
          </span>
          <span className="look-actions look-small look-nowrap">
            <Link to={`/school/policies/edit?policy=${encodeURIComponent(p.id)}`}>edit a copy</Link>
            {p.own && (
              <button type="button" className="link look-small" onClick={() => void take({ id: p.id }, from, false)}>
                take away
              </button>
            )}
          </span>
        </div>
      ))}
      <div className="look-line look-wrap">
        <FileField accept=".yaml,.yml" chosen={([file]) => void upload(file)}>
          A policy of your own, as YAML …
        </FileField>
      </div>
      {plan && (
        <>
          <p className="empty look-small">
            {asked.text
              ? `${plan.title}${plan.instead ? `, in place of ${plan.instead}` : ""}.`
              : `${plan.title} is taken away.`}{" "}
            Figures of earlier days stay as they were measured.
          </p>
          <Compared plan={plan} />
          <div className="look-line look-wrap">
            <DateField
              label="Holds from"
              optional
              value={from}
              onChange={(d) => {
                setFrom(d);
                void take(asked, d, false);
              }}
            />
            <Button type="primary" onClick={() => void take(asked, from, true)}>
              {asked.text ? "Take it" : "Take it away"} {plan.when}
            </Button>
          </div>
        </>
      )}
    </Panel>
  );
}
