import type { Schemas } from "../../api/client";
import { OneOf } from "../../parts/controls/OneOf";
import { useAddress } from "../../parts/look-at";
import { Panel, Scrolls } from "../../parts/Panel";
import { plural } from "../../parts/words";

type Grid = Schemas["ConductGrid"];

/** How much of the colour a cell has: so that what is written on it can be read, none lies in the middle. */
const shade = (share: number) => `${Math.round(share > 0.6 ? 88 + (share - 0.6) * 30 : 12 + share * 60)}%`;

/** Where and when: the more incidents in a cell, the darker. Each cell, row and column opens into its incidents. */
export function GridOf({ grid, rate }: { grid: Grid; rate: Schemas["ConductRate"] }) {
  const { params, set } = useAddress();
  const row = params.get("cellRow");
  const time = params.get("cellTime");
  const choose = (cellRow?: string, cellTime?: string) =>
    set(
      row === (cellRow ?? null) && time === (cellTime ?? null)
        ? { cellRow: undefined, cellTime: undefined }
        : { cellRow, cellTime },
    );
  const open = (n: number, label: string, act: () => void, pressed: boolean) =>
    n === 0 ? (
      <span className="none">0</span>
    ) : (
      <button type="button" aria-label={label} aria-pressed={pressed} onClick={act}>
        {n}
      </button>
    );
  return (
    <Panel
      title={grid.by === "place" ? "Where and when" : grid.by === "weekday" ? "On which day and when" : "What and when"}
      extra={`${plural(grid.all, "incident")}${rate.perHundred && ` · ${rate.perHundred} for 100 student-days`}`}
    >
      <div className="look-line no-print">
        <OneOf
          label="Rows"
          value={grid.by}
          onChange={(by) => set({ rows: by === "place" ? undefined : by, cellRow: undefined, cellTime: undefined })}
          options={[
            { value: "place" as const, label: "places" },
            { value: "weekday" as const, label: "weekdays" },
            { value: "kind" as const, label: "kinds" },
          ]}
        />
      </div>
      <Scrolls>
        <table className="where look-fills">
          <thead>
            <tr>
              <td />
              {grid.columns.map((c) => (
                <th key={c.time} scope="col" title={c.name}>
                  {c.short}
                </th>
              ))}
              <th scope="col">all</th>
            </tr>
          </thead>
          <tbody>
            {grid.rows.map((r) => (
              <tr key={r.key}>
                <th scope="row" className={r.key === "0" ? "look-muted" : undefined}>
                  {r.name}
                </th>
                {r.cells.map((n, i) => {
                  const c = grid.columns[i];
                  if (!c) return null;
                  const dark = n > grid.most * 0.6;
                  return (
                    <td
                      key={c.time}
                      className={n === 0 ? undefined : dark ? "dark" : "some"}
                      style={n > 0 ? ({ "--share": shade(n / grid.most) } as React.CSSProperties) : undefined}
                    >
                      {open(
                        n,
                        `${n}: ${r.name}, ${c.name}`,
                        () => choose(r.key, c.time),
                        row === r.key && time === c.time,
                      )}
                    </td>
                  );
                })}
                <td className="sum">
                  {open(r.sum, `${r.sum}: ${r.name}`, () => choose(r.key), row === r.key && !time)}
                </td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <th scope="row">all</th>
              {grid.sums.map((n, i) => {
                const c = grid.columns[i];
                return (
                  <td key={c?.time} className="sum">
                    {open(n, `${n}: ${c?.name}`, () => choose(undefined, c?.time), !row && time === c?.time)}
                  </td>
                );
              })}
              <td className="sum">{grid.all}</td>
            </tr>
          </tfoot>
        </table>
      </Scrolls>
    </Panel>
  );
}
