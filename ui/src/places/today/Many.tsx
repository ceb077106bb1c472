import { Button } from "antd";
import { useState } from "react";
import { Link, useOutletContext } from "react-router";
import type { Schemas, Writing } from "../../api/client";
import { plural } from "../../parts/words";

/** A group that is held: who of it is still missing, and until when. */
export function Held({ h, may, write }: { h: Schemas["HoldView"]; may: boolean; write: Writing }) {
  return (
    <div className="line small held" data-hold={h.id}>
      <span>
        <b>
          {h.reason}: {plural(h.waiting.length, "student")} held until {h.until}
        </b>{" "}
        <span className="muted">
          by {h.by} {h.since}; then they come back by themselves
        </span>
      </span>
      {may && (
        <span className="actions">
          <Link to={`/desk?group=${encodeURIComponent(`hold ${h.id}`)}`}>They are in …</Link>
          <button
            type="button"
            className="link"
            onClick={() => write.mutate({ path: "/api/holds/{id}/end", params: { id: h.id } })}
          >
            Ring them after all
          </button>
        </span>
      )}
    </div>
  );
}

/** One action for many homes: held until a time, or written to. */
export function ForMany({
  what,
  homes,
  cause,
  write,
  done,
}: {
  what: "hold" | "text";
  homes: Schemas["HouseholdView"][];
  cause: Schemas["CauseView"] | undefined;
  write: Writing;
  done: () => void;
}) {
  const { lines } = useOutletContext<Schemas["Who"]>();
  const [until, setUntil] = useState("");
  const [words, setWords] = useState("");
  const students = homes
    .flatMap((h) => h.students.map((s) => s.student.id))
    .filter((id) => !cause || cause.students.includes(id));
  const [reason, setReason] = useState(cause?.suggest ?? "");
  const store = () => {
    if (students.length === 0) return;
    const stored = { onSuccess: done };
    if (what === "hold") write.mutate({ path: "/api/holds", body: { students, until, reason } }, stored);
    else write.mutate({ path: "/api/messages/homes", body: { students, text: words } }, stored);
  };
  return (
    <form
      className="line for-many"
      aria-label={what === "hold" ? "Hold homes" : "Text homes"}
      onSubmit={(e) => {
        e.preventDefault();
        store();
      }}
      onKeyDown={(e) => e.key === "Escape" && done()}
    >
      {what === "hold" ? (
        <>
          <label>
            until{" "}
            <input
              className="plain time"
              placeholder="940"
              // biome-ignore lint/a11y/noAutofocus: it was asked for
              autoFocus
              value={until}
              onChange={(e) => setUntil(e.target.value)}
            />
          </label>
          <label className="wide">
            because{" "}
            <input
              className="plain because"
              placeholder="the ferry is late"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
          </label>
          <Button size="small" type="primary" htmlType="submit" loading={write.isPending}>
            Hold these {students.length} <kbd>Enter</kbd>
          </Button>
        </>
      ) : (
        <>
          <input
            className="plain wide"
            aria-label="What the text says"
            placeholder="{students} not in, and we do not know why. Please answer with the reason …"
            // biome-ignore lint/a11y/noAutofocus: it was asked for
            autoFocus
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <Button size="small" type="primary" htmlType="submit" loading={write.isPending}>
            Text {plural(homes.length, "home")} <kbd>Enter</kbd>
          </Button>
          {lines.text === "none" && (
            <span className="small overdue">No carrier for texts is set up: they wait in the outbox.</span>
          )}
        </>
      )}
    </form>
  );
}
