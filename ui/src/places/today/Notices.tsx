import { Button } from "antd";
import { useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { covering, useCovered, useScope } from "../../parts/scope";
import { tell } from "../../parts/told";

/** What homes have said of a day. */
export default function Notices() {
  const { at, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const covered = useCovered();
  const notices = useRead("/api/notices", { at, section: useScope() });
  const write = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  if (!notices.data) return <Waiting error={notices.error} />;
  const holding = notices.data.filter((n) => !n.withdrawn).length;
  return (
    <main className="page today-place">
      <h1 className="visually-hidden">Notices from home</h1>
      <Panel
        title="Notices from home that hold on this day"
        extra={[String(holding), covered].filter(Boolean).join(" · ")}
      >
        {notices.data.length === 0 && (
          <p className="empty">No home{covering(covered)} has said anything about this day.</p>
        )}
        {who.mayWrite && !at && (
          <div className="look-line">
            <Button size="small" type="primary" onClick={() => set({ notice: "new" }, false)}>
              Call from home
            </Button>
          </div>
        )}
        <table className="rows">
          <thead className={notices.data.length === 0 ? "visually-hidden" : undefined}>
            <tr>
              <th>Student</th>
              <th>What</th>
              <th>Told by</th>
              <th>Noted</th>
              <th>
                <span className="visually-hidden">Withdraw</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {notices.data.map((n) => (
              <tr key={n.id} className={n.withdrawn ? "undone" : undefined}>
                <td>
                  <StudentName student={n.student} />
                </td>
                <td>{n.text}</td>
                <td>{n.told}</td>
                <td className="look-muted">{n.noted}</td>
                <td>
                  {n.withdrawn ? (
                    <span className="look-muted">withdrawn</span>
                  ) : (
                    who.mayWrite &&
                    !at && (
                      <button
                        type="button"
                        className="link look-small look-muted"
                        aria-label={`Withdraw the notice about ${n.student.name}`}
                        onClick={() => write.mutate({ path: "/api/notices/{id}/withdraw", params: { id: n.id } })}
                      >
                        withdraw
                      </button>
                    )
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Panel>
    </main>
  );
}
