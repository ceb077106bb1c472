import { Button, Segmented } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { WhoField } from "../../parts/home/WhoField";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { queryOf } from "./asked";

/** Cards with a code: one student, a form or class, a year, or all. */
export function Cards({ groups }: { groups: Schemas["Choice"][] }) {
  const [group, setGroup] = useState("");
  const [one, setOne] = useState<Schemas["StudentRef"]>();
  const [symbol, setSymbol] = useState("code39");
  const section = useScope();
  const [sheets, setSheets] = useState("true");
  return (
    <Panel title="Cards">
      <div className="look-line look-wrap">
        {one ? (
          <>
            <StudentName student={one} /> <span className="look-muted">{one.form}</span>
            <button type="button" className="link look-small look-muted look-push" onClick={() => setOne(undefined)}>
              someone else
            </button>
          </>
        ) : (
          <>
            <Choice
              label="Whose cards"
              value={group}
              onChange={setGroup}
              options={[{ value: "", label: "everyone’s" }, ...groups.map((g) => ({ value: g.value, label: g.label }))]}
            />
            <span className="look-small look-muted">or of one student</span>
            <WhoField label="Student" onChoose={(hit) => setOne(hit.student)} />
          </>
        )}
      </div>
      <div className="look-line look-wrap">
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
      <div className="look-line">
        <Button
          type="primary"
          target="_blank"
          href={`/api/cards?${queryOf({ section: one ? undefined : section, group: one ? `student:${one.id}` : group, symbol, sheets })}`}
        >
          Make the cards (PDF)
        </Button>
      </div>
    </Panel>
  );
}
