import { screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, student, testServer } from "../../test-page";
import { CameOfIt } from "./CameOfIt";
import { CasePage } from "./CasePage";
import { Cases } from "./Cases";
import { Next } from "./Next";
import { SupportWords } from "./SupportWords";
import { Week } from "./Week";

const contact = (id: number, name: string, more: Partial<Schemas["ContactRef"]> = {}): Schemas["ContactRef"] => ({
  id,
  order: id,
  name,
  relation: "mother",
  phone: "07700 900 009",
  mayCollect: false,
  livesWith: true,
  doNotCall: false,
  ...more,
});

const row = (id: number, name: string, more: Partial<Schemas["NextRow"]> = {}): Schemas["NextRow"] => ({
  student: student(id, name),
  part: "due",
  why: "case opened Mon 2 March",
  figures: "12.4 % missed, 11.1 when the case was opened",
  contacts: [contact(10 * id, "Runa Ulvar"), contact(10 * id + 1, "Per Ulvar")],
  warnings: [],
  case: 0,
  owner: "",
  mine: false,
  last: "spoke Mon 2 March",
  lastDays: 8,
  tried: "",
  met: "",
  away: "",
  agreed: "",
  agreedBy: "",
  note: 0,
  planned: [],
  next: "Fri 6 March",
  nextDay: "2026-03-06",
  overdue: true,
  today: false,
  ...more,
});

const owners = [
  { id: 2, name: "D. Ase", mine: true },
  { id: 3, name: "H. Strom", mine: false },
];

const next: Schemas["NextView"] = {
  scope: "",
  label: "Mon 9 March",
  today: "2026-03-10",
  group: "",
  groups: [],
  due: 2,
  unmet: 1,
  rows: [
    row(1, "Cato Vane", { case: 4, owner: "D. Ase", mine: true }),
    row(2, "Mika Ulvar", {
      planned: [{ id: 7, text: "see the tutor", owner: "D. Ase", due: "Mon 9 March" }],
      case: 5,
      agreed: "confidential",
      agreedBy: "D. Ase, Mon 2 March",
      note: 31,
    }),
    row(3, "Zelda Wake", {
      part: "unmet",
      last: "",
      lastDays: -1,
      tried: "2 calls unanswered since Wed 4 March",
      next: "",
    }),
  ],
  outcomes: ["spoke", "left a message", "no answer", "wrong number", "met"],
  owners,
  mayLog: true,
};

const cell = (sessions: number, more: Partial<Schemas["WeekCell"]> = {}): Schemas["WeekCell"] => ({
  sessions,
  minutes: 30 * sessions,
  on: true,
  unmet: sessions === 0,
  reason: "",
  kinds: sessions > 0 ? "Mentoring 1, 30 min" : "",
  ...more,
});

const session: Schemas["SessionView"] = {
  group: 50,
  day: "2026-03-09",
  date: "Mon 9 March",
  from: "12:20",
  minutes: 30,
  kind: 1,
  kindName: "Mentoring",
  belongs: "in",
  ledBy: "D. Ase",
  leader: 2,
  note: "the lunch group",
  kept: "office",
  parts: [
    { id: 50, student: student(1, "Cato Vane"), note: "" },
    { id: 51, student: student(2, "Mika Ulvar"), note: "" },
    { id: 52, student: student(4, "Juno Sandal"), note: "" },
  ],
  ahead: false,
  seq: 99,
};

const head = (monday: string, label: string, now: boolean): Schemas["WeekHead"] => ({
  monday,
  label,
  title: `Week of ${label}`,
  now,
  days: 5,
  on: 2,
  met: 1,
  reasons: 0,
  unmet: 1,
  minutes: "30 min",
});

const week: Schemas["SupportWeek"] = {
  scope: "",
  group: "",
  groups: [],
  week: "2026-03-09",
  title: "Week of Mon 9 March",
  now: true,
  before: "2026-03-02",
  after: "2026-03-16",
  today: "2026-03-10",
  weeks: [head("2026-03-02", "2 Mar", false), head("2026-03-09", "9 Mar", true)],
  rows: [
    { student: student(3, "Zelda Wake"), case: 6, owner: "D. Ase", cells: [cell(1), cell(0)] },
    {
      student: student(1, "Cato Vane"),
      case: 4,
      owner: "D. Ase",
      cells: [cell(0, { unmet: false, reason: "ill" }), cell(1)],
    },
  ],
  sessions: [session],
  recent: [session],
  leaders: [{ name: "D. Ase", sessions: 9, minutes: "4 h", students: 12 }],
  byKind: [{ name: "Mentoring", belongs: "in", sessions: 3, minutes: "1 h 30 min" }],
  kinds: [
    { id: 1, name: "Mentoring", belongs: "in" },
    { id: 3, name: "Home visit", belongs: "outside" },
  ],
  owners,
  seen: "s",
  may: true,
  maySet: true,
};

