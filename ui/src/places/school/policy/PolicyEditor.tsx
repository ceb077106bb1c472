import "./policy.css";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Schemas, useRead, write } from "../../../api/client";
import { DateField } from "../../../parts/controls/DateField";
import { useAddress } from "../../../parts/look-at";
import { Panel, Waiting } from "../../../parts/Panel";
import { PolicyWords } from "../../../parts/PolicyWords";
import { tell } from "../../../parts/told";
import { plural } from "../../../parts/words";
import { Compared } from "./Compared";
import { PolicyFields } from "./PolicyFields";
import { PolicyText } from "./PolicyText";

type Form = Schemas["PolicyForm"];
type Plan = Schemas["PolicyPlan"];

/** A policy edited as a copy: filled in or as its file, looked at on this year's figures, taken from a date on. */
export function PolicyEditor({ section }: { section: number | undefined }) {
  const { params } = useAddress();
  const id = params.get("policy") ?? "";
  const page = useRead("/api/policy", { policy: id, section: section ? [section] : undefined });
  if (!page.data) return <Waiting inside error={page.error} />;
  return <Copy key={`${id} ${page.data.section}`} of={page.data} section={section ?? 0} />;
}

const pause = 350; // ms without a key until what is written is looked at

/** What is being written: as text, or filled in, whichever was touched last. */
type Written = { text: string; form?: undefined } | { form: Form; text?: undefined };

function Copy({ of, section }: { of: Schemas["PolicyView"]; section: number }) {
  const go = useNavigate();
  const [written, setWritten] = useState<Written>();
  const [text, setText] = useState(of.text);
  const [form, setForm] = useState<Form>(of.form);
  const [drafted, setDrafted] = useState<Schemas["PolicyDrafted"]>();
  const [from, setFrom] = useState("");
  const [plan, setPlan] = useState<{ plan?: Plan; refused?: string }>({});
  const [takes, setTakes] = useState(false);

  useEffect(() => {
    if (!written) return;
    let over = false;
    const look = async () => {
      try {
        const d = await write({ path: "/api/school/policies/draft", body: written });
        if (over) return;
        setDrafted(d);
        if (written.form) setText(d.text);
        else if (d.form) setForm(d.form);
        if (d.problem) return setPlan({});
        const body = { section, text: d.text, from: from || undefined, apply: false };
        const looked = await write({ path: "/api/school/policies", body }).then(
          (p) => ({ plan: p }),
          (e: Error) => ({ refused: e.message.replace("; nothing was changed", "") }),
        );
        if (!over) setPlan(looked);
      } catch (e) {
        if (!over) tell.wrong((e as Error).message);
      }
    };
    const timer = setTimeout(() => void look(), pause);
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [written, from, section]);

  const problem = drafted?.problem;
  const ready = plan.plan && !problem;
  const take = async () => {
    if (!plan.plan) return;
    setTakes(true);
    try {
      const seen = plan.plan.version || "none";
      const p = await write({
        path: "/api/school/policies",
        body: { section, text, from: from || undefined, seen, apply: true },
      });
      if (p.receipt) tell.receipt(p.receipt);
      go("/school/policies");
    } catch (e) {
      tell.wrong((e as Error).message);
    } finally {
      setTakes(false);
    }
  };
  return (
    <div className="policy-editor">
      <div className="bar">
        <h2>
          {form.title || of.title}
          <span className="look-muted look-small">
            {" "}
            a copy to edit{section !== 0 && of.section && `, ${of.section}`} ·{" "}
            <Link to="/school/policies">all policies</Link>
          </span>
        </h2>
        <p role="status" className={problem ? "look-overdue" : "look-muted"}>
          {status(written !== undefined, drafted, plan)}
        </p>
        <label>
          Holds from <DateField label="Holds from" optional value={from} onChange={setFrom} />
        </label>
        <Button type="primary" disabled={!ready} loading={takes} onClick={() => void take()}>
          {plan.plan ? `Take it ${plan.plan.when}` : "Take it"}
        </Button>
      </div>
      <div className="columns written">
        <Panel title="Filled in">
          <PolicyFields
            form={form}
            change={(next) => {
              setForm(next);
              setWritten({ form: next });
            }}
          />
        </Panel>
        <div className="stack">
          <Panel title="On this year’s figures" extra="up to yesterday">
            {plan.plan ? (
              <Compared plan={plan.plan} />
            ) : (
              <p className="empty">
                {written ? "Nothing to compare." : "Change something, and here stands for whom it makes a difference."}
              </p>
            )}
          </Panel>
          <Panel
            title="As its file"
            extra={problem && drafted?.line ? `line ${drafted.line}` : `version ${of.version}`}
          >
            <PolicyText
              text={text}
              wrong={problem ? (drafted?.line ?? 0) : 0}
              change={(next) => {
                setText(next);
                setWritten({ text: next });
              }}
            />
          </Panel>
          <Panel title="In plain words">
            <div className="plain">
              <PolicyWords parts={problem ? [] : (drafted?.plain ?? of.plain)} />
              {problem && <p className="look-muted">Nothing yet: the policy can’t be read.</p>}
            </div>
          </Panel>
        </div>
      </div>
    </div>
  );
}

/** In a sentence, how far the copy is. */
function status(
  touched: boolean,
  drafted: Schemas["PolicyDrafted"] | undefined,
  plan: { plan?: Plan; refused?: string },
): string {
  if (!touched) return "Nothing is changed yet.";
  if (drafted?.problem) return drafted.line ? `Line ${drafted.line}: ${drafted.problem}` : drafted.problem;
  if (plan.refused) return plan.refused;
  if (!plan.plan) return "Reading …";
  const instead = plan.plan.instead;
  const moved = `${plural(plan.plan.moved, "student")} in another band`;
  return instead
    ? `In place of ${instead}: ${moved}. Figures of earlier days stay.`
    : "A policy more, beside the others.";
}
