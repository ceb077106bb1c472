import { Button } from "antd";
import { type KeyboardEvent, useState } from "react";
import type { Schemas, Writing } from "../../api/client";

/** Who looks; or where the student was found, and by whom. Enter alone is enough. */
export function Say({
  student,
  searcher,
  what,
  write,
  done,
}: {
  student: number;
  searcher: string;
  what: "search" | "found";
  write: Writing;
  done: () => void;
}) {
  const [who, setWho] = useState("");
  const [place, setPlace] = useState("");
  const store = () => {
    if (what === "search") write.mutate({ path: "/api/searches", body: { student, searcher: who } });
    else write.mutate({ path: "/api/searches/end", body: { student, found: true, place, foundBy: who } });
    done();
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Enter" && !(e.target instanceof HTMLButtonElement)) {
      e.preventDefault();
      store();
    } else if (e.key === "Escape") done();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter in its fields stores, Escape leaves
    <div className="say" onKeyDown={onKey}>
      {what === "found" && (
        <input
          className="plain"
          aria-label="Found where"
          placeholder="where"
          // biome-ignore lint/a11y/noAutofocus: it was asked for
          autoFocus
          value={place}
          onChange={(e) => setPlace(e.target.value)}
        />
      )}
      <input
        className="plain"
        aria-label={what === "found" ? "Found by" : "Who looks"}
        placeholder={what === "found" ? `by ${searcher || "you"}` : "who looks: you"}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus={what === "search"}
        value={who}
        onChange={(e) => setWho(e.target.value)}
      />
      <Button size="small" type="primary" onClick={store}>
        {what === "found" ? "Found" : "Search"} <kbd>Enter</kbd>
      </Button>
    </div>
  );
}

/** Asks the teacher in whose lesson a student should be. */
export function AskTeacher({
  student,
  lesson,
  text,
  write,
}: {
  student: Schemas["StudentRef"];
  lesson: Schemas["Lesson"] | undefined;
  text: string;
  write: Writing;
}) {
  if (!lesson) return null;
  if (lesson.asked) return <span className="look-small look-muted">{`${lesson.teacher} asked ${lesson.asked}`}</span>;
  return (
    <Button
      size="small"
      title={`${lesson.title}, ${lesson.room}`}
      onClick={() =>
        write.mutate({
          path: "/api/messages",
          body: { kind: "ask", class: lesson.class, slot: lesson.slot, student: student.id, text },
        })
      }
    >
      Ask {lesson.teacher}
    </Button>
  );
}
