import { Button } from "antd";
import type { Schemas, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

type Row = Schemas["MismatchView"];

/** What resolves a contradiction, as a write. */
export function resolution(
  row: Row,
  action: string,
  date: string,
): { words: string; path: string; body: unknown } | undefined {
  switch (action) {
    case "withdraw":
      return { words: "Withdraw notice", path: `/api/notices/${row.notice}/withdraw`, body: {} };
    case "correct":
      return {
        words: `Correct to ${row.suggest}`,
        path: "/api/corrections",
        body: { date, slot: row.slot, student: row.student.id, code: row.suggest, time: row.to, reason: row.words },
      };
    case "seen":
      return {
        words: `In since ${row.at}`,
        path: "/api/movements",
        body: { students: [row.student.id], kind: "arrived", time: row.at },
      };
    case "ask":
      return {
        words: `Ask ${row.teacher}`,
        path: "/api/messages",
        body: {
          kind: "ask",
          class: row.class,
          slot: row.slot,
          student: row.student.id,
          words: `${row.student.name}: ${row.words}. Which is right?`,
        },
      };
    case "stands":
      return {
        words: "It stands",
        path: "/api/settled",
        body: { student: row.student.id, slot: row.slot, kind: row.kind },
      };
  }
}

/** Contradictions, each with the actions that resolve it. */
export function Mismatches({ rows, date, may, write }: { rows: Row[]; date: string; may: boolean; write: Writing }) {
  return (
    <Panel title="Does not add up" aside={rows.length || undefined}>
      {rows.length === 0 && (
        <p className="empty" style={{ margin: 0 }}>
          Registers, desk and notices agree.
        </p>
      )}
      {rows.map((r) => (
        <div className="line" key={`${r.student.id} ${r.slot} ${r.kind}`} style={{ flexWrap: "wrap" }}>
          <Shape state={r.place.state} />
          <span style={{ flex: 1 }}>
            <StudentName student={r.student} form={false} /> <span className="small">{r.words}</span>
          </span>
          {may && (
            <div className="actions">
              {r.actions.map((a) => {
                if (a === "ask" && r.asked)
                  return (
                    <span key={a} className="small quiet">
                      asked {r.asked}
                    </span>
                  );
                const act = resolution(r, a, date);
                return (
                  act && (
                    <Button key={a} size="small" onClick={() => write.mutate({ path: act.path, body: act.body })}>
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
