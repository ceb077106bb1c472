import "./reasons.css";
import { Button } from "antd";
import { type KeyboardEvent, useRef, useState } from "react";
import { type Schemas, useRead, useWrite } from "../api/client";
import { Choice } from "./controls/Choice";
import { tell } from "./told";

type Reason = Schemas["Reason"];
type Use = "arrive" | "leave" | "home";

/** The school's reasons to choose from; another is added to the school's own on the spot. */
export function Reasons({
  offered,
  value,
  onChange,
  use,
  keyOf,
  onAdded,
}: {
  offered: Reason[];
  value: string;
  onChange: (reason: Reason) => void;
  use: Use;
  /** The key that is shown on a reason; the page listens for it. */
  keyOf: (reason: Reason, place: number) => string;
  onAdded?: (word: string) => void;
}) {
  const [adding, setAdding] = useState(false);
  const before = useRef<HTMLElement>(null); // what had the focus, and gets it back
  return (
    <>
      {offered.map((r, i) => (
        <Button
          key={r.word}
          size="small"
          type={r.word === value ? "primary" : "default"}
          aria-pressed={r.word === value}
          onClick={() => onChange(r)}
        >
          {r.word} {keyOf(r, i) && <kbd>{keyOf(r, i)}</kbd>}
        </Button>
      ))}
      {adding ? (
        <NewReason
          use={use}
          done={(word) => {
            setAdding(false);
            if (word) onAdded?.(word);
            setTimeout(() => before.current?.focus());
          }}
        />
      ) : (
        <Button
          size="small"
          type="dashed"
          onMouseDown={() => {
            before.current = document.activeElement as HTMLElement;
          }}
          onKeyDown={(e) => {
            before.current = e.currentTarget.parentElement?.querySelector("button") ?? null;
          }}
          onClick={() => setAdding(true)}
        >
          another
        </Button>
      )}
    </>
  );
}

/** A new reason: its word, and what it means. */
function NewReason({ use, done }: { use: Use; done: (word?: string) => void }) {
  const kinds = useRead("/api/reasons/kinds");
  const [word, setWord] = useState("");
  const [kind, setKind] = useState(0);
  const add = useWrite({
    done: (r) => {
      tell.receipt(r);
      done(word.trim());
    },
    failed: (e) => tell.wrong(e.message),
  });
  const store = () => {
    const k = kinds.data?.[kind];
    if (!k) return;
    add.mutate({
      path: "/api/reasons",
      body: {
        word,
        absent: k.absent,
        late: k.late,
        excused: k.excused,
        arrive: use === "arrive",
        leave: use === "leave",
        home: use === "home",
        key: "",
      },
    });
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Enter") {
      e.preventDefault();
      e.stopPropagation();
      store();
    } else if (e.key === "Escape") {
      e.stopPropagation();
      done();
    }
  };
  return (
    <fieldset className="new-reason" onKeyDown={onKey}>
      <legend className="visually-hidden">A new reason</legend>
      <input
        className="plain"
        aria-label="The new reason"
        placeholder="new reason"
        maxLength={40}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        value={word}
        onChange={(e) => setWord(e.target.value)}
      />
      <Choice
        size="small"
        label="What it counts as"
        value={kind}
        onChange={setKind}
        options={(kinds.data ?? []).map((k, i) => ({ value: i, label: k.label }))}
      />
      <Button size="small" disabled={!word.trim() || !kinds.data} loading={add.isPending} onClick={store}>
        Add it <kbd>Enter</kbd>
      </Button>
    </fieldset>
  );
}
