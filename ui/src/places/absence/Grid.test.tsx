import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { rail, renderPage, student, testServer } from "../../test-page";
import AbsencePlace from "./AbsencePlace";

const grid: Schemas["GridView"] = {
  by: "dates",
  policy: "ten-percent",
  title: "Ten per cent of days",
  unit: "day",
  policies: [{ value: "ten-percent", label: "Ten per cent of days", kind: "day" }],
  spans: [{ value: "2025-09-01..2026-03-09", label: "Year to Mon 9 March", kind: "year" }],
  groups: [],
  group: "",
  scope: "",
  apart: "",
  label: "Year to Mon 9 March",
  from: "2025-09-01",
  asAt: "2026-03-09",
  columns: [
    { label: "27", over: "February", title: "Fri 27 February", total: 0 },
    { label: "2", over: "March", title: "Mon 2 March", total: 1 },
    { label: "3", over: "March", title: "Tue 3 March", total: 0 },
  ],
  rows: [
    {
      student: student(1, "Hale Aune"),
      codes: ["·", "M", "L"],
      shares: [0, 100, 8],
      possible: 3,
      absent: 1,
      excused: 1,
      unexcused: 0,
      lates: 1,
      rate: "33.3",
    },
    {
      student: student(2, "Isla Carrick"),
      codes: ["?", "·", ""],
      shares: [-1, 0, -1],
      possible: 1,
      absent: 0,
      excused: 0,
      unexcused: 0,
      lates: 0,
      rate: "0.0",
    },
  ],
  key: [{ code: "M", word: "medical", state: "explained", count: 8 }],
  absent: 1,
  possible: 4,
  rate: "25.0",
  tooWide: "",
};

describe("the attendance grid", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("has a cell for each student and date, a zero as a zero, totals and a key", async () => {
    const server = testServer({ "/api/absence/grid": grid, "/api/steps": { due: 0 }, "/api/rail": rail });
    const { user } = renderPage(<AbsencePlace />, "/absence/grid", "/absence/*");
    const aune = (await screen.findByText("Hale Aune")).closest("tr") as HTMLElement;
    expect(
      within(aune)
        .getAllByRole("cell")
        .map((c) => c.textContent),
    ).toEqual(["·", "M", "L", "3", "1", "1", "0", "1", "33.3"]);
    expect(within(aune).getByText("M")).toHaveClass("all");
    const carrick = screen.getByText("Isla Carrick").closest("tr") as HTMLElement;
    expect(
      within(carrick)
        .getAllByRole("cell")
        .map((c) => c.textContent),
    ).toEqual(["?", "·", "", "1", "0", "0", "0", "0", "0.0"]);
    expect(screen.getByText("medical", { exact: false })).toBeInTheDocument();
    expect(screen.getByRole("columnheader", { name: "March" })).toHaveAttribute("colspan", "2");
    expect(screen.getByRole("link", { name: "Print" })).toHaveAttribute(
      "href",
      "/api/absence/grid-file?by=dates&format=pdf",
    );
    await user.click(screen.getByRole("radio", { name: "by code" }));
    await waitFor(() => expect(server.asked.at(-1)).toBe("/api/absence/grid?by=codes"));
  });
});
