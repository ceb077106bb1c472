import "./grid.css";
import { keepPreviousData } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Button } from "antd";
import { useMemo, useRef } from "react";
import { type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { OneOf } from "../../parts/controls/OneOf";
import { ofStudent, WholeList } from "../../parts/in-list";
import { KeepList } from "../../parts/KeepList";
import { useAddress } from "../../parts/look-at";
import { Waiting } from "../../parts/Panel";
import { SavedViews } from "../../parts/SavedViews";
import { StudentName } from "../../parts/StudentName";
import { throughout, useScope } from "../../parts/scope";
import { plural } from "../../parts/words";
import { fileAt, useAsked } from "./asked";
import { Filters } from "./Filters";
import { amount, shareOf } from "./figures";

type View = Schemas["GridView"];

const rowHeight = 25; // px
const short = 60; // rows that are all there

/** Students by dates, by slots or by codes, each cell with its code, and what they come to. */
export function Grid() {
  const { params, set } = useAddress();
  const section = useScope();
  const wanted = { ...useAsked(), section, by: (params.get("by") ?? "dates") as View["by"] };
  const page = useRead("/api/absence/grid", wanted, { placeholderData: keepPreviousData });
  if (!page.data) return <Waiting error={page.error} />;
  const g = page.data;
  const file = (format: string) => fileAt("/api/absence/grid-file", wanted, format);
  return (
    <main className="page absence-place grid-part">
      <h1 className="visually-hidden">Attendance grid</h1>
      <Filters p={g}>
        <OneOf
          label="Columns"
          value={g.by}
          onChange={(by) => set({ by: by === "dates" ? undefined : by })}
          options={[
            { value: "dates" as const, label: "by date" },
            { value: "slots" as const, label: "by slot" },
            { value: "codes" as const, label: "by code" },
          ]}
        />
        <span className="look-actions">
          <KeepList students={g.rows.map((r) => r.student)} />
          <Button size="small" href={file("pdf")} target="_blank">
            Print
          </Button>
          <Button size="small" href={file("csv")}>
            CSV
          </Button>
          <Button size="small" href={file("xlsx")}>
            Spreadsheet
          </Button>
        </span>
      </Filters>
      <SavedViews place="absence" />
      {g.apart && <p className="look-muted">{g.apart}</p>}
      {g.tooWide && <p role="status">{g.tooWide}</p>}
      <p className="look-small">
        {plural(g.rows.length, "student")}
        {throughout(g.scope)}, {g.label}: <b>{g.rate ? `${g.rate} %` : "–"}</b> of {shareOf(g.unit)} missed,{" "}
        {amount(g.absent, g.unit)} of {amount(g.possible, g.unit)}.
      </p>
      <Table g={g} busy={page.isPlaceholderData} />
      <p className="key look-small">
        {g.key.map((k) => (
          <span key={k.code} className="look-nowrap">
            <Shape state={k.state} silent /> <b>{k.code}</b> {k.word} {k.count}
          </span>
        ))}
        <span>· present</span>
        <span>? no mark</span>
      </p>
    </main>
  );
}

/** The columns under what stands over several of them. */
function overs(columns: View["columns"]) {
  const out: { over: string; span: number; key: string }[] = [];
  for (const [i, c] of columns.entries()) {
    const last = out.at(-1);
    if (last?.over === c.over) last.span++;
    else out.push({ over: c.over, span: 1, key: `${c.over} ${i}` });
  }
  return out;
}

const ends = ["Possible", "Missed", "Excused", "Unexcused", "Lates", "Share, %"];

/** The table scrolls both ways within its panel, names and headings held; only the rows in sight are there. */
function Table({ g, busy }: { g: View; busy: boolean }) {
  const panel = useRef<HTMLElement>(null);
  const rows = useVirtualizer({
    count: g.rows.length,
    enabled: g.rows.length > short,
    getScrollElement: () => panel.current,
    estimateSize: () => rowHeight,
    getItemKey: (i) => g.rows[i]?.student.id ?? i,
    overscan: 10,
  });
  const withOver = g.columns.some((c) => c.over);
  const inSight = rows.getVirtualItems();
  const all = g.rows.length <= short;
  const shown = all ? g.rows.map((_, index) => index) : inSight.map((v) => v.index);
  const before = all ? 0 : (inSight[0]?.start ?? 0);
  const after = all ? 0 : rows.getTotalSize() - (inSight.at(-1)?.end ?? 0);
  const students = useMemo(() => g.rows.map(ofStudent), [g.rows]);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys as well
    <section ref={panel} className="panel" aria-label="Attendance grid" aria-busy={busy} tabIndex={0}>
      {g.rows.length === 0 && <p className="empty">Nobody is in this group.</p>}
      <table className={`cells ${g.by}`} aria-rowcount={g.rows.length + 1}>
        <thead>
          {withOver && (
            <tr>
              <td className="who" />
              {overs(g.columns).map((o) => (
                <th key={o.key} colSpan={o.span} className="over" scope="colgroup">
                  <span>{o.over}</span>
                </th>
              ))}
              <td colSpan={ends.length} />
            </tr>
          )}
          <tr>
            <th className="who" scope="col">
              Student
            </th>
            {g.columns.map((c) => (
              <th key={c.title} scope="col" title={c.title}>
                {c.label}
              </th>
            ))}
            {ends.map((e) => (
              <th key={e} scope="col" className="end">
                {e}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <WholeList value={students}>
            {before > 0 && <Gap height={before} />}
            {shown.map((n) => {
              const r = g.rows[n] as View["rows"][number];
              return (
                <tr key={r.student.id} aria-rowindex={n + 2}>
                  <th className="who" scope="row">
                    <StudentName student={r.student} />
                  </th>
                  {r.codes.map((code, i) => (
                    <td key={g.columns[i]?.title} className={shade(g.by, r.shares[i] ?? -1)}>
                      {code}
                    </td>
                  ))}
                  <td className="end">{amount(r.possible, g.unit)}</td>
                  <td className="end look-strong">{amount(r.absent, g.unit)}</td>
                  <td className="end">{amount(r.excused, g.unit)}</td>
                  <td className="end">{amount(r.unexcused, g.unit)}</td>
                  <td className="end">{r.lates}</td>
                  <td className="end look-strong">{r.rate || "–"}</td>
                </tr>
              );
            })}
            {after > 0 && <Gap height={after} />}
          </WholeList>
        </tbody>
        <tfoot>
          <tr>
            <th className="who" scope="row">
              {g.by === "codes" ? "Marks" : "Missed"}
            </th>
            {g.columns.map((c) => (
              <td key={c.title}>{g.unit === "minute" && g.by === "dates" ? Math.round(c.total / 60) : c.total}</td>
            ))}
            <td colSpan={ends.length} className="end">
              {g.unit === "minute" && g.by === "dates" && "in hours"}
            </td>
          </tr>
        </tfoot>
      </table>
    </section>
  );
}

/** Stands for the rows that are out of sight. */
function Gap({ height }: { height: number }) {
  return (
    <tr className="gap">
      <td colSpan={999} style={{ height }} />
    </tr>
  );
}

/** The ground of a cell: the more was missed, the stronger. */
function shade(by: View["by"], share: number) {
  if (by === "codes" || share <= 0) return undefined;
  return share === 100 ? "all" : share >= 50 ? "half" : "some";
}
