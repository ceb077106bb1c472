import "./papers.css";
import { Button, Segmented } from "antd";
import { useState } from "react";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { WhoField } from "../../parts/home/WhoField";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";

/** What is kept or printed: late arrivals and early departures, cards, the record of a morning. */
export default function Papers() {
  const who = useOutletContext<Schemas["Who"]>();
  const { at, params } = useAddress();
  const asked: Asked = {
    at,
    from: params.get("from") ?? undefined,
    to: params.get("to") ?? undefined,
    group: params.get("group") ?? undefined,
    kind: params.get("kind") ?? undefined,
  };
  const lates = useRead("/api/lates", asked);
  if (!lates.data) return <Waiting error={lates.error} />;
  return (
    <main className="page">
      <h1 className="visually-hidden">Papers</h1>
      <div className="columns papers">
        <Lates l={lates.data} asked={asked} mayKeep={who.mayWrite} />
        <div className="stack">
          {who.inOffice && <Cards groups={lates.data.groups} />}
          <Panel title="Record of the morning">
            <p className="empty">
              <Link to="/protocol">Registers, calls, who closed safe arrival and when</Link>: a page to print and sign.
            </p>
          </Panel>
        </div>
      </div>
    </main>
  );
}

/** What the address asks for. */
type Asked = Record<"at" | "from" | "to" | "group" | "kind", string | undefined>;

/** A query string of what is asked for. */
function queryOf(asked: Record<string, string | undefined>): string {
  return new URLSearchParams(
    Object.entries(asked).filter((e): e is [string, string] => e[1] !== undefined && e[1] !== ""),
  ).toString();
}

const mostRows = 300;

