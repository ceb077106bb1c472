import { App, Button } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

/** What the office has to mend in the books: students without a contact, numbers that are wrong. */
export default function Mend() {
  const tasks = useRead("/api/tasks");
  if (!tasks.data) return <Waiting error={tasks.error} />;
  return (
    <main className="page">
      <h1 className="visually-hidden">Contacts to mend</h1>
      <Panel title="Contacts to mend" aside={tasks.data.length || undefined}>
        {tasks.data.length === 0 && (
          <p className="empty">Everyone has a contact, and no number is known to be wrong.</p>
        )}
        {tasks.data.map((t) => (
          <One key={t.key} t={t} />
        ))}
      </Panel>
      <p className="small quiet">
        A student goes off this list when a contact comes in with the roster; a wrong number when the roster has
        another, or when you say here that it is mended.
      </p>
    </main>
  );
}

function One({ t }: { t: Schemas["Task"] }) {
  const { message } = App.useApp();
  const [note, setNote] = useState("");
  const write = useWrite({ done: (r) => message.success(r.words), failed: (e) => message.error(e.message, 8) });
  return (
    <div className="line">
      <b className={t.missing ? "overdue nowrap" : "nowrap"}>{t.kind}</b>
      <span>
        {t.students.map((s, i) => (
          <span key={s.id}>
            {i > 0 && ", "}
            <StudentName student={s} />
          </span>
        ))}
        <span className="quiet"> · {t.words}</span>
        {t.since && <span className="small quiet"> · {t.since}</span>}
        {t.missing && <span className="overdue"> · missing now</span>}
      </span>
      {t.call > 0 && (
        <span className="actions">
          <input
            className="plain"
            aria-label={`How the number of ${t.words} was mended`}
            placeholder="what was done"
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
          <Button size="small" onClick={() => write.mutate({ path: `/api/calls/${t.call}/mended`, body: { note } })}>
            Mended
          </Button>
        </span>
      )}
    </div>
  );
}
