import "./beside.css";
import { keepPreviousData } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { type Schemas, useRead } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { grouped } from "../../parts/grouped";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { SavedViews } from "../../parts/SavedViews";
import { useScope } from "../../parts/scope";
import { fileAt, useAsked } from "./asked";
import { Distribution } from "./Distribution";
import { Filters } from "./Filters";

const before = "before";

/** Two groups or two spans side by side: what is asked for, and beside it another, or the year before. */
export function Beside() {
  const { params, set } = useAddress();
  const section = useScope();
  const lists = useListGroups();
  const asked = useAsked();
  const group2 = params.get("group2") ?? asked.group ?? "";
  const from2 = params.get("from2") ?? undefined;
  const to2 = params.get("to2") ?? undefined;
  const wanted = { ...asked, section, group2, from2, to2, before: params.get("before") ? true : undefined };
  const first = useRead("/api/absence", { ...asked, section }, { placeholderData: keepPreviousData });
  const page = useRead("/api/absence/beside", wanted, { placeholderData: keepPreviousData });
  if (!first.data) return <Waiting error={first.error} />;
  const p = first.data;
  const file = (format: string) => fileAt("/api/absence/beside-file", wanted, format);
  const span = wanted.before ? before : from2 || to2 ? `${from2 ?? ""}..${to2 ?? ""}` : "";
  const year = p.spans.find((s) => s.kind === "year");
  const spans = p.spans.filter((s) => s.kind !== "year");
  const own = span !== "" && span !== before && !spans.some((s) => s.value === span);
  const chooseSpan = (v: string) => {
    if (v === before) return set({ before: "1", from2: undefined, to2: undefined });
    if (v === "own") return set({ before: undefined, from2: p.from, to2: p.asAt });
    const [from, to] = v.split("..");
    set({ before: undefined, from2: from || undefined, to2: to || undefined });
  };
  return (
    <main className="page absence-place beside-part">
      <h1 className="visually-hidden">Side by side</h1>
      <Filters p={{ ...p, lines: undefined, bands: undefined }}>
        <span className="look-actions no-print">
          <Button size="small" onClick={() => window.print()}>
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
      <div className="filters">
        <span>beside</span>
        <Select
          aria-label="Second span"
          value={own ? "own" : span}
          popupMatchSelectWidth={false}
          onChange={chooseSpan}
          options={[
            { value: "", label: year?.label ?? "the year so far" },
            { value: before, label: "the year before, same school days" },
            ...grouped(spans),
            { value: "own", label: "own dates" },
          ]}
        />
        {own && (
          <span className="dates">
            <DateField label="Second from" back value={from2 ?? p.from} onChange={(d) => set({ from2: d })} />–
            <DateField label="Second to" back value={to2 ?? p.asAt} onChange={(d) => set({ to2: d })} />
          </span>
        )}
        <Select
          aria-label="Of whom, second"
          showSearch={{ optionFilterProp: "label" }}
          value={group2}
          popupMatchSelectWidth={false}
          onChange={(v) => set({ group2: v })}
          options={[{ value: "", label: "Everyone" }, ...grouped([...p.groups, ...lists])]}
        />
      </div>
      <SavedViews place="absence" />
      {page.error && <p role="alert">{page.error.message}</p>}
      {page.data && !page.error && <Both v={page.data} busy={page.isPlaceholderData} />}
    </main>
  );
}

function Both({ v, busy }: { v: Schemas["BesideView"]; busy: boolean }) {
  return (
    <div className="stack" aria-busy={busy}>
      <div className="columns pair">
        {[v.first, v.second].map((side, i) => (
          <Panel
            // biome-ignore lint/suspicious/noArrayIndexKey: there are two, in their places
            key={i}
            title={side.group}
            extra={side.label}
          >
            {side.bands.length > 0 && <Distribution bins={side.bins} bands={side.bands} chosen={null} width={600} />}
          </Panel>
        ))}
      </div>
      <Panel title="Side by side" extra={v.title}>
        <table className="rows">
          <thead>
            <tr>
              <th>Figure</th>
              <th className="number">
                {v.first.group}
                <br />
                <span className="look-small look-muted">{v.first.label}</span>
              </th>
              <th className="number">
                {v.second.group}
                <br />
                <span className="look-small look-muted">{v.second.label}</span>
              </th>
              <th className="number">Difference</th>
            </tr>
          </thead>
          <tbody>
            {v.rows.map((r) => (
              <tr key={r.what}>
                <td>{r.what}</td>
                <td className="number">{r.first || "–"}</td>
                <td className="number">{r.second || "–"}</td>
                <td className="number look-muted">{r.difference}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Panel>
    </div>
  );
}
