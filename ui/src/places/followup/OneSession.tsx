import { Button, Input } from "antd";
import { useState } from "react";
import { Refusal, type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { NumberField } from "../../parts/controls/NumberField";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { Under } from "../../parts/Under";
import { Confidential } from "./Confidential";

type Session = Schemas["SessionView"];
type Doing = "again" | "change" | "off";

const placeWords: Record<string, string> = { in: "in school time", outside: "outside", either: "any time" };

/** A session with who was there; repeated, changed and taken off for one, some or all of them, by name. */
export function OneSession({ s, v }: { s: Session; v: Schemas["SupportWeek"] }) {
  const [doing, setDoing] = useState<Doing>();
  return (
    <article className="session" aria-label={`${s.kindName}, ${s.date}`}>
      <div className="head">
        <b>
          {s.date}
          {s.from && `, ${s.from}`}
        </b>
        <span>
          {s.kindName} <span className="look-small look-muted">{placeWords[s.belongs]}</span>
        </span>
        <span className="look-small look-muted">
          {s.minutes} min, led by {s.ledBy}
          {s.ahead && " · ahead"}
        </span>
        {v.may && (
          <span className="look-actions no-print">
            <Button size="small" onClick={() => setDoing(doing === "again" ? undefined : "again")}>
              Repeat …
            </Button>
            <Button size="small" onClick={() => setDoing(doing === "change" ? undefined : "change")}>
              Change …
            </Button>
            <Button size="small" onClick={() => setDoing(doing === "off" ? undefined : "off")}>
              Take off …
            </Button>
          </span>
        )}
      </div>
      <p className="who">
        {s.parts.map((p, i) => (
          <span key={p.id}>
            {i > 0 && ", "}
            <StudentName student={p.student} form={false} />
            {p.note && s.kept === "office" && <q className="look-small look-muted">{p.note}</q>}
            {s.kept !== "office" && (p.note || s.note) && (
              <span className="look-small look-muted">
                {" "}
                <Confidential student={p.student.id} session={p.id} />
              </span>
            )}
          </span>
        ))}
      </p>
      {s.note && s.kept === "office" && <p className="look-small look-muted who">{s.note}</p>}
      {doing && <About key={doing} s={s} v={v} doing={doing} close={() => setDoing(undefined)} />}
    </article>
  );
}

/** What is done about a session, first for whom: said with the names. */
function About({ s, v, doing, close }: { s: Session; v: Schemas["SupportWeek"]; doing: Doing; close: () => void }) {
  const [out, setOut] = useState<number[]>([]); // who is not meant, by their part in it
  const chosen = s.parts.filter((p) => !out.includes(p.id));
  const [sure, setSure] = useState(false);
  const [seen, setSeen] = useState<number | undefined>(s.seq);
  const [date, setDate] = useState(s.day);
  const [from, setFrom] = useState(s.from);
  const [minutes, setMinutes] = useState(s.minutes);
  const [kind, setKind] = useState(s.kind);
  const [leader, setLeader] = useState(s.leader);
  const [dates, setDates] = useState<string[]>([]);
  const only = chosen.length === 1 ? chosen[0] : undefined;
  const [note, setNote] = useState<string>();
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => {
      tell.wrong(e.message);
      if (e instanceof Refusal && e.status === 409) {
        setSure(true);
        setSeen(0);
      }
    },
  });
  const parts = chosen.map((p) => p.id);
  const submit = () => {
    if (parts.length === 0) return;
    if (doing === "off") write.mutate({ path: "/api/support/sessions/off", body: { parts, seen } });
    else if (doing === "again")
      write.mutate({ path: "/api/support/sessions/repeat", body: { parts, dates, sure, seen } });
    else
      write.mutate({
        path: "/api/support/sessions/change",
        body: {
          parts,
          date,
          from,
          minutes,
          kind,
          leader,
          sure,
          seen,
          ...(note !== undefined && (only && s.parts.length > 1 ? { ownNote: note } : { note })),
        },
      });
  };
  const forWhom = only ? `for ${only.student.name} alone` : `for all ${chosen.length}`;
  const verb = { again: "Repeat", change: "Change", off: "Take off" }[doing];
  return (
    <Under label={`${verb} ${s.kindName}, ${s.date}`} submit={submit} close={close}>
      {s.parts.length > 1 && (
        <fieldset className="for-whom">
          <legend>{verb} for</legend>
          <Button size="small" type={only ? "default" : "primary"} onClick={() => setOut([])}>
            all {s.parts.length}
          </Button>
          {s.parts.map((p) => (
            <Tick
              key={p.id}
              checked={chosen.includes(p)}
              onChange={(on) => setOut(on ? out.filter((o) => o !== p.id) : [...out, p.id])}
            >
              {p.student.name}
            </Tick>
          ))}
          <span className="look-small look-muted">
            {s.parts.map((p) => (
              <button
                key={p.id}
                type="button"
                className="link"
                onClick={() => setOut(s.parts.filter((o) => o !== p).map((o) => o.id))}
              >
                {p.student.given} alone
              </button>
            ))}
          </span>
        </fieldset>
      )}
      {doing === "again" && (
        <span className="look-actions look-here">
          {dates.map((d) => (
            <Button
              key={d}
              size="small"
              aria-label={`take off ${d}`}
              onClick={() => setDates(dates.filter((o) => o !== d))}
            >
              {d} ×
            </Button>
          ))}
          {/* biome-ignore lint/a11y/noStaticElementInteractions: Enter takes a date, and in the empty field it saves */}
          <span onKeyDown={(e) => e.key === "Enter" && (e.target as HTMLInputElement).value && e.preventDefault()}>
            on{" "}
            <DateField
              key={dates.length}
              label="On which day too"
              autoFocus
              optional
              value=""
              onChange={(d) => d && !dates.includes(d) && setDates([...dates, d].sort())}
            />
          </span>
        </span>
      )}
      {doing === "change" && (
        <>
          <label>
            on <DateField label="On which day" back value={date} onChange={setDate} />
          </label>
          <label>
            from <TimeField label="From" value={from} onChange={setFrom} />
          </label>
          <label>
            for{" "}
            <NumberField
              label="Length"
              unit="minutes"
              min={1}
              max={720}
              value={minutes}
              onChange={(n) => setMinutes(n ?? minutes)}
            />
          </label>
          <Choice
            label="Kind"
            value={kind}
            onChange={setKind}
            options={v.kinds.map((k) => ({ value: k.id, label: k.name }))}
          />
          <Choice
            label="Led by"
            value={leader}
            onChange={setLeader}
            options={v.owners.map((o) => ({ value: o.id, label: o.name }))}
          />
          {s.kept === "office" && (
            <Input
              className="said"
              aria-label={only && s.parts.length > 1 ? `For ${only.student.name} alone` : "For all of them"}
              placeholder={only && s.parts.length > 1 ? "for this one alone" : "for all of them"}
              value={note ?? (only && s.parts.length > 1 ? only.note : s.note)}
              onChange={(e) => setNote(e.target.value)}
            />
          )}
        </>
      )}
      <Button
        type="primary"
        htmlType="submit"
        loading={write.isPending}
        disabled={parts.length === 0 || (doing === "again" && dates.length === 0)}
      >
        {sure ? `${verb} ${forWhom} all the same` : `${verb} ${forWhom}`}
      </Button>
      <Button onClick={close}>
        Cancel <kbd>Esc</kbd>
      </Button>
    </Under>
  );
}
