import "./incident.css";
import { Button, Input, Modal } from "antd";
import { type KeyboardEvent, type ReactNode, useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { DateField } from "../controls/DateField";
import { TimeField } from "../controls/TimeField";
import { useFocusBack } from "../focus";
import { tell } from "../told";
import { People, type Person } from "./People";
import { type Chosen, WordField } from "./WordField";

type Line = Schemas["IncidentLine"];

/** An incident: noted anew (`new`, or `new:12` with a student), or one that is there (its number). */
export default function IncidentDialog({ asked, onClose }: { asked: string; onClose: () => void }) {
  useFocusBack();
  const lists = useRead("/api/conduct/lists");
  const id = asked.startsWith("new") ? 0 : Number(asked);
  const about = Number(asked.split(":")[1] ?? 0);
  const one = useRead("/api/incidents/{incident}", { incident: id }, { enabled: id > 0 });
  const of = useRead("/api/students/{id}", { id: about }, { enabled: about > 0 });
  const error = lists.error ?? one.error;
  const ready = (!id || one.data) && (!about || of.data || of.error); // the lists may come while a name is typed
  const first = of.data?.student;
  const title = id ? "Incident" : "Note an incident";
  return (
    <Modal open title={title} onCancel={onClose} footer={null} width={620}>
      {error && <p role="alert">{error.message}</p>}
      {!error && !ready && <p role="status">Fetching …</p>}
      {!error && ready && (id === 0 || one.data?.incident.mayCorrect) && (
        <Form
          key={one.data?.incident.version}
          lists={lists.data ?? none}
          was={one.data?.incident}
          people={first ? [{ student: first.id, name: first.name, form: first.form, role: "did it" }] : []}
          onClose={onClose}
        />
      )}
      {one.data && !one.data.incident.mayCorrect && <Told view={one.data} />}
      {one.data && one.data.before.length > 1 && <Before versions={one.data.before} />}
    </Modal>
  );
}

const none: Schemas["ConductListsView"] = { today: "", now: "", maySet: false, lists: [], breaks: [] };

const chosen = (id: number): Chosen[] => (id ? [{ id }] : []);

function Form({
  lists,
  was,
  people: begins,
  onClose,
}: {
  lists: Schemas["ConductListsView"];
  was?: Line;
  people: Person[];
  onClose: () => void;
}) {
  const [people, setPeople] = useState<Person[]>(
    was ? was.people.map((p) => ({ ...p, role: p.role as Person["role"] })) : begins,
  );
  const [typedDate, setDate] = useState(was?.date);
  const [typedTime, setTime] = useState(was?.time);
  const date = typedDate ?? lists.today;
  const time = typedTime ?? lists.now;
  const [kind, setKind] = useState(chosen(was?.kindId ?? 0));
  const [place, setPlace] = useState(chosen(was?.placeId ?? 0));
  const [actions, setActions] = useState<(Chosen & { by?: string })[]>(
    was ? was.actions.map((a) => ({ id: a.id, by: a.by })) : [],
  );
  const [text, setText] = useState(was?.text ?? "");
  const [wrong, setWrong] = useState("");
  const [back, setBack] = useState<string>();
  const save = useWrite({
    done: (r) => {
      tell.receipt(r);
      onClose();
    },
    failed: (e) => setWrong(e.message),
  });
  const list = (name: string) =>
    lists.lists.find((l) => l.list === name) ?? { list: "kind" as const, stamp: "", words: [] };
  const send = () => {
    if (save.isPending) return;
    save.mutate({
      path: "/api/incidents",
      body: {
        ...(was && { id: was.id, seen: was.version }),
        date: date || undefined,
        time: time.trim() || undefined,
        kind: kind[0] ?? {},
        place: place[0] ?? {},
        people: people.map((p) => ({ student: p.student, role: p.role })),
        text: text.trim() || undefined,
        actions: actions.map((a) => ({ ...a, by: a.by?.trim() || undefined })),
      },
    });
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) {
      e.preventDefault();
      send();
    }
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Ctrl+Enter saves from every field
    <div className="incident-form" onKeyDown={onKey}>
      <Field label="Who">
        <People people={people} onChange={setPeople} />
      </Field>
      <div className="halves">
        <Field label="Kind">
          <WordField label="Kind" list={list("kind")} value={kind} onChange={setKind} mayAdd={lists.maySet} />
        </Field>
        <Field label="Place">
          <WordField label="Place" list={list("place")} value={place} onChange={setPlace} mayAdd={lists.maySet} />
        </Field>
      </div>
      <div className="halves">
        <Field label="Date">
          <DateField label="Date" back value={date} onChange={setDate} />
        </Field>
        <Field label="Time, empty where it is not known">
          <TimeField label="Time" value={time} onChange={setTime} />
        </Field>
      </div>
      <Field label="What happened">
        <Input.TextArea
          aria-label="What happened"
          value={text}
          maxLength={2000}
          autoSize={{ minRows: 2, maxRows: 8 }}
          onChange={(e) => setText(e.target.value)}
        />
      </Field>
      <Field label="Action taken">
        <WordField
          label="Action taken"
          several
          list={list("action")}
          value={actions}
          onChange={(next) => setActions(next.map((n) => actions.find((a) => a.id === n.id && a.new === n.new) ?? n))}
          mayAdd={lists.maySet}
        />
      </Field>
      {actions.map((a, n) => {
        const name = a.new ?? list("action").words.find((w) => w.id === a.id)?.name ?? "";
        return (
          <label key={a.new ?? a.id} className="by">
            {name}, by{" "}
            <Input
              size="small"
              value={a.by ?? ""}
              maxLength={60}
              placeholder="whoever records it"
              onChange={(e) => setActions(actions.map((o, i) => (i === n ? { ...o, by: e.target.value } : o)))}
            />
          </label>
        );
      })}
      {wrong && (
        <p role="alert" className="look-overdue">
          {wrong}
        </p>
      )}
      <div className="ends">
        <Button type="primary" loading={save.isPending} onClick={send}>
          Save <kbd>Ctrl+Enter</kbd>
        </Button>
        <Button onClick={onClose}>Cancel</Button>
        {was && back === undefined && (
          <Button className="look-push" onClick={() => setBack("")}>
            Entered by mistake …
          </Button>
        )}
      </div>
      {was && back !== undefined && (
        <div className="ends">
          <Input
            aria-label="Why it is taken back"
            autoFocus
            value={back}
            maxLength={300}
            placeholder="why: it stays on record with this"
            onChange={(e) => setBack(e.target.value)}
          />
          <Button
            danger
            disabled={!back.trim()}
            loading={save.isPending}
            onClick={() =>
              save.mutate({ path: "/api/incidents/back", body: { id: was.id, seen: was.version, why: back } })
            }
          >
            Take it back
          </Button>
        </div>
      )}
    </div>
  );
}

