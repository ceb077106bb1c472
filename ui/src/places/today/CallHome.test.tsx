import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { lookAgain } from "../../api/again";
import type { Schemas } from "../../api/client";
import { covers } from "../../api/topics";
import { rail, renderPage, safe, settings, student, testServer } from "../../test-page";
import Today from "./Today";

const contact = (id: number, name: string, order: number): Schemas["ContactRef"] => ({
  id,
  order,
  name,
  relation: "mother",
  phone: `07700 900 00${id}`,
  mayCollect: false,
  livesWith: true,
  doNotCall: false,
});

const missing = (id: number, name: string): Schemas["HouseholdStudent"] => ({
  student: student(id, name),
  text: "not in AM registration",
  lately: "in yesterday",
  warnings: id === 1 ? ["asthma"] : [],
});

const home = (
  key: string,
  students: Schemas["HouseholdStudent"][],
  contacts: Schemas["ContactRef"][],
): Schemas["HouseholdView"] => ({
  key,
  students,
  contacts,
  next: contacts.length ? 0 : -1,
  notCalled: key === "b" ? ["Birger Sandal"] : [],
  attempts: [],
  again: "",
  waits: false,
  early: false,
  held: "",
  answered: 0,
});

function today(change: Partial<Schemas["TodayView"]> = {}): Schemas["TodayView"] {
  return {
    date: "2026-03-10",
    asAt: "2026-03-10T09:12",
    scope: "Fairlead School",
    open: true,
    roll: 10,
    count: [
      { state: "in", label: "in", n: 7 },
      { state: "unaccounted", label: "unaccounted for", n: 3 },
    ],
    worked: true,
    past: false,
    just: [],
    worried: [],
    unsettled: [],
    onSite: [],
    registers: [],
    due: 24,
    waiting: 0,
    mismatches: [],
    dueBack: [],
    trips: [],
    causes: [],
    households: [
      home(
        "a",
        [missing(1, "Elis Merrow"), missing(2, "Ansa Merrow")],
        [contact(1, "Ida Merrow", 1), contact(2, "Sunniva Pell", 2)],
      ),
      home("b", [missing(3, "Juno Sandal")], [contact(3, "Liv Sandal", 1)]),
      home("c", [missing(4, "Della Fairhurst")], []),
    ],
    missing: 4,
    ring: 2,
    callFrom: "",
    calm: "Nobody is unaccounted for at 09:12.",
    noContact: 1,
    safe: [safe({ registersIn: 24, registers: 24, unaccounted: 4 })],
    holds: [],
    held: 0,
    answers: [],
    fetches: [],
    tasks: 0,
    overdue: 0,
    notices: 0,
    ...change,
  };
}

function open(view = today()) {
  const server = testServer({ "/api/today": view, "/api/settings": settings, "/api/rail": rail });
  return { ...renderPage(<Today />, "/today"), server };
}

