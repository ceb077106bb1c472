import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { OneOf } from "../../parts/controls/OneOf";
import { useSeen } from "../../parts/seen";
import { tell } from "../../parts/told";
import { Under } from "./Under";

/** A follow-up call, with what came of it. */
export function LogCall({ r, outcomes, done }: { r: Schemas["ConcernRow"]; outcomes: string[]; done: () => void }) {
  const callable = r.contacts.filter((c) => !c.doNotCall);
  const [contact, setContact] = useState(callable[0]?.id ?? 0);
  const [outcome, setOutcome] = useState(outcomes[0] ?? "");
  const [note, setNote] = useState("");
  const [next, setNext] = useState("");
  const log = useWrite({
    done: (receipt) => {
      tell.receipt(receipt);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const seen = useSeen();
  useEffect(seen.begin, []);
  const submit = () => {
    const body = { student: r.student.id, contact, outcome, note, next, seen: seen.entry() };
    log.mutate({ path: "/api/followups", body }, { onError: seen.told });
  };
  return (
    <Under label={`Follow-up for ${r.student.name}`} submit={submit} close={done}>
      {callable.length === 0 && <b className="look-overdue">no contact on file</b>}
      <OneOf
        label="Who was called"
        value={contact}
        onChange={setContact}
        options={callable.map((c) => ({
          value: c.id,
          label: (
            <>
              {c.name}{" "}
              <span className="look-muted">
                {c.relation} · {c.phone}
              </span>
            </>
          ),
        }))}
      />
      <span className="break" />
      <OneOf
        label="What came of it"
        value={outcome}
        onChange={setOutcome}
        options={outcomes.map((o) => ({ value: o, label: o }))}
      />
      <Input
        className="said"
        autoFocus
        placeholder="what was said"
        aria-label="What was said"
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <label className="look-small">
        again on <DateField label="again on" optional value={next} onChange={setNext} />
      </label>
      <Button type="primary" htmlType="submit" loading={log.isPending}>
        Save <kbd>Enter</kbd>
      </Button>
    </Under>
  );
}
