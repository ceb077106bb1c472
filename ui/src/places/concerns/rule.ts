import type { Schemas } from "../../api/client";

export type Form = Schemas["RuleForm"];
export type Condition = Schemas["RuleCondition"];
export type Piece = Schemas["RulePiece"];
export type Indicator = Schemas["IndicatorView"];

export const windows = [
  { value: "year", label: "this year" },
  { value: "term", label: "this term" },
  { value: "grading_period", label: "this grading period" },
  { value: "month", label: "this month" },
  { value: "four_weeks", label: "these four school weeks" },
  { value: "rolling_weeks", label: "the last school weeks:" },
  { value: "rolling_days", label: "the last school days:" },
];
export const run = { value: "run", label: "in a row" };

export const rolls = (window: string) => window === "rolling_weeks" || window === "rolling_days";

export const weekdays = [
  "any day",
  "Mondays",
  "Tuesdays",
  "Wednesdays",
  "Thursdays",
  "Fridays",
  "Saturdays",
  "Sundays",
];

export const sides = [
  { value: "unexcused", label: "unexcused" },
  { value: "excused", label: "excused" },
  { value: "medical", label: "medical" },
  { value: "excused_nonmedical", label: "excused, not medical" },
];

export const counts = [
  { value: "days", label: "days" },
  { value: "sessions", label: "sessions" },
  { value: "minutes", label: "minutes" },
  { value: "on_site", label: "lessons missed while on site" },
];

/** Which comparisons an indicator allows. */
export function comparisons(i: Indicator) {
  if (i.unit === "word")
    return [
      { value: "is", label: "is" },
      { value: "is_not", label: "is not" },
    ];
  const numbers = [
    { value: "at_least", label: "at least" },
    { value: "above", label: "more than" },
    { value: "at_most", label: "at most" },
    { value: "below", label: "less than" },
    { value: "equal", label: "exactly" },
  ];
  return i.unit === "days ago" || i.id === "item_score" ? [...numbers, { value: "is", label: "never" }] : numbers;
}

const usualValue: Record<string, string> = {
  absence_rate: "10 %",
  absence: "3",
  lates: "5",
  last_seen: "3",
  incidents: "2",
  mean_points: "2",
  points_change: "-0.5",
  item_score: "50 %",
  last_contact: "14",
};

/** A condition as it begins, with what is usual of its indicator. */
export function conditionOf(i: Indicator, policy: string): Condition {
  return {
    indicator: i.id,
    policy: i.params.includes("policy") ? policy : "",
    count: i.params.includes("count") ? "days" : "",
    of: i.id === "absence" ? ["unexcused"] : [],
    window: i.params.includes("window")
      ? i.id === "absence"
        ? "rolling_days"
        : i.id === "lates"
          ? "grading_period"
          : "year"
      : "",
    n: i.id === "absence" ? "10" : "",
    weekday: 0,
    slot: "",
    per: i.params.includes("per") ? "class" : "",
    kinds: [],
    roles: i.id === "incidents" ? ["did it"] : [],
    places: [],
    days: i.id === "incidents" ? "30" : "",
    period: "",
    class: "",
    item: "",
    source: "",
    with: "",
    field: "",
    op: i.unit === "word" ? "is" : i.id === "points_change" ? "at_most" : i.less ? "below" : "at_least",
    value: usualValue[i.id] ?? "1",
    neverOut: false,
  };
}

export const empty: Form = {
  id: "",
  title: "",
  source: "",
  on: true,
  years: [],
  forms: [],
  classes: [],
  lists: [],
  onPlan: false,
  tell: [],
  send: false,
  any: false,
  pieces: [],
};
