import { Button, Input, Modal } from "antd";
import dayjs from "dayjs";
import { useState } from "react";
import { Refusal, type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { NumberField } from "../../parts/controls/NumberField";
import { TimeField } from "../../parts/controls/TimeField";
import { FindStudent } from "../../parts/FindStudent";
import { useFocusBack } from "../../parts/focus";
import { type Kept, keptWords } from "../../parts/LogContact";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type Week = Schemas["SupportWeek"];
type Session = Schemas["SessionView"];
type Part = { student: number; name: string; note: string };

const belongs: Record<string, string> = { in: "in school time", outside: "outside school time", either: "at any time" };

/** A support session of one or several: the last ones are offered, so that a group is written again at once. */
export function SessionDialog({ v, close, of }: { v: Week; close: () => void; of?: Session }) {
  useFocusBack();
  const [date, setDate] = useState(of?.day ?? v.today);
  const [from, setFrom] = useState(of?.from ?? "");
  const [minutes, setMinutes] = useState(of?.minutes ?? 30);
  const [kind, setKind] = useState(of?.kind ?? v.kinds[0]?.id ?? 0);
  const [leader, setLeader] = useState(of?.leader ?? v.owners.find((o) => o.mine)?.id ?? v.owners[0]?.id ?? 0);
  const [note, setNote] = useState("");
  const [kept, setKept] = useState<Kept>("office");
  const [people, setPeople] = useState<Part[]>([]);
  const [wrong, setWrong] = useState("");
  const [sure, setSure] = useState(false);
  const save = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => {
      setWrong(e.message);
      if (e instanceof Refusal && e.status === 409) setSure(true);
    },
  });
  const again = (s: Session) => {
    setFrom(s.from);
    setMinutes(s.minutes);
    setKind(s.kind);
    if (s.leader) setLeader(s.leader);
    setPeople(s.parts.map((p) => ({ student: p.student.id, name: p.student.name, note: "" })));
  };
  const changed =
    <V,>(set: (value: V) => void) =>
    (value: V) => {
      set(value);
      setSure(false);
    };
  const submit = () => {
    setWrong("");
    if (people.length === 0) setWrong("Say who was there.");
    else
      save.mutate({
        path: "/api/support/sessions",
        body: {
          date,
          from,
          minutes,
          kind,
          leader,
          note,
          kept,
          sure,
          students: people.map(({ student, note }) => ({ student, note })),
        },
      });
  };
  const chosen = v.kinds.find((k) => k.id === kind);
  const monday = dayjs(date).subtract((dayjs(date).day() + 6) % 7, "day");
  const elsewhere = date !== "" && monday.format("YYYY-MM-DD") !== v.week; // in another week than the one looked at
  return (
    <Modal open title="Support session" footer={null} onCancel={close} width={640}>
      <form
        className="session-form"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            submit();
          }
        }}
      >
        {v.recent.length > 0 && people.length === 0 && (
          <fieldset className="recent">
            <legend>The same as</legend>
            {v.recent.map((s) => (
              <Button key={s.group} size="small" onClick={() => again(s)}>
                {s.date}: {s.kindName}, {s.parts[0]?.student.name}
                {s.parts.length > 1 && ` and ${s.parts.length - 1} more`}
              </Button>
            ))}
          </fieldset>
        )}
        <div className="field">
          <span>Who was there{people.length > 0 && `: ${plural(people.length, "student")}`}</span>
          <ul>
            {people.map((p) => (
              <li key={p.student}>
                <b>{p.name}</b>
                <Input
                  size="small"
                  aria-label={`For ${p.name} alone`}
                  placeholder="for this one alone"
                  maxLength={1000}
                  value={p.note}
                  onChange={(e) => setPeople(people.map((o) => (o === p ? { ...o, note: e.target.value } : o)))}
                />
                <button
                  type="button"
                  className="link look-muted"
                  aria-label={`take off ${p.name}`}
                  onClick={() => setPeople(people.filter((o) => o !== p))}
                >
                  take off
                </button>
              </li>
            ))}
          </ul>
          <FindStudent
            autoFocus
            taken={people.map((p) => p.student)}
            add={(one) => changed(setPeople)([...people, { student: one.id, name: one.name, note: "" }])}
            takeLast={() => setPeople(people.slice(0, -1))}
            submit={people.length > 0 ? submit : undefined}
            placeholder="a name, Enter; once more Enter saves"
          />
        </div>
        <div className="line">
          <label>
            on <DateField label="On which day" back value={date} onChange={changed(setDate)} />
          </label>
          <label>
            from <TimeField label="From" placeholder="1220" value={from} onChange={changed(setFrom)} />
          </label>
          <label>
            for{" "}
            <NumberField
              label="Length"
              unit="minutes"
              min={1}
              max={720}
              value={minutes}
              onChange={(n) => changed(setMinutes)(n ?? 30)}
            />
          </label>
        </div>
        {elsewhere && (
          <p className="look-small" role="status">
            That is in the <b>week of {monday.locale("en-gb").format("ddd D MMMM")}</b>, not the one looked at.
          </p>
        )}
        <div className="line">
          <Choice
            label="Kind"
            value={kind}
            onChange={changed(setKind)}
            options={v.kinds.map((k) => ({ value: k.id, label: k.name }))}
          />
          <span className="look-small look-muted">{belongs[chosen?.belongs ?? ""]}</span>
          <Choice
            label="Led by"
            value={leader}
            onChange={setLeader}
            options={v.owners.map((o) => ({ value: o.id, label: o.mine ? `${o.name} (you)` : o.name }))}
          />
        </div>
        <Input.TextArea
          aria-label="For all of them"
          placeholder="for all of them"
          rows={2}
          maxLength={1000}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        {wrong && (
          <p role="alert" className="look-overdue">
            {wrong}
          </p>
        )}
        <div className="look-actions look-here">
          <Button type="primary" htmlType="submit" loading={save.isPending}>
            {sure ? "Save it all the same" : "Save"} <kbd>Ctrl+Enter</kbd>
          </Button>
          <Choice label="For whom the notes are" value={kept} onChange={setKept} options={keptWords} />
        </div>
      </form>
    </Modal>
  );
}
