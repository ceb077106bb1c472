import { Button } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { tell } from "../told";

type Outcome = Schemas["Call"]["outcome"];
const outcomes: { outcome: Outcome; words: string }[] = [
  { outcome: "spoke", words: "Spoke" },
  { outcome: "message", words: "Left a message" },
  { outcome: "no answer", words: "No answer" },
  { outcome: "wrong number", words: "Wrong number" },
];

/** A contact is called from their own row: what came of it, with a note. */
export function Called({
  student,
  contact,
  done,
}: {
  student: Schemas["StudentRef"];
  contact: Schemas["ContactRef"];
  done: () => void;
}) {
  const [note, setNote] = useState("");
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const save = (outcome: Outcome) =>
    write.mutate({
      path: "/api/calls",
      body: { students: [student.id], contact: contact.id, outcome, note },
    });
  return (
    <fieldset
      className="called"
      aria-label={`Call to ${contact.name}`}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        done();
      }}
    >
      <input
        className="plain"
        aria-label="Note"
        placeholder="what was said"
        maxLength={500}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      {outcomes.map((o) => (
        <Button key={o.outcome} size="small" loading={write.isPending} onClick={() => save(o.outcome)}>
          {o.words}
        </Button>
      ))}
      <Button size="small" type="text" onClick={done}>
        Cancel
      </Button>
    </fieldset>
  );
}
