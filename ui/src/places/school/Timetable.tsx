import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { BellsForm } from "./YearForms";

type Line = Schemas["SlotLine"];
const firsts = (lines: Line[], key: (l: Line) => unknown) =>
  lines.filter((l, i) => lines.findIndex((x) => key(x) === key(l)) === i);
const patternsOf = (lines: Line[]) => firsts(lines, (l) => `${l.sectionId} ${l.pattern}`);
const sectionsOf = (lines: Line[]) => firsts(lines, (l) => l.sectionId);

/** When slots are, and when a class meets. */
export function Timetable() {
  const { params, set } = useAddress();
  const page = useRead("/api/school/timetable", { section: useScope(), class: params.get("class") ?? undefined });
  const [bells, setBells] = useState<{ section: number; pattern: string }>();
  if (!page.data) return <Waiting inside error={page.error} />;
  const t = page.data;
  const several = t.slots.some((s) => s.section !== "");
  return (
    <div className="columns halves">
      <Panel title="Slots of the day patterns" extra={<Link to="/school/import">change by files</Link>}>
        {t.slots.length === 0 && <p className="empty">There are no slots yet.</p>}
        {t.slots.length > 0 && (
          <table className="rows">
            <thead>
              <tr>
                {several && <th>Section</th>}
                <th>Pattern</th>
                <th>Slot</th>
                <th>Times</th>
                <th>Holds</th>
              </tr>
            </thead>
            <tbody>
              {t.slots.map((s) => (
                <tr key={`${s.section} ${s.pattern} ${s.label} ${s.since}`}>
                  {several && <td>{s.section}</td>}
                  <td>{s.pattern}</td>
                  <td>{s.label}</td>
                  <td className="look-nowrap">
                    {s.from} to {s.to}
                  </td>
                  <td className="look-muted">{s.since || "the whole year"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <div className="look-line look-wrap">
          {patternsOf(t.slots).map((p) => (
            <Button
              key={`${p.sectionId} ${p.pattern}`}
              size="small"
              onClick={() => setBells({ ...p, section: p.sectionId })}
            >
              {["Times of ", p.pattern, p.section && `, ${p.section}`, " from a date on …"]}
            </Button>
          ))}
          {sectionsOf(t.slots).map((s) => (
            <Button key={s.sectionId} size="small" onClick={() => setBells({ section: s.sectionId, pattern: "" })}>
              {["A new pattern", s.section && `, ${s.section}`, " …"]}
            </Button>
          ))}
        </div>
      </Panel>
      {bells && (
        <BellsForm
          section={bells.section}
          pattern={bells.pattern}
          slots={t.slots.filter((s) => s.sectionId === bells.section && s.pattern === bells.pattern)}
          close={(changed) => {
            setBells(undefined);
            if (changed) void page.refetch();
          }}
        />
      )}
      <Panel
        title="When a class meets"
        extra={
          <Choice
            label="Class"
            size="small"
            placeholder="which class?"
            value={t.class || undefined}
            onChange={(v) => set({ class: v })}
            options={t.classes.map((c) => ({ value: c.value, label: c.label }))}
          />
        }
      >
        {!t.class && <p className="empty">Choose a class to see its week.</p>}
        {t.class && t.meetings.length === 0 && <p className="empty">It has no lessons in the timetable.</p>}
        {t.meetings.length > 0 && (
          <table className="rows">
            <thead>
              <tr>
                <th>Day</th>
                <th>Slot</th>
                <th>Room</th>
                <th>Holds</th>
              </tr>
            </thead>
            <tbody>
              {t.meetings.map((m) => (
                <tr key={`${m.when} ${m.slot} ${m.since}`}>
                  <td>{m.when}</td>
                  <td>{m.slot}</td>
                  <td>{m.room}</td>
                  <td className="look-muted">{m.since || "the whole year"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Panel>
    </div>
  );
}
