import { useQueryClient } from "@tanstack/react-query";
import { Button, Segmented } from "antd";
import { useState } from "react";
import { lookNow } from "../../api/again";
import { type Schemas, useWrite, write } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";

type Stock = "leaf" | "thermal";
const stockKept = "meldung-pass-stock";

function stock(): Stock {
  return localStorage.getItem(stockKept) === "thermal" ? "thermal" : "leaf";
}

/** Whether a text is what the code of a pass says. */
export const isPass = (text: string) => /^p-?\d{6,}$/i.test(text);

/** Makes the pass of a movement and opens it to print. */
export function usePass(): (movement: number) => Promise<void> {
  const queries = useQueryClient();
  return async (movement) => {
    try {
      const pass = await write({ path: "/api/movements/{id}/pass", params: { id: movement } });
      window.open(`/api/passes/${pass.number}/sheet?stock=${stock()}`, "_blank");
      tell.done(`Pass ${pass.number} for ${pass.student.name}`);
      await lookNow(queries);
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
}

/** Passes that have not come back, and what passes are printed on here. */
export function PassesOut({ passes, may }: { passes: Schemas["PassView"][]; may: boolean }) {
  const [kept, setKept] = useState<Stock>(stock);
  const back = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  return (
    <Panel title="Passes not returned" extra={passes.length || undefined}>
      {passes.length === 0 && <p className="empty">No pass is out.</p>}
      {passes.map((p) => (
        <div className="look-line" key={p.id}>
          <b>{p.number}</b>
          <StudentName student={p.student} />
          <span className="look-small look-muted">
            {p.kind === "departed" ? "left" : "in"} {p.at}
          </span>
          {may && (
            <Button
              size="small"
              className="look-push"
              onClick={() => back.mutate({ path: "/api/passes/{number}/return", params: { number: p.number } })}
            >
              Is back
            </Button>
          )}
        </div>
      ))}
      <div className="look-line look-small look-muted">
        Printed here on
        <Segmented<Stock>
          size="small"
          aria-label="Passes are printed on"
          value={kept}
          onChange={(s) => {
            localStorage.setItem(stockKept, s);
            setKept(s);
          }}
          options={[
            { value: "leaf", label: "a leaf (A6)" },
            { value: "thermal", label: "a roll (80 mm)" },
          ]}
        />
      </div>
    </Panel>
  );
}
