import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { type Schemas, useWrite } from "../api/client";
import { Choice } from "./controls/Choice";
import { DateField } from "./controls/DateField";
import { OneOf } from "./controls/OneOf";
import { useSeen } from "./seen";
import { tell } from "./told";
import { Under } from "./Under";

const student = 0; // whom instead of a contact of the home
const outside = -1;

export type Kept = "office" | "leads" | "owner";

/** For whom words are. */
export const keptWords: { value: Kept; label: string }[] = [
  { value: "office", label: "for the office" },
  { value: "leads", label: "for pastoral leads" },
  { value: "owner", label: "for me and whose case it is" },
];

type Of = { student: { id: number; name: string }; contacts: Schemas["ContactRef"][] };

/** A contact about a student: with whom, what came of it, what was said, and when next. */
export function LogContact({
  r,
  outcomes,
  outcome: begun,
  contact: first,
  done,
  close,
}: {
  r: Of;
  outcomes: string[];
  outcome?: string; // chosen already
  contact?: number;
  done: () => void;
  close: () => void;
}) {
  const callable = r.contacts.filter((c) => !c.doNotCall);
  const [who, setWho] = useState(begun === "met" ? student : (first ?? callable[0]?.id ?? student));
  const [outcome, setOutcome] = useState(begun ?? outcomes[0] ?? "");
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const [next, setNext] = useState("");
  const [kept, setKept] = useState<Kept>("office");
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
    if (log.isPending) return;
    const body: Schemas["Followup"] = {
      student: r.student.id,
      with: who === student ? "student" : who === outside ? "outside" : "home",
      contact: who > 0 ? who : undefined,
      who: who === outside ? name : undefined,
      outcome,
      note,
      next,
      kept,
      seen: seen.entry(),
    };
    log.mutate({ path: "/api/followups", body }, { onError: seen.told });
  };
  return (
    <Under label={`Contact about ${r.student.name}`} submit={submit} close={close}>
      {callable.length === 0 && <b className="look-overdue">no contact on file</b>}
      <OneOf
        label="With whom"
        value={who}
        onChange={setWho}
        options={[
          ...callable.map((c) => ({
            value: c.id,
            label: (
              <>
                {c.name}{" "}
                <span className="look-muted">
                  {c.relation} · {c.phone}
                </span>
              </>
            ),
          })),
          { value: student, label: "the student" },
          { value: outside, label: "somebody else" },
        ]}
      />
      {who === outside && (
        <Input
          className="who-else"
          aria-label="Who it was"
          placeholder="who it was"
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      )}
      <span className="break" />
      <OneOf
        label="What came of it"
        value={outcome}
        onChange={setOutcome}
        options={outcomes.map((o) => ({ value: o, label: o }))}
      />
      <span className="break" />
      <Input
        className="said"
        autoFocus
        placeholder="what was said"
        aria-label="What was said"
        maxLength={1000}
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <label className="look-small">
        next <DateField label="Next contact on" optional value={next} onChange={setNext} />
      </label>
      <Choice label="For whom the note is" value={kept} onChange={setKept} options={keptWords} />
      <Button type="primary" htmlType="submit" loading={log.isPending}>
        Save <kbd>Enter</kbd>
      </Button>
    </Under>
  );
}
