import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";

/** Work done later excuses an absence: which slots, when it was done, who allowed it. */
export function MadeUp({
  student,
  day,
  close,
}: {
  student: Schemas["StudentRef"];
  day: Schemas["WhyDay"];
  close: () => void;
}) {
  useFocusBack();
  const unexcused = day.marks.filter((m) => m.state === "unexcused");
  const [out, setOut] = useState<readonly string[]>([]);
  const [done, setDone] = useState("");
  const [words, setWords] = useState("");
  const [allowed, setAllowed] = useState("");
  const slots = unexcused.map((m) => m.slot).filter((s) => !out.includes(s));
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const ready = done !== "" && allowed.trim() !== "" && slots.length > 0;
  return (
    <Modal open title={`${student.name}, ${day.label}: made up`} onCancel={close} footer={null}>
      <form
        className="made-up"
        onSubmit={(e) => {
          e.preventDefault();
          if (!ready) return;
          const body = { student: student.id, date: day.date, slots, done, words: words.trim() || undefined, allowed };
          write.mutate({ path: "/api/made-up", body: { ...body, allowed: allowed.trim() } });
        }}
      >
        <span>
          {unexcused.map((m) => (
            <Tick
              key={m.slot}
              checked={!out.includes(m.slot)}
              onChange={(on) => setOut(on ? out.filter((s) => s !== m.slot) : [...out, m.slot])}
            >
              {m.label}
            </Tick>
          ))}
        </span>
        <span>
          <span aria-hidden="true">Made up on</span>
          <DateField label="Made up on" back value={done} onChange={setDone} autoFocus />
        </span>
        <label>
          What was done
          <Input value={words} maxLength={120} onChange={(e) => setWords(e.target.value)} />
        </label>
        <label>
          Allowed by
          <Input value={allowed} maxLength={60} onChange={(e) => setAllowed(e.target.value)} />
        </label>
        <p className="look-small look-muted">
          The absence is excused from now on, in every figure of that day. The marks of then stay visible.
        </p>
        <span>
          <Button type="primary" htmlType="submit" disabled={!ready} loading={write.isPending}>
            Excuse it
          </Button>{" "}
          <Button onClick={close}>Cancel</Button>
        </span>
      </form>
    </Modal>
  );
}
