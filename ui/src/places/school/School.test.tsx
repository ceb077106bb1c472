import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, chosen, filesOf, reasons, renderPage, testServer } from "../../test-page";
import School from "./School";

const code = (c: string, word: string, uses: string[]) => ({ code: c, word, counts: "attended", state: "in", uses });

const school: Schemas["SchoolView"] = {
  name: "Skerry School",
  students: 2,
  staff: 1,
  forms: 1,
  classes: 0,
  contacts: 1,
  sections: [{ id: 1, name: "Skerry School", students: 2, forms: 1, staff: 1, calendar: "", codes: "plain" }],
  scope: "",
  apart: [],
  points: [],
  formNames: ["7 Ames", "8 Bell"],
  rules: { within: 15, lateGrace: 5, remindAfter: 5, callAfter: 0, aloneFrom: 0 },
  steps: {
    follows: [{ policy: "letters", from: "2026-02-16" }],
    actions: [
      { key: "letter", name: "Letter home", kind: "letter", letter: 1 },
      { key: "detention", name: "Detention", kind: "detention" },
    ],
    policies: [
      {
        id: "letters",
        title: "Three, five, ten",
        lines: [{ id: "five", title: "5 unexcused days", action: "letter" }],
        ladders: [],
      },
      { id: "lates", title: "Lates", lines: [], ladders: ["Lates in class"] },
    ],
    address: "1 Causeway",
    phone: "01632 960 100",
    seen: "a1",
    today: "2026-03-10",
  },
  grading: {},
  noContact: [],
  ofNobody: [],
  noForm: [],
  misplaced: ["Asta Øye, Mon 2 March, AM P: there was no AM on that day"],
  lost: 12,
  codes: { set: "plain", codes: [code("P", "present", ["present"])], lacks: [], sets: ["plain", "halves"], later: [] },
  reasons,
  policies: [{ id: "strict", title: "Strict", source: "", own: true, when: "since Mon 9 March" }],
  imports: [{ when: "Tue 10 March 2026, 09:12", by: "Administrator", text: "people and classes", past: true }],
  accounts: [],
  people: [],
};

const plan = (change: Partial<Schemas["Plan"]> = {}): Schemas["Plan"] => ({
  applied: false,
  stamp: "s1",
  from: "2026-03-11",
  when: "from Wed 11 March 2026 on",
  past: false,
  parts: [{ what: "slot", added: 0, changed: 1, ended: 0, same: 7 }],
  figures: [],
  details: ["change slot AM of normal"],
  problems: [],
  notes: [],
  kept: [],
  ...change,
});

function open(part: string, more: Record<string, unknown> = {}) {
  const server = testServer({
    "/api/school": school,
    "/api/settings": { reasons, registerWithin: 15, lateGrace: 5, remindAfter: 5 },
    "/api/stations": [],
    "/api/day-times": { date: "2026-03-09", label: "Mon 9 March", sections: [] },
    ...more,
  });
  return { ...renderPage(<School />, `/school/${part}`, "/school/*"), server };
}

const asked = (server: ReturnType<typeof testServer>, path: string) =>
  server.sent.filter((s) => s.path === path).map((s) => s.body as Record<string, unknown>);

const calendar: Schemas["CalendarView"] = {
  today: "2026-03-10",
  years: [
    {
      section: 1,
      name: "",
      title: "2025 to 2026",
      days: 190,
      number: 114,
      closed: [],
      kinds: [
        { name: "normal", days: 188 },
        { name: "short", days: 2 },
      ],
      first: "2025-09-01",
      patterns: ["normal"],
      periods: [],
      terms: [
        {
          name: "Spring",
          days: 60,
          from: "Mon 5 January",
          to: "Fri 27 March",
          first: "2026-01-05",
          last: "2026-03-27",
        },
      ],
      months: [
        {
          title: "March",
          days: [
            { date: "2026-03-07", day: 7, weekday: 6, kind: "closed", words: "Sat 7 March, no school" },
            { date: "2026-03-09", day: 9, weekday: 1, kind: "other", words: "Mon 9 March, short" },
            { date: "2026-03-10", day: 10, weekday: 2, kind: "usual", words: "Tue 10 March, normal" },
          ],
        },
      ],
    },
  ],
};

const timetable: Schemas["TimetableView"] = {
  slots: [
    {
      section: "",
      pattern: "normal",
      label: "AM registration",
      from: "08:45",
      to: "09:00",
      since: "",
      sectionId: 1,
      slot: "AM",
      kind: "registration",
      last: true,
    },
  ],
  classes: [{ value: "class:1", label: "7 Ames", kind: "form" }],
  class: "",
  meetings: [],
};