const pages = { "/api/next": next, "/api/support/week": week };

describe("whom to contact next", () => {
  it("is worked by keys: the call, what was said, the next date, and the next row", async () => {
    const server = testServer(pages);
    const { user } = renderPage(<Next />, "/follow-up");
    expect(
      await screen.findByText("2 due · 1 in no session this week · figures as at Mon 9 March"),
    ).toBeInTheDocument();
    expect(screen.getByText("home never reached")).toBeInTheDocument();
    expect(screen.getAllByText("Fri 6 March")[0]).toHaveClass("look-overdue");

    await user.keyboard("{ArrowRight}"); // the next contact
    expect(screen.getByText("Per Ulvar")).toBeInTheDocument();
    await user.keyboard("1");
    const form = await screen.findByRole("form", { name: "Contact about Cato Vane" });
    await user.type(within(form).getByRole("textbox", { name: "What was said" }), "a ferry further{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/followups",
        body: { student: 1, contact: 11, with: "home", outcome: "spoke", note: "a ferry further" },
      }),
    );
    expect(await screen.findByText("see the tutor")).toBeInTheDocument(); // the next row is chosen

    await user.keyboard("m");
    const met = await screen.findByRole("form", { name: "Contact about Mika Ulvar" });
    await choose(user, "For whom the note is", "for pastoral leads");
    await user.type(within(met).getByRole("textbox", { name: "What was said" }), "at home{Enter}");
    await waitFor(() => expect(server.sent[1]?.body).toMatchObject({ with: "student", outcome: "met", kept: "leads" }));
  });

  it("ends what was planned, and reads a confidential note by one look", async () => {
    const server = testServer({
      ...pages,
      "/api/students/2/notes/31": { text: "afraid of the way home", by: "D. Ase", kept: "pastoral leads" },
    });
    const { user } = renderPage(<Next />, "/follow-up");
    await screen.findByText("Cato Vane", { selector: ".one button" });
    await user.keyboard("{ArrowDown}");
    await user.click(await screen.findByRole("button", { name: "Done" }));
    await waitFor(() => expect(server.sent[0]?.body).toMatchObject({ case: 5, step: 7, done: true }));
    expect(screen.queryByText(/afraid/)).toBeNull();
    await user.click(screen.getByRole("button", { name: "confidential, read it" }));
    expect(await screen.findByText("afraid of the way home")).toBeInTheDocument();
  });
});

