import { Input } from "antd";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { Choice } from "../../../parts/controls/Choice";
import { NumberField } from "../../../parts/controls/NumberField";
import { OneOf } from "../../../parts/controls/OneOf";
import { Tick } from "../../../parts/controls/Tick";
import { Panel } from "../../../parts/Panel";
import type { Setup } from "./shape";

/** The paper itself: its size, the size of the text, lines to sign; or a sheet of labels. */
export function Sheet({
  setup,
  change,
  labels,
  belowOnPage,
}: {
  setup: Setup;
  change: (next: Partial<Setup>) => void;
  labels: Schemas["LabelRef"][];
  belowOnPage: boolean; // the note below stands on the page that is shown
}) {
  const [signs, setSigns] = useState(setup.sign.join(", "));
  const sheet = labels.find((l) => l.id === setup.labels);
  return (
    <Panel title="Paper">
      <div className="look-line look-wrap">
        <OneOf
          label="What it is"
          value={setup.kind}
          onChange={(kind) => change({ kind, labels: setup.labels || (labels[0]?.id ?? "") })}
          options={[
            { value: "table" as const, label: "a list" },
            { value: "labels" as const, label: "labels" },
          ]}
        />
        {setup.kind === "table" ? (
          <>
            <OneOf
              label="Size of the paper"
              value={setup.a5 ? "A5" : "A4"}
              onChange={(size) => change({ a5: size === "A5" })}
              options={[
                { value: "A4", label: "A4" },
                { value: "A5", label: "A5" },
              ]}
            />
            <OneOf
              label="Which way"
              value={setup.across ? "across" : "upright"}
              onChange={(way) => change({ across: way === "across" })}
              options={[
                { value: "upright", label: "upright" },
                { value: "across", label: "across" },
              ]}
            />
          </>
        ) : (
          <>
            <Choice
              label="Sheet of labels"
              value={setup.labels ?? ""}
              onChange={(id) => change({ labels: id })}
              options={labels.map((l) => ({ value: l.id, label: l.title }))}
            />
            <NumberField
              label="Labels gone from the first sheet"
              unit="gone"
              value={setup.skip ?? 0}
              max={(sheet?.count ?? 1) - 1}
              onChange={(skip) => change({ skip: skip ?? 0 })}
            />
          </>
        )}
        <NumberField
          label="Size of the text"
          unit="pt"
          min={6}
          max={14}
          value={setup.points}
          onChange={(points) => change({ points: points ?? 9 })}
        />
        {setup.kind === "table" && (
          <Tick checked={setup.shade ?? false} onChange={(shade) => change({ shade })}>
            shade every other row
          </Tick>
        )}
      </div>
      {setup.kind === "table" && (
        <div className="sheet-words">
          {!belowOnPage && (
            <label>
              Note below
              <Input.TextArea
                rows={2}
                maxLength={4000}
                value={setup.below ?? ""}
                onChange={(e) => change({ below: e.target.value })}
              />
            </label>
          )}
          <label>
            Lines to sign, with commas between
            <Input
              value={signs}
              maxLength={300}
              onChange={(e) => {
                setSigns(e.target.value);
                const sign = e.target.value.split(",").map((s) => s.trim());
                change({ sign: sign.filter(Boolean).slice(0, 9) });
              }}
            />
          </label>
          <p className="look-small look-muted">In notes, what stands between two ** is bold.</p>
        </div>
      )}
    </Panel>
  );
}
