import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, write } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { TimeField } from "../../parts/controls/TimeField";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type Plan = Schemas["Plan"];

/** What a change of the calendar would do, before it is done. */
function Would({ plan }: { plan: Plan }) {
  return (
    <div className="would" role="status">
      {plan.parts.map((p) => (
        <p key={p.what}>
          <b>{plural(p.added + p.ended, p.what)}</b> {p.added ? "more" : "fewer"}
          {p.changed > 0 && `, ${plural(p.changed, p.what)} shorter`}, {plan.when}.
        </p>
      ))}
      {plan.parts[0]?.what === "slot" && (
        <ul>
          {plan.details.map((d) => (
            <li key={d}>{d}</li>
          ))}
        </ul>
      )}
      {plan.notes.map((n) => (
        <p key={n}>{n}.</p>
      ))}
      <ul>
        {plan.figures.map((f) => (
          <li key={f}>{f}</li>
        ))}
      </ul>
    </div>
  );
}

/** Closes dates against the calendar, after the fact or ahead: looked at first. */
export function CloseDays({ years, close }: { years: Schemas["SectionYear"][]; close: (changed: boolean) => void }) {
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [section, setSection] = useState(years.length === 1 ? (years[0]?.section ?? 0) : 0);
  const [opens, setOpens] = useState("");
  const [ends, setEnds] = useState("");
  const [reason, setReason] = useState("");
  const [plan, setPlan] = useState<Plan>();
  const [busy, setBusy] = useState(false);
  useFocusBack();
  const ask = async (apply: boolean) => {
    setBusy(true);
    try {
      const p = await write({
        path: "/api/school/closures",
        body: {
          section,
          from,
          to: to || undefined,
          opens: opens || undefined,
          ends: ends || undefined,
          reason: reason.trim(),
          apply,
        },
      });
      setPlan(p);
      if (p.applied) {
        tell.done(`Closed ${p.when}`);
        close(true);
      }
    } catch (e) {
      tell.wrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  // What is looked at is of what was asked: another asking has to be looked at anew.
  const change =
    <T,>(was: T, set: (value: T) => void) =>
    (value: T) => {
      if (value === was) return;
      set(value);
      setPlan(undefined);
    };
  const ready = from !== "" && reason.trim() !== "";
  return (
    <Modal
      open
      title="Close dates or hours"
      onCancel={() => close(false)}
      okText={plan ? "Close them" : "See what it would change"}
      okButtonProps={{ disabled: !ready, loading: busy, danger: false }}
      onOk={() => void ask(plan !== undefined)}
      cancelText="Cancel"
    >
      <div className="close-days">
        <span className="pair">
          <span>
            <span aria-hidden="true">Date</span>
            <DateField label="Date" back value={from} onChange={change(from, setFrom)} autoFocus />
          </span>
          <span>
            <span aria-hidden="true">to, if several</span>
            <DateField label="Last date" optional value={to} onChange={change(to, setTo)} />
          </span>
        </span>
        <span className="pair">
          <span>
            <span aria-hidden="true">opens late, at</span>
            <TimeField label="Opens late, at" value={opens} onChange={change(opens, setOpens)} />
          </span>
          <span>
            <span aria-hidden="true">ends early, at</span>
            <TimeField label="Ends early, at" value={ends} onChange={change(ends, setEnds)} />
          </span>
          <span className="look-small look-muted">no time: the whole date</span>
        </span>
        {years.length > 1 && (
          <Choice
            label="Section"
            value={section}
            onChange={change(section, setSection)}
            options={[{ value: 0, label: "every section" }, ...years.map((y) => ({ value: y.section, label: y.name }))]}
          />
        )}
        <label>
          Reason
          <Input value={reason} maxLength={200} onChange={(e) => change(reason, setReason)(e.target.value)} />
        </label>
        {plan && <Would plan={plan} />}
      </div>
    </Modal>
  );
}

/** What was closed against the calendar, each to be taken back: looked at first. */
export function ClosedDays({ closed, changed }: { closed: Schemas["ClosedDay"][]; changed: () => void }) {
  const [back, setBack] = useState<{ id: number; plan: Plan }>();
  const ask = async (id: number, apply: boolean) => {
    try {
      const plan = await write({ path: "/api/school/closures/back", body: { closures: [id], apply } });
      setBack(plan.applied ? undefined : { id, plan });
      if (plan.applied) {
        tell.done("School as in the calendar again");
        changed();
      }
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  return (
    <ul className="closed-days">
      {closed.map((c) => (
        <li key={c.id} className={c.stands ? undefined : "look-muted"}>
          {c.words}{" "}
          {c.stands && back?.id !== c.id && (
            <Button size="small" onClick={() => void ask(c.id, false)}>
              Take back …
            </Button>
          )}
          {back?.id === c.id && (
            <>
              <Would plan={back.plan} />
              <Button size="small" type="primary" onClick={() => void ask(c.id, true)}>
                Take it back
              </Button>{" "}
              <Button size="small" onClick={() => setBack(undefined)}>
                Cancel
              </Button>
            </>
          )}
        </li>
      ))}
    </ul>
  );
}
