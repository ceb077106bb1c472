import { Button } from "antd";
import { useState } from "react";
import { useRead } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { ResultRule } from "../../parts/ResultRule";

/** The rule by which grades become credits, in plain words. */
export function GradeRule() {
  const [open, setOpen] = useState(false);
  const rule = useRead("/api/courses/rule");
  return (
    <Panel title="Course results" extra={rule.data?.title}>
      {rule.error && <p className="empty">{rule.error.message}</p>}
      <ul className="grade-rule">
        {rule.data?.words.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      <div className="look-line">
        <Button size="small" onClick={() => setOpen(true)}>
          Another rule …
        </Button>
      </div>
      {open && <ResultRule mayChange close={() => setOpen(false)} />}
    </Panel>
  );
}
