import { fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../../api/client";
import { choose, renderPage, type Sent, testServer } from "../../../test-page";
import PapersPlace from "../PapersPlace";
import { alike, moved, type Setup, widened } from "./shape";

const field = (id: string, label: string, of = "Student"): Schemas["FieldRef"] => ({
  id,
  label,
  of,
  heading: label,
  width: 20,
  kind: "",
});

const setup: Setup = {
  title: "Outing",
  kind: "table",
  points: 9,
  columns: [
    { field: "sorted", heading: "Name", width: 40 },
    { field: "form", heading: "Form", width: 20 },
  ],
  order: [{ field: "sorted" }],
  sign: [],
  extra: [],
  without: [],
};

const papers: Schemas["PapersView"] = {
  lists: [
    {
      id: 4,
      name: "Choir",
      own: true,
      by: "R. Tolvan, today",
      versions: 2,
      with: ["D. Ase"],
      plans: [],
      readers: [42],
    },
    { id: 5, name: "Petrel", own: false, by: "D. Ase, Mon 9 March", versions: 1, with: [], plans: [], readers: [] },
  ],
  ready: [{ id: "outing", name: "Outing", about: "Emergency contacts", setup }],
  fields: [
    field("sorted", "Family name, given name", "Names"),
    field("form", "Form"),
    field("number", "Student number"),
  ],
  groups: [{ value: "class:48", label: "8 Halyard", kind: "form" }],
  labels: [{ id: "3x8", title: "24 labels of 70 × 37 mm", count: 24 }],
  colleagues: [
    { id: 42, name: "D. Ase" },
    { id: 43, name: "H. Strom" },
  ],
  jobs: [],
  self: { id: 41, name: "R. Tolvan" },
  handOut: true,
};

const choir: Schemas["PaperView"] = {
  ...(papers.lists[0] as Schemas["PaperRef"]),
  setup,
  seen: 70,
  readers: [42],
  past: [{ by: "R. Tolvan, yesterday", setup: { ...setup, title: "Choir before" } }],
};

/** A page as the server would set it: a heading for each column. */
const set = ({ body }: { body: { of: Schemas["LookAsk"] } }): Schemas["PaperLook"] => {
  const s = body.of.setup;
  return {
    problem: "",
    number: body.of.page || 1,
    pages: 2,
    students: 22 - s.without.length,
    covers: "22 students",
    columns: s.columns.map((c, at) => ({
      at,
      field: c.field,
      label: papers.fields.find((f) => f.id === c.field)?.label ?? "",
      heading: c.heading,
      width: c.width,
      kind: "",
    })),
    left: [],
    who: body.of.names ? [{ id: 7, name: "Asta Øye", form: "8 Halyard" }] : [],
    gone: 0,
    today: "2026-03-10",
    page: {
      width: 210,
      height: 297,
      marks: [
        { kind: "text", x: 12, y: 20, w: 0, h: 0, text: s.title, size: 16, bold: true, muted: false, end: false },
      ],
      parts: [
        { name: "title", n: 0, x: 12, y: 12, w: 100, h: 7 },
        { name: "above", n: 0, x: 12, y: 22, w: 186, h: 5 },
        ...s.columns.map((_, n) => ({ name: "heading" as const, n, x: 12 + 93 * n, y: 30, w: 93, h: 6 })),
      ],
    },
  };
};

function open(at: string) {
  const server = testServer({
    "/api/papers": (post?: Sent) => (post ? { seq: 71, text: "saved", ids: [4] } : papers),
    "/api/papers/4": choir,
    "/api/papers/look": set,
    "/api/lists": [],
    "/api/own-fields/groups": [],
  });
  return { server, ...renderPage(<PapersPlace />, at, "/papers/*") };
}

const lastLook = (server: ReturnType<typeof open>["server"]): Setup => {
  const sent = server.sent.filter((s) => s.path === "/api/papers/look");
  return (sent[sent.length - 1] as { body: { of: { setup: Setup } } }).body.of.setup;
};

describe("lists", () => {
  beforeEach(() => sessionStorage.clear());
  afterEach(() => vi.unstubAllGlobals());

  it("are run again with one click, their own or shared", async () => {
    open("/papers");
    expect(await screen.findByRole("link", { name: "Choir" })).toHaveAttribute("href", "/papers/list/4");
    expect(screen.getByRole("link", { name: "Print Petrel" })).toHaveAttribute("href", "/api/papers/5/file?format=pdf");
    expect(screen.getByText(/shared with you/)).toBeInTheDocument();
    expect(screen.queryByRole("button", { name: "Take away Petrel" })).not.toBeInTheDocument();
  });

  it("are shaped on the page: headings, their order and width, another column, and saved", async () => {
    const { user, server } = open("/papers/list/new?from=outing");
    const form = await screen.findByRole("textbox", { name: "Heading of column 2: Form" });
    await user.clear(form);
    await user.type(form, "Tutor group");
    fireEvent.keyDown(form, { key: "ArrowLeft", altKey: true });
    await waitFor(() => expect(lastLook(server).columns.map((c) => c.heading)).toEqual(["Tutor group", "Name"]));
    const first = await screen.findByRole("textbox", { name: "Heading of column 1: Form" });
    fireEvent.keyDown(first, { key: "ArrowRight", altKey: true, shiftKey: true });
    await waitFor(() => expect(lastLook(server).columns[0]?.width).toBe(23));
    await choose(user, "Add a column", "Student number");
    await waitFor(() => expect(lastLook(server).columns.map((c) => c.field)).toEqual(["form", "sorted", "number"]));
    await user.clear(screen.getByRole("textbox", { name: "Title" }));
    await user.type(screen.getByRole("textbox", { name: "Title" }), "To Skerry Light");
    await choose(user, "Which students", "8 Halyard");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/papers")?.body).toMatchObject({
        name: "Outing",
        setup: { title: "To Skerry Light", who: "class:48", columns: [{ heading: "Tutor group" }, {}, {}] },
      }),
    );
  });

  it("show who is on them, to be taken off one by one", async () => {
    const { user, server } = open("/papers/list/new?from=outing");
    await user.click(await screen.findByRole("button", { name: "names, to take off one by one" }));
    await user.click(await screen.findByRole("button", { name: "Take Asta Øye off" }));
    await waitFor(() => expect(lastLook(server).without).toEqual([7]));
    expect(await screen.findByText("21 students")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "put back" }));
    await waitFor(() => expect(lastLook(server).without).toEqual([]));
  });

  it("keep what was changed over a reload, and say that it is not saved", async () => {
    const { user, unmount } = open("/papers/list/4");
    await user.type(await screen.findByRole("textbox", { name: "Note above" }), "Bring water");
    expect(screen.getByText("changed, not saved yet")).toBeInTheDocument();
    unmount();
    const again = open("/papers/list/4");
    expect(await screen.findByRole("textbox", { name: "Note above" })).toHaveValue("Bring water");
    // What comes back has its parts in the server's own order, and nothing of what is empty.
    again.server.answers["/api/papers/4"] = { ...choir, seen: 71, setup: { above: "Bring water", ...setup } };
    await again.user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(again.server.sent.find((s) => s.path === "/api/papers")?.body).toMatchObject({ list: 4, seen: 70 }),
    );
    await waitFor(() => expect(screen.queryByText("changed, not saved yet")).not.toBeInTheDocument());
    expect(sessionStorage.length).toBe(0);
  });

  it("go to named colleagues, and back to how they were", async () => {
    const { user, server } = open("/papers/list/4");
    await user.click(await screen.findByRole("button", { name: "Share …" }));
    expect(screen.getByRole("checkbox", { name: "D. Ase" })).toBeChecked();
    await user.click(screen.getByRole("checkbox", { name: "H. Strom" }));
    const buttons = screen.getAllByRole("button", { name: "Save" });
    await user.click(buttons[buttons.length - 1] as HTMLElement);
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/papers/share")?.body).toEqual({ list: 4, with: [42, 43] }),
    );
    await user.click(await screen.findByRole("button", { name: "Versions before …" }));
    await user.click(await screen.findByRole("button", { name: "Take up again" }));
    await waitFor(() => expect(lastLook(server).title).toBe("Choir before"));
  });

  it("turn their pages", async () => {
    const { user, server } = open("/papers/list/new?from=outing");
    await user.click(await screen.findByRole("button", { name: "Next page" }));
    await waitFor(() => expect((server.sent.at(-1)?.body as { of: { page: number } } | undefined)?.of.page).toBe(2));
    expect(await screen.findByRole("img", { name: "Page 2 of 2: 22 students" })).toBeInTheDocument();
  });
});

describe("columns", () => {
  it("are moved as far as there are places, and never lost", () => {
    expect(moved(setup.columns, 0, 5).map((c) => c.field)).toEqual(["form", "sorted"]);
    expect(moved(setup.columns, 1, -9).map((c) => c.field)).toEqual(["form", "sorted"]);
    expect(widened(setup.columns, 0, -99)[0]?.width).toBe(4);
    expect(alike(setup, { below: "", ...setup, order: [{ field: "sorted", down: false }] })).toBe(true);
    expect(alike(setup, { ...setup, order: [{ field: "sorted", down: true }] })).toBe(false);
  });
});
