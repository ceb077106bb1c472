import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

const first = 4;

/** Lines that were reached and steps that are due, newest first. */
export function Due({ p, choose }: { p: Schemas["AbsenceView"]; choose: (student: number) => void }) {
  const [all, setAll] = useState(false);
  const shown = all ? p.due : p.due.slice(0, first);
  return (
    <Panel title="Reached" extra={`${p.dueInAll} · ${p.title}`} className="due">
      {p.due.length === 0 && <p className="empty">Nobody here reached a line in this span.</p>}
      <ul>
        {shown.map((d) => (
          <li key={`${d.student.id} ${d.title} ${d.text} ${d.date}`}>
            <div>
              <StudentName student={d.student} form={false} />{" "}
              <span className="look-muted">
                {d.student.form} · {d.when}
              </span>
            </div>
            <button type="button" className="link" title={d.text} onClick={() => choose(d.student.id)}>
              {d.title}
              {d.kind !== "line" && `, ${d.text}`}
              {d.kind === "line" && !d.holds && <span className="look-muted">, no longer</span>}
            </button>
          </li>
        ))}
      </ul>
      {p.due.length > shown.length && (
        <div className="look-line">
          <button type="button" className="link look-muted" onClick={() => setAll(true)}>
            {p.dueInAll - shown.length} more
          </button>
        </div>
      )}
      {all && p.dueInAll > p.due.length && (
        <p className="look-small look-muted">
          The newest {p.due.length} are shown. Choose a form or a shorter span for the rest.
        </p>
      )}
    </Panel>
  );
}
