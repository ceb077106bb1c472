import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { OneOf } from "../../parts/controls/OneOf";
import { Tick } from "../../parts/controls/Tick";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";

type Entry = Schemas["SupportEntry"];

/** The school's own kinds of session, and how its cases end. */
export function SupportWords({ close }: { close: () => void }) {
  useFocusBack();
  const page = useRead("/api/support/words");
  const [which, setWhich] = useState<"kind" | "end">("kind");
  const v = page.data;
  return (
    <Modal open title="Kinds of session, and how cases end" onCancel={close} footer={null} width={620}>
      <div className="support-words">
        <OneOf
          label="Which list"
          value={which}
          onChange={setWhich}
          options={[
            { value: "kind" as const, label: "kinds of session" },
            { value: "end" as const, label: "how cases end" },
          ]}
        />
        {v && (
          <Form
            key={which + v.seen[which]}
            list={which}
            seen={v.seen[which]}
            of={which === "kind" ? v.kinds : v.ends}
          />
        )}
      </div>
    </Modal>
  );
}

function Form({ list, seen, of }: { list: "kind" | "end"; seen: string; of: Entry[] }) {
  const [words, setWords] = useState(of);
  const [fresh, setFresh] = useState("");
  const [wrong, setWrong] = useState("");
  const save = useWrite({ done: (r) => tell.receipt(r), failed: (e) => setWrong(e.message) });
  const change = (at: number, next: Partial<Entry>) =>
    setWords(words.map((w, i) => (i === at ? { ...w, ...next } : w)));
  const up = (at: number) => {
    const next = [...words];
    const [one] = next.splice(at, 1);
    if (one) next.splice(at - 1, 0, one);
    setWords(next);
  };
  const add = () => {
    if (fresh.trim())
      setWords([...words, { name: fresh.trim(), ...(list === "kind" && { belongs: "either" as const }) }]);
    setFresh("");
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        setWrong("");
        save.mutate({ path: "/api/support/words", body: { list, seen, words } });
      }}
    >
      {words.map((w, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: one that is being written is told by its place
        <div className="word" key={i}>
          <Input
            aria-label={`Word ${i + 1}`}
            value={w.name}
            maxLength={60}
            onChange={(e) => change(i, { name: e.target.value })}
          />
          {list === "kind" && (
            <Choice
              label={`Where ${w.name} belongs`}
              value={w.belongs || "either"}
              onChange={(belongs) => change(i, { belongs })}
              options={[
                { value: "in" as const, label: "in school time" },
                { value: "outside" as const, label: "outside it" },
                { value: "either" as const, label: "either" },
              ]}
            />
          )}
          <Button size="small" aria-label={`${w.name} up`} disabled={i === 0} onClick={() => up(i)}>
            up
          </Button>
          {w.id ? (
            <Tick checked={!w.retired} onChange={(on) => change(i, { retired: !on })}>
              in use
            </Tick>
          ) : (
            <Button size="small" onClick={() => setWords(words.filter((_, x) => x !== i))}>
              take out
            </Button>
          )}
        </div>
      ))}
      <div className="word">
        <Input
          aria-label="A new word"
          value={fresh}
          maxLength={60}
          placeholder="another"
          onChange={(e) => setFresh(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") {
              e.preventDefault();
              add();
            }
          }}
        />
        <Button size="small" onClick={add} disabled={!fresh.trim()}>
          Add
        </Button>
      </div>
      {wrong && (
        <p role="alert" className="look-overdue">
          {wrong}
        </p>
      )}
      <Button type="primary" htmlType="submit" loading={save.isPending}>
        Save the list
      </Button>{" "}
      <span className="look-small look-muted">What used a word keeps it when it is no longer in use.</span>
    </form>
  );
}
