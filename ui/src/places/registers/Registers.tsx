import "./registers.css";
import { Button, Segmented } from "antd";
import { useState } from "react";
import { Link, Route, Routes, useLocation, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { DayTimes } from "../../parts/DayTimes";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { covering, useScope } from "../../parts/scope";
import { HandOut } from "./HandOut";
import { Register } from "./Register";
import { Sessions } from "./Sessions";
import { StandIns } from "./StandIns";

export default function Registers() {
  return (
    <Routes>
      <Route index element={<SlotList />} />
      <Route path="check-ins/:class" element={<Sessions />} />
      <Route path="check-ins/:class/hand-out" element={<HandOut />} />
      <Route path=":class/:slot" element={<Register />} />
    </Routes>
  );
}

type Ref = Schemas["RegisterRef"];

const mostMinutes = 600; // overdue by more, the day is over

function stateWords(r: Ref): string {
  switch (r.state) {
    case "sent":
      return `sent ${r.sentAt} by ${r.sentBy}`;
    case "late":
    case "missing":
      return r.overdue > mostMinutes ? "never sent" : `${r.overdue} min overdue`;
    case "open":
      return `open, due by ${r.dueBy}`;
    default:
      return `from ${r.start}`;
  }
}

/** A day's slots with their registers: a teacher's own, everyone's for the office. */
function SlotList() {
  const { at } = useAddress();
  const { search } = useLocation();
  const [show, setShow] = useState<"all" | "out">("all");
  const [times, setTimes] = useState(false);
  const who = useOutletContext<Schemas["Who"]>();
  const list = useRead("/api/registers", { at, section: useScope() });
  if (!list.data) return <Waiting error={list.error} />;
  const { registers } = list.data;
  const rows =
    show === "out"
      ? registers.filter((r) => r.state === "late" || r.state === "missing" || r.state === "open")
      : registers;
  const slots = [...new Set(rows.map((r) => `${r.slot} ${r.section}`))];
  const many = registers.length > 12;
  const overdue = registers
    .filter((r) => r.state === "late" || r.state === "missing")
    .sort((a, b) => b.overdue - a.overdue);
  return (
    <main className="page registers-place">
      <div className="heading">
        <h1>Registers, {list.data.label}</h1>
        <Link to="/trips">Trips and visits</Link>
        {who.inOffice && list.data.open && (
          <Button size="small" type="link" onClick={() => setTimes(true)}>
            Times of the day
          </Button>
        )}
        {times && <DayTimes at={at} onClose={() => setTimes(false)} />}
        {many && (
          <Segmented
            size="small"
            value={show}
            onChange={setShow}
            options={[
              { value: "all", label: `All ${registers.length}` },
              { value: "out", label: "Still out" },
            ]}
          />
        )}
      </div>
      {rows.length === 0 && (
        <p className="look-muted">
          {!list.data.open
            ? `No school${covering(list.data.scope)} on this date.`
            : show === "out"
              ? `Every register${covering(list.data.scope)} that has begun is in. ${list.data.asAt}`
              : `You have no register${covering(list.data.scope)} on this date.`}
        </p>
      )}
      {who.inOffice && <StandIns at={at} />}
      <div className="slots">
        {many && show === "all" && overdue.length > 0 && (
          <Panel title="Overdue" extra={overdue.length} className="alarm">
            <List rows={overdue} search={search} slot />
          </Panel>
        )}
        {slots.map((slot) => {
          const inSlot = rows.filter((r) => `${r.slot} ${r.section}` === slot);
          const first = inSlot[0];
          const of = list.data.scope && first?.section;
          const title = of ? `${first.label}, ${of}` : (first?.label ?? slot);
          const extra = `${first?.start} to ${first?.end} · ${inSlot.filter((r) => r.state === "sent").length} of ${inSlot.length} in`;
          if (!many || show === "out")
            return (
              <Panel key={slot} title={title} extra={extra}>
                <List rows={inSlot} search={search} />
              </Panel>
            );
          return (
            <details key={slot} className="panel fold" open={inSlot.some((r) => r.state === "open")}>
              <summary>
                <h2>{title}</h2>
                <span className="extra">{extra}</span>
              </summary>
              <List rows={inSlot} search={search} />
            </details>
          );
        })}
      </div>
    </main>
  );
}

/** Registers, a line each; with the slot where they are of several. */
function List({ rows, search, slot = false }: { rows: Ref[]; search: string; slot?: boolean }) {
  return (
    <table className="rows">
      <thead className="visually-hidden">
        <tr>
          <th>Class</th>
          <th>Teacher</th>
          <th>Room</th>
          <th>Students</th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={`${r.class} ${r.slot}`}>
            <td className="of-class">
              <Link className="look-strong" to={`/registers/${r.class}/${r.slot}${search}`}>
                {r.title}
              </Link>
            </td>
            {slot && <td className="of-teacher">{r.label}</td>}
            <td className="of-teacher">{r.teacher}</td>
            <td className="of-room">{r.room}</td>
            <td className="of-room look-muted">{r.students} students</td>
            <td className={`register-state-${r.state}`}>{stateWords(r)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
