import type { Schemas, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { StudentName } from "../../parts/StudentName";
import { attemptText, LogCall } from "./LogCall";

type Household = Schemas["HouseholdView"];

/** A home to ring, and how far it got. */
export function Home({
  h,
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
                <span key={w} className="warn">
                  {w}
                </span>
              ))}
            </div>
          ))}
        </div>
        <Contacts h={h} open={chosen} />
        <div className="small muted">
          {h.held ? (
            <span>
              held until {h.again}: {h.held}
            </span>
          ) : last ? (
            <span>
              {attemptText(last)}
              {h.again && (h.waits ? `, again ${h.again}` : ", try again now")}
            </span>
          ) : (
            <span>
              {chosen && `${h.students[0]?.text} · `}
              {h.students[0]?.text.startsWith("expected") ? h.students[0].text : h.students[0]?.lately}
            </span>
          )}
        </div>
      </div>
      {off && (
        <p className="act overdue small" role="status">
          Somebody else has dealt with this home meanwhile: it is off the list. Nothing of yours is stored yet.{" "}
          <button type="button" className="link" onClick={done}>
            Leave it <kbd>Esc</kbd>
          </button>
        </p>
      )}
      {chosen && may && <LogCall h={h} write={write} next={next} begun={begun} done={done} />}
    </section>
  );
}

function Contacts({ h, open }: { h: Household; open: boolean }) {
  if (h.contacts.length === 0) return <b className="overdue">no contact on file · ask {h.students[0]?.student.form}</b>;
  if (!open) {
    const c = h.contacts[Math.max(h.next, 0)];
    return (
      <span className="small">
        {c?.name} · {c?.phone}
      </span>
    );
  }
  return (
    <ol className="small">
      {h.contacts.map((c, i) => (
        <li key={c.id} className={i === h.next ? "next" : ""}>
          <span>{c.order}</span>
          <span>
            {c.name} <span className="muted">{c.relation}</span> · {c.phone}
            {c.id === h.answered && <span className="answered"> answered last time</span>}
          </span>
        </li>
      ))}
      {h.notCalled.map((n) => (
        <li key={n} className="overdue">
          not {n}
        </li>
      ))}
    </ol>
  );
}