describe("the school", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("has meeting points, each form at one of them, and says who is at none", async () => {
    const { user, server } = open("people", {
      "/api/school": { ...school, points: [{ name: "Pier", who: ["7 Ames"] }] },
    });
    expect(await screen.findByText(/At none of them.*Staff, Visitors, 8 Bell/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Add a meeting point" }));
    await user.type(screen.getByLabelText("Meeting point 2: name"), "Field");
    await user.click(screen.getByRole("combobox", { name: "Who goes to Field" }));
    await user.click(await screen.findByText("8 Bell", { selector: ".ant-select-item-option-content" }));
    const panel = within(screen.getByRole("region", { name: /Meeting points/ }));
    await user.click(panel.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(asked(server, "/api/school/meeting-points")).toEqual([
        {
          points: [
            { name: "Pier", who: ["7 Ames"] },
            { name: "Field", who: ["8 Bell"] },
          ],
          was: [{ name: "Pier", who: ["7 Ames"] }],
        },
      ]),
    );
  });

  it("says from when files would hold, and which figures of the past would change", async () => {
    const { user, server } = open("import", {
      "/api/school/import": ({ body }: { body: { past: boolean; apply: boolean } }) =>
        plan({ applied: body.apply, figures: body.past ? ["2025/26: the figures of 14 students change"] : [] }),
    });
    await user.upload(await filesOf("Choose the files"), new File(["day,slot"], "slots.csv"));
    expect(await screen.findByRole("button", { name: "Apply this change, from Wed 11 March 2026 on" })).toBeEnabled();
    expect(screen.queryByText(/would change/)).not.toBeInTheDocument();
    await user.click(screen.getByLabelText("correct the past"));
    expect(await screen.findByText(/figures of 14 students change/)).toBeInTheDocument();
    await user.type(screen.getByLabelText(/holds from/), "2/3/2026{Enter}");
    await waitFor(() =>
      expect(asked(server, "/api/school/import").at(-1)).toMatchObject({
        from: "2026-03-02",
        past: true,
        apply: false,
      }),
    );
    await user.click(await screen.findByRole("button", { name: /Apply this change/ }));
    expect(await screen.findByText("Of the past was changed:")).toBeInTheDocument();
    expect(asked(server, "/api/school/import").at(-1)).toMatchObject({ from: "2026-03-02", past: true, apply: true });
  });

  it("lists the marks that enter no figure, and what was taken from files", async () => {
    open("import");
    const lost = (await screen.findByText("Marks that enter no figure")).closest("section") as HTMLElement;
    expect(lost).toHaveTextContent("12");
    expect(lost).toHaveTextContent("there was no AM on that day");
    expect(lost).toHaveTextContent("and 11 more");
    expect(screen.getByText("people and classes")).toHaveClass("look-overdue");
  });

  it("shows a code set before it is used, and lets its table be changed", async () => {
    const look = (body: { table?: { old: string; new: string }[]; apply: boolean }): Schemas["CodesPlan"] => ({
      applied: body.apply,
      set: "halves",
      from: "2026-03-11",
      when: "from Wed 11 March 2026 on",
      table: body.table?.length
        ? body.table.map((t) => ({ ...t, oldWord: "", newWord: "" }))
        : [{ old: "X", oldWord: "excused", new: "C", newWord: "circumstances" }],
      choices: [
        { code: "C", word: "circumstances" },
        { code: "J", word: "interview" },
      ],
      lacks: ["nobody can attend at a distance"],
      reasons: [],
      ...(body.apply ? { receipt: { seq: 1, text: "The code set halves is used", ids: [] } } : {}),
    });
    const { user, server } = open("codes", {
      "/api/school/codes": ({ body }: { body: Parameters<typeof look>[0] }) => look(body),
    });
    await choose(user, "Another code set", "halves");
    expect(await screen.findByText(/nobody can attend at a distance/)).toBeInTheDocument();
    await choose(user, "In place of X", "J interview");
    await waitFor(() => expect(chosen("In place of X")).toBe("J interview"));
    await user.click(screen.getByRole("button", { name: /^Use halves from Wed 11 March/ }));
    await waitFor(() =>
      expect(asked(server, "/api/school/codes").at(-1)).toMatchObject({
        set: "halves",
        apply: true,
        table: [{ old: "X", new: "J" }],
      }),
    );
  });

  it("saves reasons with what was seen, and retires instead of taking away", async () => {
    const { user, server } = open("codes", { "/api/school/reasons": { seq: 2, text: "kept", ids: [] } });
    const panel = (await screen.findByText("Reasons")).closest("section") as HTMLElement;
    await user.click(within(panel).getAllByRole("button", { name: "retire" })[0] as HTMLElement);
    await user.click(within(panel).getByRole("button", { name: "Save the reasons" }));
    await waitFor(() => expect(asked(server, "/api/school/reasons")).toHaveLength(1));
    const body = asked(server, "/api/school/reasons")[0] as unknown as Schemas["Reasons"];
    expect(body.seen).toEqual(reasons);
    expect(body.reasons[0]).toMatchObject({ word: reasons[0]?.word, retired: true });
  });

  it("says how the school would stand under a policy before it is taken", async () => {
    const { user, server } = open("policies", {
      "/api/school/policies": ({ body }: { body: { apply: boolean } }): Schemas["PolicyPlan"] => ({
        applied: body.apply,
        id: "strict",
        title: "Strict",
        when: "from Tue 10 March on",
        instead: "",
        version: "1a",
        under: ["under this one, Strict: absence 4.7 %, 3 severe"],
        moved: 0,
        stay: 0,
        moves: [],
        lines: [],
        ...(body.apply ? { receipt: { seq: 3, text: "Strict holds", ids: [] } } : {}),
      }),
    });
    await user.upload(await filesOf("A policy of your own, as YAML …"), new File(["id: strict"], "strict.yaml"));
    expect(await screen.findByText(/absence 4.7 %, 3 severe/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Take it from Tue 10 March on" }));
    await waitFor(() =>
      expect(asked(server, "/api/school/policies").at(-1)).toMatchObject({
        text: "id: strict",
        seen: "1a",
        apply: true,
      }),
    );
  });

  it("has its parts at addresses of their own, and begins with its people", async () => {
    const { user, router, server } = open("", {
      "/api/school/calendar": calendar,
      "/api/school/timetable": timetable,
      "/api/school/bells": plan(),
    });
    await waitFor(() => expect(router.state.location.pathname).toBe("/school/people"));
    await user.click(await screen.findByRole("link", { name: "Timetable" }));
    expect(await screen.findByText("08:45 to 09:00")).toBeInTheDocument();
    await choose(user, "Class", "7 Ames");
    await waitFor(() => expect(router.state.location.search).toBe("?class=class%3A1"));
    await user.click(screen.getByRole("button", { name: "Times of normal from a date on …" }));
    await user.type(screen.getByRole("textbox", { name: "Holds from" }), "2026-03-16{Enter}");
    const begins = screen.getByRole("textbox", { name: "AM, from" });
    await user.clear(begins);
    await user.type(begins, "830");
    await user.click(screen.getByRole("button", { name: "Add a slot" }));
    await user.type(screen.getByRole("textbox", { name: "Name of slot 2" }), "1");
    await user.click(screen.getByRole("button", { name: /See what it would change$/ }));
    await waitFor(() =>
      expect(asked(server, "/api/school/bells")).toEqual([
        {
          section: 1,
          pattern: "normal",
          from: "2026-03-16",
          slots: [
            { slot: "AM", kind: "registration", from: "08:30", to: "09:00" },
            { slot: "1", kind: "lesson", from: "", to: "" },
          ],
          past: false,
          apply: false,
        },
      ]),
    );
    await user.click(screen.getByRole("button", { name: "Cancel" }));
    await user.click(screen.getByRole("link", { name: "Calendar" }));
    expect(await screen.findByText("190 school days, 114 of them up to today")).toBeInTheDocument();
    expect(screen.getByText("Sat 7 March, no school")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Tue 10 March, normal" })).toHaveAttribute("aria-current", "date");
    await user.click(screen.getByRole("button", { name: "Mon 9 March, short" }));
    expect(await screen.findByText("Times of Mon 9 March")).toBeInTheDocument();
  });

  it("acts on the policies it chose, from a date, each line with what is done there", async () => {
    const { user, server } = open("policies", {
      "/api/letters": { letters: [], fields: [], example: { language: "", version: 0, subject: "", text: "", by: "" } },
    });
    const panel = within(await screen.findByRole("region", { name: "What is due" }));
    expect(panel.getByRole("button", { name: "Save" })).toBeDisabled();
    await choose(user, "5 unexcused days: what is done", "Detention");
    await user.click(panel.getByRole("checkbox", { name: "Lates" }));
    await user.click(panel.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(asked(server, "/api/school/steps")).toEqual([
        {
          section: 0,
          seen: "a1",
          rules: {
            follows: [
              { policy: "letters", from: "2026-02-16" },
              { policy: "lates", from: "2026-03-10" },
            ],
            actions: school.steps.actions,
            lines: [{ policy: "letters", line: "five", action: "detention" }],
            address: "1 Causeway",
            phone: "01632 960 100",
          },
        },
      ]),
    );
  });
});
