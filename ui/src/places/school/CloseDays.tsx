import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, write } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { TimeField } from "../../parts/controls/TimeField";
import { LookFirst, Would } from "../../parts/LookFirst";
import { tell } from "../../parts/told";

type Plan = Schemas["Plan"];

/** Closes dates, or hours of them, against the calendar, after the fact or ahead: looked at first. */
export function CloseDays({ years, close }: { years: Schemas["SectionYear"][]; close: (changed: boolean) => void }) {
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [section, setSection] = useState(years.length === 1 ? (years[0]?.section ?? 0) : 0);
  const [opens, setOpens] = useState("");
  const [ends, setEnds] = useState("");
  const [reason, setReason] = useState("");
  return (
    <LookFirst
      title="Close dates or hours"
      path="/api/school/closures"
      body={{
        section,
        from,
        to: to || undefined,
        opens: opens || undefined,
        ends: ends || undefined,
        reason: reason.trim(),
      }}
      ready={from !== "" && reason.trim() !== ""}
      okText="Close them"
      said={(p) => `Closed ${p.when}`}
      close={close}
    >
      <span className="pair">
        <span>
          <span aria-hidden="true">Date</span>
          <DateField label="Date" back value={from} onChange={setFrom} autoFocus />
        </span>
        <span>
          <span aria-hidden="true">to, if several</span>
          <DateField label="Last date" optional value={to} onChange={setTo} />
        </span>
      </span>
      <span className="pair">
        <span>
          <span aria-hidden="true">opens late, at</span>
          <TimeField className="short" label="Opens late, at" value={opens} onChange={setOpens} />
        </span>
        <span>
          <span aria-hidden="true">ends early, at</span>
          <TimeField className="short" label="Ends early, at" value={ends} onChange={setEnds} />
        </span>
        <span className="look-small look-muted">no time: the whole date</span>
      </span>
      {years.length > 1 && (
        <Choice
          label="Section"
          value={section}
          onChange={setSection}
          options={[{ value: 0, label: "every section" }, ...years.map((y) => ({ value: y.section, label: y.name }))]}
        />
      )}
      <label>
        Reason
        <Input value={reason} maxLength={200} onChange={(e) => setReason(e.target.value)} />
      </label>
    </LookFirst>
  );
}

/** What was closed against the calendar, each to be taken back: looked at first. */
export function ClosedDays({ closed, changed }: { closed: Schemas["ClosedDay"][]; changed: () => void }) {
  const [back, setBack] = useState<{ id: number; plan: Plan }>();
  const ask = async (id: number, apply: boolean) => {
    try {
      const plan = await write({
        path: "/api/school/closures/back",
        body: { closures: [id], seen: apply ? back?.plan.stamp || undefined : undefined, apply },
      });
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
