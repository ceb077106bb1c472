import { keepPreviousData } from "@tanstack/react-query";
import { type Schemas, useRead } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { throughout } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { plural } from "../../parts/words";
import { asQuery, useAsked } from "./asked";
import { Filters } from "./Filters";

type Came = Schemas["Came"];

const groups = [
  { what: "cases", title: "Cases by how they ended", none: "No case was closed this year." },
  { what: "sessions", title: "Kinds of support", none: "No session was held this year." },
] as const;

/** Figures before support beside those after it, with the words that this shows no cause. */
export function CameOfIt() {
  const asked = { ...useAsked(), owner: undefined, overdue: undefined };
  const page = useRead("/api/support/came", asked, { placeholderData: keepPreviousData });
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  return (
    <main className="page followup-place">
      <h1 className="visually-hidden">What came of it</h1>
      <div className="asked">
        <Filters groups={v.groups} />
        <span className="look-actions no-print look-push">
          <TakeAlong small file={(format) => `/api/support/came/file?${asQuery(asked)}&format=${format}`} />
        </span>
      </div>
      <p className="no-cause">
        Up to {v.around} school days before support began beside up to {v.around} after it ended; with fewer than{" "}
        {v.least} on a side nothing is compared. <b>This shows no cause:</b> who is helped when things are worst often
        comes back in part without help.
      </p>
      {groups.map((g) => {
        const rows = v.rows.filter((r) => r.what === g.what);
        return (
          <Panel key={g.what} title={g.title} extra={`as at ${v.label}${throughout(v.scope)}`}>
            {rows.length === 0 && <p className="empty">{g.none}</p>}
            {rows.map((r) => (
              <One key={r.name} r={r} />
            ))}
          </Panel>
        );
      })}
    </main>
  );
}

function One({ r }: { r: Came }) {
  return (
    <article className="came">
      <div className="look-two">
        <b>{r.name}</b>
        <span className="look-small look-muted">
          {plural(r.students, "student")}, the middle one {r.length}
        </span>
        <span className="look-small">
          {r.compared === 0
            ? "too few school days around any to compare"
            : `${r.compared} compared: less missed by ${r.less}, as much by ${r.same}, more by ${r.more}`}
          {r.early > 0 && r.compared > 0 && <span className="look-muted"> · too few school days around {r.early}</span>}
        </span>
      </div>
      {r.figures.length > 0 && (
        <table>
          <thead>
            <tr>
              <th>Figure</th>
              <th>Before</th>
              <th>After</th>
              <th>Drawn</th>
            </tr>
          </thead>
          <tbody>
            {r.figures.map((f) => (
              <tr key={f.name}>
                <th scope="row">{f.name}</th>
                <td>{f.before}</td>
                <td>{f.after}</td>
                <td>
                  <Bars was={f.was} is={f.is} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </article>
  );
}

const full = 160; // px

/** Before above after, to one scale. */
function Bars({ was, is }: { was: number; is: number }) {
  const most = Math.max(was, is, 0.1);
  return (
    <span className="bars" aria-hidden="true">
      <i className="was" style={{ width: (was / most) * full }} />
      <i className="is" style={{ width: (is / most) * full }} />
    </span>
  );
}
