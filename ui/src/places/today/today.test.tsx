import { render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { resolution } from "./Mismatches";
import { Count } from "./Today";

const row = {
  student: { id: 7, name: "Jory Marr" },
  kind: "explained-present",
  slot: "AM",
  text: "home said ill, marked in AM registration",
  suggest: "X",
  to: "",
  at: "08:50",
  notice: 6,
  teacher: "T. Rask",
  class: 90,
} as Schemas["MismatchView"];

describe("what resolves a contradiction", () => {
  it("withdraws the notice", () => {
    expect(resolution(row, "withdraw", "2026-03-10")?.what).toEqual({
      path: "/api/notices/{id}/withdraw",
      params: { id: 6 },
    });
  });
  it("corrects the mark, and says why", () => {
    expect(resolution(row, "correct", "2026-03-10")).toMatchObject({
      words: "Correct to X",
      what: { body: { date: "2026-03-10", slot: "AM", student: 7, code: "X", reason: row.text } },
    });
  });
  it("asks the teacher by name", () => {
    expect(resolution(row, "ask", "2026-03-10")).toMatchObject({
      words: "Ask T. Rask",
      what: {
        body: {
          kind: "ask",
          class: 90,
          slot: "AM",
          student: 7,
          text: `${row.student.name}: ${row.text}. Which is right?`,
        },
      },
    });
  });
  it("knows no other action", () => {
    expect(resolution(row, "guess", "2026-03-10")).toBeUndefined();
  });
});

describe("the count", () => {
  it("shows every part with its word, the loudest last", () => {
    const count = [
      { state: "in", label: "in", n: 20 },
      { state: "not-due", label: "not due", n: 0 },
      { state: "unaccounted", label: "unaccounted for", n: 5 },
    ];
    render(<Count t={{ roll: 25, scope: "Fairlead School", count } as Schemas["TodayView"]} />);
    const text = screen.getByTestId("count").textContent;
    expect(text).toBe("25on roll=20in+0not due+5unaccounted for");
    expect(screen.getByLabelText("Count at Fairlead School")).toBeInTheDocument();
  });
});
