import { Button, Input, Select } from "antd";
import type { Schemas } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import {
  type Condition,
  comparisons,
  conditionOf,
  counts,
  type Indicator,
  rolls,
  run,
  sides,
  weekdays,
  windows,
} from "./rule";

type Props = {
  name: string; // by which its controls are told apart
  c: Condition;
  indicators: Indicator[];
  choices: Schemas["RuleChoices"];
  change: (c: Condition) => void;
  remove: () => void;
};

const plain = (list: string[], none?: string) => [
  ...(none === undefined ? [] : [{ value: "", label: none }]),
  ...list.map((x) => ({ value: x, label: x })),
];

/** One condition of a rule: what is looked at, over what, and how much of it. */
export function PieceEditor({ name, c, indicators, choices, change, remove }: Props) {
  const i = indicators.find((x) => x.id === c.indicator);
  const set = (next: Partial<Condition>) => change({ ...c, ...next });
  const has = (param: string) => i?.params.includes(param) ?? false;
  const label = (of: string) => `${of}, ${name}`;
  const list = (
    param: "kinds" | "roles" | "places" | "of",
    options: { value: string; label: string }[],
    any: string,
  ) => (
    <Select
      mode="multiple"
      size="small"
      className="several"
      aria-label={label(any)}
      placeholder={any}
      value={c[param]}
      popupMatchSelectWidth={false}
      onChange={(x: string[]) => set({ [param]: x })}
      options={options}
    />
  );
  const one = (
    param: "policy" | "count" | "slot" | "per" | "period" | "class" | "item" | "with" | "source" | "field",
    options: { value: string; label: string }[],
    of: string,
  ) => (
    <Choice label={label(of)} size="small" value={c[param]} onChange={(x) => set({ [param]: x })} options={options} />
  );
  if (!i)
    return (
      <span className="piece">
        {c.indicator}{" "}
        <Button size="small" aria-label={`Take off ${name}`} onClick={remove}>
          Take off
        </Button>
      </span>
    );
  const never = c.op === "is" && c.value === "never";
  return (
    <span className="piece">
      <Choice
        label={label("What is looked at")}
        size="small"
        value={c.indicator}
        search
        onChange={(id) => {
          const next = indicators.find((x) => x.id === id);
          if (next) change(conditionOf(next, choices.policies[0]?.value ?? ""));
        }}
        options={indicators.map((x) => ({ value: x.id, label: x.title }))}
      />
      {has("of") && c.count !== "on_site" && list("of", sides, "of which kind")}
      {has("count") && one("count", counts, "counted in")}
      {has("per") &&
        one(
          "per",
          [
            { value: "class", label: "in one class" },
            { value: "school", label: "in all" },
          ],
          "counted by",
        )}
      {has("kinds") && list("kinds", plain(choices.kinds), "any kind")}
      {has("roles") && list("roles", plain(choices.roles), "any part in it")}
      {has("places") && list("places", plain(choices.places), "anywhere")}
      {has("item") && one("item", plain(choices.items), "which piece of work")}
      {has("source") && one("source", plain(choices.sources, "anywhere"), "where")}
      {has("field") && one("field", plain(choices.fields), "which field")}
      {has("class") && one("class", plain(choices.classes, "in any class"), "in which class")}
      {has("with") &&
        one(
          "with",
          [
            { value: "", label: "with anybody" },
            { value: "home", label: "with the home" },
            { value: "student", label: "with the student" },
          ],
          "with whom",
        )}
      {has("period") && one("period", plain(choices.periods, "in the latest period"), "of which period")}
      <Choice
        label={label("How it compares")}
        size="small"
        value={never ? "is" : c.op}
        onChange={(op) =>
          set(op === "is" && i.unit !== "word" ? { op, value: "never" } : { op, value: never ? "1" : c.value })
        }
        options={comparisons(i)}
      />
      {!never && (
        <Input
          size="small"
          className="value"
          aria-label={label(i.unit === "share" ? "How much, a share in per cent" : "How much")}
          value={c.value}
          onChange={(e) => set({ value: e.target.value })}
        />
      )}
      {has("window") && (
        <Choice
          label={label("Over what")}
          size="small"
          value={c.window}
          onChange={(window) => set({ window, n: rolls(window) ? c.n || "10" : "" })}
          options={c.indicator === "absence" && c.count !== "on_site" ? [...windows, run] : windows}
        />
      )}
      {has("window") && rolls(c.window) && (
        <Input
          size="small"
          className="value"
          aria-label={label("Over how many")}
          value={c.n}
          onChange={(e) => set({ n: e.target.value })}
        />
      )}
      {has("weekday") && c.window !== "run" && (
        <Choice
          label={label("On which weekday")}
          size="small"
          value={c.weekday}
          onChange={(weekday) => set({ weekday })}
          options={weekdays.map((w, n) => ({ value: n, label: w }))}
        />
      )}
      {has("slot") && c.count !== "on_site" && one("slot", plain(choices.slots, "in any slot"), "in which slot")}
      {has("days") && (
        <label className="look-small">
          within{" "}
          <Input
            size="small"
            className="value"
            aria-label={label("Within how many days")}
            value={c.days}
            onChange={(e) => set({ days: e.target.value })}
          />{" "}
          days
        </label>
      )}
      {has("policy") && choices.policies.length > 1 && one("policy", choices.policies, "by which policy")}
      {i.unit === "days ago" && (c.op === "at_least" || c.op === "above") && (
        <Tick checked={!c.neverOut} onChange={(yes) => set({ neverOut: !yes })}>
          never counts too
        </Tick>
      )}
      <Button size="small" aria-label={`Take off ${name}`} onClick={remove}>
        Take off
      </Button>
    </span>
  );
}
