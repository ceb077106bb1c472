import { Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { FindStudent } from "../FindStudent";
import { useFocusBack } from "../focus";
import { tell } from "../told";
import { CaseFields, held, type OfCase } from "./CaseFields";

/** A case that is opened: by hand, or from where its student was met. */
export function OpenCase({
  owners,
  student: first,
  from = "hand",
  why = "",
  close,
}: {
  owners: Schemas["OwnerRef"][];
  student?: { id: number; name: string };
  from?: "step" | "concern" | "hand";
  why?: string;
  close: () => void;
}) {
  useFocusBack();
  const [student, setStudent] = useState(first);
  const [of, setOf] = useState<OfCase>({
    owner: owners.find((o) => o.mine)?.id ?? owners[0]?.id ?? 0,
    next: "",
    weekly: false,
    kept: "office",
  });
  const [text, setText] = useState(why);
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
        body: { kind: "opened", student: student.id, from, ...held(of), text },
      });
  };
  return (
    <Modal open title="Open a case" okText="Save" onOk={save} confirmLoading={write.isPending} onCancel={close}>
      <form
        className="case-form"
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
        <CaseFields of={of} onChange={setOf} owners={owners} />
        {wrong && (
          <p role="alert" className="look-overdue">
            {wrong}
          </p>
        )}
      </form>
    </Modal>
  );
}
