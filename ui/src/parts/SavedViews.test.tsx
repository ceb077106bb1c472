import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { renderPage, testServer } from "../test-page";
import { SavedViews } from "./SavedViews";

const views = [
  { id: 1, name: "Year 9, worst first", address: "/absence?group=year%3A9&sort=rate", own: true, by: "" },
  { id: 2, name: "Petrel", address: "/absence/grid?group=travels%3APetrel", own: false, by: "R. Tolvan" },
];

describe("saved views", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("open with one click, and are saved without what is passing", async () => {
    const server = testServer({
      "/api/views": ({ body }: { body?: unknown } = {}) => (body ? { seq: 3, text: "saved", ids: [3] } : views),
    });
    const { user, router } = renderPage(<SavedViews place="absence" />, "/absence?band=2&student=17&why=4");
    await user.click(await screen.findByRole("button", { name: "Save this view …" }));
    await user.type(await screen.findByLabelText("Name"), "Chronic{Enter}");
    await waitFor(() =>
      expect(server.sent.map((s) => s.body)).toEqual([
        { place: "absence", name: "Chronic", address: "/absence?band=2", shared: false },
      ]),
    );
    await user.click(screen.getByRole("button", { name: "Petrel" }));
    expect(router.state.location.pathname + router.state.location.search).toBe("/absence/grid?group=travels%3APetrel");
    expect(screen.queryByRole("button", { name: "take off" })).toBeNull();
    await user.click(screen.getByRole("button", { name: "Year 9, worst first" }));
    await user.click(await screen.findByRole("button", { name: "take off" }));
    await waitFor(() => expect(server.sent.at(-1)?.path).toBe("/api/views/1/end"));
  });
});
