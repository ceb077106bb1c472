import "./rollcall.css";
import { Link } from "react-router";
import { useRead } from "../../api/client";
import { Waiting } from "../../parts/Panel";

/** The roll calls of the school year, side by side. */
export default function RollCalls() {
  const calls = useRead("/api/roll-calls");
  if (!calls.data) return <Waiting error={calls.error} />;
  const { year, calls: list } = calls.data;
  return (
    <main className="page roll-record">
      <div className="head">
        <h1>
          Roll calls <span className="look-muted look-small">{year}</span>
        </h1>
        <a className="no-print" href="/roll-call">
          Begin one
        </a>
        <button type="button" className="link no-print" onClick={() => window.print()}>
          Print
        </button>
      </div>
      <section className="panel" aria-label="Roll calls">
        {list.length === 0 && <p className="empty">No roll call was held this school year.</p>}
        {list.length > 0 && (
          <table className="rows">
            <thead>
              <tr>
                <th>Day</th>
                <th>What</th>
                <th>Began</th>
                <th>Ended</th>
                <th className="number">People</th>
                <th className="number">Half after</th>
                <th className="number">9 of 10 after</th>
                <th className="number">All after</th>
                <th className="number">Not found</th>
                <th>What was said</th>
              </tr>
            </thead>
            <tbody>
              {list.map((c) => (
                <tr key={c.id}>
                  <td>
                    <Link to={`/roll-calls/${c.id}`}>{c.day}</Link>
                  </td>
                  <td>{c.kind}</td>
                  <td className="look-nowrap">
                    {c.began} by {c.by}
                  </td>
                  <td>{c.ended || "runs"}</td>
                  <td className="number">{c.ended ? c.people : ""}</td>
                  <td className="number">{c.half}</td>
                  <td className="number">{c.most}</td>
                  <td className="number">{c.ended ? c.whole || "never" : ""}</td>
                  <td className="number">{c.ended ? c.open : ""}</td>
                  <td>{c.note}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
    </main>
  );
}
