import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, testServer } from "../../test-page";
import { Beside } from "./Beside";

const side = (group: string): Schemas["BesideOf"] => ({
  group,
  label: "Year to Mon 9 March",
  rate: "4.7",
  bins: [],
  bands: [{ name: "on course", from: "0", count: 3 }],
  asAt: "2026-03-09",
});

describe("two groups side by side", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are chosen apart, and leave as a file", async () => {
    const server = testServer({
      "/api/absence": {
        policy: "ten-percent",
        policies: [],
        from: "2025-09-02",
        asAt: "2026-03-09",
        spans: [
          { value: "2025-09-02..2026-03-09", label: "Year to Mon 9 March", kind: "year" },
          { value: "2026-02-02..2026-02-27", label: "February 2026", kind: "month" },
        ],
        groups: [{ value: "year:9", label: "Year 9", kind: "year" }],
      },
      "/api/lists": [],
      "/api/views": [],
      "/api/absence/beside": {
        policy: "ten-percent",
        title: "Ten per cent of days",
        unit: "day",
        first: side("Year 9"),
        second: side("Everyone"),
        rows: [{ what: "Missed, %", first: "4.7", second: "5.3", difference: "−0.6" }],
      },
    });
    const { user, router } = renderPage(<Beside />, "/absence/beside?group=year%3A9&group2=");
    const row = within(await screen.findByRole("row", { name: /Missed, %/ }));
    expect(row.getAllByRole("cell").map((c) => c.textContent)).toEqual(["Missed, %", "4.7", "5.3", "−0.6"]);
    await choose(user, "Second span", "February 2026");
    await waitFor(() => expect(router.state.location.search).toContain("from2=2026-02-02&to2=2026-02-27"));
    await choose(user, "Second span", "the year before, same school days");
    await waitFor(() => expect(server.asked.at(-1)).toContain("before=true"));
    expect(server.asked.at(-1)).not.toContain("from2");
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      expect.stringContaining("before=true&format=csv"),
    );
  });
});
