import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import Absence from "./Absence";

const figures = (
  absent: number,
  rate: string,
  bandPlace: number,
  wayBack: number,
  more = {},
): Schemas["AbsenceFigures"] => ({
  policy: "ten-percent",
  unit: "day",
  possible: 113,
  absent,
  excused: 2,
  unexcused: absent - 2,
  unexplained: 0,
  unmarked: 0,
  void: 0,
  lates: 3,
  rate,
  band: "chronic",
  bandPlace,
  headroom: { known: true, none: wayBack > 70, units: 6 },
  wayBack: { known: true, none: false, units: wayBack },
  toCome: 77,
  backInTime: wayBack <= 77,
  line: "10",
  due: "612 h",
  missed: "66 h 11 min",
  charged: "70 h",
  ...more,
});

const row = (id: number, name: string, f: Schemas["AbsenceFigures"]): Schemas["AbsenceRow"] => ({
  student: student(id, name),
  figures: f,
  onSite: 2,
  weeks: [0, 1, 3],
  mostly: "medical 9",
  grading: "",
});

const view: Schemas["AbsenceView"] = {
  grading: "",
  policy: "ten-percent",
  title: "Ten per cent of days",
  source: "",
  unit: "day",
  scope: "",
  apart: "",
  policies: [
    { value: "ten-percent", label: "Ten per cent of days", kind: "day" },
    { value: "sessions", label: "Half-day sessions", kind: "session" },
  ],
  otherCodes: false,
  from: "2025-08-25",
  asAt: "2026-03-09",
  label: "Year to Mon 9 March",
  whole: true,
  trend: {
    weeks: [
      { label: "2 Mar", title: "week of Mon 2 March", rate: "5.1", share: 51 },
      { label: "9 Mar", title: "week of Mon 9 March", rate: "4.0", share: 40 },
    ],
    weekdays: [{ label: "Mon", title: "Mondays", rate: "6.2", share: 62 }],
    slots: [{ label: "AM", title: "in AM", rate: "4.4", share: 44 }],
  },
  lessons: false,
  sort: "near",
  up: false,
  spans: [
    { value: "2025-08-25..2026-03-09", label: "Year to Mon 9 March", kind: "year" },
    { value: "2026-01-05..2026-03-09", label: "Spring term", kind: "term" },
    { value: "2026-03-02..2026-03-09", label: "March 2026", kind: "month" },
  ],
  groups: [
    { value: "year:7", label: "Year 7", kind: "year" },
    { value: "class:1", label: "7 Reef", kind: "form" },
    { value: "class:90", label: "9 Bowline maths", kind: "class" },
  ],
  group: "",
  attendance: "571.3",
  membership: "604.0",
  middle: "3.5",
  nineInTen: "9.7",
  days: 113,
  school: "4.6",
  students: 3,
  unbanded: 0,
  bands: [
    { name: "on course", from: "0", count: 1 },
    { name: "at risk", from: "5", count: 0 },
    { name: "chronic", from: "10", count: 1 },
    { name: "severe", from: "20", count: 1 },
  ],
  bins: [
    { from: 20, band: 0, count: 1 },
    { from: 100, band: 2, count: 1 },
    { from: 420, band: 3, count: 1 },
  ],
  line: "10",
  lines: [
    { value: "1/20", label: "5" },
    { value: "1/10", label: "10" },
  ].map((l) => ({ ...l, kind: "" })),
  reasons: [
    { code: "M", word: "medical", state: "explained", time: "812 h", share: "61.2" },
    { code: "U", word: "unexcused", state: "unexcused", time: "515 h", share: "38.8" },
  ],
  due: [
    {
      student: student(3, "Odd Fenn"),
      policy: "Ten per cent of days",
      kind: "band",
      title: "Reached 20 %",
      text: "severe, now 42.5 %",
      date: "2026-03-03",
      when: "Tue 3 March",
      holds: true,
    },
  ],
  dueInAll: 1,
  rows: [
    row(1, "Perran Hask", figures(12, "10.6", 2, 8)),
    row(2, "Ida Holm", figures(3, "2.7", 0, 0)),
    row(3, "Odd Fenn", figures(48, "42.5", 3, 368)),
  ],
};

const why = (id: number, name: string): Schemas["WhyView"] => ({
  student: student(id, name),
  policy: "ten-percent",
  title: "Ten per cent of days",
  source: "",
  version: "3f9a1c2e",
  label: "Year to Mon 9 March",
  whole: true,
  lessons: false,
  fullDay: false,
  figures: figures(12, "10.6", 2, 8),
  wholeDay: 10,
  partDay: 2,
  shorter: 1,
  halfOf: "1/2",
  complete: 100,
  triggers: [],
  due: [],
  days: [
    {
      date: "2026-03-05",
      label: "Thu 5 March",
      due: 325,
      missed: 110,
      absentFrom: 163,
      verdict: "attended",
      unmarked: 0,
      marks: [
        {
          slot: "1",
          label: "lesson 1",
          code: "L",
          word: "late",
          from: "",
          to: "09:15",
          due: 50,
          missed: 10,
          state: "late",
        },
      ],
    },
  ],
});

