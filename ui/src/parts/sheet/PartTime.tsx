import "./part-time.css";
import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useRead } from "../../api/client";
import { DateField } from "../controls/DateField";
import { Tick } from "../controls/Tick";
import { LookFirst } from "../LookFirst";
import { Scrolls } from "../Panel";

type View = Schemas["PartTimeView"];

/** When a student is due and how much of full time is here, over time; changed from a date on by the office. */
export function PartTime({ student, mayChange }: { student: number; mayChange: boolean }) {
  const [changing, setChanging] = useState(false);
  const view = useRead("/api/students/{id}/part-time", { id: student }).data;
  if (!view) return null;
  const full = view.periods.every((p) => p.full);
  return (
    <section aria-label="Timetable and shares" className="part-time">
      <h3>Timetable and shares</h3>
      {full ? (
        <p className="look-small">Full time here, due in every slot.</p>
      ) : (
        view.periods.map((p) => (
          <p key={p.when} className={p.now ? "look-small" : "look-small look-muted"}>
            <b>{p.when}</b>: {p.full ? "full time, every slot" : `${p.words}; ${p.here} here, ${p.elsewhere} elsewhere`}
          </p>
        ))
      )}
      {mayChange && (
        <Button size="small" onClick={() => setChanging(true)}>
          Part-time …
        </Button>
      )}
      {changing && <Change view={view} close={() => setChanging(false)} />}
    </section>
  );
}

const cell = (slot: string, weekday: number) => `${slot} ${weekday}`;

/** The cells of the week that slots mean; every one where there are none. */
function cellsOf(view: View, slots: readonly Schemas["Due"][]): Set<string> {
  const out = new Set<string>();
  for (const s of view.slots)
    for (const d of view.weekdays)
      if (slots.length === 0 || slots.some((x) => x.slot === s.slot && (x.weekday === 0 || x.weekday === d.weekday)))
        out.add(cell(s.slot, d.weekday));
  return out;
}

/** What is to hold from a date on: looked at first, with the figures of the past that it would change. */
function Change({ view, close }: { view: View; close: () => void }) {
  const now = view.periods.find((p) => p.now) ?? view.periods.at(-1);
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [here, setHere] = useState(now?.here ?? "1");
  const [elsewhere, setElsewhere] = useState(now?.elsewhere ?? "0");
  const [cells, setCells] = useState(() => cellsOf(view, now?.slots ?? []));
  const flip = (of: string[], on: boolean) => {
    const next = new Set(cells);
    for (const c of of) {
      if (on) next.add(c);
      else next.delete(c);
    }
    setCells(next);
  };
  const none = cells.size === 0;
  const slots = view.slots.flatMap((s) =>
    view.weekdays.filter((d) => cells.has(cell(s.slot, d.weekday))).map((d) => ({ slot: s.slot, weekday: d.weekday })),
  );
  return (
    <LookFirst
      title={`When ${view.student.given} is due`}
      path="/api/part-time"
      body={{ student: view.student.id, from: from || undefined, to: to || undefined, here, elsewhere, slots }}
      ready={!none}
      said={(p) => `${view.student.name}: saved, ${p.when}`}
      correctsPast
      began={view.periods}
      width={640}
      close={close}
    >
      <div className="pair">
        <span>
          <span aria-hidden="true">Holds from</span>
          <DateField label="Holds from" optional back value={from} onChange={setFrom} />
        </span>
        <span>
          <span aria-hidden="true">to, if it ends</span>
          <DateField label="Last date" optional value={to} onChange={setTo} />
        </span>
        <label>
          Share here
          <Input className="share" value={here} maxLength={20} onChange={(e) => setHere(e.target.value)} />
        </label>
        <label>
          elsewhere
          <Input className="share" value={elsewhere} maxLength={20} onChange={(e) => setElsewhere(e.target.value)} />
        </label>
      </div>
      <Scrolls>
        <table className="week" aria-label="Slots in which the student is due">
          <thead>
            <tr>
              <th scope="col">Due in</th>
              {view.weekdays.map((d) => {
                const of = view.slots.map((s) => cell(s.slot, d.weekday));
                return (
                  <th key={d.weekday} scope="col">
                    <Tick
                      checked={of.every((c) => cells.has(c))}
                      onChange={(on) => flip(of, on)}
                      label={`${d.label}, all slots`}
                    >
                      {d.label}
                    </Tick>
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {view.slots.map((s) => {
              const of = view.weekdays.map((d) => cell(s.slot, d.weekday));
              return (
                <tr key={s.slot}>
                  <th scope="row">
                    <Tick
                      checked={of.every((c) => cells.has(c))}
                      onChange={(on) => flip(of, on)}
                      label={`${s.label}, every day`}
                    >
                      {s.label} <span className="look-muted look-small">{s.from}</span>
                    </Tick>
                  </th>
                  {view.weekdays.map((d) => (
                    <td key={d.weekday}>
                      <Tick
                        checked={cells.has(cell(s.slot, d.weekday))}
                        onChange={(on) => flip([cell(s.slot, d.weekday)], on)}
                        label={`${d.label}, ${s.label}`}
                      />
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </table>
      </Scrolls>
      {none && <p className="look-overdue">Who is due in no slot is not on the roll: leave one at least.</p>}
    </LookFirst>
  );
}
