import { Button } from "antd";
import { type KeyboardEvent, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { Schemas, Writing } from "../../api/client";
import { useSettings } from "../../api/settings";
import { useKeys } from "../../parts/keys";
import { Reasons } from "../../parts/Reasons";
import { useSeen } from "../../parts/seen";

type Household = Schemas["HouseholdView"];
type Reason = Schemas["Reason"];

type Outcome = Schemas["Call"]["outcome"];

const outcomes: { outcome: Outcome; words: string }[] = [
  { outcome: "spoke", words: "Spoke" },
  { outcome: "message", words: "Left message" },
  { outcome: "no answer", words: "No answer" },
  { outcome: "wrong number", words: "Wrong number" },
] as const;

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
  write,
  next,
  begun,
  done,
}: {
  h: Household;
  write: Writing;
  next: () => void;
  begun: () => void;
  done: () => void;
}) {
  const settings = useSettings();
  const reasons = settings.data?.reasons.filter((r) => r.home) ?? [];
  const [contact, setContact] = useState(Math.max(h.next, 0));
  const [spoke, setSpoke] = useState(h.contacts.length === 0);
  const [reason, setReason] = useState<Reason>();
  const [until, setUntil] = useState("");
  const [days, setDays] = useState("");
  const [note, setNote] = useState("");
  const [again, setAgain] = useState("");
  const [forWhom, setForWhom] = useState(() => new Set(h.students.map((s) => s.student.id)));
  const field = useRef<HTMLInputElement>(null);
  const seen = useSeen();
  const ringing = h.contacts[contact];
  const students = h.students.map((s) => s.student.id);

  const log = (outcome: Outcome, said?: Reason) => {
    write.mutate(
      {
        path: "/api/calls",
        body: {
          students,
          contact: ringing?.id ?? 0,
          outcome,
          note,
          again: outcome === "spoke" ? "" : again,
          ...(said ? { said: said.word, for: [...forWhom], until, days } : {}),
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
    setSpoke(true);
  };
  const store = () => {
    if (spoke) log("spoke", reason);
  };
  const choose = (r: Reason) => {
    begin();
    flushSync(() => setReason(r));
    if (r.word === "on the way") field.current?.focus();
  };
  const storeOnEnter = (e: KeyboardEvent) => {
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
    ArrowRight: () => setContact((c) => (c + 1) % Math.max(h.contacts.length, 1)),
    Escape: done,
  };
  if (h.contacts.length === 0) for (const k of ["1", "2", "3", "4", "ArrowRight"]) delete keys[k];
  if (spoke) {
    for (const r of reasons) if (r.key) keys[r.key] = () => choose(r);
    keys.Enter = store;
  }
  useKeys(keys);
  return (
    <>
      {h.contacts.length > 0 && (
        <div className="act">
          <span className="small">
            Ring <b>{ringing?.name}</b> {ringing?.phone}
          </span>
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
          {h.contacts.length > 1 && (
            <Button size="small" onClick={keys.ArrowRight}>
              Next contact <kbd>→</kbd>
            </Button>
          )}
          <label className="until small">
            again{" "}
            <input
              className="plain"
              placeholder="as usual"
              aria-label="Again at"
              value={again}
              onChange={(e) => {
                begin();
                setAgain(e.target.value);
              }}
            />
          </label>
        </div>
      )}
      {h.attempts.length > 1 && (
        <div className="act small muted">
          {h.attempts.map((a) => [a.contact, attemptText(a), a.note].filter(Boolean).join(" · ")).join("; ")}
        </div>
      )}
      {spoke && (
        <div className="act">
          <span className="small muted">{h.contacts.length > 0 ? "says" : "known from elsewhere"}</span>
          <Reasons offered={reasons} value={reason?.word ?? ""} use="home" keyOf={(r) => r.key} onChange={choose} />
          {reason && (
            <>
              <label className="until small">
                {reason.word === "on the way" ? "expected by" : "until"}{" "}
                <input
                  ref={field}
                  className="plain"
                  value={until}
                  placeholder={reason.word === "on the way" ? "940" : "all day"}
                  onChange={(e) => setUntil(e.target.value)}
                  onKeyDown={storeOnEnter}
                />
              </label>
              {reason.word !== "on the way" && (
                <label className="small">
                  to{" "}
                  <input
                    className="plain"
                    type="date"
                    aria-label="Last day"
                    value={days}
                    onChange={(e) => setDays(e.target.value)}
                    onKeyDown={storeOnEnter}
                  />
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
          {h.students.length > 1 && (
            <>
              <span className="small muted">for</span>
              {h.students.map((s) => (
                <label key={s.student.id} className="small nowrap">
                  <input type="checkbox" checked={forWhom.has(s.student.id)} onChange={() => toggle(s.student.id)} />{" "}
                  {s.student.given}
                </label>
              ))}
            </>
          )}
          <Button size="small" type="primary" disabled={forWhom.size === 0} onClick={store}>
            {reason
              ? `Store: ${reason.word === "on the way" ? "explained until then" : `code ${reason.absent}`}`
              : "Store the call"}{" "}
            <kbd>Enter</kbd>
          </Button>
        </div>
      )}
    </>
  );
}
