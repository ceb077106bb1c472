import "./word-list.css";
import { Button, Input } from "antd";
import { type ReactNode, useState } from "react";
import { Tick } from "./controls/Tick";

type Word = { id?: number; name: string; retired?: boolean };

/** A list of words of the school's own, in their order; beside each what else is said of it. */
export function WordList<W extends Word>({
  words,
  onChange,
  fresh,
  more,
}: {
  words: W[];
  onChange: (words: W[]) => void;
  fresh: (name: string) => W;
  more?: (word: W, change: (next: Partial<W>) => void) => ReactNode;
}) {
  const [name, setName] = useState("");
  const change = (at: number, next: Partial<W>) => onChange(words.map((w, i) => (i === at ? { ...w, ...next } : w)));
  const move = (at: number, by: number) => {
    const next = [...words];
    next.splice(at + by, 0, ...next.splice(at, 1));
    onChange(next);
  };
  const add = () => {
    if (name.trim()) onChange([...words, fresh(name.trim())]);
    setName("");
  };
  return (
    <>
      {words.map((w, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: one that is being written is told by its place
        <div className="word-line" key={i}>
          <Input
            aria-label={`Word ${i + 1}`}
            value={w.name}
            maxLength={60}
            onChange={(e) => change(i, { name: e.target.value } as Partial<W>)}
          />
          {more?.(w, (next) => change(i, next))}
          <Button size="small" aria-label={`${w.name} up`} disabled={i === 0} onClick={() => move(i, -1)}>
            up
          </Button>
          <Button
            size="small"
            aria-label={`${w.name} down`}
            disabled={i === words.length - 1}
            onClick={() => move(i, 1)}
          >
            down
          </Button>
          {w.id ? (
            <Tick checked={!w.retired} onChange={(on) => change(i, { retired: !on } as Partial<W>)}>
              in use
            </Tick>
          ) : (
            <Button size="small" onClick={() => onChange(words.filter((_, x) => x !== i))}>
              take out
            </Button>
          )}
        </div>
      ))}
      <div className="word-line">
        <Input
          aria-label="A new word"
          value={name}
          maxLength={60}
          placeholder="another"
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") {
              e.preventDefault();
              add();
            }
          }}
        />
        <Button size="small" onClick={add} disabled={!name.trim()}>
          Add
        </Button>
      </div>
    </>
  );
}

/** The form around it: what is wrong with the list, and where it is saved. */
export function WordForm({
  wrong,
  saving,
  save,
  children,
}: {
  wrong: string;
  saving: boolean;
  save: () => void;
  children: ReactNode;
}) {
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      {children}
      {wrong && (
        <p role="alert" className="look-overdue">
          {wrong}
        </p>
      )}
      <p>
        <Button type="primary" htmlType="submit" loading={saving}>
          Save the list
        </Button>{" "}
        <span className="look-small look-muted">What used a word keeps it when it is no longer in use.</span>
      </p>
    </form>
  );
}
