import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student } from "../../test-page";
import { Count } from "./Count";
import { resolution } from "./Mismatches";

const row = { student: student(7, "Jory Marr") } as Schemas["DiffersView"];
const says: Schemas["MismatchView"] = {
  kind: "explained-present",
  slot: "AM",
  text: "home said ill, marked in AM registration",
  label: "AM registration",
  actions: [],
  suggest: "M",
  word: "ill",
  to: "",
  at: "08:50",
  notice: 6,
  teacher: "T. Rask",
  class: 90,
  asked: "",
};

describe("what resolves a contradiction", () => {
  it("withdraws the notice", () => {
    expect(resolution(row, says, "withdraw", "2026-03-10")?.what).toEqual({
      path: "/api/notices/{id}/withdraw",
      params: { id: 6 },
    });
  });
  it("corrects the mark, and says why", () => {
    expect(resolution(row, says, "correct", "2026-03-10")).toMatchObject({
      words: "Correct to M, ill",
      what: { body: { date: "2026-03-10", slot: "AM", student: 7, code: "M", reason: says.text } },
    });
  });
  it("asks the teacher by name", () => {
    expect(resolution(row, says, "ask", "2026-03-10")).toMatchObject({
      words: "Ask T. Rask",
      what: {
        body: {
          kind: "ask",
          class: 90,
          slot: "AM",
          student: 7,
          text: `${row.student.name}: ${says.text}. Which is right?`,
        },
      },
    });
  });
  it("knows no other action", () => {
    expect(resolution(row, says, "guess", "2026-03-10")).toBeUndefined();
  });
});

describe("the count", () => {
  it("shows every part with its word, the loudest last", () => {
    const count = [
      { state: "in", label: "in", n: 20 },
      { state: "not-due", label: "not due", n: 0 },
      { state: "unaccounted", label: "unaccounted for", n: 5 },
    ];
    const t = { roll: 25, scope: "Fairlead School", count, worried: [], holds: [], held: 0, ring: 4, noContact: 1 };
    renderPage(<Count t={t as unknown as Schemas["TodayView"]} />);
    const text = screen.getByTestId("count").textContent;
    expect(text).toContain("25on roll=20in+5unaccounted for");
    expect(text).toContain("4 homes to ring · 1 without a contact");
    expect(screen.getByLabelText("Count at Fairlead School")).toBeInTheDocument();
  });
});
