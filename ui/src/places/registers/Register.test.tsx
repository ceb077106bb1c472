import { act, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { forgetOutboxes } from "../../api/outbox";
import { typeAsReader } from "../../parts/scanner";
import { place, rail, reasons, renderPage, type Sent, student, testServer } from "../../test-page";
import { Register } from "./Register";

/** Holds a card to the reader: its keys come at once, however busy the machine is. */
const scan = (held: string) => act(() => typeAsReader(held));

const code = (c: string, word: string, state: string, use: string, button = 0): Schemas["CodeView"] => ({
  code: c,
  word,
  counts: "",
  state,
  late: state === "late",
  timed: state === "late",
  key: c.toLowerCase(),
  uses: [use],
  button,
});

const codes = [
  code("P", "present", "in", "present", 1),
  code("L", "late", "late", "late", 2),
  code("X", "excused", "explained", "away", 4),
  code("M", "medical", "explained", "ill", 5),
  code("N", "no reason yet", "unaccounted", "no_reason", 3),
  code("V", "off-site activity", "elsewhere", "off_site", 6),
  code("U", "unexcused", "unexcused", "unexcused"),
];

function register(students: number, change: Partial<Schemas["RegisterView"]> = {}): Schemas["RegisterView"] {
  return {
    register: {
      class: 48,
      title: "8 Halyard",
      section: "",
      slot: "AM",
      label: "AM registration",
      start: "08:45",
      end: "09:00",
      room: "room 17",
      teacher: "P. Osk",
      state: "open",
      dueBy: "09:00",
      overdue: 0,
      sentAt: "",
      sentBy: "",
      takenBy: "",
      students,
      mine: true,
    },
    date: "2026-03-10",
    label: "Tue 10 March",
    rows: Array.from({ length: students }, (_, i) => ({
      student: student(i + 1),
      warnings: i === 0 ? ["nut allergy"] : [],
      recent: [{ date: "2026-03-09", slot: "AM", code: "P", state: "in" }],
      versions: [],
      card: `FL${i + 1}00`,
      seat: i < 3 ? i : -1,
      place: place("not-yet-known"),
      ...(i === 4 ? { known: { code: "M", from: "", to: "", text: "ill · home", source: "home" } } : {}),
    })),
    codes,
    reasons,
    canSend: true,
    whyNot: "",
    arriving: { in: "P", late: "L", inUntil: "08:50" },
    seating: { columns: 8, rows: 5 },
    checkInsBefore: [],
    mayPrepareCheckIn: false,
    noCheckIn: "",
    checkInDays: [],
    mayCheckInAtADistance: true,
    ...change,
  };
}

const path = "/api/registers/48/AM";

/** A server that acknowledges marks as the real one does, one version after another. */
function open(view: Schemas["RegisterView"], more: Record<string, unknown> = {}) {
  forgetOutboxes();
  const version: Record<number, number> = {};
  const draft = ({ body }: Sent) => {
    const { marks } = body as Schemas["Drafts"];
    const taken = marks.map((m) => {
      version[m.student] = (version[m.student] ?? 0) + 1;
      return { ...m, version: version[m.student], by: "R. Tolvan", at: "08:52" };
    });
    return { seq: 1, taken, conflicts: [] };
  };
  const server = testServer({ [path]: view, "/api/rail": rail, "/api/registers/draft": draft, ...more });
  const page = renderPage(<Register />, "/registers/48/AM", "/registers/:class/:slot");
  return { ...page, server };
}

const wholes = (server: ReturnType<typeof testServer>) => server.sent.filter((s) => s.path === "/api/registers");

const tally = () => screen.getByTestId("tally").textContent;

describe("taking a register", () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => vi.unstubAllGlobals());

  it("takes 28 students with three exceptions in at most twelve keys", async () => {
    const { user, server } = open(register(28));
    await screen.findByText(/due by 09:00/);
    const keys = ["p", "n", "l", "7", "{Enter}", "n", "a", "{Control>}{Enter}{/Control}"];
    for (const k of keys) {
      await user.keyboard(k);
      await new Promise((done) => setTimeout(done, 60)); // a hand, not a reader
    }
    await waitFor(() => expect(wholes(server)).toHaveLength(1));
    expect(keys.length).toBeLessThanOrEqual(12);
    const marks = (wholes(server)[0] as { body: Schemas["SentRegister"] }).body.marks;
    expect(marks).toHaveLength(28);
    expect(marks.filter((m) => m.code === "N").map((m) => m.student)).toEqual([2, 4]);
    expect(marks.find((m) => m.code === "L")).toMatchObject({ student: 3, time: "7", made: "08:52" });
    expect(marks.find((m) => m.student === 5)).toMatchObject({ code: "M", source: "home" });
    expect(marks.find((m) => m.student === 3)?.seen).toBeGreaterThanOrEqual(1); // L with its minutes, or those after it
  });

  it("ends the number of minutes with a mark key or an arrow; a letter never lands in it", async () => {
    const { user, server } = open(register(28));
    await screen.findByText(/due by 09:00/);
    for (const k of ["l", "5", "{ArrowDown}", "v", "l", "1", "2", "n", "a", "{Control>}{Enter}{/Control}"]) {
      await user.keyboard(k);
      await new Promise((done) => setTimeout(done, 60)); // a hand, not a reader
    }
    await waitFor(() => expect(wholes(server)).toHaveLength(1));
    const marks = (wholes(server)[0] as { body: Schemas["SentRegister"] }).body.marks;
    const of = (student: number) => {
      const m = marks.find((one) => one.student === student);
      return [m?.code, m?.time, m?.source];
    };
    expect(of(1)).toEqual(["L", "5", ""]);
    expect(of(2)).toEqual(["V", "", ""]);
    expect(of(3)).toEqual(["L", "12", ""]);
    expect(of(4)).toEqual(["N", "", ""]);
    expect(of(6)).toEqual(["P", "", "rest"]); // in with everyone else: nobody looked at this one
  });

  it("is entered from paper as taken by one and entered by another", async () => {
    const { user, server } = open(register(2));
    await user.click(await screen.findByRole("button", { name: "It comes back on paper …" }));
    await user.keyboard("{Escape}");
    await user.click(screen.getByRole("button", { name: /Everyone else is in/ }));
    await user.click(screen.getByRole("button", { name: /Send register/ }));
    expect(await screen.findByText("Say who took it on paper.")).toBeInTheDocument();
    await user.type(screen.getByLabelText("Taken on paper by"), "B. Quill");
    await user.type(screen.getByLabelText("Taken at"), "850");
    await user.click(screen.getByRole("button", { name: /Send register/ }));
    await waitFor(() => expect(wholes(server)).toHaveLength(1));
    expect(wholes(server)[0]?.body).toMatchObject({ takenBy: "B. Quill", takenAt: "08:50" });
  });

  it("lets nobody open a check-in for a slot that is over, and says why", async () => {
    open(register(2, { noCheckIn: "AM registration was over at 09:00" }));
    expect(await screen.findByRole("button", { name: "Let the class check in" })).toBeDisabled();
    expect(screen.getByText("AM registration was over at 09:00.")).toBeInTheDocument();
  });

  it("has each code's word over its buttons", async () => {
    open(register(2));
    await screen.findByText(/due by/);
    expect(screen.getByTitle("off-site activity")).toBeInTheDocument();
  });

  it("marks with every key that the school's own codes have, and nothing else with it", async () => {
    const own = [
      { ...code("/", "present in the morning", "in", "present", 1), key: "." },
      code("C", "leave for a reason", "explained", "away", 2),
      code("T", "travelling", "explained", "travelling"),
    ];
    const { user } = open(register(4, { codes: own }));
    await user.click(await screen.findByText("Seats"));
    expect(screen.getByRole("button", { name: "Arrange the seats" })).toBeInTheDocument();
    await user.click(screen.getByText("List"));
    await user.keyboard(".ct");
    expect(tally()).toContain("1 in");
    expect(tally()).toContain("2 explained");
    expect(screen.getByRole("button", { name: "Student 2: leave for a reason" })).toHaveAttribute(
      "aria-pressed",
      "true",
    );
  });

  it("fills in what is known with its source, and says where eyes and books differ", async () => {
    const { user } = open(register(5));
    expect(await screen.findByText("ill · home")).toBeInTheDocument();
    expect(tally()).toContain("1 explained");
    await user.click(screen.getByRole("button", { name: "Student 5: present" }));
    expect(screen.getByText("but ill · home")).toBeInTheDocument();
  });

  it("never sends a blank, and goes to the first one", async () => {
    const { user, server } = open(register(6));
    await screen.findByText(/due by/);
    await user.keyboard("pp{Control>}{Enter}{/Control}");
    expect((await screen.findAllByText(/still to mark: a blank is never an absence/)).length).toBeGreaterThan(0);
    expect(wholes(server)).toHaveLength(0);
    expect(screen.getByText("3, Student", { exact: false }).closest("tr")).toHaveAttribute("aria-current", "true");
  });

  it("keeps the marks while the line is down, says so, and sends them by itself, once", async () => {
    const { user, server } = open(register(3));
    await screen.findByText(/due by/);
    server.refusals["/api/registers/draft"] = { status: 502, detail: "the line is down" };
    await user.keyboard("n");
    expect(await screen.findByText(/1 mark is kept on this machine/)).toBeInTheDocument();
    await user.keyboard("a");
    await waitFor(() => expect(tally()).toContain("0 to mark"));
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(await screen.findByText(/goes out when it is back/)).toBeInTheDocument();
    expect(wholes(server)).toHaveLength(0);
    delete server.refusals["/api/registers/draft"];
    await waitFor(() => expect(wholes(server)).toHaveLength(1), { timeout: 4000 });
    const marks = (wholes(server)[0] as { body: Schemas["SentRegister"] }).body.marks;
    expect(marks.map((m) => m.code)).toEqual(["N", "P", "P"]);
    const first = server.sent.filter((s) => s.path === "/api/registers/draft");
    expect(new Set(first.map((s) => s.key)).size).toBe(2); // repeats have the key of the first try
    expect(localStorage).toHaveLength(0);
  });

  it("shows a mark that someone else made, and lets the person choose when both marked the row", async () => {
    const view = register(3);
    const theirs = {
      student: 2,
      code: "P",
      time: "",
      note: "",
      source: "",
      made: "08:50",
      version: 4,
      by: "T. Rask",
      at: "08:50",
    };
    if (view.rows[0]) view.rows[0].draft = { ...theirs, student: 1, code: "L", time: "5" };
    const { user, server } = open(view, {
      "/api/registers/draft": ({ body }: Sent) => {
        const [mark] = (body as Schemas["Drafts"]).marks;
        return mark?.seen === 4
          ? { seq: 1, taken: [{ ...mark, version: 5, by: "R. Tolvan", at: "08:52" }], conflicts: [] }
          : { seq: 1, taken: [], conflicts: [theirs] };
      },
    });
    expect(await screen.findByText(/T. Rask 08:50/)).toBeInTheDocument();
    expect(tally()).toContain("1 late");
    await user.click(screen.getByRole("button", { name: "Student 2: no reason yet" }));
    const alert = await screen.findByRole("alert");
    expect(alert).toHaveTextContent("T. Rask 08:50: P present, yours: N no reason yet");
    expect(tally()).toContain("1 in");
    await user.keyboard("{Control>}{Enter}{/Control}");
    expect(await screen.findByText(/choose which mark stands/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: /Mine is right/ }));
    await waitFor(() => expect(tally()).toContain("1 no reason"));
    await waitFor(() =>
      expect(server.sent.at(-1)?.body).toMatchObject({ marks: [{ student: 2, code: "N", seen: 4 }] }),
    );
    expect(screen.queryByText(/T. Rask 08:50: P present/)).toBeNull();
  });

  it("marks whoever holds a card to the reader, and lists other cards, without triggering a key", async () => {
    const { server } = open(register(6), { "/api/cards/NAP99": { known: true, text: "Oona Harle, 11 Cleat" } });
    await screen.findByText(/due by/);
    await waitFor(() => expect(server.asked).toContain("/api/rail")); // the minute decides who is late
    await new Promise((done) => setTimeout(done, 50));
    scan("FL400");
    expect(await screen.findByText(/Student 4 is late, 08:52/)).toBeInTheDocument();
    expect(tally()).toBe("0 in1 late0 no reason1 explained0 elsewhere4 to mark");
    scan("FL400");
    expect(await screen.findByText(/Student 4 is in already/)).toBeInTheDocument();
    scan("NAP99");
    expect(await screen.findByText(/Not on this register: Oona Harle, 11 Cleat/)).toBeInTheDocument();
    await waitFor(() =>
      expect(server.sent.map((s) => s.body)).toMatchObject([
        { marks: [{ student: 4, code: "L", time: "08:52", source: "card" }] },
      ]),
    );
  });

  it("is taken by seat with the same marks", async () => {
    const { user } = open(register(6));
    await screen.findByText(/due by/);
    await user.keyboard("ns");
    expect(await screen.findByText(/Front · room 17 · 3 without a seat/)).toBeInTheDocument();
    const seat = (n: number) => screen.getByRole("button", { name: new RegExp(`^Student ${n}:`) });
    expect(seat(1)).toHaveAccessibleName("Student 1: N no reason yet");
    await user.click(seat(3)); // a tap marks N
    expect(seat(3)).toHaveAccessibleName("Student 3: N no reason yet");
    await user.click(seat(3));
    expect(seat(3)).toHaveAccessibleName("Student 3: not marked");
    await user.keyboard("{ArrowLeft}p");
    await waitFor(() => expect(seat(2)).toHaveAccessibleName("Student 2: P present"));
    await user.keyboard("{ArrowDown}p"); // from the front row into the tray
    await waitFor(() => expect(seat(5)).toHaveAccessibleName("Student 5: P present"));
    expect(screen.getByText("but ill · home")).toBeInTheDocument();
    await user.keyboard("s");
    await waitFor(() => expect(tally()).toBe("2 in0 late1 no reason0 explained0 elsewhere3 to mark"));
  });

  it("finds a name, writes a note, and takes a mark off", async () => {
    const { user, server } = open(register(12));
    await screen.findByText(/due by/);
    await user.keyboard("f");
    await user.keyboard("11, st{Enter}");
    await user.keyboard(";");
    await user.keyboard("forgot the bag{Enter}");
    expect(screen.getByText(/forgot the bag/)).toBeInTheDocument();
    await user.keyboard("{ArrowUp}n");
    await waitFor(() => expect(tally()).toContain("1 no reason"));
    await user.keyboard("{ArrowUp}{Backspace}");
    await waitFor(() => expect(tally()).toContain("11 to mark"));
    expect(wholes(server)).toHaveLength(0);
  });

  it("marks nothing while it can't be sent, and says why", async () => {
    const { user } = open(register(3, { canSend: false, whyNot: "not due before 13:45" }));
    expect(await screen.findByText("not due before 13:45")).toBeInTheDocument();
    await user.keyboard("ppp");
    expect(tally()).toContain("3 to mark");
  });
});

