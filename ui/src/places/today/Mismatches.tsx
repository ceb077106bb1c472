import { Button } from "antd";
import { useState } from "react";
import type { Schemas, Write, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { Settle } from "./Settle";

type Row = Schemas["DiffersView"];
type Says = Schemas["MismatchView"];

/** What resolves a contradiction, as a write. */
export function resolution(
  row: Row,
  m: Says,
  action: string,
  date: string,
): { words: string; what: Write } | undefined {
  switch (action) {
    case "withdraw":
      return {
        words: "Withdraw notice",
        what: { path: "/api/notices/{id}/withdraw", params: { id: m.notice } },
      };
    case "correct":
      return {
        words: `Correct to ${m.suggest}, ${m.word}`,
        what: {
          path: "/api/corrections",
          body: { date, slot: m.slot, student: row.student.id, code: m.suggest, time: m.to, reason: m.text },
        },
      };
    case "seen":
      return {
        words: `In since ${m.at}`,
        what: { path: "/api/movements", body: { students: [row.student.id], kind: "arrived", time: m.at } },
      };
    case "ask":
      return {
        words: `Ask ${m.teacher}`,
        what: {
          path: "/api/messages",
          body: {
            kind: "ask",
            class: m.class,
            slot: m.slot,
            student: row.student.id,
            text: `${row.student.name}: ${m.text}. Which is right?`,
          },
        },
      };
    case "stands":
      return {
        words: "The mark is right",
        what: { path: "/api/settled", body: { student: row.student.id, slot: m.slot, kind: m.kind, date } },
      };
  }
}

/** Contradictions, a row for each student, each with the actions that resolve it. */
export function Mismatches({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const rows = t.mismatches;
  return (
    <Panel
      title="Does not add up"
      extra={rows.length ? `${rows.length} ${rows.length === 1 ? "student" : "students"}` : undefined}
    >
      {rows.length === 0 && <p className="empty">Registers, desk and notices agree.</p>}
      {rows.map((r) => (
        <div className="look-line look-wrap" key={r.student.id}>
          <Shape state={r.place.state} />
          <StudentName student={r.student} />
          {r.says.map((m) => (
            <One key={`${m.slot} ${m.kind}`} row={r} m={m} t={t} may={may} write={write} />
          ))}
        </div>
      ))}
    </Panel>
  );
}

function One({ row, m, t, may, write }: { row: Row; m: Says; t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [settling, setSettling] = useState(false);
  const actions = m.actions.filter((a) => !(t.past && (a === "seen" || a === "ask")));
  return (
    <div className="says">
      <span className="look-small">{m.text}</span>
      {may && (
        <div className="look-actions">
          {actions.map((a) => {
            if (a === "ask" && m.asked)
              return (
                <span key={a} className="look-small look-muted">
                  asked {m.asked}
                </span>
              );
            if (a === "settle")
              return (
                <Button key={a} size="small" onClick={() => setSettling(true)}>
                  Settle
                </Button>
              );
            const act = resolution(row, m, a, t.date);
            return (
              act && (
                <Button key={a} size="small" onClick={() => write.mutate(act.what)}>
                  {act.words}
                </Button>
              )
            );
          })}
        </div>
      )}
      {settling && (
        <Settle
          students={[row.student.id]}
          date={t.past ? t.date : undefined}
          write={write}
          done={() => setSettling(false)}
        />
      )}
    </div>
  );
}
