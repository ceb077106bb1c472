import { App, Button, InputNumber } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { useSettings } from "../../api/settings";
import { Panel } from "../../parts/Panel";

const ruleWords = [
  ["within", "minutes after its start a register is to be in"],
  ["lateGrace", "minutes after the start one is still on time"],
  ["remindAfter", "minutes overdue, its teacher is reminded; 0 for never"],
] as const;

/** What the school has decided about registers. */
export function RegisterRules() {
  const { message } = App.useApp();
  const settings = useSettings();
  const [changed, setChanged] = useState<Partial<Schemas["RegisterRules"]>>({});
  const store = useWrite({
    done: (r) => {
      message.success(r.text);
      setChanged({});
    },
    failed: (e) => message.error(e.message, 8),
  });
  if (!settings.data) return null;
  const { registerWithin: within, lateGrace, remindAfter } = settings.data;
  const rules = { within, lateGrace, remindAfter, ...changed };
  return (
    <Panel title="Registers">
      {ruleWords.map(([name, words]) => (
        <div className="line" key={name}>
          <InputNumber
            size="small"
            min={name === "within" ? 1 : 0}
            max={120}
            className="minutes"
            aria-label={words}
            value={rules[name]}
            onChange={(n) => setChanged({ ...changed, [name]: n ?? rules[name] })}
          />
          <span className="small">{words}</span>
        </div>
      ))}
      <div className="line">
        <Button
          size="small"
          disabled={Object.keys(changed).length === 0}
          loading={store.isPending}
          onClick={() => store.mutate({ path: "/api/school/register-rules", body: rules })}
        >
          Keep these rules
        </Button>
      </div>
    </Panel>
  );
}
