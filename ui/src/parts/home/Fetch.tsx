import "./home.css";
import { Button } from "antd";
import { type KeyboardEvent, useState } from "react";
import { type Schemas, useWrite, type Writing } from "../../api/client";
import { useSettings } from "../../api/settings";
import { Shape } from "../../look/Shape";
import { TimeField } from "../controls/TimeField";
import { Reasons } from "../Reasons";
import { StudentName } from "../StudentName";
import { useSeen } from "../seen";
import { tell } from "../told";

type FetchView = Schemas["FetchView"];
type Outcome = Schemas["Call"]["outcome"];

/** A student to be collected: whom to ring, in order, what came of it, and who comes. */
export function Fetching({ f, may, named = true }: { f: FetchView; may: boolean; named?: boolean }) {
  const write = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const [ringing, setRinging] = useState<number>();
  const [spoke, setSpoke] = useState(false);
  const seen = useSeen();
  const place = ringing ?? Math.max(f.next, 0);
  const contact = f.contacts[place];
  const log = (outcome: Outcome, more: Partial<Schemas["Call"]> = {}) =>
    write.mutate(
      {
        path: "/api/calls",
        body: {
          students: [f.student.id],
          fetch: f.id,
          contact: contact?.id ?? 0,
          outcome,
          seen: seen.entry(),
          ...more,
        },
      },
      {
        onError: seen.told,
        onSuccess: () => {
          seen.end();
          setSpoke(false);
          setRinging(undefined);
        },
      },
    );
  const speak = () => {
    if (spoke) seen.end();
    else seen.begin();
    setSpoke(!spoke);
  };
  return (
    <div className="fetching" data-fetch={f.student.id}>
      {named && (
        <div className="heading">
          <Shape state="in" />
          <StudentName student={f.student} />
          <span className="look-small look-muted">
            {[f.reason, f.place, `since ${f.since}`].filter(Boolean).join(" · ")}
          </span>
          {f.warnings.map((w) => (
            <span key={w} className="look-warn">
              {w}
            </span>
          ))}
        </div>
      )}
      {f.comes && (
        <div className={f.overdue ? "look-overdue" : undefined}>
          <b>
            {f.comes} comes{f.expected && ` by ${f.expected}`}
          </b>
          {f.note && <span className="look-small look-muted"> · {f.note}</span>}
        </div>
      )}
      <ol className="look-small">
        {f.contacts.map((c, i) => (
          <li key={c.id} className={i === place && !f.comes ? "next" : undefined}>
            <span>{c.order}</span>
            <button type="button" className="link" onClick={() => setRinging(i)}>
              {c.name} <span className="look-muted">{c.relation}</span> · {c.phone}
            </button>
            <span className={c.mayCollect ? undefined : "look-muted"}>
              {c.mayCollect ? "may collect" : "may not collect"}
            </span>
            <span className="look-muted look-push">
              {f.attempts
                .filter((a) => a.contact === c.name)
                .map((a) => `${a.outcome} ${a.at}`)
                .join(", ")}
            </span>
          </li>
        ))}
        {f.notCalled.map((n) => (
          <li key={n} className="look-overdue">
            not {n}
          </li>
        ))}
        {f.contacts.length === 0 && <li className="look-overdue">nobody on file may be called</li>}
      </ol>
      {may && (
        <div className="act">
          {contact && (
            <>
              <span className="look-small">
                Ring <b>{contact.name}</b>
              </span>
              <Button size="small" type={f.comes ? "default" : "primary"} onClick={speak}>
                Spoke
              </Button>
              <Button size="small" onClick={() => log("message")}>
                Left message
              </Button>
              <Button size="small" onClick={() => log("no answer")}>
                No answer
              </Button>
            </>
          )}
          <Button
            size="small"
            className="look-push"
            onClick={() => write.mutate({ path: "/api/fetches/{id}/end", params: { id: f.id } })}
          >
            Stays after all
          </Button>
        </div>
      )}
      {may && spoke && <Comes f={f} contact={contact} log={log} write={write} />}
    </div>
  );
}

/** Who comes: only those who may collect are offered; anyone else needs a note. */
function Comes({
  f,
  contact,
  log,
  write,
}: {
  f: FetchView;
  contact: Schemas["ContactRef"] | undefined;
  log: (outcome: Outcome, more?: Partial<Schemas["Call"]>) => void;
  write: Writing;
}) {
  const [collector, setCollector] = useState(contact?.mayCollect ? contact.id : 0);
  const [other, setOther] = useState("");
  const [until, setUntil] = useState("");
  const [note, setNote] = useState("");
  const store = () =>
    log("spoke", other.trim() ? { collects: other, until, note } : { collector, until: collector ? until : "", note });
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Enter" && !(e.target instanceof HTMLButtonElement)) {
      e.preventDefault();
      store();
    }
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter in its fields stores
    <div className="act" onKeyDown={onKey}>
      <span className="look-small look-muted">comes</span>
      {f.contacts
        .filter((c) => c.mayCollect)
        .map((c) => (
          <Button
            key={c.id}
            size="small"
            type={collector === c.id && !other ? "primary" : "default"}
            aria-pressed={collector === c.id && !other}
            onClick={() => {
              setCollector(collector === c.id ? 0 : c.id);
              setOther("");
            }}
          >
            {c.name}
          </Button>
        ))}
      <input
        className="plain"
        aria-label="Somebody else comes"
        placeholder="somebody else"
        value={other}
        onChange={(e) => setOther(e.target.value)}
      />
      <label className="look-small">
        by <TimeField size="small" label="by" placeholder="1030" value={until} autoFocus onChange={setUntil} />
      </label>
      <input
        className="plain"
        aria-label="Note"
        placeholder={other ? "who allowed it" : "note"}
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <Button size="small" type="primary" loading={write.isPending} onClick={store}>
        Save the call <kbd>Enter</kbd>
      </Button>
    </div>
  );
}

/** Begins: why the student is to be collected, and where they wait. */
export function MustBeFetched({ student, done }: { student: Schemas["StudentRef"]; done?: () => void }) {
  const settings = useSettings();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("ill");
  const [where, setWhere] = useState("");
  const start = useWrite({
    done: (r) => {
      tell.receipt(r);
      setOpen(false);
      done?.();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const store = () => start.mutate({ path: "/api/fetches", body: { student: student.id, reason, place: where } });
  if (!open) {
    return (
      <Button size="small" onClick={() => setOpen(true)}>
        {student.given} must be collected
      </Button>
    );
  }
  return (
    <div className="fetching">
      <div className="act">
        <span className="look-small look-muted">because</span>
        <Reasons
          offered={settings.data?.reasons.filter((r) => r.leave) ?? []}
          value={reason}
          use="leave"
          keyOf={() => ""}
          onChange={(r) => setReason(r.word)}
          onAdded={setReason}
        />
      </div>
      <div className="act">
        <label className="look-small">
          waits in{" "}
          <input
            className="plain"
            placeholder="sick room"
            value={where}
            // biome-ignore lint/a11y/noAutofocus: it was asked for
            autoFocus
            onChange={(e) => setWhere(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter") store();
            }}
          />
        </label>
        <Button size="small" type="primary" loading={start.isPending} onClick={store}>
          Say so, and show whom to ring <kbd>Enter</kbd>
        </Button>
      </div>
    </div>
  );
}
