import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import Conduct from "./Conduct";

const rate = (incidents: number, days = 43): Schemas["ConductRate"] => ({
  from: "2026-01-05",
  to: "2026-03-10",
  label: "Mon 5 January to Tue 10 March 2026",
  days,
  incidents,
  perHundred: "0.33",
});

const ratio: Schemas["ConductRatio"] = {
  known: true,
  value: 0.45,
  low: 0.22,
  high: 0.87,
  verdict: "fewer",
  words: "0.45 times as often, 0.22 to 0.87",
};

const view: Schemas["ConductView"] = {
  from: "2026-01-05",
  to: "2026-03-10",
  label: "Mon 5 January to Tue 10 March 2026",
  spans: [{ value: "2026-01-05..2026-03-10", label: "Spring", kind: "term" }],
  groups: [{ value: "year:9", label: "Year 9", kind: "year" }],
  group: "",
  kinds: [{ id: 1, name: "rough play", retired: false }],
  places: [
    { id: 8, name: "pier", retired: false },
    { id: 9, name: "canteen", retired: false },
  ],
  actions: [],
  times: [{ value: "before", label: "before school", kind: "time" }],
  by: ["P. Osk"],
  grid: {
    by: "place",
    columns: [
      { time: "before", name: "before school", short: "before" },
      { time: "unknown", name: "time not known", short: "?" },
    ],
    rows: [
      { key: "8", name: "pier", cells: [5, 1], sum: 6 },
      { key: "9", name: "canteen", cells: [0, 1], sum: 1 },
    ],
    sums: [5, 2],
    all: 7,
    most: 5,
  },
  rate: rate(7),
  before: rate(9),
  ratio,
  listed: "",
  found: [
    {
      id: 5,
      version: 12,
      date: "2026-03-05",
      label: "Thu 5 March",
      time: "08:37",
      when: "before school",
      kindId: 1,
      kind: "rough play",
      placeId: 8,
      place: "pier",
      people: [
        { student: 20, name: "Finn Fjeld", form: "9 Cleat", role: "did it", sees: true },
        { student: 30, name: "Otis Crossby", form: "8 Reef", role: "was harmed", sees: false },
      ],
      text: "",
      actions: [],
      recordedBy: "T. Fell",
      open: [],
      own: false,
      mayCorrect: true,
    },
  ],
  count: 7,
  byKind: [{ id: 1, name: "rough play", count: 7, before: 9 }],
  byAction: [],
  weeks: [{ monday: "2026-03-02", label: "Mon 2 March", days: 5, count: 7 }],
  changes: [
    {
      id: 3,
      name: "Supervised queue",
      date: "2026-01-12",
      label: "Mon 12 January",
      before: rate(31),
      after: rate(14),
      ratio,
    },
  ],
  open: [],
  people: [{ student: student(20, "Finn Fjeld"), count: 4, last: "Thu 5 March" }],
};

function show(at = "/conduct") {
  const server = testServer({
    "/api/conduct": view,
    "/api/views": [],
    "/api/lists": [],
    "/api/own-fields/groups": [],
    "/api/conduct/changes/3/back": { seq: 4, text: "The change is taken off", ids: [] },
  });
  return { ...renderPage(<Conduct />, at), server };
}

describe("the place Conduct", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("opens a cell of the grid into its incidents, and closes it again", async () => {
    const { user, server, router } = show();
    const cell = await screen.findByRole("button", { name: "5: pier, before school" });
    await user.click(cell);
    expect(router.state.location.search).toBe("?cellRow=8&cellTime=before");
    await waitFor(() => expect(server.asked.at(-1)).toContain("cellRow=8&cellTime=before"));
    await user.click(await screen.findByRole("button", { name: "5: pier, before school" }));
    expect(router.state.location.search).toBe("");
    await user.click(await screen.findByRole("button", { name: "6: pier" }));
    expect(router.state.location.search).toBe("?cellRow=8");
  });

  it("keeps the search in its address, and the file has the same", async () => {
    const { server } = show("/conduct?spots=8,9&roles=was+harmed&from=2026-01-05&cellRow=8");
    await screen.findByText("Where and when");
    expect(server.asked.find((a) => a.startsWith("/api/conduct?"))).toMatch(/spots=8,9&roles=was(%20|\+)harmed/);
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/conduct/file?format=csv&from=2026-01-05&spots=8%2C9&roles=was+harmed",
    );
  });

  it("says who had which part, whom one may open, and what nobody has done yet", async () => {
    show();
    const found = within(await screen.findByRole("region", { name: "Incidents" }));
    expect(found.getByRole("button", { name: "Finn Fjeld" })).toBeInTheDocument();
    expect(found.queryByRole("button", { name: "Otis Crossby" })).toBeNull();
    expect(found.getByText("no action yet")).toBeInTheDocument();
  });

  it("has before and after a change, in words, and takes the change off", async () => {
    const { user, server } = show();
    const change = within(await screen.findByRole("region", { name: "Supervised queue" }));
    expect(change.getByText("31")).toBeInTheDocument();
    expect(change.getByText("fewer")).toBeInTheDocument();
    await user.click(change.getByRole("button", { name: "take off" }));
    await waitFor(() => expect(server.sent.at(-1)?.path).toBe("/api/conduct/changes/3/back"));
  });
});
