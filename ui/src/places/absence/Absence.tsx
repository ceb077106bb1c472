import "./absence.css";
import { Select } from "antd";
import { useState } from "react";
import { type Schemas, useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { Distribution } from "./Distribution";
import { Why } from "./Why";

/** A line of the policy as a fraction, from its per cent. */
export function lineOf(percent: string): string {
  return `${Math.round(Number(percent) * 10)}/1000`;
}

export function roomWords(room: Schemas["RoomView"], unit: string): string {
  if (!room.known) return "–";
  if (room.none) return "none";
  return `${room.units} ${room.units === 1 ? unit : `${unit}s`}`;
}

/** Absence against policy: who is how near to a line, and why. */
export default function Absence() {
  const { at, params, set } = useAddress();
  const [all, setAll] = useState(false);
  const line = params.get("line") ?? undefined;
  const form = params.get("form") ?? undefined;
  const band = params.get("band");
  const chosen = params.get("why") ?? undefined;
  const page = useRead("/api/absence", { at, form, line });
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  const rows = p.rows.filter((r) => band === null || String(r.figures.bandPlace) === band);
  const shown = all ? rows : rows.slice(0, 40);
  const why = chosen ?? (rows[0] && String(rows[0].student.id));
  return (
    <main className="page">
      <h1 className="visually-hidden">Absence</h1>
      <div className="filters">
        <span>
          Measured by <b>{p.title}</b> · <b>{p.words}</b>, {p.days} days
        </span>
        <Select
          aria-label="Form"
          value={form ?? ""}
          style={{ width: 130 }}
          onChange={(f) => set({ form: f, why: undefined })}
          options={[{ value: "", label: "Everyone" }, ...p.forms.map((f) => ({ value: f, label: f }))]}
        />
        <Select
          aria-label="Nearest to"
          value={line ?? lineOf(p.line)}
          style={{ width: 170 }}
          onChange={(l) => set({ line: l, why: undefined })}
          options={p.bands.slice(1).map((b) => ({ value: lineOf(b.from), label: `nearest to ${b.from} %` }))}
        />
        <Select
          aria-label="Band"
          value={band ?? ""}
          style={{ width: 150 }}
          onChange={(b) => set({ band: b, why: undefined })}
          options={[
            { value: "", label: "every band" },
            ...p.bands.map((b, i) => ({ value: String(i), label: `${b.name} ${b.count}` })),
          ]}
        />
        <span className="push quiet">
          {form ?? "School"}: <b style={{ color: "var(--ink)" }}>{p.school} %</b> absent
        </span>
      </div>
      <div className="columns absence">
        <div className="stack">
          <Panel
            title={`${p.students} students by share of days missed`}
            aside={<span className="small">choose a band on the scale</span>}
          >
            <Distribution
              bins={p.bins}
              bands={p.bands}
              chosen={band}
              choose={(b) => set({ band: b === band ? undefined : (b ?? undefined) })}
            />
          </Panel>
          <section className="panel" aria-label="Students, nearest to the line first">
            <table className="rows">
              <thead>
                <tr>
                  <th>Student</th>
                  <th>Form</th>
                  <th>Days missed</th>
                  <th colSpan={2}>Share, %</th>
                  <th>12 weeks</th>
                  <th>Room left</th>
                  <th>Under {p.line} %</th>
                  <th>Mostly</th>
                </tr>
              </thead>
              <tbody>
                {shown.map((r) => (
                  <Row
                    key={r.student.id}
                    r={r}
                    bands={p.bands}
                    chosen={why === String(r.student.id)}
                    choose={() => set({ why: String(r.student.id) })}
                  />
                ))}
              </tbody>
            </table>
            {rows.length === 0 && <p className="empty">Nobody here is in this band.</p>}
            {rows.length > shown.length && (
              <div className="line">
                <button type="button" className="link quiet" onClick={() => setAll(true)}>
                  {rows.length - shown.length} more students
                </button>
              </div>
            )}
          </section>
        </div>
        {why && <Why student={why} bands={p.bands} />}
      </div>
    </main>
  );
}

function Row({
  r,
  bands,
  chosen,
  choose,
}: {
  r: Schemas["AbsenceRow"];
  bands: Schemas["BandView"][];
  chosen: boolean;
  choose: () => void;
}) {
  const f = r.figures;
  const scale = 30;
  return (
    <tr className={chosen ? "chosen" : ""} onClick={choose} aria-selected={chosen}>
      <td>
        <StudentName student={r.student} form={false} />
      </td>
      <td className="nowrap">{r.student.form}</td>
      <td className="nowrap">
        <b>{f.absent}</b> <span className="quiet">of {f.possible}</span>
      </td>
      <td style={{ paddingRight: 0 }}>
        <div className="share" aria-hidden="true">
          <i
            style={{
              width: `${Math.min((Number(f.rate) / scale) * 100, 100)}%`,
              background: `var(--band-${Math.max(f.bandPlace, 0)})`,
            }}
          />
          {bands.slice(1).map((b) => (
            <u key={b.name} style={{ left: `${(Number(b.from) / scale) * 100}%` }} />
          ))}
        </div>
      </td>
      <td className="number strong">{f.rate || "–"}</td>
      <td>
        <span className="weeks" role="img" aria-label={`days missed by week: ${r.weeks.join(", ")}`}>
          {r.weeks.map((n, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: weeks have no other name
            <i key={i} className={n > 2 ? "many" : ""} style={{ height: Math.max(n * 3, n > 0 ? 3 : 0) }} />
          ))}
        </span>
      </td>
      <td className="nowrap">{roomWords(f.headroom, "day")}</td>
      <td className="nowrap">
        {f.wayBack.units === 0 ? "–" : f.wayBack.units > f.toCome ? "not this year" : `${f.wayBack.units} in a row`}
      </td>
      <td className="small quiet mostly" title={r.mostly}>
        {r.mostly}
      </td>
    </tr>
  );
}
