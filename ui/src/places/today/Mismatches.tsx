import { Button } from "antd";
import type { Schemas, Write, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

type Row = Schemas["MismatchView"];

/** What resolves a contradiction, as a write. */
export function resolution(row: Row, action: string, date: string): { words: string; what: Write } | undefined {
  switch (action) {
    case "withdraw":
      return {
        words: "Withdraw notice",
        what: { path: "/api/notices/{id}/withdraw", params: { id: row.notice } },
      };
    case "correct":
      return {
        words: `Correct to ${row.suggest}`,
        what: {
          path: "/api/corrections",
          body: { date, slot: row.slot, student: row.student.id, code: row.suggest, time: row.to, reason: row.text },
        },
      };
    case "seen":
      return {
        words: `In since ${row.at}`,
        what: { path: "/api/movements", body: { students: [row.student.id], kind: "arrived", time: row.at } },
      };
    case "ask":
      return {
        words: `Ask ${row.teacher}`,
        what: {
          path: "/api/messages",
          body: {
            kind: "ask",
            class: row.class,
            slot: row.slot,
            student: row.student.id,
            text: `${row.student.name}: ${row.text}. Which is right?`,
          },
        },
      };
    case "stands":
      return {
        words: "It stands",
        what: { path: "/api/settled", body: { student: row.student.id, slot: row.slot, kind: row.kind } },
      };
  }
}

/** Contradictions, each with the actions that resolve it. */
export function Mismatches({ rows, date, may, write }: { rows: Row[]; date: string; may: boolean; write: Writing }) {
  return (
    <Panel title="Does not add up" extra={rows.length || undefined}>
      {rows.length === 0 && <p className="empty">Registers, desk and notices agree.</p>}
      {rows.map((r) => (
        <div className="line wrap" key={`${r.student.id} ${r.slot} ${r.kind}`}>
          <Shape state={r.place.state} />
          <span className="wide">
            <StudentName student={r.student} form={false} /> <span className="small">{r.text}</span>
          </span>
          {may && (
            <div className="actions">
              {r.actions.map((a) => {
                if (a === "ask" && r.asked)
                  return (
                    <span key={a} className="small muted">
                      asked {r.asked}
                    </span>
                  );
                const act = resolution(r, a, date);
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
        </div>
      ))}
    </Panel>
  );
}
