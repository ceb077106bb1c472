import type { CSSProperties } from "react";
import type { Schemas } from "../../api/client";
import { OneOf } from "../../parts/controls/OneOf";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import type { Asked } from "./asked";
import type { CellAsked } from "./Cell";

type View = Schemas["TablesView"];

/** What fails quarter by quarter of a school year, and which credits its half-years lost. */
export function Tables({ v, asked, open }: { v: View; asked: Asked; open: (cell: CellAsked) => void }) {
  const { set } = useAddress();
  const cell = (c: Schemas["TableCell"], i: number, name: string) => {
    const column = v.columns[i];
    if (!column) return null;
    const near = column.half ? "standing lost" : "nearly";
    const what = column.half ? "credits lost" : "failing";
    return (
      <td
        key={column.name}
        className={column.half ? "half" : undefined}
        style={name && c.part > 0 ? ({ "--share": `${(c.part / v.most) * 60}%` } as CSSProperties) : undefined}
      >
        {c.of === 0 ? (
          <span className="look-muted">–</span>
        ) : (
          <>
            <button
              type="button"
              className="link"
              aria-label={`${c.failing} of ${c.of} ${what}, ${name || "everyone"}, ${column.name}`}
              onClick={() => open({ by: asked.by, column: column.name, name, half: column.half })}
            >
              {c.failing} of {c.of}
            </button>
            <span className="look-small look-muted">
              {c.share}
              {c.change !== undefined && c.change !== 0 && ` · ${c.change > 0 ? "+" : "−"}${Math.abs(c.change)}`}
              {c.nearly > 0 && ` · ${c.nearly} ${near}`}
            </span>
          </>
        )}
      </td>
    );
  };
  return (
    <Panel
      title="Failing, and credits lost"
      extra="failing of those who have a grade; the change is since the quarter before"
    >
      <div className="look-line no-print">
        <OneOf
          label="By"
          value={v.by}
          onChange={(by) => set({ by: by === "course" ? undefined : by })}
          options={[
            { value: "course", label: "course" },
            { value: "class", label: "class" },
            { value: "area", label: "area" },
            { value: "year", label: "year" },
            { value: "form", label: "form" },
            { value: "leaving", label: "leaving" },
          ]}
        />
      </div>
      {v.note && <p className="empty look-small">{v.note}</p>}
      <table className="rows tables">
        <thead>
          <tr>
            <td />
            {v.columns.map((c) => (
              <th scope="col" key={c.name} className={c.half ? "half" : undefined}>
                {c.name}
                {c.half && <span className="look-small">credits lost</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {v.lines.map((l) => (
            <tr key={l.name}>
              <th scope="row">{l.name}</th>
              {l.cells.map((c, i) => cell(c, i, l.name))}
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">In all</th>
            {v.whole.cells.map((c, i) => cell(c, i, ""))}
          </tr>
          {!v.own && (
            <tr>
              <th scope="row">Students not on track</th>
              {v.not.map((n, i) => (
                <td key={v.columns[i]?.name} className={v.columns[i]?.half ? "half" : undefined}>
                  {!v.columns[i]?.half && `${n.not} of ${n.of}`}
                </td>
              ))}
            </tr>
          )}
        </tfoot>
      </table>
    </Panel>
  );
}
