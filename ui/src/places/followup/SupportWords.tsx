import { Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { OneOf } from "../../parts/controls/OneOf";
import { useFocusBack } from "../../parts/focus";
import { tell } from "../../parts/told";
import { WordForm, WordList } from "../../parts/WordList";

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
  const [wrong, setWrong] = useState("");
  const save = useWrite({ done: (r) => tell.receipt(r), failed: (e) => setWrong(e.message) });
  const kinds = list === "kind";
  return (
    <WordForm
      wrong={wrong}
      saving={save.isPending}
      save={() => {
        setWrong("");
        save.mutate({ path: "/api/support/words", body: { list, seen, words } });
      }}
    >
      <WordList
        words={words}
        onChange={setWords}
        fresh={(name) => ({ name, ...(kinds && { belongs: "either" as const }) })}
        {...(kinds && {
          more: (w: Entry, change: (next: Partial<Entry>) => void) => (
            <Choice
              label={`Where ${w.name} belongs`}
              value={w.belongs || "either"}
              onChange={(belongs) => change({ belongs })}
              options={[
                { value: "in" as const, label: "in school time" },
                { value: "outside" as const, label: "outside it" },
                { value: "either" as const, label: "either" },
              ]}
            />
          ),
        })}
      />
    </WordForm>
  );
}
