import { App, Button, Segmented } from "antd";
import { type ChangeEvent, useRef, useState } from "react";
import { type Schemas, write } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { contentOf } from "../../parts/upload";

type Kind = "oneroster" | "timetable";

/** Files are uploaded, looked at and applied. */
export function ImportFiles({ refresh }: { refresh: () => void }) {
  const { message } = App.useApp();
  const [kind, setKind] = useState<Kind>("oneroster");
  const [files, setFiles] = useState<Schemas["ImportFile"][]>([]);
  const [plan, setPlan] = useState<Schemas["Plan"]>();
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const run = async (list: Schemas["ImportFile"][], apply: boolean) => {
    setBusy(true);
    try {
      const p = await write({ path: "/api/school/import", body: { kind, apply, files: list } });
      setPlan(p);
      if (p.applied) {
        message.success("The files are applied.");
        refresh();
      }
    } catch (e) {
      message.error((e as Error).message, 8);
    } finally {
      setBusy(false);
    }
  };
  const chosen = async (e: ChangeEvent<HTMLInputElement>) => {
    const list = await Promise.all([...(e.target.files ?? [])].map(contentOf));
    setFiles(list);
    setPlan(undefined);
    if (list.length) await run(list, false);
  };
  const changes = plan?.parts.reduce((n, p) => n + p.added + p.changed + p.ended, 0) ?? 0;
  return (
    <Panel title="Import" extra="upload, look, apply">
      <div className="line wrap">
        <Segmented<Kind>
          value={kind}
          aria-label="What to import"
          onChange={(k) => {
            setKind(k);
            setFiles([]);
            setPlan(undefined);
            if (input.current) input.current.value = "";
          }}
          options={[
            { value: "oneroster", label: "People and classes" },
            { value: "timetable", label: "Calendar and timetable" },
          ]}
        />
        <input
          ref={input}
          type="file"
          multiple
          accept=".csv,.zip"
          aria-label="Files"
          onChange={(e) => void chosen(e)}
          disabled={busy}
        />
      </div>
      <p className="empty small">
        {kind === "oneroster"
          ? "All CSV files of a OneRoster 1.1 export at once, or the zip. Nothing changes before you apply it; then all of it does, or nothing."
          : "calendar.csv, slots.csv and timetable.csv at once, or a zip. Nothing changes before you apply it; then all of it does, or nothing."}
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
              <b className="overdue">
                {plan.problems.length} {plan.problems.length === 1 ? "line is" : "lines are"} wrong; nothing was
                changed.
              </b>
              <ul className="small">
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
                  <td className="number muted">{p.same}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="line">
            {plan.applied ? (
              <b>{changes === 0 ? "Nothing to change." : "Applied."}</b>
            ) : (
              <Button
                type="primary"
                disabled={plan.problems.length > 0 || changes === 0}
                onClick={() => void run(files, true)}
              >
                {changes === 0 ? "Nothing to change" : `Apply these ${changes} changes`}
              </Button>
            )}
          </div>
          {plan.notes.length + plan.details.length > 0 && (
            <details open={plan.notes.length > 0}>
              <summary>Notes and changes, line by line</summary>
              <ul className="small">
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