describe("a register that is in", () => {
  const version = (c: string, at: string, why = ""): Schemas["VersionView"] => ({
    code: c,
    from: "",
    to: c === "L" ? "08:52" : "",
    at,
    by: "P. Osk",
    source: "register",
    reason: why,
    note: "",
  });
  const sent = () => {
    const v = register(2);
    v.register = { ...v.register, state: "sent", sentAt: "08:55", sentBy: "P. Osk" };
    v.rows[0]?.versions.push(version("N", "08:55"), version("L", "09:01", "came in after all"));
    v.rows[1]?.versions.push(version("P", "08:55"));
    return v;
  };

  it("shows both marks of a correction, with the reason", async () => {
    open(sent());
    expect(await screen.findByText(/came in after all/)).toHaveTextContent(
      "N until 09:01 · came in after all · P. Osk",
    );
    expect(screen.getByText(/came 08:52/)).toBeInTheDocument();
    await userEvent.click(screen.getByRole("button", { name: "history of Student 1’s mark" }));
    const history = await screen.findByRole("tooltip");
    expect(within(history).getAllByRole("row")).toHaveLength(3);
    expect(history).toHaveTextContent("N 08:55P. OskregisterL came 08:52 09:01P. Oskregistercame in after all");
  });

  it("shows marks made here that came too late, and keeps them until they are put away", async () => {
    localStorage.setItem(
      "meldung marks|41|2026-03-10 48 AM|step|a",
      JSON.stringify({ key: "made before", tried: true, marks: [{ student: 2, code: "N", seen: 0 }] }),
    );
    const { user, server } = open(sent());
    server.refusals["/api/registers/draft"] = { status: 409, detail: "8 Halyard AM was sent at 08:55 by P. Osk" };
    const left = await screen.findByRole("alert");
    expect(left).toHaveTextContent("without these marks of yours: Student 2 no reason yet");
    await user.click(screen.getByRole("button", { name: "Put them away" }));
    expect(screen.queryByRole("alert")).toBeNull();
    expect(localStorage).toHaveLength(0);
  });

  it("corrects with a reason only", async () => {
    const { user, server } = open(sent());
    await user.click(await screen.findByRole("button", { name: "Correct Student 2" }));
    const dialog = await screen.findByRole("dialog");
    await user.click(within(dialog).getByRole("button", { name: /medical/ }));
    expect(within(dialog).getByRole("button", { name: "Save the correction" })).toBeDisabled();
    await user.type(within(dialog).getByLabelText("Why"), "went home ill");
    await user.click(within(dialog).getByRole("button", { name: "Save the correction" }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/corrections",
      body: { date: "2026-03-10", slot: "AM", student: 2, code: "M", time: "", reason: "went home ill" },
    });
  });

  it("says why a register can't be opened", async () => {
    testServer({});
    renderPage(<Register />, "/registers/48/5", "/registers/:class/:slot");
    expect(await screen.findByRole("alert")).toHaveTextContent("the test answers nothing");
  });
});

