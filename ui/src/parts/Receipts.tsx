import "./receipts.css";
import { Button } from "antd";
import { useState } from "react";
import { useWrite } from "../api/client";
import { type Told, tell, useTold } from "./told";

/**
 * What was stored and what went wrong, below the page and never over the navigation. It is read out politely, what
 * went wrong at once; it stays while it is looked at, and what can be taken back is taken back from here.
 */
export function Receipts() {
  const told = useTold();
  const [undone, setUndone] = useState<readonly number[]>([]); // entries
  const back = useWrite({ done: (r) => tell.done(r.text), failed: (e) => tell.wrong(e.message) });
  const undo = (t: Told) => {
    if (!t.undo || back.isPending) return;
    const entry = t.undo;
    back.mutate(
      { path: "/api/entries/{id}/back", params: { id: entry } },
      {
        onSuccess: () => {
          setUndone([...undone, entry]);
          tell.close(t.id);
        },
      },
    );
  };
  const line = (t: Told) => (
    // biome-ignore lint/a11y/noStaticElementInteractions: it stays while it is looked at
    <div
      key={t.id}
      className={`receipt ${t.kind}`}
      onMouseEnter={() => tell.hold(t.id)}
      onMouseLeave={() => tell.leave(t)}
      onFocus={() => tell.hold(t.id)}
      onBlur={() => tell.leave(t)}
    >
      <span>{t.text}</span>
      {t.undo !== undefined && !undone.includes(t.undo) && (
        <Button size="small" loading={back.isPending} onClick={() => undo(t)}>
          Undo
        </Button>
      )}
      {t.kind !== "waits" && (
        <button type="button" className="close" aria-label={`Close: ${t.text}`} onClick={() => tell.close(t.id)}>
          ×
        </button>
      )}
    </div>
  );
  return (
    <section className="receipts no-print" aria-label="What was saved">
      <div role="status">{told.filter((t) => t.kind !== "wrong").map(line)}</div>
      {told.some((t) => t.kind === "wrong") && (
        <div role="alert">{told.filter((t) => t.kind === "wrong").map(line)}</div>
      )}
    </section>
  );
}
