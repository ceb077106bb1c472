import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { KeepList } from "../../parts/KeepList";
import { renderPage, student, testServer } from "../../test-page";
import { Lists } from "./Lists";

const lists: Schemas["ListView"][] = [
  {
    id: 1,
    name: "Breakfast",
    own: true,
    shared: false,
    by: "R. Tolvan",
    students: [student(7, "Asta Øye")],
    gone: [student(8, "Bo Lone")],
  },
  { id: 2, name: "Choir", own: false, shared: true, by: "M. Ase", students: [student(9, "Cai Lone")], gone: [] },
];
const receipt = { seq: 3, text: "saved", ids: [1], undo: true };

describe("lists of students", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are changed by whose they are, and used by whom they are shared with", async () => {
    const server = testServer({
      "/api/lists": (post?: unknown) => (post ? receipt : lists),
      "/api/lists/1/end": receipt,
    });
    const { user } = renderPage(<Lists />, "/absence/lists");
    await user.click(await screen.findByRole("button", { name: "take off: Asta Øye" }));
    await user.click(screen.getByRole("button", { name: "take off: Bo Lone" }));
    await user.click(screen.getByRole("checkbox", { name: "others may use it too" }));
    await user.clear(screen.getByRole("textbox", { name: "Name of the list" }));
    await user.type(screen.getByRole("textbox", { name: "Name of the list" }), "Early club{Enter}");
    await user.type(screen.getByRole("textbox", { name: "Name of a new list" }), "Band{Enter}");
    await user.click(screen.getByRole("button", { name: "take the list away" }));
    await waitFor(() =>
      expect(server.sent.map((s) => s.body)).toEqual([
        { list: 1, remove: [7] },
        { list: 1, remove: [8] },
        { list: 1, shared: true },
        { list: 1, name: "Early club" },
        { name: "Band" },
        {},
      ]),
    );
    await user.click(screen.getByRole("button", { name: "Choir" }));
    const choir = within(await screen.findByRole("region", { name: "Choir" }));
    expect(choir.getByRole("link", { name: "Figures" })).toHaveAttribute("href", "/absence?group=list%3A2");
    expect(choir.queryByRole("button", { name: /take/i })).not.toBeInTheDocument();
  });

  it("are made from any students, some of them left out, or put on one that is there", async () => {
    const server = testServer({ "/api/lists": (post?: unknown) => (post ? receipt : lists) });
    const { user } = renderPage(<KeepList students={[student(7, "Asta Øye"), student(9, "Cai Lone")]} />);
    await user.click(screen.getByRole("button", { name: "Keep as a list …" }));
    const save = await screen.findByRole("button", { name: "Save" });
    expect(save).toBeDisabled();
    await user.type(screen.getByRole("textbox", { name: "Name" }), "Watch");
    await user.click(screen.getByRole("checkbox", { name: /Cai Lone/ }));
    await user.click(save);
    await waitFor(() => expect(server.sent.at(-1)?.body).toEqual({ name: "Watch", shared: false, add: [7] }));
  });
});