describe("support by week", () => {
  it("says whom nobody met, and takes a reason", async () => {
    const server = testServer(pages);
    const { user } = renderPage(<Week />, "/follow-up/support");
    expect(await screen.findByText("1 not met")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "say why …" }));
    await user.type(await screen.findByRole("textbox", { name: "Why there was none" }), "sailing{Enter}");
    await waitFor(() => expect(server.sent[0]?.body).toEqual({ student: 3, week: "2026-03-09", text: "sailing" }));
  });

  it("writes a group down as the last time, and asks what may be a slip", async () => {
    const server = testServer(pages);
    server.refusals["/api/support/sessions"] = {
      status: 409,
      detail: "Mentoring belongs in school time. Nothing was saved",
    };
    const { user } = renderPage(<Week />, "/follow-up/support");
    await screen.findByText("1 not met");
    await user.keyboard("l");
    await user.click(await screen.findByRole("button", { name: /Mon 9 March: Mentoring, Cato Vane and 2 more/ }));
    await user.click(screen.getByRole("button", { name: /^Save/ }));
    expect(await screen.findByRole("alert")).toHaveTextContent("Mentoring belongs in school time");
    expect(screen.queryByText(/not the one looked at/)).toBeNull();
    delete server.refusals["/api/support/sessions"];
    await user.click(screen.getByRole("button", { name: /Save it all the same/ }));
    await waitFor(() =>
      expect(server.sent.at(-1)?.body).toMatchObject({
        date: "2026-03-10",
        from: "12:20",
        minutes: 30,
        kind: 1,
        sure: true,
        students: [{ student: 1 }, { student: 2 }, { student: 4 }],
      }),
    );
  });

  it("changes and takes off for those who are named, and nobody else", async () => {
    const server = testServer(pages);
    const { user } = renderPage(<Week />, "/follow-up/support");
    const one = await screen.findByRole("article", { name: "Mentoring, Mon 9 March" });
    await user.click(within(one).getByRole("button", { name: "Take off …" }));
    expect(within(one).getByRole("button", { name: "Take off for all 3" })).toBeInTheDocument();
    await user.click(within(one).getByRole("button", { name: "Mika alone" }));
    await user.click(within(one).getByRole("button", { name: "Take off for Mika Ulvar alone" }));
    await waitFor(() => expect(server.sent[0]?.body).toEqual({ parts: [51], seen: 99 }));
    await user.click(within(one).getByRole("button", { name: "Change …" }));
    await user.click(within(one).getByRole("checkbox", { name: "Cato Vane" }));
    await choose(user, "Kind", "Home visit");
    await user.click(within(one).getByRole("button", { name: "Change for all 2" }));
    await waitFor(() =>
      expect(server.sent[1]?.body).toMatchObject({ parts: [51, 52], kind: 3, date: "2026-03-09", from: "12:20" }),
    );
  });

  it("has the school’s own kinds, and what they belong to", async () => {
    const server = testServer({
      "/api/support/words": {
        kinds: [{ id: 1, name: "Mentoring", belongs: "in", retired: false }],
        ends: [{ id: 9, name: "back on track", belongs: "", retired: false }],
        seen: { kind: "k", end: "e" },
        maySet: true,
      },
    });
    const { user } = renderPage(<SupportWords close={() => {}} />, "/follow-up/support");
    await user.type(await screen.findByRole("textbox", { name: "A new word" }), "Boat club{Enter}");
    await choose(user, "Where Boat club belongs", "outside it");
    await user.click(screen.getByRole("button", { name: "Save the list" }));
    await waitFor(() =>
      expect(server.sent[0]?.body).toMatchObject({
        list: "kind",
        seen: "k",
        words: [
          { id: 1, name: "Mentoring" },
          { name: "Boat club", belongs: "outside" },
        ],
      }),
    );
  });
});

const one: Schemas["CaseView"] = {
  id: 4,
  student: student(1, "Mika Ulvar"),
  open: true,
  waits: false,
  weekly: true,
  kept: "office",
  keptFor: "",
  mayRead: true,
  from: "review",
  end: "",
  owner: "H. Strom",
  ownerId: 3,
  mine: false,
  opened: "Tue 24 February",
  days: 14,
  next: "Fri 6 March",
  nextDay: "2026-03-06",
  overdue: true,
  seen: 8,
  found: [],
  now: [],
  figures: [{ name: "school missed", was: "10.1 %", now: "9.7 %" }],
  planned: 1,
  said: {
    kind: "opened",
    owner: "H. Strom",
    text: "see the home",
    next: "",
    waits: false,
    end: "",
    by: "D. Ase",
    on: "Tue 24 February, 15:51",
  },
};

const ends = [{ id: 9, name: "back on track", belongs: "" as const }];

