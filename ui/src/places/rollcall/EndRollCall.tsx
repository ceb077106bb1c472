import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

/** Ending a roll call: nobody who was not found is passed over. */
export function EndRollCall({
  call,
  open,
  close,
  ended,
}: {
  call: number;
  open: Schemas["PersonView"][];
  close: () => void;
  ended: () => void;
}) {
  const [note, setNote] = useState("");
  const end = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
      ended();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const names = open.slice(0, 6).map((p) => p.name);
  return (
    <Modal
      open
      title="End the roll call"
      onCancel={close}
      footer={[
        <Button key="no" onClick={close}>
          Cancel
        </Button>,
        <Button
          key="yes"
          type="primary"
          danger={open.length > 0}
          disabled={open.length > 0 && !note.trim()}
          loading={end.isPending}
          onClick={() => end.mutate({ path: "/api/roll-calls/{roll}/end", params: { roll: call }, body: { note } })}
        >
          {open.length > 0 ? `End with ${open.length} not found` : "End"}
        </Button>,
      ]}
    >
      {open.length === 0 ? (
        <p>Everyone on the list is accounted for.</p>
      ) : (
        <p>
          <b>{plural(open.length, "person", "people")} not found:</b> {names.join(", ")}
          {open.length > names.length && ` and ${open.length - names.length} more`}. Ending explains nobody.
        </p>
      )}
      <Input.TextArea
        rows={3}
        aria-label="What is known of those who were not found"
        placeholder={open.length > 0 ? "what is known of those who were not found" : "anything to keep with the record"}
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
    </Modal>
  );
}
