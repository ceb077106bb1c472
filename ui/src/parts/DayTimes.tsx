import { Button, Input, Modal, Space } from "antd";
import { useState } from "react";
import { type Schemas, useRead, write } from "../api/client";
import { TimeField } from "./controls/TimeField";
import { useFocusBack } from "./focus";
import { Waiting } from "./Panel";
import { tell } from "./told";

type Section = Schemas["SectionDayTimes"];
type Times = Record<string, { from: string; to: string }>; // by slot, as typed

/** A day that went otherwise than its pattern is put right: when its slots began and ended. */
export function DayTimes({ at, onClose }: { at: string | undefined; onClose: () => void }) {
  useFocusBack();
  const times = useRead("/api/day-times", { at });
  const [of, setOf] = useState(0);
  const section = times.data?.sections.find((s) => s.id === of) ?? times.data?.sections[0];
  return (
    <Modal open footer={null} width={620} onCancel={onClose} title={`Times of ${times.data?.label ?? "the day"}`}>
      {!times.data && <Waiting inside error={times.error} />}
      {times.data && !section && <p>There is no school on this date.</p>}
      {times.data && section && (
        <>
          {times.data.sections.length > 1 && (
            <Space>
              {times.data.sections.map((s) => (
                <Button
                  key={s.id}
                  size="small"
                  type={s.id === section.id ? "primary" : "default"}
                  onClick={() => setOf(s.id)}
                >
                  {s.name}
                </Button>
              ))}
            </Space>
          )}
          <Form key={section.id} date={times.data.date} section={section} onClose={onClose} />
        </>
      )}
    </Modal>
  );
}

function Form({ date, section, onClose }: { date: string; section: Section; onClose: () => void }) {
  const [changed, setChanged] = useState<Times>({});
  const [reason, setReason] = useState("");
  const [plan, setPlan] = useState<Schemas["Plan"]>();
  const [looked, setLooked] = useState(""); // the times that the plan is about
  const [wrong, setWrong] = useState("");
  const [saving, setSaving] = useState(false); // looking never holds a save up
  const slots = Object.entries(changed).map(([slot, t]) => ({ slot, ...t }));
  const ask = async (apply: boolean) => {
    if (slots.length === 0) return;
    if (apply) setSaving(true);
    try {
      const asked = JSON.stringify(slots);
      const seen = apply && looked === asked ? plan?.stamp || undefined : undefined; // none where it is saved unseen
      const body = { date, section: section.id, slots, seen, reason: reason || (apply ? "" : "looked at"), apply };
      const p = await write({ path: "/api/day-times", body });
      setWrong("");
      setPlan(p);
      setLooked(asked);
      if (p.applied && apply) {
        tell.done(`The times hold ${p.when}.`);
        onClose();
      }
    } catch (e) {
      setPlan(undefined);
      setWrong((e as Error).message);
    } finally {
      if (apply) setSaving(false);
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void ask(true);
      }}
    >
      <table className="rows day-times">
        <thead>
          <tr>
            <th>Slot</th>
            <th>From</th>
            <th>To</th>
            <th>Usually</th>
          </tr>
        </thead>
        <tbody>
          {section.slots.map((s) => {
            const now = changed[s.name] ?? { from: s.from, to: s.to };
            const field = (which: "from" | "to") => (
              <TimeField
                size="small"
                label={`${s.label}, ${which}`}
                value={now[which]}
                onChange={(typed) => setChanged({ ...changed, [s.name]: { ...now, [which]: typed } })}
                onBlur={() => void ask(false)}
              />
            );
            return (
              <tr key={s.name}>
                <td>{s.label}</td>
                <td>{field("from")}</td>
                <td>{field("to")}</td>
                <td>
                  {s.usual && (
                    <Button
                      size="small"
                      type="link"
                      onClick={() => {
                        const [from = "", to = ""] = s.usual.split(" to ");
                        setChanged({ ...changed, [s.name]: { from, to } });
                      }}
                    >
                      {s.usual}
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p>
        <label htmlFor="day-times-why">
          Why
          <Input
            id="day-times-why"
            value={reason}
            maxLength={200}
            placeholder="fire alarm, ferry at 14:00 …"
            onChange={(e) => setReason(e.target.value)}
          />
        </label>
      </p>
      {wrong && <p role="alert">{wrong}</p>}
      {plan && !wrong && (
        <ul className="would" aria-label="What would change">
          {[...plan.details, ...plan.figures, ...plan.notes].map((line) => (
            <li key={line}>{line}</li>
          ))}
          {plan.details.length === 0 && <li>Nothing would change.</li>}
        </ul>
      )}
      <Space>
        <Button type="primary" htmlType="submit" loading={saving} disabled={slots.length === 0}>
          Save
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </Space>
      <p className="look-muted">
        They hold on this date alone. Registers of the day that are in get them too; minutes missed are counted anew.
      </p>
    </form>
  );
}
