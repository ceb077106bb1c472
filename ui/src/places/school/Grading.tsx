import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { OneOf } from "../../parts/controls/OneOf";
import { Tick } from "../../parts/controls/Tick";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

type Rule = Schemas["GradingRule"];

const points: [keyof Rule, string][] = [
  ["full", "Points to begin with"],
  ["offUnexcused", "off for each unexcused absence"],
  ["offExcused", "off for each excused one"],
  ["offLates", "off for each late"],
  ["least", "and at least"],
];

/** How attendance is written for grading: not at all, as a share, or as points. */
export function Grading({
  known,
  section,
  refresh,
}: {
  known: Rule;
  section: number | undefined;
  refresh: () => void;
}) {
  const [draft, setDraft] = useState<Rule>();
  const rule = draft ?? known;
  const change = (next: Partial<Rule>) => setDraft({ ...rule, ...next });
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      setDraft(undefined);
      refresh();
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <Panel title="Attendance for grading" className="grading">
      <p className="empty look-small">
        A column of the files of Absence and of a teacher’s classes. Off, nothing shows it.
      </p>
      <div className="look-line look-wrap">
        <OneOf
          label="Attendance for grading"
          value={rule.kind ?? ""}
          onChange={(kind) => change({ kind: kind as Rule["kind"] })}
          options={[
            { value: "", label: "off" },
            { value: "share", label: "share attended" },
            { value: "points", label: "points" },
          ]}
        />
      </div>
      {rule.kind === "share" && (
        <div className="look-line">
          <Tick checked={rule.excusedApart ?? false} onChange={(excusedApart) => change({ excusedApart })}>
            leave what was excused out of it
          </Tick>
        </div>
      )}
      {rule.kind === "points" &&
        points.map(([key, words]) => (
          <div className="look-line" key={key}>
            <Input
              size="small"
              aria-label={words}
              className="minutes"
              value={String(rule[key] ?? "")}
              maxLength={10}
              placeholder="0"
              onChange={(e) => change({ [key]: e.target.value || undefined })}
            />
            <span>{words}</span>
          </div>
        ))}
      <div className="look-line">
        <Button
          type="primary"
          disabled={!draft}
          loading={write.isPending}
          onClick={() =>
            write.mutate({ path: "/api/school/grading", body: { section: section ?? 0, seen: known, rule } })
          }
        >
          Save
        </Button>
      </div>
    </Panel>
  );
}
