import "./result-rule.css";
import { Button, Input, Modal } from "antd";
import { useEffect, useState } from "react";
import { type Schemas, useRead, write } from "../api/client";
import { useFocusBack } from "./focus";
import { tell } from "./told";

type Plan = Schemas["RulePlan"];

const pause = 400; // ms without a key until what is typed is read

/** The rule by which grades become credits, in plain words; edited as its file, with what it would change. */
export function ResultRule({ mayChange, close }: { mayChange: boolean; close: () => void }) {
  useFocusBack();
  const held = useRead("/api/courses/rule");
  return (
    <Modal open title="How grades become credits" onCancel={close} footer={null} width={680}>
      {held.data ? (
        <Edit key={held.data.stamp} held={held.data} mayChange={mayChange} close={close} />
      ) : (
        <p role="status">{held.error?.message ?? "Fetching …"}</p>
      )}
    </Modal>
  );
}

function Edit({ held, mayChange, close }: { held: Plan; mayChange: boolean; close: () => void }) {
  const [editing, setEditing] = useState(false);
  const [text, setText] = useState(held.text || usual);
  const [looked, setLooked] = useState<{ plan: Plan; of: string }>();
  const [busy, setBusy] = useState(false);
  const plan = editing && looked?.of === text ? looked.plan : undefined;
  useEffect(() => {
    if (!editing) return;
    let gone = false;
    const timer = setTimeout(async () => {
      try {
        const plan = await write({ path: "/api/courses/rule", body: { text } });
        if (!gone) setLooked({ plan, of: text });
      } catch (e) {
        if (!gone) tell.wrong((e as Error).message);
      }
    }, pause);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [editing, text]);
  const take = async () => {
    setBusy(true);
    try {
      const done = await write({ path: "/api/courses/rule", body: { text, seen: held.stamp, apply: true } });
      if (done.applied) {
        tell.done(`The rule “${done.title}” holds`);
        close();
      } else setLooked({ plan: done, of: text });
    } catch (e) {
      tell.wrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const shown = plan && !plan.problem ? plan : held;
  return (
    <div className="result-rule">
      <ul aria-label="What the rule says">
        {shown.words.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
      {mayChange && !editing && <Button onClick={() => setEditing(true)}>Edit it …</Button>}
      {editing && (
        <>
          <Input.TextArea
            aria-label="The rule’s file"
            value={text}
            maxLength={20_000}
            autoSize={{ minRows: 10, maxRows: 18 }}
            spellCheck={false}
            onChange={(e) => setText(e.target.value)}
          />
          <div role="status">
            {plan?.problem && <p className="look-overdue">{plan.problem}</p>}
            {plan && !plan.problem && (
              <ul aria-label="What it would change">
                {plan.effect.map((e) => (
                  <li key={e}>{e}</li>
                ))}
              </ul>
            )}
          </div>
          <span>
            <Button
              type="primary"
              loading={busy}
              disabled={plan?.problem !== "" || text === held.text}
              onClick={() => void take()}
            >
              Use this rule
            </Button>{" "}
            <Button onClick={close}>Cancel</Button>
          </span>
        </>
      )}
    </div>
  );
}

const usual = `title: Our rule
line: 0.5
withdrawn: [W]
expected: []
`;
