import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

type Set = Schemas["StepsSet"];
type Action = Schemas["Action"];

const { TextArea } = Input;

const kinds: Record<Action["kind"], string> = {
  letter: "letter",
  call: "call",
  conversation: "conversation",
  referral: "referral",
  detention: "detention",
  placement: "placement",
  conference: "meeting with home",
  other: "something else",
};

/** Names an action for the ladders of policies: letters, digits and strokes. */
const keyFor = (name: string, taken: readonly string[]) => {
  const key =
    name
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, "-")
      .replaceAll(/^-|-$/g, "") || "action";
  let n = 1;
  while (taken.includes(n === 1 ? key : `${key}-${n}`)) n++;
  return n === 1 ? key : `${key}-${n}`;
};

/** On which policies the school acts from when, what each line asks for, and the actions there are. */
export function StepRules({
  known,
  section,
  refresh,
}: {
  known: Set;
  section: number | undefined;
  refresh: () => void;
}) {
  const [draft, setDraft] = useState<Set>();
  const set = draft ?? known;
  const letters = useRead("/api/letters").data?.letters ?? [];
  const change = (next: Partial<Set>) => setDraft({ ...set, ...next });
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      setDraft(undefined);
      refresh();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const save = () =>
    write.mutate({
      path: "/api/school/steps",
      body: {
        section: section ?? 0,
        seen: set.seen,
        rules: {
          follows: set.follows,
          actions: set.actions,
          lines: set.policies.flatMap((p) => p.lines.map((l) => ({ policy: p.id, line: l.id, action: l.action }))),
          address: set.address,
          phone: set.phone,
        },
      },
    });
  const lineTo = (policy: string, line: string, action: string) =>
    change({
      policies: set.policies.map((p) =>
        p.id === policy ? { ...p, lines: p.lines.map((l) => (l.id === line ? { ...l, action } : l)) } : p,
      ),
    });
  const actionTo = (n: number, next: Partial<Action>) =>
    change({ actions: set.actions.map((a, i) => (i === n ? { ...a, ...next } : a)) });
  const offered = set.actions.filter((a) => !a.retired);
  return (
    <Panel title="What is due" extra="holds from now on" className="step-rules">
      {set.policies.map((p) => {
        const follows = set.follows.find((f) => f.policy === p.id);
        return (
          <section key={p.id} aria-label={p.title}>
            <div className="look-line look-wrap">
              <Tick
                checked={follows !== undefined}
                onChange={(on) =>
                  change({
                    follows: on
                      ? [...set.follows, { policy: p.id, from: set.today }]
                      : set.follows.filter((f) => f.policy !== p.id),
                  })
                }
              >
                <b>{p.title}</b>
              </Tick>
              {follows && (
                <span className="look-push">
                  from{" "}
                  <DateField
                    label={`${p.title}: followed from`}
                    size="small"
                    back
                    value={follows.from}
                    onChange={(from) =>
                      change({ follows: set.follows.map((f) => (f.policy === p.id ? { ...f, from } : f)) })
                    }
                  />
                </span>
              )}
            </div>
            {follows &&
              p.lines.map((l) => (
                <div className="look-line within" key={l.id}>
                  <span>{l.title}</span>
                  <Choice
                    label={`${l.title}: what is done`}
                    size="small"
                    className="look-push"
                    value={l.action}
                    onChange={(a) => lineTo(p.id, l.id, a)}
                    options={[
                      ...offered.map((a) => ({ value: a.key, label: a.name })),
                      { value: "", label: "nothing" },
                    ]}
                  />
                </div>
              ))}
            {follows && p.ladders.length > 0 && (
              <p className="within look-small look-muted">
                Lates, {p.ladders.join(", ")}: the policy names what is done.
              </p>
            )}
          </section>
        );
      })}
      <h3>Actions</h3>
      {set.actions.map((a, n) => (
        <div className="look-line look-wrap" key={a.key}>
          <Input
            size="small"
            className="action-name"
            aria-label={`Name of the action ${a.name}`}
            value={a.name}
            maxLength={60}
            onChange={(e) => actionTo(n, { name: e.target.value })}
          />
          <Choice
            label={`${a.name}: kind`}
            size="small"
            value={a.kind}
            onChange={(kind) => actionTo(n, { kind })}
            options={(Object.keys(kinds) as Action["kind"][]).map((k) => ({ value: k, label: kinds[k] }))}
          />
          {a.kind === "letter" && (
            <Choice
              label={`${a.name}: which letter`}
              size="small"
              value={a.letter ?? 0}
              onChange={(letter) => actionTo(n, { letter })}
              options={[
                { value: 0, label: "no letter yet" },
                ...letters.filter((l) => !l.retired).map((l) => ({ value: l.id, label: l.name })),
              ]}
            />
          )}
          <span className="look-push">
            <Tick checked={!a.retired} onChange={(on) => actionTo(n, { retired: !on })} label={`${a.name} is offered`}>
              offered
            </Tick>
          </span>
        </div>
      ))}
      <div className="look-line">
        <Button
          size="small"
          onClick={() =>
            change({
              actions: [
                ...set.actions,
                {
                  key: keyFor(
                    "new action",
                    set.actions.map((a) => a.key),
                  ),
                  name: "New action",
                  kind: "other",
                },
              ],
            })
          }
        >
          Add an action
        </Button>
      </div>
      <h3>On letters</h3>
      <div className="look-line look-wrap">
        <label>
          The school’s address
          <TextArea
            value={set.address}
            maxLength={300}
            autoSize={{ minRows: 2, maxRows: 4 }}
            onChange={(e) => change({ address: e.target.value })}
          />
        </label>
        <label>
          Number to be called
          <Input value={set.phone} maxLength={40} onChange={(e) => change({ phone: e.target.value })} />
        </label>
      </div>
      <div className="look-line">
        <Button type="primary" disabled={!draft} loading={write.isPending} onClick={save}>
          Save
        </Button>
      </div>
    </Panel>
  );
}
