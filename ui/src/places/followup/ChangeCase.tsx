import { Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { CaseFields, held } from "../../parts/case/CaseFields";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";

type Case = Schemas["CaseView"];
export type Kind = Schemas["CaseChange"]["kind"];

const titles: Record<Kind, string> = {
  opened: "Open a case",
  changed: "Note on the case",
  closed: "Close the case",
  reopened: "Open the case again",
};

/** What became of a case: in whose hands, when next, what was said, how it ended. */
export function ChangeCase({
  c,
  kind,
  owners,
  ends,
  close,
}: {
  c: Case;
  kind: Kind;
  owners: Schemas["OwnerRef"][];
  ends: Schemas["SupportChoice"][];
  close: () => void;
}) {
  useFocusBack();
  const [of, setOf] = useState({
    owner: c.ownerId,
    next: kind === "reopened" ? "" : c.nextDay,
    weekly: c.weekly,
    kept: c.kept,
  });
  const [waits, setWaits] = useState(c.waits);
  const [end, setEnd] = useState(0);
  const [text, setText] = useState("");
  const [seen, setSeen] = useState<number | undefined>(c.seen);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const closes = kind === "closed";
  const save = () =>
    write.mutate(
      {
        path: "/api/cases",
        body: closes ? { case: c.id, kind, text, end, seen } : { case: c.id, kind, ...held(of), waits, text, seen },
      },
      { onError: () => setSeen(undefined) },
    );
  return (
    <Modal
      open
      title={`${titles[kind]}: ${c.student.name}`}
      okText="Save"
      onOk={save}
      confirmLoading={write.isPending}
      onCancel={close}
    >
      <form
        className="case-form"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        <Input.TextArea
          autoFocus
          rows={3}
          maxLength={1000}
          aria-label={closes ? "What came of it" : "What was said or done"}
          placeholder={closes ? "what came of it" : "what was said or done"}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {closes ? (
          <Choice
            label="How it ended"
            placeholder="how it ended"
            value={end || undefined}
            onChange={setEnd}
            options={ends.map((w) => ({ value: w.id, label: w.name }))}
          />
        ) : (
          <>
            <CaseFields of={of} onChange={setOf} owners={owners} />
            <Tick checked={waits} onChange={setWaits}>
              it waits until then
            </Tick>
          </>
        )}
      </form>
    </Modal>
  );
}
