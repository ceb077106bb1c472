import { Button } from "antd";
import { type FormEvent, useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { Reasons } from "../../parts/Reasons";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";

type Group = Schemas["GroupView"];

/** Who comes together: a ferry, or a group that was held. */
export function Groups({ groups, reasons }: { groups: Group[]; reasons: Schemas["Reason"][] }) {
  const { params, set } = useAddress();
  const chosen = groups.find((g) => g.key === params.get("group"));
  const waiting = groups.filter((g) => g.members.length > 0);
  return (
    <Panel title="A group is in">
      {waiting.length === 0 && <p className="empty">Everyone who comes together is in.</p>}
      {waiting.length > 0 && (
        <div className="look-line look-wrap">
          {waiting.map((g) => (
            <Button
              key={g.key}
              type={g === chosen ? "primary" : "default"}
              aria-pressed={g === chosen}
              onClick={() => set({ group: g === chosen ? undefined : g.key })}
            >
              {g.title}{" "}
              <span className="look-small">
                {g.members.filter((m) => m.likely).length} missing
                {!g.key.startsWith("hold ") && `, ${g.members.length} of ${g.of} not in`}
              </span>
            </Button>
          ))}
        </div>
      )}
      {chosen && chosen.members.length > 0 && (
        <Arrive key={chosen.key} g={chosen} reasons={reasons} done={() => set({ group: undefined })} />
      )}
    </Panel>
  );
}

/** All of them at once, one time and one reason; only those known to be missing are ticked at first. */
function Arrive({ g, reasons, done }: { g: Group; reasons: Schemas["Reason"][]; done: () => void }) {
  const rail = useRead("/api/rail", {});
  const [ticked, setTicked] = useState(() => new Set(g.members.filter((m) => m.likely).map((m) => m.student.id)));
  const [time, setTime] = useState("");
  const [reason, setReason] = useState(g.reason);
  const [note, setNote] = useState("");
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const students = g.members.map((m) => m.student.id).filter((id) => ticked.has(id));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (students.length > 0)
      store.mutate({ path: "/api/movements", body: { students, kind: "arrived", time, reason, note } });
  };
  const toggle = (id: number) =>
    setTicked((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  return (
    <form className="group" aria-label={`${g.title} is in`} onSubmit={submit}>
      <div className="look-line look-wrap">
        <label>
          in at{" "}
          <TimeField label="in at" placeholder={rail.data?.now.slice(11)} autoFocus value={time} onChange={setTime} />
        </label>
        <Reasons
          offered={reasons.filter((r) => r.arrive)}
          value={reason}
          use="arrive"
          keyOf={() => ""}
          onChange={(r) => setReason(r.word)}
          onAdded={setReason}
        />
        <input
          className="plain look-wide"
          aria-label="Note for all"
          placeholder="note for all"
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
      </div>
      <ul>
        {g.members.map((m) => (
          <li key={m.student.id}>
            <Tick label={m.student.name} checked={ticked.has(m.student.id)} onChange={() => toggle(m.student.id)}>
              <Shape state={m.place.state} />
            </Tick>
            <StudentName student={m.student} />
            <span className="look-small look-muted">{m.place.text}</span>
          </li>
        ))}
      </ul>
      <div className="look-line">
        <Button type="primary" htmlType="submit" disabled={students.length === 0} loading={store.isPending}>
          These {students.length} are in <kbd>Enter</kbd>
        </Button>
        <Button onClick={() => setTicked(new Set(g.members.map((m) => m.student.id)))}>Tick all</Button>
        <Button onClick={() => setTicked(new Set())}>Tick none</Button>
        <Button className="look-push" onClick={done}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
