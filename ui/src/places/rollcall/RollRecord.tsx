import "./rollcall.css";
import { Link, useParams } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Waiting } from "../../parts/Panel";
import { TakeAlong } from "../../parts/TakeAlong";
import { plural } from "../../parts/words";

const why: Record<string, string> = {
  "on-site": "on the premises",
  missing: "unaccounted for",
  unknown: "not yet known",
  "signed-in": "signed in",
  expected: "had a lesson",
  found: "met, on no list",
};

/** What came of a roll call: who ticked whom when, and whom nobody found. */
export default function RollRecord() {
  const { roll } = useParams();
  const record = useRead("/api/roll-calls/{roll}/record", { roll: Number(roll) });
  if (!record.data) return <Waiting error={record.error} />;
  const { call, school, endBy, rows, taken } = record.data;
  return (
    <main className="page roll-record">
      <div className="head">
        <h1>
          Roll call, {call.kind}, {call.day}
        </h1>
        <span className="no-print">
          <TakeAlong small file={(format) => `/api/roll-calls/${roll}/file?format=${format}`} />
        </span>
        <Link className="no-print" to="/roll-calls">
          All of the year
        </Link>
      </div>
      <p>
        {school}. Began {call.began} by {call.by}, {call.ended ? `ended ${call.ended} by ${endBy}` : "and still runs"}.{" "}
        {plural(call.people, "person", "people")} on the list, {call.people - call.open} accounted for, {call.open} not.
        {call.whole ? ` All were ticked after ${call.whole}.` : ""}
        {!call.whole && call.most ? ` Nine of ten were ticked after ${call.most}.` : ""}
        {call.note && ` ${call.note}`}
      </p>
      <table className="rows">
        <thead>
          <tr>
            <th>Who</th>
            <th>Meeting point</th>
            <th>Why on the list</th>
            <th>Should be · last seen</th>
            <th>Ticked</th>
            <th>By</th>
            <th>Where</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <Row key={`${r.kind} ${r.person}`} r={r} over={call.ended !== ""} />
          ))}
        </tbody>
      </table>
      {taken.length > 0 && <p className="look-muted">{plural(taken.length, "tick")} taken back.</p>}
    </main>
  );
}

function Row({ r, over }: { r: Schemas["RecordRow"]; over: boolean }) {
  return (
    <tr>
      <td className={r.tick || !over ? undefined : "look-strong look-overdue"}>
        {r.name} <span className="look-muted">{r.form}</span>
      </td>
      <td>{r.point}</td>
      <td>{why[r.why] ?? r.why}</td>
      <td className="look-small">{[r.place, r.seen].filter(Boolean).join(" · ")}</td>
      <td className={r.tick || !over ? "look-nowrap" : "look-strong look-overdue look-nowrap"}>
        {r.tick ? r.tick.at : over ? "not found" : "not yet"}
      </td>
      <td>{r.tick?.by}</td>
      <td>{r.tick && (r.tick.here ? r.tick.place : `elsewhere: ${r.tick.place}`)}</td>
    </tr>
  );
}
