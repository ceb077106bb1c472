import { Button, InputNumber } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

const ruleWords = [
  ["within", "minutes after its start a register is to be in"],
  ["lateGrace", "minutes after the start one is still on time"],
  ["remindAfter", "minutes overdue, its teacher is reminded; 0 for never"],
  ["callAfter", "minutes after the first slot's start homes are rung; 0 is when its registers are due"],
  ["aloneFrom", "years old, a student may leave alone; 0 for any age"],
] as const;

type Rules = Schemas["RegisterRules"];

/** What a section, or the whole school, has decided about registers. */
export function RegisterRules({
  rules: known,
  section,
  refresh,
}: {
  rules: Rules;
  section: number | undefined;
  refresh: () => void;
}) {
  const [changed, setChanged] = useState<Partial<Rules>>({});
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      setChanged({});
      refresh();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const rules = { ...known, ...changed };
  return (
    <Panel title="Registers and doors">
      {ruleWords.map(([name, words]) => (
        <div className="look-line" key={name}>
          <InputNumber
            size="small"
            min={name === "within" ? 1 : 0}
            max={name === "callAfter" ? 240 : name === "aloneFrom" ? 25 : 120}
            className="minutes"
            aria-label={words}
            value={rules[name]}
            onChange={(n) => setChanged({ ...changed, [name]: n ?? rules[name] })}
          />
          <span className="look-small">{words}</span>
        </div>
      ))}
      <div className="look-line">
        <Button
          size="small"
          disabled={Object.keys(changed).length === 0}
          loading={store.isPending}
          onClick={() =>
            store.mutate({ path: "/api/school/register-rules", body: { ...rules, section: section ?? 0 } })
          }
        >
          Keep these rules
        </Button>
      </div>
    </Panel>
  );
}