describe("ringing home by key", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says who is rung, about whom, and what matters", async () => {
    open();
    expect(await screen.findByText("asthma")).toBeInTheDocument();
    expect(screen.getAllByText("2 homes to ring").length).toBeGreaterThan(0);
    expect(screen.getByText("no contact on file")).toBeInTheDocument();
    expect(screen.getByText("Ida Merrow").parentElement).toHaveTextContent("Ida Merrow mother 07700 900 001");
    expect(screen.getByText(/^then/)).toHaveTextContent("then Sunniva Pell, mother, 07700 900 002");
  });

  it("says what many of them share, and shows only those", async () => {
    const cause = {
      key: "ferry Petrel",
      text: "2 of these come by the Petrel",
      shares: "2 of 20 such are missing, 2 of 570 others",
      students: [3, 4],
      suggest: "the Petrel is late",
    };
    const { user } = open(today({ causes: [cause] }));
    expect(await screen.findByText(/come by the Petrel/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: /^Only these 2/ }));
    expect(screen.queryByText("Elis Merrow")).toBeNull();
    expect(screen.getByText("Juno Sandal")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: /^Show everyone/ }));
    expect(screen.getByText("Elis Merrow")).toBeInTheDocument();
  });

  it("holds those who share a cause until a time, for a reason", async () => {
    const cause: Schemas["CauseView"] = {
      key: "ferry Petrel",
      text: "2 of these come by the Petrel",
      shares: "",
      students: [1, 3],
      suggest: "the Petrel is late",
    };
    const { user, server } = open(today({ causes: [cause] }));
    await user.click(await screen.findByRole("button", { name: "Hold these 2" }));
    await user.keyboard("940{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/holds",
      body: { students: [1, 3], until: "940", reason: "the Petrel is late" },
    });
  });

  it("keeps what was typed when a hold is refused, and lets it be put right at once", async () => {
    const cause = { key: "ferry Petrel", text: "", shares: "", students: [1], suggest: "the Petrel is late" };
    const { user, server } = open(today({ causes: [cause] }));
    await user.click(await screen.findByRole("button", { name: "Hold these 1" }));
    server.refusals["/api/holds"] = { status: 422, detail: "held until when? nobody is held" };
    await user.keyboard("soon{Enter}");
    expect(await screen.findByText(/nobody is held/)).toBeInTheDocument();
    delete server.refusals["/api/holds"];
    await user.clear(screen.getByLabelText("until"));
    await user.type(screen.getByLabelText("until"), "940{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(2));
    expect(server.sent[1]?.body).toMatchObject({ until: "940", reason: "the Petrel is late" });
  });

  it("shows who is held until when, and rings them after all", async () => {
    const hold: Schemas["HoldView"] = {
      id: 6,
      reason: "the Petrel is late",
      until: "09:40",
      by: "R. Tolvan",
      since: "09:13",
      waiting: [student(3, "Juno Sandal")],
      of: 2,
    };
    const base = today();
    const households = base.households.map((h) =>
      h.key === "b" ? { ...h, held: "the Petrel is late", again: "09:40", waits: true } : h,
    );
    const { user, server } = open(today({ holds: [hold], held: 1, households }));
    expect(await screen.findByText("the Petrel is late: 1 student held until 09:40")).toBeInTheDocument();
    expect(screen.getByText("held until 09:40: the Petrel is late")).toBeInTheDocument();
    expect(screen.getByText("2 homes to ring · 1 held")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Ring them after all" }));
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/holds/6/end"));
  });

  it("looks at a text before it goes, leaves the held out unless chosen, and takes it back", async () => {
    const base = today();
    const households = base.households.map((h) => (h.key === "b" ? { ...h, held: "late" } : h));
    const { user, server } = open(today({ households }));
    const preview: Schemas["TextPreview"] = {
      text: "Fairlead School: {students} not in at 09:12.",
      homes: 1,
      to: "Ida Merrow, 07700 900 001",
      example: "Fairlead School: Elis and Ansa are not in at 09:12.",
      without: ["Della Fairhurst"],
      tried: 1,
    };
    server.answers["/api/messages/homes/read"] = preview;
    await screen.findByText("asthma");
    await user.keyboard("x");
    expect(await screen.findByText(/Elis and Ansa are not in at 09:12/)).toBeInTheDocument();
    expect(screen.getByLabelText("What the text says")).toHaveValue(preview.text);
    expect(screen.getByText(/No number for texts: Della Fairhurst/)).toBeInTheDocument();
    const looks = () => server.sent.filter((s) => s.path === "/api/messages/homes/read");
    expect(looks().at(-1)?.body).toMatchObject({ students: [1, 2, 4] });
    await user.click(screen.getByRole("checkbox", { name: "also the 1 held" }));
    await waitFor(() => expect(looks().at(-1)?.body).toMatchObject({ students: [1, 2, 3, 4] }));
    await user.click(screen.getByRole("checkbox", { name: "also the 1 held" }));
    await user.type(screen.getByLabelText("What the text says"), " Please answer.{Enter}");
    const sent = () => server.sent.filter((s) => s.path === "/api/messages/homes");
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]?.body).toMatchObject({ students: [1, 2, 4], text: `${preview.text} Please answer.` });
    expect(await screen.findByText(/They leave in ten seconds/)).toBeInTheDocument();
    await user.keyboard("z");
    await waitFor(() => expect(server.sent.some((s) => s.path.endsWith("/back"))).toBe(true));
  });

  it("is worried for whom a home believes at school, in its own words and for whom it is said", async () => {
    const { user, server } = open();
    await screen.findByText("asthma");
    await user.keyboard("5");
    await user.type(screen.getByLabelText("What they say"), "left at eight");
    await user.click(screen.getByRole("checkbox", { name: "Ansa" }));
    await user.type(screen.getByLabelText("What they say"), "{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/calls",
      body: { students: [1, 2], outcome: "spoke", said: "believes at school", for: [1], note: "left at eight" },
    });
  });

  it("works an earlier day: the call is about that day", async () => {
    const { user, server } = open(today({ past: true, date: "2026-03-09", asAt: "2026-03-09T23:59" }));
    await screen.findByText("asthma");
    expect(screen.queryByRole("button", { name: /^Hold/ })).toBeNull();
    await user.keyboard("1i");
    (document.activeElement as HTMLElement).blur();
    await user.keyboard("{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]?.body).toMatchObject({ said: "ill", date: "2026-03-09" });
  });

  it("waits for the school's own minute, and can be told not to", async () => {
    const early = today().households.map((h) => ({ ...h, early: true }));
    const { user } = open(today({ households: early, callFrom: "09:15", ring: 0 }));
    expect(await screen.findByText(/Homes are rung from 09:15: 3 homes so far/)).toBeInTheDocument();
    expect(screen.queryByText("Juno Sandal")).toBeNull();
    await user.click(screen.getByRole("button", { name: "Show them now" }));
    expect(screen.getByText("Juno Sandal")).toBeInTheDocument();
  });

  it("shows only homes of a form, and says how many those are", async () => {
    const { user } = open();
    await screen.findByText("asthma");
    await user.click(screen.getByRole("combobox", { name: "Show only" }));
    await user.click(await screen.findByTitle("no contact"));
    await waitFor(() => expect(screen.queryByText("Juno Sandal")).toBeNull());
    expect(screen.getByText(/1 of 3 shown/)).toBeInTheDocument();
  });

  it("accepts an answer as a notice, with the reason and the time that stand in it", async () => {
    const answer: Schemas["AnswerView"] = {
      message: 12,
      at: "09:16",
      contact: "Ida Merrow",
      phone: "07700 900 003",
      text: "On the way, there by 9:40",
      students: [student(1, "Elis Merrow"), student(2, "Ansa Merrow")],
      reason: "on the way",
      until: "09:40",
    };
    const vague = { ...answer, message: 13, text: "Who is this?", reason: "", until: "" };
    const { user, server } = open(today({ answers: [answer, vague] }));
    await screen.findByText("Homes have answered");
    const [first, second] = await screen.findAllByRole("button", { name: /^Accept/ });
    expect(second).toBeDisabled();
    await user.click(screen.getAllByRole("checkbox", { name: "About Ansa Merrow" })[0] as HTMLElement);
    await user.click(first as HTMLElement);
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/notices",
        body: { students: [1], reason: "on the way", toTime: "09:40", message: 12 },
      }),
    );
    await user.click(screen.getAllByRole("button", { name: "No reason" })[1] as HTMLElement);
    await waitFor(() => expect(server.sent[1]?.path).toBe("/api/messages/13/read"));
  });

  it("opens safe arrival again, with a reason", async () => {
    const { user, server } = open(today({ households: [], safe: [safe({ state: "closed", text: "Closed." })] }));
    await user.click(await screen.findByRole("button", { name: "Open it again" }));
    await user.keyboard("{Enter}");
    expect(server.sent).toHaveLength(0);
    await user.keyboard("a doubt{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/safe-arrival/reopen",
        body: { section: 1, reason: "a doubt" },
      }),
    );
  });

  it("logs no answer with one key, for both siblings", async () => {
    const { user, server } = open();
    await screen.findByText("asthma");
    await user.keyboard("3");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/calls",
      body: { students: [1, 2], contact: 1, outcome: "no answer" },
    });
    expect(server.sent[0]?.body).not.toHaveProperty("said");
  });

  it("keeps what is being written while others deal with the home, and tells of them first", async () => {
    covers(["/api/today", {}], 70);
    const { user, server, queries } = open();
    await screen.findByText("asthma");
    await user.keyboard("1i");
    await user.type(screen.getByLabelText("Note"), "since the night");
    covers(["/api/today", {}], 71);
    const rest = today();
    server.answers["/api/today"] = { ...rest, households: rest.households.slice(1), missing: 2 };
    await act(() => lookAgain(queries));
    expect(await screen.findByText(/off the list. Nothing of yours is saved yet/)).toBeInTheDocument();
    expect(screen.getByLabelText("Note")).toHaveValue("since the night");
    server.refusals["/api/calls"] = { status: 409, detail: "A. Byrne saved at 09:11: Elis Merrow ill today" };
    await user.keyboard("{Enter}");
    expect(await screen.findByText(/A. Byrne saved at 09:11/)).toBeInTheDocument();
    expect(server.sent[0]?.body).toMatchObject({ note: "since the night", said: "ill", seen: 70 });
    expect(screen.getByLabelText("Note")).toHaveValue("since the night");
    delete server.refusals["/api/calls"];
    await user.keyboard("{Enter}");
    await waitFor(() => expect(screen.queryByText(/off the list/)).not.toBeInTheDocument());
    expect(server.sent[1]?.body).toMatchObject({ note: "since the night", seen: 0 });
    expect(screen.queryByText("Elis Merrow")).not.toBeInTheDocument();
  });

  it("goes to the next contact, and stores what was said for one of two", async () => {
    const { user, server } = open();
    await screen.findByText("asthma");
    await user.keyboard("{ArrowRight}1i");
    await user.click(screen.getByRole("checkbox", { name: "Ansa" }));
    expect(screen.getByRole("button", { name: /Save: code M/ })).toBeInTheDocument();
    (document.activeElement as HTMLElement).blur();
    await user.keyboard("{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]?.body).toMatchObject({
      students: [1, 2],
      contact: 2,
      outcome: "spoke",
      said: "ill",
      for: [1],
    });
  });

  it("asks until when someone is on the way", async () => {
    const { user, server } = open();
    await screen.findByText("asthma");
    await user.keyboard("1w");
    await user.keyboard("940{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]?.body).toMatchObject({ said: "on the way", until: "940" });
  });

  it("moves down the list, and shows whom not to ring", async () => {
    const { user } = open();
    await screen.findByText("asthma");
    await user.keyboard("{ArrowDown}");
    expect(await screen.findByText(/do not call Birger Sandal/)).toBeInTheDocument();
    await user.keyboard("{ArrowDown}");
    expect(screen.queryByRole("button", { name: /^Message/ })).not.toBeInTheDocument();
    expect(screen.getByText("known from elsewhere")).toBeInTheDocument();
  });

  it("says what an empty list covers", async () => {
    open(today({ households: [], missing: 0 }));
    expect(await screen.findByText("Nobody is unaccounted for at 09:12. Fairlead School.")).toBeInTheDocument();
  });

  it("does not call it empty while registers are out", async () => {
    const out: Schemas["RegisterOut"] = {
      class: 48,
      slot: "AM",
      label: "AM registration",
      title: "8 Halyard",
      teacher: "P. Osk",
      room: "room 17",
      overdue: 12,
      waiting: 26,
      reminded: [],
      answer: "",
    };
    const { user, server } = open(
      today({
        households: [],
        missing: 0,
        registers: [out],
        waiting: 26,
        calm: "Nobody to ring yet: 26 not yet known while 1 register is out.",
      }),
    );
    expect(await screen.findByText(/Nobody to ring yet/)).toBeInTheDocument();
    expect(screen.getByText("26 students wait for these; none is rung.")).toBeInTheDocument();
    await user.keyboard("r");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/messages", body: { kind: "remind", class: 48, slot: "AM" } }),
    );
  });
});

