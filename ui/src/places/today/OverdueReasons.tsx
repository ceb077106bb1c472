import { Button } from "antd";
import { useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { ofStudent } from "../../parts/in-list";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { covering, useScope } from "../../parts/scope";
import { plural } from "../../parts/words";

const rowHeight = 41; // px

/** Absences without a reason so far: which are overdue, whom to ask, and a notice after the fact. */
export default function OverdueReasons() {
  const { at, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const [all, setAll] = useState(false);
  const list = useRead("/api/unexplained", { at, section: useScope() });
  if (!list.data) return <Waiting error={list.error} />;
  const u = list.data;
  const shown = all ? u.students : u.students.filter((s) => s.overdue > 0);
  return (
    <main className="page today-place">
      <h1 className="visually-hidden">Reasons overdue</h1>
      <Panel
        title="Reasons overdue"
        extra={[`after ${plural(u.after, "school day")}`, u.policy, u.scope].filter(Boolean).join(" · ")}
      >
        <div className="look-line look-small">
          <span>
            {plural(u.overdue, "student")} overdue, {u.students.length} with a reason missing in all. Today’s are on the
            call list.
          </span>
          <button type="button" className="link look-push" aria-pressed={all} onClick={() => setAll(!all)}>
            {all ? "Only those overdue" : "All without a reason"}
          </button>
        </div>
        {shown.length === 0 && <p className="empty">No reason{covering(list.data.scope)} is overdue.</p>}
        <table className="rows">
          <thead className={shown.length === 0 ? "visually-hidden" : undefined}>
            <tr>
              <th>Student</th>
              <th>Days without a reason</th>
              <th className="number">School days since</th>
              <th>Whom to ask</th>
              <th>
                <span className="visually-hidden">Note</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <Long rows={shown} height={rowHeight} keyOf={ofStudent} student={ofStudent} as="tr">
              {(s, place) => (
                <tr {...place}>
                  <td>
                    <StudentName student={s.student} />
                  </td>
                  <td>
                    {s.days.map((d) => (
                      <div key={d.date}>
                        {d.label} {d.slots && <span className="look-muted">{d.slots}</span>}
                      </div>
                    ))}
                  </td>
                  <td className="number">
                    {s.days.map((d) => (
                      <div key={d.date} className={d.overdue ? "look-overdue" : undefined}>
                        {d.since}
                      </div>
                    ))}
                  </td>
                  <td>{s.contact || <b className="look-overdue">no contact on file</b>}</td>
                  <td className="number">
                    {who.mayWrite && !at && (
                      <Button
                        size="small"
                        onClick={() =>
                          set(
                            {
                              notice: String(s.student.id),
                              noticeFrom: s.days[0]?.date,
                              noticeTo: s.days.at(-1)?.date,
                            },
                            false,
                          )
                        }
                      >
                        Note the reason
                      </Button>
                    )}
                  </td>
                </tr>
              )}
            </Long>
          </tbody>
        </table>
      </Panel>
    </main>
  );
}
