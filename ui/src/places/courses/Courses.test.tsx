import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, student, testServer, who } from "../../test-page";
import Courses from "./Courses";

const part = (n: number, grade: string, failing = false): Schemas["PartMark"] => ({
  part: n,
  name: n === 2 ? "examination" : `Quarter ${n + 3}`,
  grade,
  failing,
  nearly: false,
});

const view: Schemas["CoursesView"] = {
  any: true,
  period: "Quarter 3",
  half: "half-year 2",
  periods: [
    { value: "Quarter 3", label: "Quarter 3", kind: "half-year 2" },
    { value: "Quarter 2", label: "Quarter 2", kind: "half-year 1" },
  ],
  groups: [{ value: "year:9", label: "Year 9", kind: "year" }],
  group: "",
  own: false,
  of: 102,
  not: 1,
  before: 3,
  since: "Quarter 2",
  tracks: [
    {
      title: "One course away",
      students: [
        {
          student: student(14, "Perran Hask"),
          courses: [
            {
              course: 4,
              title: "English",
              short: "En",
              parts: [part(0, "F", true), part(1, "")],
              state: "stands_lost",
            },
          ],
          behind: "0.5 behind",
          still: [{ course: "English", words: "a D in Quarter 4" }],
          lost: ["Mathematics, half-year 1"],
        },
      ],
    },
  ],
  by: "course",
  failing: [{ name: "English 9", failing: 8, nearly: 2, of: 26, change: 3 }],
  ninth: {
    onTrack: 71,
    of: 102,
    source: "five full credits",
    not: [{ student: student(15, "Mika Ulvar"), words: "not on track: 2 of 2.5 credits of this year by now" }],
  },
  rule: "Fairlead credits",
  grades: ["A", "D", "F"],
};

const frame = {
  any: true,
  period: view.period,
  half: view.half,
  periods: view.periods,
  groups: view.groups,
  group: "",
  own: false,
  rule: view.rule,
  grades: view.grades,
};
const cell = (failing: number, nearly: number, of: number, change?: number): Schemas["TableCell"] => ({
  failing,
  nearly,
  of,
  part: of ? failing / of : 0,
  share: of ? `${((100 * failing) / of).toFixed(1)} %` : "",
  change,
});
const tables: Schemas["TablesView"] = {
  ...frame,
  by: "year",
  columns: [
    { name: "Quarter 3", half: false },
    { name: "half-year 2", half: true },
  ],
  lines: [{ name: "Year 9", cells: [cell(8, 2, 104, 3), cell(0, 6, 104)] }],
  whole: { name: "", cells: [cell(30, 9, 612), cell(0, 22, 612)] },
  not: [
    { not: 38, of: 102 },
    { not: 0, of: 0 },
  ],
  most: 0.08,
  note: "",
};
const credits: Schemas["CreditsView"] = {
  ...frame,
  of: 102,
  behind: 1,
  lost: 1,
  by: [
    {
      title: "0.5 behind",
      students: [
        {
          student: student(14, "Perran Hask"),
          earned: "4",
          expected: "4.5",
          behind: "0.5",
          lost: [
            {
              course: "Mathematics 9",
              half: "half-year 1",
              why: "(0 + 0) ÷ 2 = 0, the line is 0.5: lost",
              ways: ["the recovery course", "taking it again"],
            },
          ],
        },
      ],
    },
  ],
};

function show(answer: Partial<Schemas["CoursesView"]> = {}, at = "/courses", role: Schemas["Who"]["role"] = "officer") {
  const server = testServer({
    "/api/courses": { ...view, ...answer },
    "/api/courses/what-if": {
      words: "(0 + 1) ÷ 2 = 0.5, the line is 0.5: earned",
      state: "earned",
      away: 0,
      now: 1,
      track: "on track",
    },
    "/api/courses/tables": tables,
    "/api/courses/credits": credits,
    "/api/courses/cell": {
      title: "Year 9, Quarter 3",
      students: [
        {
          student: student(14, "Perran Hask"),
          course: "English 9",
          grade: "F",
          words: "a D in Quarter 4",
          failing: true,
        },
        { student: student(15, "Mika Ulvar"), course: "Mathematics 9", grade: "D-", words: "", failing: false },
      ],
    },
    "/api/views": [],
    "/api/lists": [],
    "/api/own-fields/groups": [],
  });
  who.role = role;
  return { ...renderPage(<Courses />, at), server };
}

