import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, student, testServer } from "../../test-page";
import { Rules } from "./Rules";
import { conditionOf } from "./rule";

const indicators: Schemas["IndicatorView"][] = [
  {
    id: "absence",
    title: "absence",
    unit: "count",
    less: false,
    whole: true,
    params: ["policy", "count", "of", "window", "weekday", "slot"],
  },
  { id: "failing", title: "failing courses", unit: "count", less: false, whole: true, params: ["period"] },
  { id: "last_contact", title: "days since a contact", unit: "days ago", less: false, whole: true, params: ["with"] },
];
const absence = conditionOf(indicators[0] as Schemas["IndicatorView"], "ten-percent");

const view: Schemas["RulesView"] = {
  asAt: "Mon 9 March",
  mayChange: true,
  indicators,
  choices: {
    policies: [{ value: "ten-percent", label: "Ten per cent of days", kind: "" }],
    years: ["9", "10"],
    forms: [],
    classes: [],
    lists: [],
    slots: ["AM", "1"],
    kinds: [],
    places: [],
    roles: [],
    periods: ["Quarter 3"],
    items: [],
    sources: [],
    fields: [],
    against: [{ value: "rule:chronic", label: "Chronic absence", kind: "rules" }],
    terms: [{ value: "2026-01-06 2026-02-13", label: "Spring 1", kind: "" }],
  },
  rules: [
    {
      id: "unexcused-days",
      title: "Three unexcused days in ten",
      source: "common practice",
      on: true,
      sentence: "absent unexcused on 3 or more of the last 10 school days",
      problem: "",
      by: "",
      n: 4,
      of: 612,
      unknown: 0,
    },
    {
      id: "gone",
      title: "By a policy that is gone",
      source: "",
      on: false,
      sentence: "",
      problem: 'there is no policy "own"',
      by: "D. Ase",
      n: 0,
      of: 0,
      unknown: 0,
    },
  ],
};

const held: Schemas["RuleView"] = {
  form: {
    id: "unexcused-days",
    title: "Three unexcused days in ten",
    source: "common practice",
    on: true,
    years: [],
    forms: [],
    classes: [],
    lists: [],
    onPlan: false,
    tell: [],
    send: false,
    any: false,
    pieces: [{ condition: absence, any: false, within: [] }],
  },
  version: 7,
  sentence: "absent unexcused on 3 or more of the last 10 school days",
  versions: [
    { by: "D. Ase", at: "Mon 9 March 10:12", sentence: "absent unexcused on 3 or more …", until: "" },
    { by: "", at: "Wed 3 September 07:00", sentence: "absent unexcused on 2 or more …", until: "Mon 9 March" },
  ],
};
const [, before] = held.versions;
if (before) before.form = { ...held.form, title: "As it was", pieces: [] };

const found: Schemas["RuleFound"] = {
  sentence: "absent unexcused on 3 or more of the last 10 school days",
  problem: "",
  asAt: "Mon 9 March",
  of: 612,
  students: [
    { student: student(231, "Ansa Merrow"), since: "Wed 4 March", why: "absent unexcused on 3 of the last 10" },
  ],
  unknown: [{ student: student(9, "Maren Holt"), since: "", why: "" }],
};

const sums = (n: number): Schemas["TrialSums"] => ({
  of: 612,
  matched: n,
  outcome: 2,
  found: [{ student: student(231, "Ansa Merrow"), words: "found Thu 8 January, 26 school days ahead" }],
  missed: [],
  alarms: [],
  back: [],
  leads: "half of them 26 school days ahead or more",
});

function show(at = "/concerns/rules") {
  const server = testServer({
    "/api/rules": (post?: unknown) => (post ? { seq: 4, text: "“Monday drift” saved", ids: [] } : view),
    "/api/rules/one": held,
    "/api/rules/look": found,
    "/api/rules/try": {
      problem: "",
      label: "Tue 6 January to Fri 13 February",
      against: "Chronic absence",
      days: [
        { date: "2026-01-06", label: "Tue 6 January", n: 1, before: 3 },
        { date: "2026-01-07", label: "Wed 7 January", n: 2, before: 4 },
      ],
      rule: sums(2),
      before: sums(5),
    },
    "/api/rules/files": (post?: { body: Schemas["RulesText"] }) => ({
      problem: post?.body.text.includes("wrong") ? "rules: line 2: id is missing" : "",
      changes: ["Own (new): failing 1 course or more"],
      stamp: "s1",
      applied: post?.body.apply ?? false,
    }),
    "/api/lists": [],
  });
  return { ...renderPage(<Rules />, at), server };
}

/** The rule that was looked at last. */
function lookedAt(server: ReturnType<typeof testServer>) {
  const last = server.sent.filter((s) => s.path === "/api/rules/look").at(-1);
  if (!last) throw new Error("nothing was looked at yet");
  return (last.body as Schemas["Looking"]).rule;
}

