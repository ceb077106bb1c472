import { useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { ContactFormOf } from "../../parts/home/ContactForm";
import { WarningsOf } from "../../parts/home/WarningForm";
import { StudentName } from "../../parts/StudentName";
import { attemptText, LogCall } from "./LogCall";

type Household = Schemas["HouseholdView"];

/** A home to ring, and how far it got. */
export function Home({
  h,
  date,
  chosen,
  may,
  write,
  choose,
  next,
  off,
  begun,
  done,
}: {
  h: Household;
  date: string | undefined; // of an earlier day that is worked on
  chosen: boolean;
  may: boolean;
  write: Writing;
  choose: () => void;
  next: () => void;
  off: boolean;
  begun: () => void;
  done: () => void;
}) {
  const last = h.attempts.at(-1);
  const [ringing, setRinging] = useState(h.next);
  const [changing, setChanging] = useState<"contact" | "warnings">();
  const one = h.students[0];
  const why =
    one &&
    (chosen || one.text.startsWith("expected") ? [one.text, one.lately] : [one.lately]).filter(Boolean).join(" · ");
  return (
    <section
      className={`home${chosen ? " chosen" : ""}`}
      aria-label={h.students.map((s) => s.student.name).join(", ")}
      data-home={h.key}
    >
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys choose a home */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: as above */}
      <div className="row" onClick={choose}>
        <div>
          {h.students.map((s) => (
            <div className="who" key={s.student.id}>
              <Shape state="unaccounted" />
              <StudentName student={s.student} />
              {s.warnings.map((w) => (
                <span key={w} className="look-warn">
                  {w}
                </span>
              ))}
            </div>
          ))}
        </div>
        <Contact h={h} at={chosen ? ringing : h.next} open={chosen} />
        <div className="look-small look-muted">
          {h.held ? (
            <span>
              held until {h.again}: {h.held}
            </span>
          ) : last ? (
            <span>
              {attemptText(last)}
              {h.again && (h.waits ? `, again ${h.again}` : ", try again now")}
              {last.note && <span className="noted"> · {last.note}</span>}
            </span>
          ) : (
            <span>{why}</span>
          )}
        </div>
      </div>
      {chosen && <Beside h={h} ringing={ringing} change={may && !changing ? setChanging : undefined} />}
      {chosen && changing === "warnings" && (
        <div className="known">
          {h.students.map((s) => (
            <WarningsOf key={s.student.id} student={s.student} words={s.warnings} named={h.students.length > 1} />
          ))}
          <button type="button" className="link look-small" onClick={() => setChanging(undefined)}>
            Back to the call
          </button>
        </div>
      )}
      {chosen && changing === "contact" && one && (
        <div className="act">
          <ContactFormOf
            student={one.student}
            id={h.contacts[Math.max(ringing, 0)]?.id ?? 0}
            done={() => setChanging(undefined)}
          />
        </div>
      )}
      {off && (
        <p className="act look-overdue look-small" role="status">
          Somebody else has dealt with this home meanwhile: it is off the list. Nothing of yours is saved yet.{" "}
          <button type="button" className="link" onClick={done}>
            Cancel <kbd>Esc</kbd>
          </button>
        </p>
      )}
      {chosen && may && (
        <LogCall
          h={h}
          date={date}
          ringing={ringing}
          setRinging={setRinging}
          write={write}
          next={next}
          begun={begun}
          done={done}
        />
      )}
    </section>
  );
}

/** Whom to ring: the one at hand, with the number as it was given. */
function Contact({ h, at, open }: { h: Household; at: number; open: boolean }) {
  const c = h.contacts[Math.max(at, 0)];
  if (!c) return <b className="look-overdue">no contact on file</b>;
  if (!open)
    return (
      <span className="look-small">
        {c.name} · <span className="phone">{c.phone}</span>
      </span>
    );
  return (
    <span className="ringing">
      <b>{c.name}</b> {c.relation} <b className="phone">{c.phone}</b>
    </span>
  );
}

/** The others of a home in call order, who answered last, who must not be called. */
function Beside({
  h,
  ringing,
  change,
}: {
  h: Household;
  ringing: number;
  change: ((what: "contact" | "warnings") => void) | undefined;
}) {
  const others = h.contacts.filter((_, i) => i !== Math.max(ringing, 0));
  const answered = h.contacts.find((c) => c.id === h.answered);
  return (
    <p className="then look-small look-muted">
      {change && (
        <span className="look-push">
          <button type="button" className="link" onClick={() => change("contact")}>
            {h.contacts.length === 0 ? "Add a contact" : "change number"}
          </button>
          {" · "}
          <button type="button" className="link" onClick={() => change("warnings")}>
            warnings
          </button>
        </span>
      )}
      {others.map((c, i) => (
        <span key={c.id}>
          {i === 0 ? (ringing > 0 ? "also " : "then ") : ", "}
          {c.name}, {c.relation}, <span className="phone">{c.phone}</span>
        </span>
      ))}
      {answered && <span className="answered"> · {answered.name} answered last time</span>}
      {h.notCalled.map((n) => (
        <b key={n} className="look-overdue">
          {" "}
          · do not call {n}
        </b>
      ))}
    </p>
  );
}