describe("the place Courses", () => {
  afterEach(() => {
    vi.unstubAllGlobals();
    who.role = "officer";
  });

  it("says who is one course away and what would still do it", async () => {
    show();
    expect(await screen.findByText("1 of 102 is not on track")).toBeInTheDocument();
    expect(screen.getByText("a D in Quarter 4")).toBeInTheDocument();
    expect(screen.getByText("0.5 behind")).toBeInTheDocument();
    expect(screen.getByText("lost: Mathematics, half-year 1")).toBeInTheDocument();
    const fails = within(screen.getByRole("region", { name: "Failing most" }));
    expect(fails.getByText("+3")).toBeInTheDocument();
  });

  it("tries a grade out for an open quarter, and says what it would change", async () => {
    const { user, server } = show();
    await user.click(await screen.findByRole("button", { name: "? English, Quarter 4: what if" }));
    await choose(user, "Grade", "D");
    expect(
      await screen.findByText(/the line is 0.5: earned. Then on track, and not 1 course away/),
    ).toBeInTheDocument();
    expect(server.asked.at(-1)).toContain("of=14&course=4&part=1&grade=D");
    expect(server.sent).toHaveLength(0);
  });

  it("saves a grade that was given, as the one that was seen", async () => {
    const { user, server } = show();
    await user.click(await screen.findByRole("button", { name: "F English, Quarter 3: what if" }));
    await choose(user, "Grade", "D");
    await user.click(await screen.findByRole("button", { name: "It was given: save D" }));
    await waitFor(() =>
      expect(server.sent.at(-1)?.body).toEqual({
        student: 14,
        course: 4,
        period: "Quarter 3",
        part: 0,
        grade: "D",
        seen: "F",
      }),
    );
  });

  it("says what the rule says; an administrator edits it and sees what it would change", async () => {
    const held = {
      text: "line: 0.5\n",
      stamp: "s1",
      title: "Ours",
      words: ["Earned at 0.5."],
      problem: "",
      effect: [],
      applied: false,
    };
    const { user, server } = show({}, "/courses", "administrator");
    server.answers["/api/courses/rule"] = (post?: { body: Schemas["RuleDraft"] }) =>
      post
        ? {
            ...held,
            problem: post.body.text.includes("x") ? 'line 1: line "x" is not a fraction' : "",
            words: ["Earned at 1."],
            effect: ["With it 14 students fewer lost no credit: 80, now 94."],
            applied: post.body.apply ?? false,
          }
        : held;
    await user.click(await screen.findByRole("button", { name: "What it says …" }));
    expect(await screen.findByText("Earned at 0.5.")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Edit it …" }));
    const file = screen.getByLabelText("The rule’s file");
    await user.clear(file);
    await user.type(file, "line: x");
    expect(await screen.findByText(/is not a fraction/)).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Use this rule" })).toBeDisabled();
    await user.clear(file);
    await user.type(file, "line: 1");
    expect(await screen.findByText(/14 students fewer/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Use this rule" }));
    await waitFor(() => expect(server.sent.at(-1)?.body).toEqual({ text: "line: 1", seen: "s1", apply: true }));
  });

  it("keeps period and group in its address, and the file has the same", async () => {
    const { user, router } = show({}, "/courses?group=year:9");
    await choose(user, "Period", "Quarter 2");
    await waitFor(() => expect(router.state.location.search).toContain("period=Quarter+2"));
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/courses/file?view=tracks&format=csv&group=year%3A9&period=Quarter+2",
    );
  });

  it("opens what fails most into the students, and says who is not on track by the rule of year 9", async () => {
    const { user, server } = show();
    await user.click(await screen.findByText("Who is not"));
    expect(screen.getByText(/2 of 2.5 credits of this year/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "English 9" }));
    const failing = within(await screen.findByRole("region", { name: "Failing" }));
    expect(failing.getByRole("button", { name: /Perran Hask/ })).toBeInTheDocument();
    expect(within(screen.getByRole("region", { name: "Nearly failing" })).getByText("D-")).toBeInTheDocument();
    expect(server.asked.at(-1)).toMatch(/column=Quarter(%20|\+)3&name=English(%20|\+)9/);
    expect(screen.getAllByRole("button", { name: "Keep as a list …" })).toHaveLength(2);
  });

  it("has quarters and half-years in a table, by what one asks for; each cell opens", async () => {
    const { user, server, router } = show({}, "/courses?view=tables&by=year");
    await user.click(await screen.findByRole("button", { name: "8 of 104 failing, Year 9, Quarter 3" }));
    expect(await screen.findByText("Year 9, Quarter 3")).toBeInTheDocument();
    expect(server.asked.find((a) => a.startsWith("/api/courses/cell"))).toContain("by=year");
    await user.click(screen.getByRole("button", { name: "Close" }));
    expect(screen.getByRole("row", { name: /Students not on track 38 of 102/ })).toBeInTheDocument();
    await user.click(screen.getByText("leaving"));
    expect(router.state.location.search).toBe("?view=tables&by=leaving");
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/courses/file?view=tables&format=csv&by=leaving",
    );
  });

  it("says where credit was lost and how to regain it", async () => {
    show({}, "/courses?view=credits");
    expect(await screen.findByText("1 of 102 is behind in credits")).toBeInTheDocument();
    expect(screen.getByText("to regain it: the recovery course; taking it again")).toBeInTheDocument();
    expect(screen.getByText("of 4.5")).toBeInTheDocument();
  });

  it("says how grades come in where there are none", async () => {
    show({ any: false });
    expect(await screen.findByText(/There are no grades yet/)).toBeInTheDocument();
  });
});
