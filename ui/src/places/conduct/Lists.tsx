import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { OneOf } from "../../parts/controls/OneOf";
import { Tick } from "../../parts/controls/Tick";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";

type List = Schemas["ConductListView"];
type Entry = Schemas["ConductEntry"];

/** The school's own kinds, places and actions, in their order, and what its breaks are called. */
export function Lists({ close }: { close: () => void }) {
  useFocusBack();
  const page = useRead("/api/conduct/lists");
  const [which, setWhich] = useState<List["list"]>("kind");
  const list = page.data?.lists.find((l) => l.list === which);
  return (
    <Modal open title="Kinds, places, actions" onCancel={close} footer={null} width={560}>
      <div className="conduct-lists">
        <OneOf
          label="Which list"
          value={which}
          onChange={setWhich}
          options={[
            { value: "kind" as const, label: "kinds" },
            { value: "place" as const, label: "places" },
            { value: "action" as const, label: "actions" },
            { value: "break" as const, label: "breaks" },
          ]}
        />
        {list && page.data && <Form key={which + list.stamp} list={list} breaks={page.data.breaks} />}
      </div>
    </Modal>
  );
}

function Form({ list, breaks }: { list: List; breaks: Schemas["ConductBreak"][] }) {
  const ofBreaks = list.list === "break";
  const [words, setWords] = useState<Entry[]>(
    list.words.map((w) => ({
      id: w.id,
      name: ofBreaks && w.retired ? "" : w.name, // a break that has no name any more
      retired: ofBreaks ? false : w.retired,
      ...(ofBreaks && { ofTime: breaks.find((b) => b.id === w.id)?.time ?? `gone:${w.id}` }),
    })),
  );
  const [fresh, setFresh] = useState("");
  const [wrong, setWrong] = useState("");
  const save = useWrite({ done: (r) => tell.receipt(r), failed: (e) => setWrong(e.message) });
  const change = (at: number, next: Partial<Entry>) =>
    setWords(words.map((w, i) => (i === at ? { ...w, ...next } : w)));
  const move = (at: number, by: number) => {
    const next = [...words];
    const [one] = next.splice(at, 1);
    if (one) next.splice(at + by, 0, one);
    setWords(next);
  };
  const add = () => {
    if (fresh.trim()) setWords([...words, { name: fresh.trim() }]);
    setFresh("");
  };
  const named = (time: string) => words.findIndex((w) => w.ofTime === time);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        setWrong("");
        save.mutate({ path: "/api/conduct/lists", body: { list: list.list, seen: list.stamp, words } });
      }}
    >
      {ofBreaks
        ? breaks.map((b) => {
            const at = named(b.time);
            return (
              <label key={b.time} className="word">
                between {b.name}
                <Input
                  value={at >= 0 ? words[at]?.name : ""}
                  maxLength={60}
                  placeholder={b.name}
                  onChange={(e) => {
                    const name = e.target.value;
                    if (at >= 0) change(at, { name });
                    else setWords([...words, { name, ofTime: b.time }]);
                  }}
                />
              </label>
            );
          })
        : words.map((w, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: one that is being written is told by its place
            <div className="word" key={i}>
              <Input
                aria-label={`Word ${i + 1}`}
                value={w.name}
                maxLength={60}
                onChange={(e) => change(i, { name: e.target.value })}
              />
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
      {!ofBreaks && (
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
      )}
      {wrong && (
        <p role="alert" className="look-overdue">
          {wrong}
        </p>
      )}
      <p>
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save the list
        </Button>{" "}
        <span className="look-small look-muted">What used a word keeps it when it is no longer in use.</span>
      </p>
    </form>
  );
}
