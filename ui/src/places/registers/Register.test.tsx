import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { place, rail, reasons, renderPage, student, testServer } from "../../test-page";
import { Register } from "./Register";

const code = (c: string, word: string, state: string): Schemas["CodeView"] => ({
  code: c,
  word,
  counts: "",
  state,
  late: state === "late",
});

const codes = [
  code("P", "present", "in"),
  code("L", "late", "late"),
  code("N", "no reason yet", "unaccounted"),
  code("X", "excused", "explained"),
  code("M", "medical", "explained"),
  code("V", "off-site activity", "elsewhere"),
  code("U", "unexcused", "unexcused"),
];

function register(students: number, change: Partial<Schemas["RegisterView"]> = {}): Schemas["RegisterView"] {
  return {
    register: {
      class: 48,
      title: "8 Halyard",
      slot: "AM",
      words: "AM registration",
      start: "08:45",
      end: "09:00",
      room: "room 17",
      teacher: "P. Osk",
      state: "open",
      dueBy: "09:00",
      overdue: 0,
      sentAt: "",
      sentBy: "",
      students,
      mine: true,
    },
    date: "2026-03-10",
    words: "Tue 10 March",
    rows: Array.from({ length: students }, (_, i) => ({
      student: student(i + 1),
      warnings: i === 0 ? ["nut allergy"] : [],
      recent: [{ date: "2026-03-09", slot: "AM", code: "P", state: "in" }],
      versions: [],
      place: place("not-yet-known"),
      ...(i === 4 ? { known: { code: "M", from: "", to: "", words: "ill · home", source: "home" } } : {}),
    })),
    codes,
    reasons,
    canSend: true,
    whyNot: "",
    ...change,
  };
}

const path = "/api/registers/48/AM";

function open(view: Schemas["RegisterView"]) {
  const server = testServer({ [path]: view, "/api/rail": rail });
  const page = renderPage(<Register />, "/registers/48/AM", "/registers/:class/:slot");
  return { ...page, server };
}

const tally = () => screen.getByTestId("tally").textContent;

describe("taking a register", () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => vi.unstubAllGlobals());

  it("takes 28 students with three exceptions in at most twelve keys", async () => {
    const { user, server } = open(register(28));
    await screen.findByText(/due by 09:00/);
    const keys = ["p", "n", "l", "7", "{Enter}", "n", "a", "{Control>}{Enter}{/Control}"];
    for (const k of keys) await user.keyboard(k);
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(keys.length).toBeLessThanOrEqual(12);
    const marks = server.sent[0]?.body.marks as Schemas["SentMark"][];
    expect(marks).toHaveLength(28);
    expect(marks.filter((m) => m.code === "N").map((m) => m.student)).toEqual([2, 4]);
    expect(marks.find((m) => m.code === "L")).toMatchObject({ student: 3, time: "7", made: "08:52" });
    expect(marks.find((m) => m.student === 5)).toMatchObject({ code: "M", source: "home" });
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
    expect(server.sent).toHaveLength(0);
    expect(screen.getByText("3, Student", { exact: false }).closest("tr")).toHaveAttribute("aria-current", "true");
  });

  it("keeps the marks when the line is down, and sends them with the same key", async () => {
    const { user, server } = open(register(3));
    await screen.findByText(/due by/);
    server.refusals["/api/registers"] = { status: 500, detail: "the line is down" };
    await user.keyboard("a{Control>}{Enter}{/Control}");
    expect(await screen.findByText(/the line is down. Your marks are kept here/)).toBeInTheDocument();
    expect(localStorage.getItem("meldung register 2026-03-10 48 AM")).toContain('"P"');
    delete server.refusals["/api/registers"];
    await user.keyboard("{Control>}{Enter}{/Control}");
    await waitFor(() => expect(server.sent).toHaveLength(2));
    expect(server.sent[0]?.key).toBe(server.sent[1]?.key);
    await waitFor(() => expect(localStorage.getItem("meldung register 2026-03-10 48 AM") ?? "").not.toContain('"P"'));
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
    expect(tally()).toContain("1 no reason");
    await user.keyboard("{ArrowUp}{Backspace}");
    expect(tally()).toContain("11 to mark");
    expect(server.sent).toHaveLength(0);
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
  });

  it("corrects with a reason only", async () => {
    const { user, server } = open(sent());
    await user.click(await screen.findByRole("button", { name: "Correct Student 2" }));
    const dialog = await screen.findByRole("dialog");
    await user.click(within(dialog).getByRole("button", { name: /medical/ }));
    expect(within(dialog).getByRole("button", { name: "Store the correction" })).toBeDisabled();
    await user.type(within(dialog).getByLabelText("Why"), "went home ill");
    await user.click(within(dialog).getByRole("button", { name: "Store the correction" }));
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
