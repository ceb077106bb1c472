import { Input, Modal } from "antd";
import { useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { useFocusBack } from "../../parts/focus";
import { plural } from "../../parts/words";

export type Doing = { kind: Exclude<Schemas["Act"]["kind"], "noted">; steps: Schemas["StepView"][] };

const words: Record<Doing["kind"], { title: string; text: string; button: string; needs: boolean }> = {
  done: { title: "Done", text: "What came of it", button: "Done", needs: false },
  "put off": { title: "Put off", text: "Reason", button: "Put off", needs: true },
  handed: { title: "Hand to", text: "What they should know", button: "Hand over", needs: false },
  "set aside": { title: "Set aside", text: "Reason", button: "Set aside", needs: true },
  reopened: { title: "Due again", text: "Reason", button: "Due again", needs: false },
};

/** Says what is done about some steps, with the outcome or the reason. */
export function ActOn({
  doing,
  people,
  write,
  close,
}: {
  doing: Doing;
  people: Schemas["Choice"][];
  write: Writing;
  close: () => void;
}) {
  const { kind, steps } = doing;
  const [text, setText] = useState(kind === "set aside" && steps.length > 1 ? "from before the school began" : "");
  const [until, setUntil] = useState("");
  const [to, setTo] = useState<string>();
  useFocusBack();
  const w = words[kind];
  const ready = (!w.needs || text.trim() !== "") && (kind !== "put off" || until !== "") && (kind !== "handed" || to);
  const save = () => {
    if (!ready || write.isPending) return;
    write.mutate({
      path: "/api/steps",
      body: {
        steps: steps.map((s) => s.ref),
        kind,
        text: text.trim(),
        ...(kind === "put off" && { until }),
        ...(kind === "handed" && { to: Number(to) }),
      },
    });
  };
  const first = steps[0];
  return (
    <Modal
      open
      title={`${w.title}: ${steps.length === 1 && first ? `${first.student.name}, ${first.title}` : plural(steps.length, "step")}`}
      okText={w.button}
      okButtonProps={{ disabled: !ready, loading: write.isPending }}
      onOk={save}
      onCancel={close}
      cancelText="Cancel"
    >
      <form
        className="act-on"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        {kind === "put off" && (
          <span className="until">
            <span aria-hidden="true">Until</span>
            <DateField label="Until" value={until} onChange={setUntil} autoFocus />
          </span>
        )}
        {kind === "handed" && (
          <Choice
            label="To"
            value={to}
            placeholder="to whom?"
            search
            onChange={setTo}
            options={people.map((p) => ({ value: p.value, label: `${p.label} · ${p.kind}` }))}
          />
        )}
        <label>
          {w.text}
          <Input
            value={text}
            maxLength={400}
            autoFocus={kind !== "put off" && kind !== "handed"}
            onChange={(e) => setText(e.target.value)}
          />
        </label>
      </form>
    </Modal>
  );
}