function open(at = "/absence", shown: Partial<Schemas["AbsenceView"]> = {}, answer: Partial<Schemas["WhyView"]> = {}) {
  testServer({
    "/api/absence": { ...view, ...shown },
    "/api/absence/1": { ...why(1, "Perran Hask"), ...answer },
    "/api/absence/3": why(3, "Odd Fenn"),
  });
  return renderPage(<Absence />, at);
}

/** Where the page last asked for its figures. */
const asked = () =>
  vi
    .mocked(fetch)
    .mock.calls.map(([request]) => new URL((request as Request).url))
    .filter((url) => url.pathname === "/api/absence")
    .map((url) => url.pathname + url.search)
    .at(-1);

async function pick(user: ReturnType<typeof open>["user"], label: string, option: string) {
  await user.click(await screen.findByRole("combobox", { name: label }));
  await user.click(await screen.findByText(option, { selector: ".ant-select-item-option-content" }));
}

describe("absence against policy", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says what it measures, until when, and what the whole group comes to", async () => {
    open();
    expect(await screen.findByText(/Year to Mon 9 March, 113 days/)).toHaveTextContent(
      "School: 4.6 % absent, median 3.5 %, one in ten missed more than 9.7 %; on an average day 571.3 of 604.0 attended.",
    );
    expect(screen.getByText(/Time missed/)).toHaveTextContent("medical 61.2 % · unexcused 38.8 %");
    expect(
      screen.getByRole("img", { name: /Distribution: on course 1, at risk 0, chronic 1, severe 1/ }),
    ).toBeInTheDocument();
  });

  it("asks for another policy, span, group and line, and keeps them in the address", async () => {
    const { user, router } = open();
    await pick(user, "Measured by", "Half-day sessions");
    await pick(user, "Span", "Spring term");
    await pick(user, "Of whom", "9 Bowline maths");
    await pick(user, "Nearest to", "nearest to 5 %");
    await waitFor(() =>
      expect(asked()).toBe(
        "/api/absence?policy=sessions&from=2026-01-05&to=2026-03-09&group=class%3A90&line=1%2F20&sort=near",
      ),
    );
    expect(router.state.location.search).toContain("policy=sessions");
  });

  it("takes own dates", async () => {
    const { user } = open("/absence?from=2026-02-02&to=2026-03-09");
    const to = await screen.findByLabelText("To");
    await user.clear(to);
    await user.type(to, "2026-02-20{Enter}");
    await waitFor(() => expect(asked()).toBe("/api/absence?from=2026-02-02&to=2026-02-20"));
  });

  it("shows no room left for a part of the year, since that means nothing", async () => {
    open("/absence", { whole: false, label: "Mon 2 March to Mon 9 March" });
    await screen.findByText("Perran Hask", { selector: "td *" });
    expect(screen.queryByRole("columnheader", { name: /^To 10 %/ })).not.toBeInTheDocument();
    expect(screen.getByRole("columnheader", { name: "Unexcused" })).toBeInTheDocument();
  });

  it("says time in hours and minutes where minutes are counted, with what is charged", async () => {
    const minutes = figures(620, "10.6", 2, 0, { unit: "minute", possible: 36725, headroom: { known: false } });
    open("/absence", { unit: "minute", rows: [row(1, "Perran Hask", minutes)] }, { figures: minutes, fullDay: true });
    const hask = (await screen.findByText("Perran Hask", { selector: "td *" })).closest("tr") as HTMLElement;
    expect(hask).toHaveTextContent("10 h 20 min of 612 h 5 min");
    expect(within(hask).getByText("70 h")).toBeInTheDocument();
    expect(await screen.findByText(/Every minute with a mark counts/)).toBeInTheDocument();
  });

  it("sorts by any column, the most first and then the least, and goes along as a file", async () => {
    const { user } = open("/absence?group=year%3A9");
    await user.click(await screen.findByRole("button", { name: "No reason" }));
    await waitFor(() => expect(asked()).toBe("/api/absence?group=year%3A9&sort=unexplained"));
    expect(screen.getByRole("link", { name: "Spreadsheet" })).toHaveAttribute(
      "href",
      "/api/absence/file?group=year%3A9&sort=unexplained&format=xlsx",
    );
    expect(screen.getByRole("link", { name: "Each day" })).toHaveAttribute(
      "href",
      "/api/absence/days-file?group=year%3A9&sort=unexplained&format=xlsx",
    );
  });

  it("shows by week, weekday and slot when it was missed", async () => {
    const { user } = open();
    await user.click(await screen.findByRole("button", { name: "When: by week, weekday and slot" }));
    const weeks = within(screen.getByRole("list", { name: "By week" })).getAllByRole("listitem");
    expect(weeks.map((w) => w.title)).toEqual(["week of Mon 2 March: 5.1 %", "week of Mon 9 March: 4.0 %"]);
    expect(screen.getByTitle("Mondays: 6.2 %")).toHaveTextContent("6.2");
    expect(screen.getByTitle("in AM: 4.4 %")).toHaveTextContent("AM");
  });

  it("says that a class counts by its own lessons, without what is about all of them", async () => {
    open("/absence?group=class%3A90", { lessons: true, group: "9 Bowline maths" });
    expect(await screen.findByText(/only its own lessons count here/)).toBeInTheDocument();
    expect(screen.queryByRole("columnheader", { name: /^To 10 %/ })).not.toBeInTheDocument();
    expect(screen.queryByRole("region", { name: "Reached" })).not.toBeInTheDocument();
  });

  it("lists what was reached with its date, and takes it apart when chosen", async () => {
    const { user, router } = open();
    expect(await screen.findByText(/Reached 20 %/)).toBeInTheDocument();
    expect(screen.getByText("7 Reef · Tue 3 March")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: /Reached 20 %/ }));
    await waitFor(() => expect(router.state.location.search).toBe("?why=3"));
  });

  it("takes the lines of a policy apart, and says both bases of a part-time student", async () => {
    open(
      "/absence",
      {},
      {
        triggers: [
          {
            id: "letter-3",
            title: "Letter at 3 unexcused days",
            window: "in the year",
            now: "4",
            reach: "3 days",
            reached: "Mon 9 February",
            countThen: "3",
            days: [{ date: "2026-02-09", label: "Mon 9 February", amount: "1 day" }],
          },
        ],
        bases: {
          due: "76 h",
          scheduled: "4 h",
          fullDay: "31 h 15 min",
          fullDays: 5,
          fullOf: "31 h 15 min",
          fullSeen: "3 h 20 min",
          here: "0.5",
          elsewhere: "0.5",
        },
      },
    );
    expect(await screen.findByText("reached Mon 9 February")).toBeInTheDocument();
    expect(screen.getByText("3 of 3 days in the year then, 4 now.")).toBeInTheDocument();
    expect(screen.getByText(/Part-time/).closest("p")).toHaveTextContent(
      "On the own schedule 4 h of 76 h were missed; charged as full days it would be 31 h 15 min, since 5 days of which the school saw 3 h 20 min count as 31 h 15 min. This policy counts the own schedule.",
    );
  });

  it("shows room left and the way back, and says what can't be reached", async () => {
    open();
    const hask = (await screen.findByText("Perran Hask", { selector: "td *" })).closest("tr") as HTMLElement;
    expect(within(hask).getByText("8 in a row")).toBeInTheDocument();
    const fenn = screen.getByText("Odd Fenn", { selector: "td *" }).closest("tr") as HTMLElement;
    expect(within(fenn).getByText("not this year")).toBeInTheDocument();
    expect(within(fenn).queryByText(/left/)).toBeNull();
    const holm = screen.getByText("Ida Holm", { selector: "td *" }).closest("tr") as HTMLElement;
    expect(within(holm).getByText("6 days left")).toBeInTheDocument();
  });

  it("takes the first figure apart at once, down to the marks", async () => {
    open();
    expect(await screen.findByText("Why 10.6 %?")).toBeInTheDocument();
    expect(screen.getByText(/missed 12 of 113 days/)).toHaveTextContent(
      "10 were whole days, 2 a part. 2 are excused, 10 not. 1 shorter absence does not count.",
    );
    expect(screen.getByText(/version 3f9a1c2e/).closest("p")).toHaveTextContent(
      "Ten per cent of days (version 3f9a1c2e), year to",
    );
    expect(screen.getByText(/Thu 5 March/)).toHaveTextContent("1 h 50 min of 5 h 25 min · not a day");
    expect(screen.getByText(/lesson 1:/)).toHaveTextContent("lesson 1: L late, came 09:15 · 10 of 50 min");
  });

  it("takes another figure apart when its row is chosen, and keeps that in the address", async () => {
    const { user, router } = open();
    await user.click((await screen.findByText("Odd Fenn", { selector: "td *" })).closest("tr") as HTMLElement);
    await waitFor(() => expect(router.state.location.search).toBe("?why=3"));
  });

  it("shows one band, from the address too", async () => {
    open("/absence?band=3");
    await screen.findByText("Odd Fenn", { selector: "td *" });
    expect(screen.queryByText("Ida Holm")).not.toBeInTheDocument();
  });
});
