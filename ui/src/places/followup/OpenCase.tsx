import { Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { FindStudent } from "../../parts/FindStudent";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";
import { keptChoices } from "./ChangeCase";

/** A case that is opened by hand. */
export function OpenCase({
  owners,
  student: first,
  close,
}: {
  owners: Schemas["OwnerRef"][];
  student?: { id: number; name: string };
  close: () => void;
}) {
  useFocusBack();
  const [student, setStudent] = useState(first);
  const [owner, setOwner] = useState(owners.find((o) => o.mine)?.id ?? owners[0]?.id ?? 0);
  const [next, setNext] = useState("");
  const [weekly, setWeekly] = useState(false);
  const [kept, setKept] = useState<"office" | "leads" | "owner">("office");
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => setWrong(e.message),
  });
  const save = () => {
    setWrong("");
    if (!student) setWrong("Say about whom.");
    else
      write.mutate({
        path: "/api/cases",
        body: { kind: "opened", student: student.id, owner, next, weekly: weekly ? "yes" : "no", kept, text },
      });
  };
  return (
    <Modal open title="Open a case" okText="Save" onOk={save} confirmLoading={write.isPending} onCancel={close}>
      <form
        className="change-case"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        {student ? (
          <p>
            <b>{student.name}</b>{" "}
            {!first && (
              <button type="button" className="link look-muted" onClick={() => setStudent(undefined)}>
                somebody else
              </button>
            )}
          </p>
        ) : (
          <FindStudent autoFocus taken={[]} add={(one) => setStudent({ id: one.id, name: one.name })} />
        )}
        <Input.TextArea
          rows={2}
          maxLength={1000}
          aria-label="Why"
          placeholder="why"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <label>
          next <DateField label="Looked at next" value={next} onChange={setNext} />
        </label>
        <Choice
          label="In whose hands"
          value={owner}
          onChange={setOwner}
          options={owners.map((o) => ({ value: o.id, label: o.mine ? `${o.name} (you)` : o.name }))}
        />
        <Tick checked={weekly} onChange={setWeekly}>
          a session each week
        </Tick>
        <Choice
          label="For whom the case is"
          value={kept}
          onChange={setKept}
          options={keptChoices(owners.find((o) => o.id === owner)?.name ?? "")}
        />
        {wrong && (
          <p role="alert" className="look-overdue">
            {wrong}
          </p>
        )}
      </form>
    </Modal>
  );
}
