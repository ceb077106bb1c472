import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

type Reason = Schemas["Reason"];
type Flag = "arrive" | "leave" | "home" | "excused";
const flags: [Flag, string][] = [
  ["home", "home"],
  ["arrive", "arriving"],
  ["leave", "leaving"],
  ["excused", "excused"],
];

/** The school's reasons: their words, their order, what they give, and which are offered no more. */
export function Reasons({
  s,
  section,
  refresh,
}: {
  s: Schemas["SchoolView"];
  section: number | undefined;
  refresh: () => void;
}) {
  const [changed, put] = useState<{ list: Reason[]; seen: Reason[] }>();
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      put(undefined);
      refresh();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const list = changed?.list ?? s.reasons;
  // What was there when the change was begun, whatever the page has learned since.
  const setChanged = (next: Reason[]) => put({ list: next, seen: changed?.seen ?? s.reasons });
  const change = (i: number, part: Partial<Reason>) =>
    setChanged(list.map((r, n) => (n === i ? { ...r, ...part } : r)));
  const up = (i: number) => {
    const next = [...list];
    const [moved] = next.splice(i, 1);
    if (moved) next.splice(i - 1, 0, moved);
    setChanged(next);
  };
  const fresh = { word: "", absent: "", late: "", excused: true, arrive: false, leave: false, home: true, key: "" };
  return (
    <Panel title="Reasons" extra={s.reasons.filter((r) => !r.retired).length}>
      <table className="rows reasons">
        <thead>
          <tr>
            <th>Reason</th>
            <th>Missed</th>
            <th>Late</th>
            <th>Offered for</th>
            <th>Key</th>
            <th>
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {list.map((r, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place while its word is being typed
            <tr key={i} className={r.retired ? "look-muted" : undefined}>
              <td>
                <Input
                  size="small"
                  aria-label={`Word of reason ${i + 1}`}
                  value={r.word}
                  disabled={r.retired}
                  onChange={(e) => change(i, { word: e.target.value })}
                />
              </td>
              {(["absent", "late"] as const).map((which) => (
                <td key={which}>
                  <Choice
                    size="small"
                    label={`${r.word}, ${which === "absent" ? "missed" : "late"}`}
                    value={r[which]}
                    disabled={r.retired}
                    onChange={(code) => change(i, { [which]: code })}
                    options={[
                      { value: "", label: "–" },
                      ...s.codes.codes.map((c) => ({ value: c.code, label: `${c.code} ${c.word}` })),
                    ]}
                  />
                </td>
              ))}
              <td className="look-nowrap">
                {r.retired
                  ? "no more"
                  : flags.map(([flag, words]) => (
                      <Tick key={flag} checked={r[flag]} onChange={(on) => change(i, { [flag]: on })}>
                        {words}
                      </Tick>
                    ))}
              </td>
              <td>
                <Input
                  size="small"
                  className="key"
                  maxLength={1}
                  aria-label={`Key of ${r.word}`}
                  value={r.key}
                  disabled={r.retired}
                  onChange={(e) => change(i, { key: e.target.value.toLowerCase() })}
                />
              </td>
              <td className="look-nowrap">
                <Button size="small" type="text" disabled={i === 0} aria-label={`${r.word} up`} onClick={() => up(i)}>
                  ↑
                </Button>
                <Button size="small" type="text" onClick={() => change(i, { retired: !r.retired })}>
                  {r.retired ? "offer again" : "retire"}
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="look-line">
        <Button size="small" onClick={() => setChanged([...list, fresh])}>
          Another reason
        </Button>
        <Button
          size="small"
          type="primary"
          className="look-push"
          disabled={!changed}
          loading={store.isPending}
          onClick={() =>
            store.mutate({
              path: "/api/school/reasons",
              body: { section: section ?? 0, seen: changed?.seen ?? [], reasons: list },
            })
          }
        >
          Save the reasons
        </Button>
        <Button size="small" disabled={!changed} onClick={() => put(undefined)}>
          Cancel
        </Button>
      </div>
    </Panel>
  );
}
