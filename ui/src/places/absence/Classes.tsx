import { useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { TakeAlong } from "../../parts/TakeAlong";
import { fileAt } from "./asked";

/** How the lessons of one's own classes went: of one, or of all of them. */
export function Classes() {
  const { at, params, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const asked = {
    at,
    class: Number(params.get("class") ?? 0) || undefined,
    from: params.get("from") ?? undefined,
    to: params.get("to") ?? undefined,
  };
  const page = useRead("/api/absence/classes", asked);
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  const file = (format: string) => fileAt("/api/absence/classes-file", asked, format);
  return (
    <main className="page absence-place">
      <h1 className="visually-hidden">Your classes</h1>
      <div className="filters no-print">
        <Choice
          label="Class"
          value={String(asked.class ?? 0)}
          onChange={(c) => set({ class: c === "0" ? undefined : c })}
          options={[
            { value: "0", label: "all your classes" },
            ...p.choices.map((c) => ({ value: c.value, label: c.label })),
          ]}
        />
        <DateField label="From" back optional value={asked.from ?? ""} onChange={(from) => set({ from })} />
        –
        <DateField label="To" back optional value={asked.to ?? ""} onChange={(to) => set({ to })} />
        <span className="look-muted">{p.label}</span>
        <span className="look-actions">
          <TakeAlong small file={file} />
        </span>
      </div>
      {p.classes.length === 0 && <p className="empty">{who.name} teaches no class.</p>}
      <div className="stack">
        {p.classes.map((c) => (
          <Panel key={c.class} title={c.title} extra={`${c.lines.length} students, lessons of this class alone`}>
            <table className="rows">
              <thead>
                <tr>
                  <th>Student</th>
                  <th className="number">Lessons</th>
                  <th className="number">Absent</th>
                  <th className="number">Excused</th>
                  <th className="number">Unexcused</th>
                  <th className="number">No reason yet</th>
                  <th className="number">Exempt</th>
                  <th className="number">Lates{p.period && `, ${p.period}`}</th>
                  {p.grading && <th className="number">For grading, {p.grading}</th>}
                  <th>Due now</th>
                </tr>
              </thead>
              <tbody>
                {c.lines.map((l) => (
                  <tr key={l.student.id}>
                    <td>
                      <StudentName student={l.student} />
                    </td>
                    <Counts l={l} />
                    {p.grading && <td className="number">{l.grading || "–"}</td>}
                    <td className="look-small">{l.due}</td>
                  </tr>
                ))}
              </tbody>
              <tfoot>
                <tr>
                  <th scope="row">Together</th>
                  <Counts l={c.sum} />
                  {p.grading && <td />}
                  <td />
                </tr>
              </tfoot>
            </table>
          </Panel>
        ))}
      </div>
    </main>
  );
}

function Counts({ l }: { l: Schemas["ClassLine"] }) {
  return (
    <>
      <td className="number">{l.lessons}</td>
      <td className="number look-strong">{l.absent}</td>
      <td className="number">{l.excused}</td>
      <td className="number">{l.unexcused}</td>
      <td className="number">{l.unknown}</td>
      <td className="number">{l.exempt}</td>
      <td className="number">{l.lates}</td>
    </>
  );
}
