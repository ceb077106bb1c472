import "./home.css";
import { Button, Input } from "antd";
import { type FormEvent, type ReactNode, useEffect, useRef, useState } from "react";
import { useWrite, type Writing } from "../../api/client";
import { useSeen } from "../seen";
import { tell } from "../told";

type Write = Parameters<Writing["mutate"]>[0];

/** How a thing is ended: the words that offer it, ask why and do it, and what is written. */
export interface Ending {
  offer: string;
  ask: string;
  verb: string;
  write: (why: string) => Write;
}

/** One thing that is kept about a student, added, changed or, with a reason, ended. */
export function KeptForm({
  label,
  ready,
  keep,
  end,
  done,
  children,
}: {
  label: string;
  ready: boolean; // there is something to save
  keep: (seen: number) => Write;
  end: Ending | false; // nobody ends what is only being added
  done: () => void;
  children: ReactNode;
}) {
  const [why, setWhy] = useState<string>(); // set while it is being ended
  const ending = end && why !== undefined ? end : undefined;
  const seen = useSeen();
  const form = useRef<HTMLFormElement>(null);
  useEffect(seen.begin, []);
  useEffect(() => form.current?.scrollIntoView?.({ block: "nearest" }), []);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const can = ending ? why?.trim() : ready;
  const store = (e: FormEvent) => {
    e.preventDefault();
    if (can) write.mutate(ending ? ending.write(why ?? "") : keep(seen.entry()), { onError: seen.told });
  };
  return (
    <form
      ref={form}
      className="contact-form"
      aria-label={label}
      onSubmit={store}
      onKeyDown={(e) => {
        if (e.key !== "Escape") return;
        e.stopPropagation();
        done();
      }}
    >
      {ending ? (
        <Input
          size="small"
          className="look-wide"
          autoFocus
          aria-label={ending.ask}
          placeholder={ending.ask}
          maxLength={200}
          value={why}
          onChange={(e) => setWhy(e.target.value)}
        />
      ) : (
        children
      )}
      <span className="look-actions">
        <Button size="small" type="primary" htmlType="submit" disabled={!can} loading={write.isPending}>
          {ending ? ending.verb : "Save"} <kbd>Enter</kbd>
        </Button>
        <Button size="small" onClick={done}>
          Cancel <kbd>Esc</kbd>
        </Button>
        {end && !ending && (
          <Button size="small" onClick={() => setWhy("")}>
            {end.offer}
          </Button>
        )}
      </span>
    </form>
  );
}
