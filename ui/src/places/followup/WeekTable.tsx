import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { StudentName } from "../../parts/StudentName";

type Cell = Schemas["WeekCell"];

/** The caseload by weeks: sessions, a reason, or nobody. Whom nobody met this week is first. */
export function WeekTable({
  v,
  most,
  choose,
}: {
  v: Schemas["SupportWeek"];
  most?: number;
  choose?: (row: Schemas["WeekRow"]) => void;
}) {
  const last = v.weeks.length - 1;
  const rows = v.rows.slice(0, most);
  const now = v.weeks[last];
  if (v.rows.length === 0)
    return (
      <p className="empty">
        Nobody is on the caseload. A case says whether its student is to have a session each week.
      </p>
    );
  return (
    <table className="weeks">
      <thead>
        <tr>
          <th>Student</th>
          {v.weeks.map((w, i) => (
            <th key={w.monday} className={i === last ? "now" : undefined} title={w.title}>
              {w.label}
            </th>
          ))}
          {choose && <th>Why none</th>}
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.student.id}>
            <th scope="row">
              <StudentName student={r.student} form={choose !== undefined} />
            </th>
            {r.cells.map((c, i) => (
              <td key={v.weeks[i]?.monday} className={look(c)} title={words(c)}>
                {c.sessions > 0 ? c.sessions : c.reason ? "away" : c.on && (v.weeks[i]?.days ?? 0) > 0 ? 0 : ""}
              </td>
            ))}
            {choose && (
              <td className="why">
                {v.may && r.cells[last]?.on && r.cells[last]?.sessions === 0 ? (
                  <button type="button" className="link look-small" onClick={() => choose(r)}>
                    {r.cells[last]?.reason || "say why …"}
                  </button>
                ) : (
                  <span className="look-small look-muted">{r.cells[last]?.kinds}</span>
                )}
              </td>
            )}
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">met</th>
          {v.weeks.map((w) => (
            <td key={w.monday}>{w.met}</td>
          ))}
          {choose && <td />}
        </tr>
        <tr>
          <th scope="row">of the caseload</th>
          {v.weeks.map((w) => (
            <td key={w.monday}>{w.on}</td>
          ))}
          {choose && <td />}
        </tr>
      </tfoot>
      <caption>
        <b>{now?.unmet ?? 0} not met</b>
        {v.now ? " so far this week" : ""}
        {now && now.reasons > 0 && <span className="look-muted"> · {now.reasons} with a reason</span>}
        {most !== undefined && v.rows.length > most && (
          <>
            {" · "}
            <Link to="/follow-up/support">{v.rows.length - most} more</Link>
          </>
        )}
      </caption>
    </table>
  );
}

const look = (c: Cell) => (c.sessions > 0 ? "met" : c.unmet ? "unmet" : undefined);
const words = (c: Cell) => c.kinds || c.reason || (c.unmet ? "in no session, and nobody said why" : undefined);
