import "./protocol.css";
import { Button } from "antd";
import { useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Scrolls, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { plural } from "../../parts/words";

/** The record of a morning: registers, calls, searches, who closed it and when. It prints on one or two pages. */
export default function Protocol() {
  const { at } = useAddress();
  const protocol = useRead("/api/safe-arrival/protocol", { at, section: useScope() });
  if (!protocol.data) return <Waiting error={protocol.error} />;
  const p = protocol.data;
  const late = p.registers.filter((r) => !r.sent);
  return (
    <main className="page protocol">
      <header>
        <h1>
          {[p.school, p.scope].filter(Boolean).join(", ")}: safe arrival, {p.day}
        </h1>
        <span className="look-muted">as at {p.asAt.slice(11)}</span>
        <Button className="no-print" onClick={() => window.print()}>
          Print
        </Button>
      </header>
      {p.safe.map((s) => (
        <p key={s.section} className={s.state === "closed" ? "look-strong" : "look-strong look-overdue"}>
          {s.name && `${s.name}: `}
          {s.state === "none" ? "No school on this day." : s.text}
        </p>
      ))}
      <p>
        At {p.countAt}: {p.roll} on the roll = {p.count.map((c) => `${c.n} ${c.label}`).join(" + ")}.
      </p>
      {p.open.length > 0 && (
        <section>
          <h2>Still unaccounted for</h2>
          <p>{p.open.map((s) => `${s.student.name} (${s.student.form}), ${s.text}`).join("; ")}.</p>
        </section>
      )}
      <section>
        <h2>
          What was done <span className="look-muted">{plural(p.lines.length, "entry", "entries")}</span>
        </h2>
        {p.lines.length === 0 && <p className="look-muted">Nothing had to be done.</p>}
        <Scrolls>
          <table className="rows">
            <thead className={p.lines.length === 0 ? "visually-hidden" : undefined}>
              <tr>
                <th>At</th>
                <th>What</th>
                <th>About, and what came of it</th>
                <th>By</th>
              </tr>
            </thead>
            <tbody>
              {p.lines.map((l, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: entries have no other name
                <tr key={i}>
                  <td>{l.at}</td>
                  <td className="look-nowrap">{l.kind}</td>
                  <td>{l.text}</td>
                  <td className="look-nowrap">{l.by || "automatic"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolls>
      </section>
      <section>
        <h2>
          Registers of {p.slot}{" "}
          <span className="look-muted">
            {p.registers.length - late.length} of {p.registers.length} in
          </span>
        </h2>
        <ul className="registers">
          {p.registers.map((r) => (
            <li key={r.class} className={r.sent ? undefined : "look-overdue"}>
              <b>{r.class}</b> {r.sent ? `${r.sent} ${r.by}` : `out · ${r.taker}`}
            </li>
          ))}
        </ul>
      </section>
      <section>
        <h2>
          What homes said of today <span className="look-muted">{p.explained.length}</span>
        </h2>
        <ul className="registers">
          {p.explained.map((n) => (
            <li key={n.id}>
              <b>{n.student.name}</b> {n.student.form}: {n.text} <span className="look-muted">{n.told}</span>
            </li>
          ))}
        </ul>
      </section>
      <p className="signed">
        <span>Date and signature</span>
      </p>
      <p className="look-small look-muted">This page holds data about students.</p>
    </main>
  );
}
