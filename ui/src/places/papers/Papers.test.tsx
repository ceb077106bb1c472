import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, student, testServer } from "../../test-page";
import Papers from "./Papers";

const row = (id: number, name: string, kind: Schemas["LateRow"]["kind"]): Schemas["LateRow"] => ({
  date: "2026-03-10",
  day: "Tue 10 March",
  student: student(id, name),
  kind,
  state: kind === "left early" ? "left" : "late",
  at: id === 2 ? "" : "09:12",
  slot: "AM registration",
  reason: "overslept",
  missed: id === 2 ? "" : "22 min",
});

const lates: Schemas["LatesView"] = {
  scope: "",
  from: "2026-03-09",
  to: "2026-03-10",
  label: "Mon 9 March to Tue 10 March",
  school: "Fairlead School",
  group: "",
  groups: [{ value: "class:48", label: "8 Halyard", kind: "form" }],
  spans: [{ value: "2026-03-09..2026-03-10", label: "this week", kind: "week" }],
  kinds: ["late arrival", "late to a lesson", "left early"],
  rows: [row(1, "Juno Sandal", "late arrival"), row(2, "Tavi Lund", "left early")],
  all: 2,
  page: 1,
  pages: 1,
  reasons: [{ label: "overslept", of: [1, 0, 1], all: 2 }],
  weekdays: [{ label: "Tuesday", of: [1, 0, 1], all: 2 }],
  students: [{ student: student(1, "Juno Sandal"), label: "Sandal, Juno", of: [1, 0, 0], all: 1, missed: "22 min" }],
};

function open(view = lates) {
  const server = testServer({ "/api/lates": view });
  return { ...renderPage(<Papers />, "/papers"), server };
}

describe("late arrivals and early departures", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says what the list covers, with its counts and its rows", async () => {
    open();
    expect(await screen.findByText("Mon 9 March to Tue 10 March · Fairlead School")).toBeInTheDocument();
    expect(screen.getByText("2 entries")).toBeInTheDocument();
    expect(screen.getByRole("table", { name: "By weekday" })).toHaveTextContent("Tuesday101");
    expect(screen.getAllByRole("button", { name: "Tavi Lund" })).toHaveLength(1);
  });

  it("says who was looked at when nobody is on the list", async () => {
    open({ ...lates, rows: [], all: 0, reasons: [], weekdays: [], students: [], group: "8 Halyard" });
    expect(await screen.findByText(/Nobody came late or left early: 8 Halyard at Fairlead School/)).toBeInTheDocument();
  });

  it("keeps what is asked for in the address, and in the files", async () => {
    const { user, router } = open();
    await choose(user, "Who", "8 Halyard");
    await choose(user, "Kind", "left early");
    await waitFor(() => expect(router.state.location.search).toBe("?group=class%3A48&kind=left+early"));
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/lates/file?group=class%3A48&kind=left+early&format=csv",
    );
  });

  it("makes cards of a class, as they are wanted", async () => {
    const { user } = open();
    await choose(user, "Whose cards", "8 Halyard");
    await user.click(screen.getByText("QR"));
    await user.click(screen.getByText("one on a page"));
    expect(screen.getByRole("link", { name: "Make the cards (PDF)" })).toHaveAttribute(
      "href",
      "/api/cards?group=class%3A48&symbol=qr&sheets=false",
    );
  });
});
