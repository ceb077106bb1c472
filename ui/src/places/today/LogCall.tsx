import { Button, type InputRef } from "antd";
import { type KeyboardEvent, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { Schemas, Writing } from "../../api/client";
import { useSettings } from "../../api/settings";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { useKeys } from "../../parts/keys";
import { Reasons } from "../../parts/Reasons";
import { useSeen } from "../../parts/seen";
import { Settle } from "./Settle";

type Household = Schemas["HouseholdView"];
type Reason = Schemas["Reason"];

type Outcome = Schemas["Call"]["outcome"];

const outcomes: { outcome: Outcome; words: string }[] = [
  { outcome: "spoke", words: "Spoke" },
  { outcome: "message", words: "Message" },
  { outcome: "no answer", words: "No answer" },
  { outcome: "wrong number", words: "Wrong number" },
] as const;

/** What a home says that was reached and believes its child to be at school. */
const believesIn = "believes at school";

/** An attempt in a few words: "no answer 09:12", "text delivered 09:12". */
export function attemptText(a: Schemas["AttemptView"]): string {
  return [a.outcome, a.outcome === "text" && a.said, a.at].filter(Boolean).join(" ");
}

/**
 * The open home: an outcome, then what they said, for whom, and the mark that follows. It tells when
 * something was begun, so that it stays while others deal with the list.
 */
export function LogCall({
  h,
  date,
  ringing: contact,
  setRinging: setContact,
  write,
  next,
  begun,
  done,
}: {
  h: Household;
  date: string | undefined; // of an earlier day that the call is about
  ringing: number;
  setRinging: (place: number) => void;
  write: Writing;
  next: () => void;
  begun: () => void;
  done: () => void;
}) {
  const settings = useSettings();
  const reasons = (settings.data?.reasons ?? []).filter((r) => r.home && !(date && r.word === "on the way"));
  const [settling, setSettling] = useState(false);
  const [spoke, setSpoke] = useState(h.contacts.length === 0);
  const [believes, setBelieves] = useState(false);
  const [reason, setReason] = useState<Reason>();
  const [until, setUntil] = useState("");
  const [days, setDays] = useState("");
  const [note, setNote] = useState("");
  const [again, setAgain] = useState("");
  const [forWhom, setForWhom] = useState(() => new Set(h.students.map((s) => s.student.id)));
  const field = useRef<InputRef>(null);
  const seen = useSeen();
  const ringing = h.contacts[Math.max(contact, 0)];
  const tried = h.attempts.length > 0;
  const students = h.students.map((s) => s.student.id);

  const log = (outcome: Outcome, said?: string) => {
    write.mutate(
      {
        path: "/api/calls",
        body: {
          students,
          contact: ringing?.id ?? 0,
          outcome,
          note,
          again: outcome === "spoke" ? "" : again,
          ...(said ? { said, for: [...forWhom] } : {}),
          ...(said && said !== believesIn ? { until, days } : {}),
          ...(date ? { date } : {}),
          seen: seen.entry(),
        },
      },
      {
        onSuccess: () => {
          done();
          if (outcome !== "spoke") next();
        },
        onError: seen.told,
      },
    );
  };
  const begin = () => {
    seen.begin();
    begun();
  };
  const speak = () => {
    begin();
    setBelieves(false);
    setSpoke(true);
  };
  const believe = () => {
    begin();
    setSpoke(false);
    setBelieves(true);
  };
  const store = () => {
    if (believes) log("spoke", believesIn);
    else if (spoke) log("spoke", reason?.word);
  };
  const choose = (r: Reason) => {
    begin();
    flushSync(() => setReason(r));
    if (r.word === "on the way") field.current?.focus();
  };
  const storeOnEnter = (e: KeyboardEvent) => {
    if (e.key === "Escape") done();
    if (e.key !== "Enter") return;
    e.preventDefault();
    store();
  };
  const toggle = (id: number) =>
    setForWhom((old) => {
      const changed = new Set(old);
      if (!changed.delete(id)) changed.add(id);
      return changed;
    });
  const keys: Record<string, () => void> = {
    "1": speak,
    "2": () => log("message"),
    "3": () => log("no answer"),
    "4": () => log("wrong number"),
    "5": date ? () => setSettling(true) : believe,
    ArrowRight: () => setContact((Math.max(contact, 0) + 1) % Math.max(h.contacts.length, 1)),
    Escape: done,
  };
  if (h.contacts.length === 0) for (const k of ["1", "2", "3", "4", "5", "ArrowRight"]) delete keys[k];
  if (spoke) {
    for (const r of reasons) if (r.key) keys[r.key] = () => choose(r);
    keys.Enter = store;
  }
  useKeys(keys);
  return (
    <>
      {h.contacts.length > 0 && (
        <div className="act outcomes">
          {outcomes.map((o, i) => (
            <Button
              key={o.outcome}
              size="small"
              type={i === 0 ? "primary" : "default"}
              onClick={() => (i === 0 ? speak() : log(o.outcome))}
            >
              {o.words} <kbd>{i + 1}</kbd>
            </Button>
          ))}
          {date ? (
            <Button size="small" onClick={() => setSettling(true)}>
              Settle <kbd>5</kbd>
            </Button>
          ) : (
            <Button size="small" danger onClick={believe}>
              Believes at school <kbd>5</kbd>
            </Button>
          )}
          {h.contacts.length > 1 && (
            <Button size="small" className="look-push" onClick={keys.ArrowRight}>
              Next contact <kbd>→</kbd>
            </Button>
          )}
        </div>
      )}
      {h.contacts.length > 0 && tried && !spoke && !believes && (
        <div className="act">
          <label className="until look-small">
            try again at{" "}
            <TimeField
              size="small"
              placeholder="as usual"
              label="Again at"
              value={again}
              onChange={(typed) => {
                begin();
                setAgain(typed);
              }}
            />
          </label>
        </div>
      )}
      {(h.attempts.length > 1 || h.attempts.some((a) => a.said)) && (
        <div className="act look-small look-muted">
          {h.attempts
            .map((a) =>
              [a.contact, attemptText(a), a.outcome === "text" ? "" : a.said, a.note].filter(Boolean).join(" · "),
            )
            .join("; ")}
        </div>
      )}
      {h.contacts.length === 0 && !settling && (
        <div className="act">
          <Button size="small" onClick={() => setSettling(true)}>
            Settle without a call
          </Button>
        </div>
      )}
      {settling && (
        <div className="act">
          <Settle students={students} date={date} write={write} done={() => setSettling(false)} />
        </div>
      )}
      {believes && (
        <div className="act">
          <span className="look-small look-overdue">to be worried for:</span>
          <input
            className="plain note"
            aria-label="What they say"
            placeholder="what they say: left when, with whom"
            maxLength={500}
            // biome-ignore lint/a11y/noAutofocus: it was asked for
            autoFocus
            value={note}
            onChange={(e) => setNote(e.target.value)}
            onKeyDown={storeOnEnter}
          />
          <ForWhom h={h} chosen={forWhom} toggle={toggle} />
          <Button size="small" type="primary" danger disabled={forWhom.size === 0} onClick={store}>
            Save <kbd>Enter</kbd>
          </Button>
        </div>
      )}
      {spoke && (
        <div className="act">
          <span className="look-small look-muted">{h.contacts.length > 0 ? "says" : "known from elsewhere"}</span>
          <Reasons offered={reasons} value={reason?.word ?? ""} use="home" keyOf={(r) => r.key} onChange={choose} />
          {reason && (
            <>
              <label className="until look-small">
                {reason.word === "on the way" ? "expected by" : "until"}{" "}
                <TimeField
                  ref={field}
                  size="small"
                  label={reason.word === "on the way" ? "expected by" : "until"}
                  value={until}
                  placeholder={reason.word === "on the way" ? "940" : "all day"}
                  onChange={setUntil}
                  onKeyDown={storeOnEnter}
                />
              </label>
              {reason.word !== "on the way" && (
                <label className="look-small">
                  to{" "}
                  <DateField size="small" label="Last day" optional value={days} onChange={setDays} onEnter={store} />
                </label>
              )}
            </>
          )}
          <input
            className="plain note"
            aria-label="Note"
            placeholder="note"
            value={note}
            onChange={(e) => {
              begin();
              setNote(e.target.value);
            }}
            onKeyDown={storeOnEnter}
          />
          <ForWhom h={h} chosen={forWhom} toggle={toggle} />
          <Button size="small" type="primary" disabled={forWhom.size === 0} onClick={store}>
            {reason
              ? `Save: ${reason.word === "on the way" ? "explained until then" : `code ${reason.absent}`}`
              : "Save the call"}{" "}
            <kbd>Enter</kbd>
          </Button>
        </div>
      )}
    </>
  );
}

/** Of several children of a home, those whom it is about. */
function ForWhom({ h, chosen, toggle }: { h: Household; chosen: Set<number>; toggle: (id: number) => void }) {
  if (h.students.length < 2) return null;
  return (
    <>
      <span className="look-small look-muted">for</span>
      {h.students.map((s) => (
        <Tick key={s.student.id} checked={chosen.has(s.student.id)} onChange={() => toggle(s.student.id)}>
          {s.student.given}
        </Tick>
      ))}
    </>
  );
}
