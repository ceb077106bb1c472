import "./part-time.css";
import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, write } from "../../api/client";
import { DateField } from "../controls/DateField";
import { Tick } from "../controls/Tick";
import { useFocusBack } from "../focus";
import { Scrolls } from "../Panel";
import { tell } from "../told";

type View = Schemas["PartTimeView"];
type Plan = Schemas["Plan"];

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
  useFocusBack();
  const now = view.periods.find((p) => p.now) ?? view.periods.at(-1);
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [here, setHere] = useState(now?.here ?? "1");
  const [elsewhere, setElsewhere] = useState(now?.elsewhere ?? "0");
  const [cells, setCells] = useState(() => cellsOf(view, now?.slots ?? []));
  const [plan, setPlan] = useState<Plan>();
  const [past, setPast] = useState(false);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const changed = () => {
    setPlan(undefined);
    setWrong("");
  };
  const flip = (of: string[], on: boolean) => {
    changed();
    setCells((before) => {
      const next = new Set(before);
      for (const c of of) {
        if (on) next.add(c);
        else next.delete(c);
      }
      return next;
    });
  };
  const ask = async (apply: boolean) => {
    setBusy(true);
    setWrong("");
    try {
      const slots = view.slots.flatMap((s) =>
        view.weekdays
          .filter((d) => cells.has(cell(s.slot, d.weekday)))
          .map((d) => ({ slot: s.slot, weekday: d.weekday })),
      );
      const body = {
        student: view.student.id,
        from: from || undefined,
        to: to || undefined,
        here,
        elsewhere,
        slots,
        past,
        apply,
      };
      const p = await write({ path: "/api/part-time", body });
      setPlan(p);
      if (!p.applied) return;
      tell.done(`${view.student.name}: saved, ${p.when}`);
      close();
    } catch (e) {
      setPlan(undefined);
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const none = cells.size === 0;
  return (
    <Modal
      open
      width={640}
      title={`When ${view.student.given} is due`}
      onCancel={close}
      okText={plan ? "Save" : "See what it would change"}
      okButtonProps={{ disabled: none, loading: busy }}
      onOk={() => void ask(plan !== undefined && plan.problems.length === 0)}
      cancelText="Cancel"
    >
      <div className="part-time-form">
        <div className="pair">
          <span>
            <span aria-hidden="true">Holds from</span>
            <DateField
              label="Holds from"
              optional
              back
              value={from}
              onChange={(d) => {
                setFrom(d);
                changed();
              }}
            />
          </span>
          <span>
            <span aria-hidden="true">to, if it ends</span>
            <DateField
              label="Last date"
              optional
              value={to}
              onChange={(d) => {
                setTo(d);
                changed();
              }}
            />
          </span>
          <label>
            Share here
            <Input
              value={here}
              maxLength={20}
              onChange={(e) => {
                setHere(e.target.value);
                changed();
              }}
            />
          </label>
          <label>
            elsewhere
            <Input
              value={elsewhere}
              maxLength={20}
              onChange={(e) => {
                setElsewhere(e.target.value);
                changed();
              }}
            />
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
                        >
                          {""}
                        </Tick>
                      </td>
                    ))}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </Scrolls>
        {none && <p className="look-overdue">Who is due in no slot is not on the roll: leave one at least.</p>}
        {wrong && (
          <p role="alert" className="look-overdue">
            {wrong}
          </p>
        )}
        {(wrong || past) && (
          <Tick
            checked={past}
            onChange={(on) => {
              setPast(on);
              changed();
            }}
          >
            correct the past: days whose registers are in are measured by it too
          </Tick>
        )}
        {plan && <Would plan={plan} />}
      </div>
    </Modal>
  );
}

/** What it would change, before it is saved. */
function Would({ plan }: { plan: Plan }) {
  return (
    <div role="status" className="look-small would">
      <p>
        <b>It holds {plan.when}.</b>
      </p>
      <ul>
        {[...plan.details.slice(0, 12), ...plan.notes, ...plan.figures].map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {plan.details.length === 0 && <p>Nothing would be another.</p>}
    </div>
  );
}
