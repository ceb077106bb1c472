import { Button } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { ContactFormOf } from "../../parts/home/ContactForm";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { throughout, useCovered, useScope } from "../../parts/scope";
import { tell } from "../../parts/told";

/** What the office has to put right in the books: students without a contact, numbers that are wrong. */
export default function ContactsToCorrect() {
  const covered = useCovered();
  const tasks = useRead("/api/tasks", { section: useScope() });
  if (!tasks.data) return <Waiting error={tasks.error} />;
  return (
    <main className="page today-place">
      <h1 className="visually-hidden">Contacts to correct</h1>
      <Panel
        title="Contacts to correct"
        extra={[tasks.data.length || "", covered].filter(Boolean).join(" · ") || undefined}
      >
        {tasks.data.length === 0 && (
          <p className="empty">Everyone{throughout(covered)} has a contact, and no number is known to be wrong.</p>
        )}
        {tasks.data.map((t) => (
          <One key={t.key} t={t} />
        ))}
      </Panel>
      <p className="look-small look-muted">
        A student goes off this list when a contact is added or comes in with the roster; a wrong number when it is
        changed, or when you say here that it is right.
      </p>
    </main>
  );
}

function One({ t }: { t: Schemas["Task"] }) {
  const [note, setNote] = useState("");
  const [changing, setChanging] = useState(false);
  const first = t.students[0];
  const write = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  return (
    <div className="look-line look-wrap">
      <b className={t.missing ? "look-overdue look-nowrap" : "look-nowrap"}>{t.kind}</b>
      <span>
        {t.students.map((s, i) => (
          <span key={s.id}>
            {i > 0 && ", "}
            <StudentName student={s} />
          </span>
        ))}
        <span className="look-muted"> · {t.text}</span>
        {t.since && <span className="look-small look-muted"> · {t.since}</span>}
        {t.missing && <span className="look-overdue"> · missing now</span>}
      </span>
      {first && !changing && (
        <Button size="small" onClick={() => setChanging(true)}>
          {t.contact > 0 ? "Change the number" : "Add a contact"}
        </Button>
      )}
      {t.call > 0 && (
        <span className="look-actions">
          <input
            className="plain"
            aria-label={`How the number of ${t.text} was corrected`}
            placeholder="what was done"
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
          <Button
            size="small"
            onClick={() => write.mutate({ path: "/api/calls/{id}/mended", params: { id: t.call }, body: { note } })}
          >
            Corrected
          </Button>
        </span>
      )}
      {first && changing && <ContactFormOf student={first} id={t.contact} done={() => setChanging(false)} />}
    </div>
  );
}