describe("cases", () => {
  it("are handed on, kept to fewer, and closed with how they ended", async () => {
    const server = testServer({
      "/api/cases": {
        scope: "",
        group: "",
        groups: [],
        cases: [one, { ...one, id: 5, mayRead: false, keptFor: "pastoral leads" }],
        open: 2,
        overdue: 1,
        waiting: 0,
        owners,
        ends,
        mayChange: true,
      },
    });
    const { user } = renderPage(<Cases />, "/follow-up/cases");
    expect(await screen.findByText("1 overdue")).toBeInTheDocument();
    expect(screen.getAllByText(/Now: no rule finds them · 9.7 % missed/)[0]).toBeInTheDocument();
    expect(screen.getAllByRole("link", { name: "Open it" })).toHaveLength(1); // the other is kept to others
    await user.click(screen.getByRole("button", { name: "Note …" }));
    await choose(user, "In whose hands", "D. Ase (you)");
    await choose(user, "For whom the case is", "for pastoral leads");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(server.sent[0]?.body).toMatchObject({
        case: 4,
        kind: "changed",
        owner: 2,
        kept: "leads",
        weekly: "yes",
        seen: 8,
      }),
    );
    await user.click(await screen.findByRole("button", { name: "Close …" }));
    await user.type(await screen.findByRole("textbox", { name: "What came of it" }), "back in every lesson");
    await choose(user, "How it ended", "back on track");
    await user.click(screen.getAllByRole("button", { name: "Save" }).at(-1) as HTMLElement);
    await waitFor(() =>
      expect(server.sent[1]?.body).toMatchObject({ kind: "closed", text: "back in every lesson", end: 9 }),
    );
  });

  it("have a page with plan, papers, contacts and figures then and now", async () => {
    const page: Schemas["CasePage"] = {
      case: one,
      steps: [one.said],
      plan: [
        {
          id: 7,
          text: "see the tutor",
          due: "Mon 9 March",
          overdue: true,
          owner: "H. Strom",
          ended: "",
          done: false,
          came: "",
        },
      ],
      papers: [{ id: 3, name: "plan.pdf", size: "12 kB", by: "D. Ase" }],
      contacts: [
        {
          what: "spoke: Runa Ulvar",
          on: "Mon 2 March",
          by: "D. Ase",
          text: "will set two alarms",
          note: 0,
          session: 0,
        },
      ],
      earlier: 2,
      meetings: [
        {
          id: 6,
          title: "Home and tutor",
          on: "Thu 12 March, 15:30 to 16:00",
          room: "Room 4",
          people: "Disa Ase",
          ahead: true,
        },
      ],
      sessions: "4 support sessions, 2 h",
      today: "2026-03-10",
      owners,
      ends,
      mayChange: true,
      mayWrite: true,
    };
    const server = testServer({ "/api/students/1/cases/4": page });
    const { user } = renderPage(
      <Routes>
        <Route path="/follow-up/cases/:student/:case" element={<CasePage />} />
      </Routes>,
      "/follow-up/cases/1/4",
    );
    expect(await screen.findByText("4 support sessions, 2 h · 2 before it was opened")).toBeInTheDocument();
    expect(screen.getByRole("link", { name: "plan.pdf" })).toHaveAttribute("href", "/api/students/1/cases/4/papers/3");
    await user.type(screen.getByRole("textbox", { name: "What is to be done" }), "ring the doctor{Enter}");
    await waitFor(() => expect(server.sent[0]?.body).toMatchObject({ case: 4, text: "ring the doctor", owner: 3 }));
    await user.click(screen.getByRole("button", { name: "Drop …" }));
    await user.type(screen.getByRole("textbox", { name: "Why it is dropped" }), "the tutor left{Enter}");
    await waitFor(() => expect(server.sent[1]?.body).toMatchObject({ step: 7, done: false, text: "the tutor left" }));
    await user.click(screen.getByRole("button", { name: "Call it off" }));
    await waitFor(() => expect(server.sent[2]?.path).toBe("/api/meetings/6/off"));
  });
});

describe("what came of it", () => {
  it("sets before and after beside each other, and says that it shows no cause", async () => {
    const came: Schemas["CameView"] = {
      scope: "",
      group: "",
      groups: [],
      label: "Mon 9 March",
      around: 20,
      least: 5,
      rows: [
        {
          what: "sessions",
          name: "Mentoring",
          students: 12,
          episodes: 12,
          length: "29 days",
          early: 4,
          compared: 8,
          less: 5,
          same: 1,
          more: 2,
          figures: [{ name: "school missed", before: "12.4 %", after: "8.1 %", was: 12.4, is: 8.1 }],
        },
        {
          what: "sessions",
          name: "Talk",
          students: 1,
          episodes: 1,
          length: "1 day",
          early: 1,
          compared: 0,
          less: 0,
          same: 0,
          more: 0,
          figures: [],
        },
      ],
    };
    testServer({ "/api/support/came": came });
    renderPage(<CameOfIt />, "/follow-up/came");
    expect(await screen.findByText("This shows no cause:")).toBeInTheDocument();
    expect(screen.getByText("No case was closed this year.")).toBeInTheDocument();
    expect(screen.getByText(/8 compared: less missed by 5, as much by 1, more by 2/)).toHaveTextContent(
      "too few school days around 4",
    );
    expect(screen.getByText("too few school days around any to compare")).toBeInTheDocument();
    expect(screen.getByRole("row", { name: /school missed 12.4 % 8.1 %/ })).toBeInTheDocument();
  });
});