describe("searching and closing", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("searches, finds and gives up by key", async () => {
    const lost: Schemas["MissingOnSite"] = {
      student: student(9, "Oona Harle"),
      text: "seen 08:41, not in AM registration",
      warnings: [],
      search: { id: 0, by: "", since: "" },
    };
    const { user, server } = open(today({ onSite: [lost] }));
    await screen.findByText("Oona Harle");
    await user.keyboard("s");
    await user.keyboard("Porter Finch{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    await user.keyboard("f");
    await user.keyboard("boat shed{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(2));
    await user.keyboard("g");
    await waitFor(() => expect(server.sent).toHaveLength(3));
    expect(server.sent.map((s) => [s.path, s.body])).toEqual([
      ["/api/searches", { student: 9, searcher: "Porter Finch" }],
      ["/api/searches/end", { student: 9, found: true, place: "boat shed", foundBy: "" }],
      ["/api/searches/end", { student: 9, found: false }],
    ]);
  });

  it("closes by key only when it is ready", async () => {
    const { user, server, unmount } = open();
    await screen.findByText("asthma");
    await user.keyboard("c");
    expect(server.sent).toHaveLength(0);
    unmount();
    const ready = open(today({ households: [], safe: [safe({ state: "ready" })] }));
    await screen.findByRole("button", { name: /Close safe arrival/ });
    await ready.user.keyboard("c");
    await waitFor(() =>
      expect(ready.server.sent[0]).toMatchObject({ path: "/api/safe-arrival/close", body: { section: 1 } }),
    );
  });

  it("closes one section after the other, each by name", async () => {
    const { user, server } = open(
      today({
        households: [],
        safe: [
          safe({ name: "Lower School", state: "closed", text: "Safe arrival was closed at 09:10 by R. Tolvan." }),
          safe({ section: 2, name: "Upper School", state: "ready" }),
        ],
      }),
    );
    expect(await screen.findByText(/Lower School:/)).toBeInTheDocument();
    await user.keyboard("c");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/safe-arrival/close", body: { section: 2 } }),
    );
    await user.click(screen.getByRole("button", { name: "Open it again" }));
    await user.type(screen.getByLabelText("Why Lower School is opened again"), "a doubt{Enter}");
    await waitFor(() =>
      expect(server.sent[1]).toMatchObject({
        path: "/api/safe-arrival/reopen",
        body: { section: 1, reason: "a doubt" },
      }),
    );
  });

  it("does nothing at an earlier minute", async () => {
    const server = testServer({ "/api/today": today({ worked: false }), "/api/settings": settings, "/api/rail": rail });
    const { user } = renderPage(<Today />, "/today?at=2026-03-10T08:50");
    await screen.findByText("asthma");
    await user.keyboard("3src");
    expect(server.sent).toHaveLength(0);
  });
});