describe("a check-in for a remote lesson", () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => vi.unstubAllGlobals());
  const window = {
    id: 9,
    opens: "09:15",
    closes: "09:25",
    open: false,
    toCome: false,
    link: "",
    question: "",
    distance: true,
  };
  const windowOf = (change: Partial<Schemas["CheckInView"]>) => ({
    ...window,
    entries: [],
    notYet: [],
    wrong: 0,
    ...change,
  });

  it("is prepared before the lesson, and shows no code yet", async () => {
    const { user, server } = open(
      register(3, { canSend: false, whyNot: "not due before 09:15", mayPrepareCheckIn: true }),
    );
    await user.click(await screen.findByRole("button", { name: "Prepare a remote check-in" }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/check-ins", body: { class: 48, slot: "AM", distance: true } }),
    );
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("has a link to post, before it opens", async () => {
    open(
      register(3, {
        canSend: false,
        whyNot: "not due",
        checkIn: windowOf({ toCome: true, link: "/check-in?l=9.abc" }),
      }),
    );
    expect(await screen.findByLabelText("Link for a remote lesson")).toHaveValue(
      "http://localhost:3000/check-in?l=9.abc",
    );
    expect(screen.getByText("opens at 09:15")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Do not open it" })).toBeInTheDocument();
  });

  it("has no link where nobody attends at a distance", async () => {
    open(register(3, { checkIn: windowOf({ open: true, distance: false }) }));
    await screen.findByRole("button", { name: "Close it" });
    expect(screen.queryByLabelText("Link for a remote lesson")).toBeNull();
  });
});
