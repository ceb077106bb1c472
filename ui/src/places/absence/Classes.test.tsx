import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, rail, renderPage, student, testServer } from "../../test-page";
import { Classes } from "./Classes";

const line = (id: number, name: string, more: Partial<Schemas["ClassLine"]> = {}): Schemas["ClassLine"] => ({
  student: student(id, name),
  lessons: 40,
  excused: 2,
  unexcused: 1,
  unknown: 0,
  exempt: 3,
  absent: 3,
  lates: 4,
  due: "",
  grading: "",
  ...more,
});

const view: Schemas["ClassesView"] = {
  choices: [
    { value: "48", label: "8 Halyard", kind: "form" },
    { value: "90", label: "8Ma2", kind: "class" },
  ],
  label: "Year to Mon 9 March",
  period: "Quarter 3",
  grading: "points",
  classes: [
    {
      class: 90,
      title: "8Ma2",
      lines: [line(1, "Esme Lingard", { due: "Call home, 4th late in 8Ma2, Quarter 3", grading: "88.50" })],
      sum: line(0, "", { lessons: 980, absent: 61 }),
    },
  ],
};

describe("a teacher’s own classes", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("show what was missed of each class, with lates of the grading period and what is due", async () => {
    const server = testServer({ "/api/absence/classes": view, "/api/rail": rail });
    const { user } = renderPage(<Classes />, "/absence");
    const row = (await screen.findByText("Esme Lingard")).closest("tr") as HTMLElement;
    expect(
      within(row)
        .getAllByRole("cell")
        .map((c) => c.textContent),
    ).toEqual([
      "Esme Lingard 7 Reef",
      "40",
      "3",
      "2",
      "1",
      "0",
      "3",
      "4",
      "88.50",
      "Call home, 4th late in 8Ma2, Quarter 3",
    ]);
    expect(within(screen.getByText("Together").closest("tr") as HTMLElement).getByText("980")).toBeInTheDocument();
    expect(screen.getByRole("columnheader", { name: "Lates, Quarter 3" })).toBeInTheDocument();
    await choose(user, "Class", "8Ma2");
    await waitFor(() => expect(server.asked.at(-1)).toBe("/api/absence/classes?class=90"));
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/absence/classes-file?class=90&format=csv",
    );
  });
});
