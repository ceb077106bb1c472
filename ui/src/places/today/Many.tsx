import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { Link, useOutletContext } from "react-router";
import { write as ask, type Schemas, type Writing } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { plural } from "../../parts/words";

/** A group that is held: who of it is still missing, and until when. */
export function Held({ h, may, write }: { h: Schemas["HoldView"]; may: boolean; write: Writing }) {
  return (
    <div className="look-line look-small held" data-hold={h.id}>
      <span>
        <b>
          {h.reason}: {plural(h.waiting.length, "student")} held until {h.until}
        </b>{" "}
        <span className="look-muted">
          by {h.by} {h.since}; after that they are on the list again
        </span>
      </span>
      {may && (
        <span className="look-actions">
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

/** Homes that are held until a time, for a reason. */
export function HoldMany({
  homes,
  cause,
  write,
  done,
}: {
  homes: Schemas["HouseholdView"][];
  cause: Schemas["CauseView"] | undefined;
  write: Writing;
  done: () => void;
}) {
  const [until, setUntil] = useState("");
  const students = studentsOf(homes).filter((id) => !cause || cause.students.includes(id));
  const [reason, setReason] = useState(cause?.suggest ?? "");
  const store = () => {
    if (students.length > 0)
      write.mutate({ path: "/api/holds", body: { students, until, reason } }, { onSuccess: done });
  };
  return (
    <form
      className="look-line for-many"
      aria-label="Hold homes"
      onSubmit={(e) => {
        e.preventDefault();
        store();
      }}
      onKeyDown={(e) => e.key === "Escape" && done()}
    >
      <label>
        until <TimeField size="small" label="until" placeholder="940" autoFocus value={until} onChange={setUntil} />
      </label>
      <label className="look-wide">
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
    </form>
  );
}

const studentsOf = (homes: Schemas["HouseholdView"][]) => homes.flatMap((h) => h.students.map((s) => s.student.id));

/**
 * A text to many homes, looked at before it goes: one finished example, how many it goes to, and whom it
 * can't reach. Who is held is left out unless chosen.
 */
export function TextMany({
  homes,
  write,
  done,
}: {
  homes: Schemas["HouseholdView"][];
  write: Writing;
  done: (stored?: Schemas["Receipt"]) => void;
}) {
  const { lines } = useOutletContext<Schemas["Who"]>();
  const [held, setHeld] = useState(false);
  const [own, setOwn] = useState<string>(); // the words, once somebody has changed them
  const heldHomes = homes.filter((h) => h.held);
  const students = studentsOf(held ? homes : homes.filter((h) => !h.held));
  const body = { students, text: own ?? "" };
  const preview = useQuery<Schemas["TextPreview"], Error>({
    queryKey: ["texts", body],
    enabled: students.length > 0,
    placeholderData: keepPreviousData,
    queryFn: () => ask({ path: "/api/messages/homes/read", body }),
  });
  const p = students.length > 0 ? preview.data : undefined;
  const send = () => {
    if (p && p.homes > 0) write.mutate({ path: "/api/messages/homes", body }, { onSuccess: (r) => done(r) });
  };
  return (
    <form
      className="text-many"
      aria-label="Text homes"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape") done();
        if (e.key === "Enter" && !(e.target instanceof HTMLButtonElement)) {
          e.preventDefault();
          send();
        }
      }}
    >
      <Input.TextArea
        aria-label="What the text says"
        autoSize={{ minRows: 2, maxRows: 5 }}
        maxLength={500}
        autoFocus
        value={own ?? p?.text ?? ""}
        onChange={(e) => setOwn(e.target.value)}
      />
      {p && (
        <div className="look-small">
          {p.to && (
            <p>
              <span className="look-muted">To {p.to}:</span> “{p.example}”
            </p>
          )}
          <p>
            Goes to <b>{plural(p.homes, "home")}</b>
            {p.tried > 0 && `, of which ${p.tried} ${p.tried === 1 ? "was" : "were"} tried today`}.
            {p.without.length > 0 && (
              <span className="look-overdue"> No number for texts: {p.without.join("; ")}. They have to be rung.</span>
            )}
          </p>
        </div>
      )}
      {preview.error && (
        <p className="look-small look-overdue" role="alert">
          {preview.error.message}
        </p>
      )}
      {lines.text === "none" && (
        <p className="look-small look-overdue">No carrier for texts is set up: they wait in the outbox.</p>
      )}
      <div className="look-actions">
        <Button size="small" type="primary" htmlType="submit" disabled={!p?.homes} loading={write.isPending}>
          {preview.isPending && students.length > 0
            ? "Seeing whom it reaches …"
            : `Text ${plural(p?.homes ?? 0, "home")}`}{" "}
          <kbd>Enter</kbd>
        </Button>
        <Button size="small" onClick={() => done()}>
          Cancel <kbd>Esc</kbd>
        </Button>
        {heldHomes.length > 0 && (
          <Tick checked={held} onChange={setHeld}>
            also the {heldHomes.length} held
          </Tick>
        )}
      </div>
    </form>
  );
}
