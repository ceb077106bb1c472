import type { Schemas } from "../../api/client";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";

type Line = Schemas["IncidentLine"];

/** The incidents of the cell that is chosen, or all that were found, newest first. */
export function Found({ v }: { v: Schemas["ConductView"] }) {
  const { set } = useAddress();
  return (
    <Panel
      title={v.listed ? v.listed.charAt(0).toUpperCase() + v.listed.slice(1) : "Incidents"}
      extra={
        <>
          {plural(v.count, "incident")}
          {v.listed && (
            <>
              {" · "}
              <button
                type="button"
                className="link no-print"
                onClick={() => set({ cellRow: undefined, cellTime: undefined })}
              >
                show all {v.grid.all}
              </button>
            </>
          )}
        </>
      }
    >
      {v.found.length === 0 && <p className="empty">Nothing was noted that fits this search.</p>}
      <Long rows={v.found} height={44} keyOf={(i) => i.id} as="div">
        {(i, place) => (
          <div {...place}>
            <Row i={i} />
          </div>
        )}
      </Long>
      {v.count > v.found.length && (
        <p className="empty">{v.count - v.found.length} older ones are in the file, or come with narrower dates.</p>
      )}
    </Panel>
  );
}

function Row({ i }: { i: Line }) {
  const { set } = useAddress();
  const did = i.people.filter((p) => p.role === "did it");
  const others = i.people.filter((p) => p.role !== "did it");
  return (
    <div className="incident">
      <span className="look-nowrap">{i.label}</span>
      <span className={i.time ? undefined : "look-muted"}>{i.time || "?"}</span>
      <button type="button" className="link look-strong" onClick={() => set({ incident: String(i.id) }, false)}>
        {i.kind || "kind not known"}
        {i.place && <span className="look-muted at">, {i.place}</span>}
      </button>
      <span className="who">
        {did.length === 0 && <span className="look-muted">not known who</span>}
        {did.map((p) => (
          <Name key={p.student} p={p} />
        ))}
        {others.map((p) => (
          <span key={p.student} className="look-muted">
            <Name p={p} /> {p.role}
          </span>
        ))}
      </span>
      <span className={i.actions.length === 0 ? "look-overdue" : undefined}>
        {i.actions.length === 0 ? "no action yet" : i.actions.map((a) => a.name).join(", ")}
      </span>
      <span className="look-muted by">{i.recordedBy}</span>
    </div>
  );
}

const Name = ({ p }: { p: Schemas["IncidentPartView"] }) =>
  p.sees ? (
    <StudentName student={{ id: p.student, name: p.name, form: p.form }} form={false} />
  ) : (
    <span>
      {p.name} <span className="look-muted">{p.form}</span>
    </span>
  );

/** What is not complete yet, one's own first: each opens to be completed. */
export function Incomplete({ list }: { list: Line[] }) {
  const { set } = useAddress();
  const most = 5;
  return (
    <Panel title="Incomplete" extra={list.length || undefined} className="no-print">
      {list.length === 0 && <p className="empty">Nothing is open this school year.</p>}
      {list.slice(0, most).map((i) => (
        <div className="look-line" key={i.id}>
          <button type="button" className="link" onClick={() => set({ incident: String(i.id) }, false)}>
            {i.label} <b>{i.kind || "what?"}</b>
            {i.own && <span className="look-muted"> yours</span>}
          </button>
          <span className="look-push look-small look-muted">{i.open.join(", ")}</span>
        </div>
      ))}
      {list.length > most && (
        <div className="look-line">
          <button type="button" className="link" onClick={() => set({ incomplete: "1" })}>
            all {list.length}
          </button>
        </div>
      )}
    </Panel>
  );
}
