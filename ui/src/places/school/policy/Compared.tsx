import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { StudentName } from "../../../parts/StudentName";
import { plural } from "../../../parts/words";

type Plan = Schemas["PolicyPlan"];

const bandOr = (name: string) => name || "no band";

/** For whom a policy makes a difference: who changes band, and who comes to which line when. */
export function Compared({ plan }: { plan: Plan }) {
  const moved = plan.moves.filter((m) => m.from !== m.to);
  return (
    <div className="compared">
      <ul className="under look-small">
        {plan.under.map((u) => (
          <li key={u}>{u}</li>
        ))}
      </ul>
      <h3>Bands</h3>
      <p>
        {plural(plan.moved, "student")} in another band, {plan.stay} where they were.
      </p>
      {moved.map((m) => (
        <Names key={`${m.from} ${m.to}`} of={m.who}>
          {bandOr(m.from)} → <b>{bandOr(m.to)}</b>
        </Names>
      ))}
      {plan.lines.length > 0 && <h3>Lines</h3>}
      {plan.lines.map((l) => (
        <section key={l.title + l.sentence} aria-label={l.title}>
          <p>
            <b>{l.title}</b> <span className="look-muted">{l.sentence}</span>
            <br />
            {told(l)}
          </p>
          <Names of={l.only}>{l.had ? "only under this one" : "who came to it"}</Names>
          <Names of={l.other}>on another date</Names>
          <Names of={l.never}>{l.has ? "not under this one" : "who came to it before"}</Names>
        </section>
      ))}
    </div>
  );
}

function told(l: Plan["lines"][number]): string {
  if (!l.had) return `New: ${plural(l.after, "student")} came to it.`;
  if (!l.has) return `Gone: ${plural(l.before, "student")} had come to it.`;
  return l.before === l.after
    ? `${plural(l.after, "student")} came to it, as many as before.`
    : `${plural(l.after, "student")} came to it; ${l.before} before.`;
}

/** Students behind a number, by name; nothing where there are none. */
function Names({ of: { count, students }, children }: { of: Schemas["Names"]; children: React.ReactNode }) {
  const [open, setOpen] = useState(false);
  if (count === 0) return null;
  return (
    <details onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>
        {children}: {count}
      </summary>
      {open && (
        <p className="names">
          {students.map((s) => (
            <span key={s.id} className="look-nowrap">
              <StudentName student={s} />
              {s.when && <span className="look-muted look-small"> {s.when}</span>}
            </span>
          ))}
          {count > students.length && <span className="look-muted">and {count - students.length} more</span>}
        </p>
      )}
    </details>
  );
}