function Lates({ l, asked, mayKeep }: { l: Schemas["LatesView"]; asked: Asked; mayKeep: boolean }) {
  const { set } = useAddress();
  const span = `${l.from}..${l.to}`;
  return (
    <div className="stack">
      <Panel title="Late arrivals and early departures" aside={`${l.words}${l.group && ` · ${l.group}`} · ${l.school}`}>
        <div className="line filters no-print">
          <select
            className="plain"
            aria-label="Dates"
            value={l.spans.some((s) => s.value === span) ? span : ""}
            onChange={(e) => {
              const [from, to] = e.target.value.split("..");
              if (from) set({ from, to });
            }}
          >
            <option value="">other dates</option>
            {l.spans.map((s) => (
              <option key={`${s.kind} ${s.value}`} value={s.value}>
                {s.label}
              </option>
            ))}
          </select>
          <input
            className="plain"
            type="date"
            aria-label="First date"
            value={l.from}
            onChange={(e) => set({ from: e.target.value })}
          />
          <input
            className="plain"
            type="date"
            aria-label="Last date"
            value={l.to}
            onChange={(e) => set({ to: e.target.value })}
          />
          <select
            className="plain"
            aria-label="Who"
            value={asked.group ?? ""}
            onChange={(e) => set({ group: e.target.value })}
          >
            <option value="">everyone</option>
            {l.groups.map((g) => (
              <option key={g.value} value={g.value}>
                {g.label}
              </option>
            ))}
          </select>
          <select
            className="plain"
            aria-label="Kind"
            value={asked.kind ?? ""}
            onChange={(e) => set({ kind: e.target.value })}
          >
            <option value="">every kind</option>
            {l.kinds.map((k) => (
              <option key={k}>{k}</option>
            ))}
          </select>
          {mayKeep && (
            <span className="actions">
              <Button size="small" href={`/api/lates/file?${queryOf({ ...asked, format: "csv" })}`}>
                CSV
              </Button>
              <Button size="small" href={`/api/lates/file?${queryOf({ ...asked, format: "xlsx" })}`}>
                Spreadsheet
              </Button>
              <Button size="small" onClick={() => window.print()}>
                Print
              </Button>
            </span>
          )}
        </div>
        {l.rows.length === 0 ? (
          <p className="empty">
            Nobody came late or left early: {l.group || "everyone"} at {l.school}, {l.words}.
          </p>
        ) : (
          <div className="counts">
            <Counts title="By reason" kinds={l.kinds} counts={l.reasons} />
            <Counts title="By weekday" kinds={l.kinds} counts={l.weekdays} />
            <table className="rows">
              <caption>Most often</caption>
              <thead className="visually-hidden">
                <tr>
                  <th>Student</th>
                  <th>Times</th>
                  <th>Missed</th>
                </tr>
              </thead>
              <tbody>
                {l.students.slice(0, 8).map((s) => (
                  <tr key={s.student.id}>
                    <td>
                      <StudentName student={s.student} />
                    </td>
                    <td className="number">{s.all}</td>
                    <td className="number quiet nowrap">{s.missed}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </Panel>
      {l.rows.length > 0 && (
        <Panel
          title={plural(l.rows.length, "entry", "entries")}
          aside={l.rows.length > mostRows ? `the newest ${mostRows} here, all of them in the files` : undefined}
        >
          <table className="rows">
            <thead>
              <tr>
                <th>Date</th>
                <th>At</th>
                <th>Student</th>
                <th>Kind</th>
                <th>Slot</th>
                <th>Reason</th>
                <th className="number">Missed</th>
              </tr>
            </thead>
            <tbody>
              {l.rows.slice(0, mostRows).map((r) => (
                <tr key={`${r.date} ${r.student.id} ${r.kind} ${r.slot} ${r.at}`}>
                  <td className="nowrap">{r.day}</td>
                  <td>{r.at || <span className="quiet">–</span>}</td>
                  <td>
                    <StudentName student={r.student} />
                  </td>
                  <td className="nowrap">
                    <Shape state={r.state} /> {r.kind}
                  </td>
                  <td className="nowrap">{r.slot}</td>
                  <td>{r.reason}</td>
                  <td className="number nowrap">{r.missed}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Panel>
      )}
    </div>
  );
}

function Counts({ title, kinds, counts }: { title: string; kinds: string[]; counts: Schemas["LateCount"][] }) {
  return (
    <table className="rows">
      <caption>{title}</caption>
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">{title}</span>
          </th>
          {kinds.map((k) => (
            <th key={k} className="number">
              {k}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {counts.map((c) => (
          <tr key={c.label}>
            <td>{c.label}</td>
            {c.of.map((n, i) => (
              <td key={kinds[i]} className={n === 0 ? "number quiet" : "number"}>
                {n}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Cards with a code: one student, a form or class, a year, or all. */
function Cards({ groups }: { groups: Schemas["Choice"][] }) {
  const [group, setGroup] = useState("");
  const [one, setOne] = useState<Schemas["StudentRef"]>();
  const [symbol, setSymbol] = useState("code39");
  const [sheets, setSheets] = useState("true");
  return (
    <Panel title="Cards">
      <div className="line" style={{ flexWrap: "wrap" }}>
        {one ? (
          <>
            <StudentName student={one} /> <span className="quiet">{one.form}</span>
            <button type="button" className="link small quiet push" onClick={() => setOne(undefined)}>
              someone else
            </button>
          </>
        ) : (
          <>
            <select className="plain" aria-label="Whose cards" value={group} onChange={(e) => setGroup(e.target.value)}>
              <option value="">everyone’s</option>
              {groups.map((g) => (
                <option key={g.value} value={g.value}>
                  {g.label}
                </option>
              ))}
            </select>
            <span className="small quiet">or of one student</span>
            <WhoField label="Student" onChoose={(hit) => setOne(hit.student)} />
          </>
        )}
      </div>
      <div className="line" style={{ flexWrap: "wrap" }}>
        <Segmented
          size="small"
          aria-label="Code"
          value={symbol}
          onChange={setSymbol}
          options={[
            { value: "code39", label: "Code 39" },
            { value: "qr", label: "QR" },
          ]}
        />
        <Segmented
          size="small"
          aria-label="How many on a page"
          value={sheets}
          onChange={setSheets}
          options={[
            { value: "true", label: "ten on a sheet" },
            { value: "false", label: "one on a page" },
          ]}
        />
      </div>
      <div className="line">
        <Button
          type="primary"
          target="_blank"
          href={`/api/cards?${queryOf({ group: one ? `student:${one.id}` : group, symbol, sheets })}`}
        >
          Make the cards (PDF)
        </Button>
      </div>
    </Panel>
  );
}
