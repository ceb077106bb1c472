import type { Schemas } from "../../api/client";
import { Panel } from "../../parts/Panel";

/** What was taken from files and decided about measuring, and the marks that have no place. */
export function Records({ s }: { s: Schemas["SchoolView"] }) {
  return (
    <>
      {s.lost > 0 && (
        <Panel title="Marks that enter no figure" extra={<b className="look-overdue">{s.lost}</b>}>
          {s.misplaced.map((m) => (
            <div className="look-line look-small" key={m}>
              {m}
            </div>
          ))}
          {s.lost > s.misplaced.length && (
            <p className="empty look-small">
              and {s.lost - s.misplaced.length} more: the command check lists them, of every school year
            </p>
          )}
        </Panel>
      )}
      <Panel title="Taken from files, or set here" extra={s.imports.length || undefined}>
        {s.imports.length === 0 && <p className="empty">Nothing was taken from a file yet.</p>}
        {s.imports.map((r) => (
          <div className="look-line look-small" key={r.when + r.text}>
            <span>
              {r.past ? <b className="look-overdue">{r.text}</b> : r.text}{" "}
              <span className="look-muted">{[r.when, r.by].filter(Boolean).join(" · ")}</span>
            </span>
          </div>
        ))}
      </Panel>
    </>
  );
}