describe("the rules of attention", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says whom each rule finds, and what can’t be judged any more", async () => {
    const { user, router } = show();
    expect(await screen.findByRole("button", { name: /By a policy that is gone.*there is no policy/ })).toBeVisible();
    await user.click(screen.getByRole("button", { name: /Three unexcused days in ten.*4 of 612/ }));
    expect(router.state.location.search).toBe("?rule=unexcused-days");
    expect(await screen.findByText(/A student absent unexcused on 3 or more/)).toBeVisible();
    expect(screen.getByText("since Wed 4 March")).toBeVisible();
    expect(screen.getByText("It can’t be judged of 1 student")).toBeVisible();
    await user.click(screen.getByText("2 versions"));
    await user.click(screen.getByRole("button", { name: "Begin from it again" }));
    expect(screen.getByLabelText("Called")).toHaveValue("As it was");
  });

  it("is built of pieces, looked at with each change, and saved as the version that was seen", async () => {
    const { user, server } = show("/concerns/rules?rule=unexcused-days");
    const value = await screen.findByLabelText("How much, piece 1");
    await user.clear(value);
    await user.type(value, "2");
    await user.click(screen.getByRole("button", { name: "Add a piece" }));
    await choose(user, "What is looked at, piece 2", "days since a contact");
    expect(screen.getByLabelText("How much, piece 2")).toHaveValue("14");
    await user.click(screen.getByRole("checkbox", { name: "never counts too" }));
    await user.click(screen.getByRole("radio", { name: "at least one of these" }));
    await waitFor(() => {
      const rule = lookedAt(server);
      expect(rule.any).toBe(true);
      expect(rule.pieces[0]?.condition?.value).toBe("2");
      expect(rule.pieces[1]?.condition).toMatchObject({ indicator: "last_contact", op: "at_least", neverOut: true });
    });
    await user.click(screen.getByRole("button", { name: "Save, and it is on" }));
    await waitFor(() => expect(server.sent.some((s) => s.path === "/api/rules")).toBe(true));
    const saved = server.sent.find((s) => s.path === "/api/rules")?.body as Schemas["RuleChange"];
    expect(saved).toMatchObject({ version: 7, off: false });
    expect(saved.rule.pieces).toHaveLength(2);
  });

  it("begins a new one, which needs a name and a piece; several may be one piece", async () => {
    const { user, server } = show("/concerns/rules?rule=new");
    expect(await screen.findByRole("button", { name: "Save, and it is on" })).toBeDisabled();
    await user.type(screen.getByLabelText("Called"), "Monday drift");
    await user.click(screen.getByRole("button", { name: "Add several of which one is enough" }));
    await user.click(screen.getByRole("button", { name: "Add within" }));
    await choose(user, "What is looked at, piece 1.2", "failing courses");
    await user.click(screen.getByRole("button", { name: "Take off piece 1.1" }));
    await waitFor(() => {
      const rule = lookedAt(server);
      expect(rule.title).toBe("Monday drift");
      expect(rule.pieces[0]?.within.map((c) => c.indicator)).toEqual(["failing"]);
    });
    expect(screen.getByRole("button", { name: "Save, and it is on" })).toBeEnabled();
  });

  it("is tried on a term, beside the version that holds; every number opens into its students", async () => {
    const { user, server } = show("/concerns/rules?rule=unexcused-days");
    await screen.findByText(/A student absent/);
    await user.click(screen.getByRole("button", { name: "Try it" }));
    expect(await screen.findByRole("img", { name: "Matches day by day, 4 at most, 2 on the last" })).toBeVisible();
    expect(server.sent.at(-1)?.body).toMatchObject({ span: "", against: "" });
    const table = within(screen.getByRole("table"));
    expect(table.getByText("half of them 26 school days ahead or more")).toBeVisible();
    expect(table.getAllByText("1 of 2")).toHaveLength(2);
  });

  it("takes a file of rules after a look, and says what is wrong in one by its line", async () => {
    const { user, server } = show();
    await screen.findByText("A file of rules …");
    const file = () => document.querySelector("input[type=file]") as HTMLInputElement; // another after each choice
    await user.upload(file(), new File(["rules:\n  - wrong"], "rules.yaml"));
    expect(await screen.findByText("rules: line 2: id is missing. Nothing was changed.")).toBeVisible();
    await user.upload(file(), new File(["rules: []"], "rules.yaml"));
    await user.click(await screen.findByRole("button", { name: "Take these rules" }));
    await waitFor(() => expect(server.sent.at(-1)?.body).toEqual({ text: "rules: []", apply: true, seen: "s1" }));
  });
});
