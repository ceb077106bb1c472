import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";
import { MeetingPoints } from "./MeetingPoints";
import { OwnFields } from "./OwnFields";

const most = 200; // of a list that is shown in one go

/** Who is at the school, what is missing of them, and where they go in a roll call. */
export function People({ s, refresh }: { s: Schemas["SchoolView"]; refresh: () => void }) {
  return (
    <div className="columns halves">
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
          {s.sections.length > 1 &&
            s.sections.map((one) => (
              <p className="empty" key={one.id}>
                <b>{one.name}</b>: {one.students} students in {plural(one.forms, "form")}, {one.staff} staff, codes{" "}
                {one.codes}
              </p>
            ))}
          <div className="look-line">
            <Link to="/school/import">Change them by files</Link>
            <Link className="look-push" to="/school/people/left">
              Students who have left
            </Link>
          </div>
        </Panel>
        <MeetingPoints school={s} refresh={refresh} />
        <OwnFields />
      </div>
      <div className="stack">
        <Students title="Students without a contact" list={s.noContact} none="Every student has a contact." />
        <Students title="Students without a form" list={s.noForm} none="Every student is in a form." />
        <Panel title="Contacts without a student" extra={s.ofNobody.length || undefined}>
          {s.ofNobody.length === 0 && <p className="empty">Every contact belongs to a student.</p>}
          {s.ofNobody.slice(0, most).map((c) => (
            <div className="look-line" key={c}>
              {c}
            </div>
          ))}
        </Panel>
      </div>
    </div>
  );
}

function Students({ title, list, none }: { title: string; list: Schemas["StudentRef"][]; none: string }) {
  return (
    <Panel title={title} extra={list.length || undefined}>
      {list.length === 0 && <p className="empty">{none}</p>}
      {list.slice(0, most).map((st) => (
        <div className="look-line" key={st.id}>
          <StudentName student={st} /> <span className="look-push look-muted">{st.number}</span>
        </div>
      ))}
      {list.length > most && <p className="empty">and {list.length - most} more</p>}
    </Panel>
  );
}
