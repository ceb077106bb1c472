import { Button, Checkbox, Segmented } from "antd";
import { useState } from "react";
import { type Schemas, write } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { FileField } from "../../parts/controls/FileField";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { contentOf } from "../../parts/upload";

type Kind = Schemas["Import"]["kind"];

const whichFiles: Record<Kind, string> = {
  oneroster: "All CSV files of a OneRoster 1.1 export at once, or the zip.",
  timetable: "calendar.csv, slots.csv and timetable.csv at once, or a zip.",
  grades:
    "courses.csv, grades.csv and, where there are any, periods.csv, exams.csv, recovery.csv at once, or a zip; the pieces of work of a OneRoster 1.1 gradebook likewise: lineItems.csv, results.csv, categories.csv. Rows that the files lack stay; a grade that is replaced stays on record.",
  activity:
    "activity.csv: student, source, at, kind; what students did on learning platforms or in the library. A row without a time says that the source knows the student. Rows that the file lacks stay.",
  history:
    "history.csv: student, outcome (1 for who left without finishing), and any inputs, a row for each past student. It takes the place of the one before.",
  contacts: "contacts.csv: how students were followed up. Contacts that the file lacks stay.",
  sessions: "sessions.csv: support sessions, a row for each student of one. Sessions that the file lacks stay.",
  incidents: "incidents.csv and incident_people.csv at once, or a zip. Incidents that the files lack stay.",
};

/** Files are uploaded, looked at and applied. */
export function ImportFiles({ refresh }: { refresh: () => void }) {
  const [kind, setKind] = useState<Kind>("oneroster");
  const [files, setFiles] = useState<Schemas["ImportFile"][]>([]);
  const [plan, setPlan] = useState<Schemas["Plan"]>();
  const [busy, setBusy] = useState(false);
  const [from, setFrom] = useState("");
  const [past, setPast] = useState(false);
  const [take, setTake] = useState(false); // the files' contacts instead of the school's own
  const run = async (list: Schemas["ImportFile"][], apply: boolean, when = { from, past, take }) => {
    setBusy(true);
    try {
      const seen = apply ? plan?.stamp || undefined : undefined;
      const body = {
        kind,
        apply,
        seen,
        files: list,
        from: when.from || undefined,
        past: when.past,
        takeFiles: when.take,
      };
      const p = await write({ path: "/api/school/import", body });
      setPlan(p);
      if (p.applied) {
        tell.done("The files are applied.");
        refresh();
      }
    } catch (e) {
      tell.wrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const chosen = async (uploaded: File[]) => {
    const list = await Promise.all(uploaded.map(contentOf));
    setFiles(list);
    setPlan(undefined);
    if (list.length) await run(list, false);
  };
  const changes = plan?.parts.reduce((n, p) => n + p.added + p.changed + p.ended, 0) ?? 0;
  return (
    <Panel title="Import" extra="upload, look, apply">
      <div className="look-line look-wrap">
        <Segmented<Kind>
          value={kind}
          aria-label="What to import"
          onChange={(k) => {
            setKind(k);
            setFiles([]);
            setPlan(undefined);
          }}
          options={[
            { value: "oneroster", label: "People and classes" },
            { value: "timetable", label: "Calendar and timetable" },
            { value: "grades", label: "Course results" },
            { value: "incidents", label: "Incidents" },
            { value: "contacts", label: "Contacts of follow-up" },
            { value: "sessions", label: "Support sessions" },
            { value: "activity", label: "Activity" },
            { value: "history", label: "Past students" },
          ]}
        />
        <FileField accept=".csv,.zip" several chosen={(list) => void chosen(list)} disabled={busy}>
          {files.length > 0 ? `Choose other files than these ${files.length}` : "Choose the files"}
        </FileField>
      </div>
      <div className="look-line look-wrap look-small">
        <label>
          holds from{" "}
          <DateField
            label="holds from"
            optional
            size="small"
            value={from}
            onChange={(d) => {
              setFrom(d);
              if (files.length) void run(files, false, { from: d, past, take });
            }}
          />
        </label>
        <span className="look-muted">{from ? "" : "as early as changes nothing that is over"}</span>
        <Checkbox
          className="look-push"
          checked={past}
          onChange={(e) => {
            setPast(e.target.checked);
            if (files.length) void run(files, false, { from, past: e.target.checked, take });
          }}
        >
          <span className="look-small">correct the past</span>
        </Checkbox>
      </div>
      <p className="empty look-small">
        {whichFiles[kind]} Nothing changes before you apply it; then all of it does, or nothing.
      </p>
      {busy && (
        <p className="empty" role="status">
          Reading the files …
        </p>
      )}
      {plan && !busy && (
        <>
          {plan.problems.length > 0 && (
            <div role="alert" className="wrong">
              <b className="look-overdue">
                {plan.problems.length} {plan.problems.length === 1 ? "line is" : "lines are"} wrong; nothing was
                changed.
              </b>
              <ul className="look-small">
                {plan.problems.slice(0, 100).map((p) => (
                  <li key={p}>{p}</li>
                ))}
              </ul>
            </div>
          )}
          <table className="rows">
            <thead>
              <tr>
                <th>What</th>
                <th className="number">Added</th>
                <th className="number">Changed</th>
                <th className="number">Ended</th>
                <th className="number">The same</th>
              </tr>
            </thead>
            <tbody>
              {plan.parts.map((p) => (
                <tr key={p.what}>
                  <td>{p.what}</td>
                  <td className="number">{p.added}</td>
                  <td className="number">{p.changed}</td>
                  <td className="number">{p.ended}</td>
                  <td className="number look-muted">{p.same}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {plan.figures.length > 0 && (
            <div role="alert" className="wrong">
              <b className="look-overdue">{plan.applied ? "Of the past was changed:" : "Of the past would change:"}</b>
              <ul className="look-small">
                {plan.figures.map((f) => (
                  <li key={f}>{f}</li>
                ))}
              </ul>
            </div>
          )}
          {(plan.kept.length > 0 || take) && (
            <div className="wrong">
              <b>
                {take
                  ? "The files' contacts and warnings take the place of those changed here."
                  : `${plan.kept.length} changed here ${plan.applied ? "stayed" : "stay"} as they are; the files have them otherwise:`}
              </b>
              <ul className="look-small">
                {plan.kept.slice(0, 100).map((k) => (
                  <li key={k}>{k}</li>
                ))}
              </ul>
              {!plan.applied && (
                <Checkbox
                  checked={take}
                  onChange={(e) => {
                    setTake(e.target.checked);
                    void run(files, false, { from, past, take: e.target.checked });
                  }}
                >
                  take the files’ contacts and warnings instead
                </Checkbox>
              )}
            </div>
          )}
          <div className="look-line">
            {plan.applied ? (
              <b>{changes === 0 ? "Nothing to change." : "Applied."}</b>
            ) : (
              <Button
                type="primary"
                disabled={plan.problems.length > 0 || changes === 0}
                onClick={() => void run(files, true)}
              >
                {changes === 0
                  ? "Nothing to change"
                  : `Apply ${changes === 1 ? "this change" : `these ${changes} changes`}, ${plan.when}`}
              </Button>
            )}
          </div>
          {plan.notes.length + plan.details.length > 0 && (
            <details open={plan.notes.length > 0}>
              <summary>Notes and changes, line by line</summary>
              <ul className="look-small changes">
                {[...plan.notes, ...plan.details].map((n) => (
                  <li key={n}>{n}</li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </Panel>
  );
}
