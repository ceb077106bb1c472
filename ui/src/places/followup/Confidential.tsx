import { useState } from "react";
import { read } from "../../api/client";
import { tell } from "../../parts/told";

/** What is kept to fewer than all of the office: a note of a contact, or those of a session. One look reads it, and is on record. */
export function Confidential({ student, note, session }: { student: number; note?: number; session?: number }) {
  const [text, setText] = useState<string>();
  const look = () => {
    const told =
      session === undefined
        ? read("/api/students/{id}/notes/{note}", { id: student, note })
        : read("/api/students/{id}/sessions/{session}", { id: student, session });
    void told.then(
      (n) => setText(n.text),
      (e: Error) => tell.wrong(e.message),
    );
  };
  if (text !== undefined) return <q>{text}</q>;
  return (
    <button type="button" className="link" onClick={look}>
      confidential, read it
    </button>
  );
}
