import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, testServer } from "../../test-page";
import { PaperLists } from "./PaperLists";

const papers: Schemas["PapersView"] = {
  lists: [
    {
      id: 4,
      name: "Choir",
      own: true,
      by: "R. Tolvan, today",
      versions: 2,
      with: ["D. Ase"],
      readers: [42],
      plans: [{ id: 9, when: "every school day at 07:40", way: "printer", format: "pdf", to: [], scope: "" }],
    },
    { id: 5, name: "Petrel", own: false, by: "D. Ase, Mon 9 March", versions: 1, with: [], readers: [], plans: [] },
  ],
  ready: [],
  fields: [],
  groups: [{ value: "class:48", label: "8 Halyard", kind: "form" }],
  labels: [],
  colleagues: [
    { id: 42, name: "D. Ase" },
    { id: 43, name: "H. Strom" },
  ],
  jobs: [
    {
      id: 3,
      list: 4,
      name: "Choir",
      at: "07:40",
      way: "printer",
      for: "R. Tolvan",
      state: "printed",
      words: "",
      byPlan: true,
      there: true,
    },
    {
      id: 2,
      list: 4,
      name: "Choir",
      at: "07:41 Mon 9 March",
      way: "e-mail",
      for: "D. Ase",
      state: "failed",
      words: "the mailbox is full",
      byPlan: false,
      there: false,
    },
  ],
  self: { id: 41, name: "R. Tolvan" },
  handOut: true,
};

function open() {
  const server = testServer({
    "/api/papers": papers,
    "/api/papers/plans": { seq: 71, text: "planned", ids: [10] },
    "/api/papers/plans/9/end": { seq: 72, text: "no more", ids: [9] },
    "/api/papers/4/print": { seq: 73, text: "Choir is on its way to the printer", ids: [5] },
  });
  return { ...renderPage(<PaperLists />, "/papers"), server };
}

describe("Lists", () => {
  it("say when they are made without being asked for, and what became of that", async () => {
    const { user, server } = open();
    expect(await screen.findByText("every school day at 07:40 to the printer")).toBeVisible();
    expect(screen.getByText(/the mailbox is full/)).toBeVisible();
    expect(screen.getByText("1 not made")).toBeVisible();
    expect(screen.getByRole("link", { name: "Look at Choir, 07:40" })).toHaveAttribute("href", "/api/papers/printed/3");
    expect(screen.getAllByRole("link", { name: /^Look at/ })).toHaveLength(1);
    await user.click(screen.getByRole("button", { name: "To the printer, Choir" }));
    await waitFor(() => expect(server.sent.some((s) => s.path === "/api/papers/4/print")).toBe(true));
    expect(screen.queryByRole("button", { name: "At a time …, Petrel" })).toBeNull();
  });

  it("are planned by e-mail for some days, to those who have them, and made no more", async () => {
    const { user, server } = open();
    await user.click(await screen.findByRole("button", { name: "At a time …, Choir" }));
    const dialog = within(await screen.findByRole("dialog"));
    await user.clear(dialog.getByRole("textbox", { name: "At" }));
    await user.type(dialog.getByRole("textbox", { name: "At" }), "815");
    await user.click(dialog.getByRole("radio", { name: "some days" }));
    expect(dialog.getByRole("button", { name: "Make it then" })).toBeDisabled();
    await user.click(dialog.getByRole("checkbox", { name: "Tuesday" }));
    await user.click(dialog.getByRole("radio", { name: "By e-mail" }));
    expect(dialog.queryByRole("checkbox", { name: "H. Strom" })).toBeNull();
    await user.click(dialog.getByRole("checkbox", { name: "D. Ase" }));
    await choose(user, "As", "Spreadsheet");
    await user.click(dialog.getByRole("button", { name: "Make it then" }));
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/papers/plans")?.body).toEqual({
        list: 4,
        at: "08:15",
        weekdays: [2],
        way: "e-mail",
        format: "xlsx",
        with: [41, 42],
        section: [],
      }),
    );
    await user.click(dialog.getByRole("button", { name: "No more, every school day at 07:40" }));
    await waitFor(() => expect(server.sent.some((s) => s.path === "/api/papers/plans/9/end")).toBe(true));
  });
});
