import type { Schemas } from "../../api/client";
import { Panel, Scrolls } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";

/** Who lost credit: what was earned of what is expected, where it was lost, and how to regain it. */
export function Credits({ v }: { v: Schemas["CreditsView"] }) {
  return (
    <Panel
      title={
        v.own
          ? `${plural(v.lost, "credit")} lost`
          : `${v.behind} of ${v.of} ${v.behind === 1 ? "is" : "are"} behind in credits`
      }
      extra={
        v.own
          ? `${v.period}, ${v.half}`
          : `${v.period}, ${v.half} · ${plural(v.lost, "half-year")} of courses lost in all`
      }
    >
      {v.own && <p className="empty">In the courses that you teach, of the students you teach them to.</p>}
      {v.by.length === 0 && <p className="empty">No credit was lost.</p>}
      {v.by.map((g) => (
        <div key={g.title}>
          <div className="group">
            <span>{g.title}</span>
            <span>{g.students.length}</span>
          </div>
          <Scrolls>
            {g.students.map((s) => (
              <div className="credit-line" key={s.student.id}>
                <span className="look-two">
                  <StudentName student={s.student} form={false} />
                  <span className="look-small look-muted">{s.student.form}</span>
                </span>
                <span>
                  {!v.own && (
                    <>
                      <b>{s.earned}</b> {s.expected ? `of ${s.expected}` : "earned"}
                    </>
                  )}
                </span>
                <ul className="lost">
                  {s.lost.map((x) => (
                    <li key={`${x.course} ${x.half}`}>
                      <span>
                        <b>{x.course}</b>, {x.half} <span className="look-small look-muted">{x.why}</span>
                      </span>
                      <span className="look-small">
                        {x.ways.length > 0 ? `to regain it: ${x.ways.join("; ")}` : "it can’t be regained"}
                      </span>
                    </li>
                  ))}
                  {s.lost.length === 0 && (
                    <li className="look-muted">nothing lost: fewer courses taken than expected</li>
                  )}
                </ul>
              </div>
            ))}
          </Scrolls>
        </div>
      ))}
    </Panel>
  );
}
