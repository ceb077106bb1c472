import { Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { OneOf } from "../../parts/controls/OneOf";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";
import { WordForm, WordList } from "../../parts/WordList";

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
  const [wrong, setWrong] = useState("");
  const save = useWrite({ done: (r) => tell.receipt(r), failed: (e) => setWrong(e.message) });
  const change = (at: number, next: Partial<Entry>) =>
    setWords(words.map((w, i) => (i === at ? { ...w, ...next } : w)));
  const named = (time: string) => words.findIndex((w) => w.ofTime === time);
  return (
    <WordForm
      wrong={wrong}
      saving={save.isPending}
      save={() => {
        setWrong("");
        save.mutate({ path: "/api/conduct/lists", body: { list: list.list, seen: list.stamp, words } });
      }}
    >
      {ofBreaks ? (
        breaks.map((b) => {
          const at = named(b.time);
          return (
            <label key={b.time} className="word-line">
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
      ) : (
        <WordList words={words} onChange={setWords} fresh={(name) => ({ name })} />
      )}
    </WordForm>
  );
}