const Field = ({ label, children }: { label: string; children: ReactNode }) => (
  <div className="field">
    <span aria-hidden="true">{label}</span>
    {children}
  </div>
);

/** An incident to read. */
function Told({ view }: { view: Schemas["IncidentView"] }) {
  return (
    <div className="incident-told">
      {view.back && (
        <p role="status">
          <b>Taken back:</b> {view.back}
        </p>
      )}
      <Words i={view.incident} />
    </div>
  );
}

function Words({ i }: { i: Line }) {
  return (
    <>
      <p>
        <b>{i.kind || "kind not known"}</b> · {i.place || "place not known"} · {i.label} {i.time || "time not known"}
      </p>
      {i.people.length > 0 && (
        <p>
          {i.people.map((p, n) => (
            <span key={p.student}>
              {n > 0 && "; "}
              <b>{p.name}</b> {p.form} {p.role}
            </span>
          ))}
        </p>
      )}
      {i.text && <p>{i.text}</p>}
      <p className="look-muted">
        {i.actions.length === 0 ? "no action yet" : i.actions.map((a) => a.name + (a.by && ` by ${a.by}`)).join(", ")} ·
        recorded by {i.recordedBy}
      </p>
    </>
  );
}

/** What it was before it was corrected. */
function Before({ versions }: { versions: Schemas["IncidentWas"][] }) {
  return (
    <details className="incident-told">
      <summary>What it was before</summary>
      {versions.slice(1).map((v) => (
        <div key={v.incident.version}>
          <p className="look-small look-muted">
            {v.at}, {v.by}
          </p>
          <Words i={v.incident} />
        </div>
      ))}
    </details>
  );
}
