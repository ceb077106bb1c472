import "./school.css";
import { Link } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { Accounts } from "./Accounts";
import { Codes } from "./Codes";
import { Emblem } from "./Emblem";
import { ImportFiles } from "./ImportFiles";
import { MeetingPoints } from "./MeetingPoints";
import { Policies } from "./Policies";
import { Reasons } from "./Reasons";
import { Records } from "./Records";
import { RegisterRules } from "./RegisterRules";
import { Stations } from "./Stations";

/**
 * The section that what is decided here is of: 0 for every one; undefined where some are looked at and
 * neither one nor all.
 */
function onlyOne(s: Schemas["SchoolView"], scope: number[] | undefined): number | undefined {
  if (!scope || scope.length === s.sections.length) return 0;
  return scope.length === 1 ? scope[0] : undefined;
}

/** Stands where the sections looked at have decided differently. */
function Apart({ title }: { title: string }) {
  return (
    <Panel title={title}>
      <p className="empty">The sections have these of their own. Choose one section above to see and change them.</p>
    </Panel>
  );
}

/** The school's people, and importing them: upload, look, apply. */
export default function School() {
  const scope = useScope();
  const page = useRead("/api/school", { section: scope });
  if (!page.data) return <Waiting error={page.error} />;
  const s = page.data;
  const refresh = () => void page.refetch();
  const section = onlyOne(s, scope);
  const chosen = (what: string) => section === undefined || s.apart.includes(what);
  return (
    <main className="page school-place">
      <h1 className="visually-hidden">School</h1>
      <div className="columns">
        <div className="stack">
          <ImportFiles refresh={refresh} />
          {chosen("codes") ? <Apart title="Codes" /> : <Codes codes={s.codes} section={section} refresh={refresh} />}
          {chosen("reasons") ? <Apart title="Reasons" /> : <Reasons s={s} section={section} refresh={refresh} />}
          {chosen("policies") ? <Apart title="Policies" /> : <Policies s={s} section={section} refresh={refresh} />}
          <Accounts s={s} refresh={refresh} />
        </div>
        <div className="stack">
          <Panel title={[s.name, s.scope].filter(Boolean).join(", ")}>
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
            {s.sections.map((one) => (
              <p className="empty" key={one.id}>
                {s.sections.length > 1 && (
                  <>
                    <b>{one.name}</b>: {one.students} students in {one.forms} forms, {one.staff} staff, codes{" "}
                    {one.codes}.{" "}
                  </>
                )}
                {one.calendar || "No calendar yet: import a timetable."}
              </p>
            ))}
          </Panel>
          <Records s={s} />
          <Panel title="Those who have left">
            <div className="line">
              <Link to="/left">What is stored of them, and for how long</Link>
            </div>
          </Panel>
          {chosen("rules") ? (
            <Apart title="Registers" />
          ) : (
            <RegisterRules rules={s.rules} section={section} refresh={refresh} />
          )}
          <MeetingPoints school={s} refresh={refresh} />
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
