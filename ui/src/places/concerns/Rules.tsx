import "./rules.css";
import { Button } from "antd";
import { useState } from "react";
import { type Schemas, useRead, write } from "../../api/client";
import { FileField } from "../../parts/controls/FileField";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { Builder } from "./Builder";
import { OneLine } from "./OneLine";
import { empty } from "./rule";

/** The rules by which the school finds who needs attention, and the building of one. */
export function Rules() {
  const { at, params, set } = useAddress();
  const page = useRead("/api/rules", { at, section: useScope() });
  const chosen = params.get("rule") ?? "";
  const isNew = chosen === "new";
  const one = useRead("/api/rules/one", { id: chosen }, { enabled: chosen !== "" && !isNew });
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  return (
    <main className="page rules-place">
      <h1 className="visually-hidden">Rules</h1>
      <div className="columns rules">
        <div className="stack">
          <Panel title="Rules" extra={`as at ${v.asAt}`}>
            {v.rules.map((r) => (
              <OneLine key={r.id} pressed={chosen === r.id} choose={() => set({ rule: r.id })}>
                <span>
                  {r.title}
                  {!r.on && <span className="look-muted"> · off</span>}
                  {r.problem && <span className="look-small look-overdue"> {r.problem}</span>}
                </span>
                <span className="look-nowrap">
                  <b>{r.n}</b> <span className="look-small look-muted">of {r.of}</span>
                </span>
              </OneLine>
            ))}
            <div className="look-line look-wrap no-print">
              {v.mayChange && (
                <Button size="small" onClick={() => set({ rule: "new" })}>
                  New rule
                </Button>
              )}
              <Button size="small" href="/api/rules/file">
                As a file
              </Button>
            </div>
          </Panel>
          {v.mayChange && <Bring />}
        </div>
        {chosen === "" && (
          <Panel title="A rule">
            <p className="empty">
              Choose a rule to see whom it finds and how it would have done last term, or begin a new one.
            </p>
          </Panel>
        )}
        {isNew && (
          <Builder key="new" begun={empty} version={0} versions={[]} v={v} saved={() => set({ rule: undefined })} />
        )}
        {!isNew &&
          chosen !== "" &&
          (one.data ? (
            <Builder
              key={`${chosen} ${one.data.version}`}
              begun={one.data.form}
              version={one.data.version}
              versions={one.data.versions}
              v={v}
              saved={() => undefined}
            />
          ) : (
            <Waiting inside error={one.error} />
          ))}
      </div>
    </main>
  );
}

/** A file of rules is looked at and taken. */
function Bring() {
  const [text, setText] = useState("");
  const [plan, setPlan] = useState<Schemas["RulesPlan"]>();
  const run = async (text: string, apply: boolean) => {
    try {
      const next = await write({
        path: "/api/rules/files",
        body: { text, apply, seen: apply ? plan?.stamp : undefined },
      });
      setText(text);
      setPlan(next.applied ? undefined : next);
      if (next.applied) tell.done("The rules of the file are the school’s");
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  return (
    <Panel title="Rules from a file">
      <div className="look-line">
        <FileField
          accept=".yaml,.yml"
          chosen={async ([file]) => {
            if (file) await run(await file.text(), false);
          }}
        >
          A file of rules …
        </FileField>
      </div>
      {plan?.problem && <p className="empty look-overdue">{plan.problem}. Nothing was changed.</p>}
      {plan && !plan.problem && (
        <>
          <ul className="look-small bring">
            {plan.changes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <div className="look-line">
            <Button size="small" type="primary" onClick={() => run(text, true)}>
              Take these rules
            </Button>
          </div>
        </>
      )}
    </Panel>
  );
}
