import "./school.css";
import { useRead } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { Accounts } from "./Accounts";
import { Codes } from "./Codes";
import { Emblem } from "./Emblem";
import { ImportFiles } from "./ImportFiles";
import { Policies } from "./Policies";
import { Reasons } from "./Reasons";
import { Records } from "./Records";
import { RegisterRules } from "./RegisterRules";
import { Stations } from "./Stations";

/** The school's people, and importing them: upload, look, apply. */
export default function School() {
  const page = useRead("/api/school");
  if (!page.data) return <Waiting error={page.error} />;
  const s = page.data;
  return (
    <main className="page school-place">
      <h1 className="visually-hidden">School</h1>
      <div className="columns">
        <div className="stack">
          <ImportFiles refresh={() => void page.refetch()} />
          <Codes codes={s.codes} refresh={() => void page.refetch()} />
          <Reasons s={s} refresh={() => void page.refetch()} />
          <Policies s={s} refresh={() => void page.refetch()} />
          <Accounts s={s} refresh={() => void page.refetch()} />
        </div>
        <div className="stack">
          <Panel title={s.name}>
            <dl>
              {(
                [
                  [s.students, "students on the roll"],
                  [s.forms, "forms"],
                  [s.classes, "other classes"],
                  [s.staff, "staff"],
                  [s.contacts, "contacts"],
                ] as const
              ).map(([n, w]) => (
                <div key={w}>
                  <dt>
                    <b>{n}</b>
                  </dt>
                  <dd>{w}</dd>
                </div>
              ))}
            </dl>
            <p className="empty">{s.calendar || "No calendar yet: import a timetable."}</p>
          </Panel>
          <Records s={s} />
          <RegisterRules />
          <Stations />
          <Emblem />
          <Panel title="Students without a contact" extra={s.noContact.length || undefined}>
            {s.noContact.length === 0 && <p className="empty">Every student has a contact.</p>}
            {s.noContact.map((st) => (
              <div className="line" key={st.id}>
                <StudentName student={st} /> <span className="push muted">{st.number}</span>
              </div>
            ))}
          </Panel>
          <Panel title="Contacts of nobody" extra={s.ofNobody.length || undefined}>
            {s.ofNobody.length === 0 && <p className="empty">Every contact belongs to a student.</p>}
            {s.ofNobody.map((c) => (
              <div className="line" key={c}>
                {c}
              </div>
            ))}
          </Panel>
        </div>
      </div>
    </main>
  );
}
