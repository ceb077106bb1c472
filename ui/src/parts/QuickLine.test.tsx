import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { place, renderPage, type Sent, student, testServer } from "../test-page";
import { AskHelp } from "./Answers";
import { QuickLine } from "./QuickLine";

const found = (id: number, name: string): Schemas["FoundStudent"] => ({
  student: student(id, name),
  place: place("in", "in since 08:50"),
  through: "",
  warnings: [],
});

const view = (change: Partial<Schemas["QuickView"]>): Schemas["QuickView"] => ({
  students: [],
  chosen: [],
  siblings: [],
  action: "",
  text: "",
  error: "",
  tells: "",
  asks: false,
  ...change,
});

/** Reads a line as the server would, for the few lines of these tests. */
function readLine({ body }: Sent): Schemas["QuickView"] {
  const { text, chosen = [] } = body as { text: string; chosen?: number[] };
  if (text === "845-925") return view({ tells: "08:45 to 09:25: 40 min, 0.67 h" });
  if (text.startsWith("evac")) return view({ error: `nobody is called "${text}"`, asks: true });
  if (text.startsWith("zz")) return view({ error: 'nobody is called "zz", and no contact or number fits' });
  const students = [found(1, "Elis Merrow"), found(2, "Ansa Merrow")];
  const acts = text.includes(" ill");
  if (acts && chosen.length === 0 && !text.includes("both"))
    return view({ students, error: "2 students fit: choose one with the arrows" });
  const ids = text.includes("both") ? [1, 2] : chosen;
  return view({
    students,
    chosen: ids,
    siblings: [student(2, "Ansa Merrow")],
    ...(acts ? { action: "notice", text: `${ids.join(" and ")} ill · code M` } : {}),
  });
}

function open(mayWrite = true) {
  const answer = { title: "Roll call", answer: "Everyone on the premises.", path: "/roll-call" };
  const server = testServer({
    "/api/quick/read": readLine,
    "/api/find": [found(7, "Orla Brandt")],
    "/api/help": [answer, { ...answer, title: "Roll calls of the year", path: "/roll-calls" }],
  });
  const page = renderPage(<QuickLine mayWrite={mayWrite} mayNote />);
  return { ...page, server, stored: () => server.sent.filter((s) => s.path === "/api/quick") };
}

const pins: Schemas["PinRef"][] = [
  { id: 1, path: "/outbox", title: "Outbox" },
  { id: 2, path: "/roll-calls", title: "Drills" },
];

describe("pages that are pinned", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are offered by the quick line before anything is typed, and come first among answers", async () => {
    const answer = { title: "Roll call", answer: "Everyone on the premises.", path: "/roll-call" };
    testServer({
      "/api/quick/read": readLine,
      "/api/pins": pins,
      "/api/help": [answer, { ...answer, title: "Roll calls of the year", path: "/roll-calls" }],
    });
    const { user, router } = renderPage(<QuickLine mayWrite mayNote />, "/today?student=3&at=2026-03-09&why=days");
    await user.click(screen.getByRole("combobox"));
    await screen.findByRole("option", { name: /Outbox/ });
    await user.keyboard("{ArrowDown}{ArrowDown}{Enter}");
    await waitFor(() => expect(router.state.location.pathname).toBe("/roll-calls"));
    expect(router.state.location.search).toBe("?at=2026-03-09&student=3"); // the day and the student stay in hand
    await user.click(screen.getByRole("combobox"));
    await user.type(screen.getByRole("combobox"), "evacuation");
    await screen.findByRole("option", { name: /Roll calls of the year/ });
    expect(screen.getAllByRole("option")[0]).toHaveTextContent("Roll calls of the year");
  });

  it("are pinned and taken off where a question is asked", async () => {
    let now = pins;
    const server = testServer({
      "/api/pins": (post?: Sent) => (post ? { seq: 71, text: "pinned", ids: [3] } : now),
      "/api/pins/1/end": () => {
        now = [];
        return { seq: 72, text: "pinned no more", ids: [1] };
      },
      "/api/help": [{ title: "Absence", answer: "Days missed.", path: "/absence" }],
    });
    const done = vi.fn();
    const { user, router } = renderPage(
      <>
        <main>
          <h1>Letters</h1>
        </main>
        <AskHelp done={done} />
      </>,
      "/absence/letters?student=3",
    );
    await user.click(await screen.findByRole("button", { name: "Unpin Outbox" }));
    await waitFor(() => expect(server.sent.some((s) => s.path === "/api/pins/1/end")).toBe(true));
    await user.click(screen.getByRole("button", { name: "Pin this page: Letters" }));
    await user.type(screen.getByRole("combobox"), "how many times absent");
    await user.click(await screen.findByRole("button", { name: "Pin Absence" }));
    expect(server.sent.filter((s) => s.path === "/api/pins").map((s) => s.body)).toEqual([
      { path: "/absence/letters", title: "Letters" },
      { path: "/absence", title: "Absence" },
    ]);
    await user.click(screen.getByRole("combobox"));
    await user.keyboard("{Enter}");
    await waitFor(() => expect(router.state.location.pathname).toBe("/absence"));
    expect(done).toHaveBeenCalled();
  });
});

describe("the quick line", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("answers a question with the page that does it, and goes there", async () => {
    const { user, router } = open();
    await user.type(screen.getByRole("combobox"), "evacuation");
    expect(await screen.findByRole("option", { name: /Roll call Everyone on the premises/ })).toBeInTheDocument();
    await user.keyboard("{ArrowDown}{ArrowDown}{Enter}");
    await waitFor(() => expect(router.state.location.pathname).toBe("/roll-calls"));
  });

  it("takes a name that was not found for no question", async () => {
    const { user, router } = open();
    await user.type(screen.getByRole("combobox"), "zz ill");
    expect(await screen.findByRole("alert")).toHaveTextContent("nobody is called");
    await user.keyboard("{Enter}");
    expect(router.state.location.pathname).toBe("/");
  });

  it("is reached by / from anywhere, and left by Escape", async () => {
    const { user } = open();
    await user.keyboard("/");
    const field = screen.getByRole("combobox");
    expect(field).toHaveFocus();
    await user.keyboard("mer{Escape}");
    expect(field).not.toHaveFocus();
    expect(field).toHaveValue("");
  });

  it("says in words what Enter does, and then does it once", async () => {
    const { user, stored } = open();
    await user.keyboard("/merrow both ill");
    expect(await screen.findByText("1 and 2 ill · code M", { exact: false })).toBeInTheDocument();
    expect(stored()).toHaveLength(0);
    await user.keyboard("{Enter}");
    await waitFor(() => expect(stored()).toHaveLength(1));
    expect(stored()[0]?.body).toEqual({ text: "merrow both ill", chosen: [], seen: 0 });
    await waitFor(() => expect(screen.getByRole("combobox")).toHaveValue(""));
  });

  it("does nothing where two fit, until one is chosen with the arrows", async () => {
    const { user, stored } = open();
    await user.keyboard("/merrow ill");
    expect(await screen.findByRole("alert")).toHaveTextContent("choose one with the arrows");
    await user.keyboard("{Enter}");
    expect(stored()).toHaveLength(0);
    await user.keyboard("{ArrowDown}{ArrowDown}");
    expect(await screen.findByText("2 ill · code M", { exact: false })).toBeInTheDocument();
    await user.keyboard("{Enter}");
    await waitFor(() => expect(stored()[0]?.body).toEqual({ text: "merrow ill", chosen: [2], seen: 0 }));
  });

  it("opens the student when there is only a name", async () => {
    const { user, router, stored } = open();
    await user.keyboard("/merrow");
    await screen.findByText("Ansa Merrow");
    await user.keyboard("{Enter}");
    await waitFor(() => expect(router.state.location.search).toBe("?student=1"));
    expect(stored()).toHaveLength(0);
  });

  it("says how long a time to a time is, and does nothing", async () => {
    const { user, stored } = open();
    await user.keyboard("/845-925");
    expect(await screen.findByText("08:45 to 09:25: 40 min, 0.67 h")).toBeInTheDocument();
    await user.keyboard("{Enter}");
    expect(stored()).toHaveLength(0);
  });

  it("says that nobody fits", async () => {
    const { user, stored } = open();
    await user.keyboard("/zz ill");
    expect(await screen.findByRole("alert")).toHaveTextContent('nobody is called "zz"');
    await user.keyboard("{Enter}");
    expect(stored()).toHaveLength(0);
  });

  it("keeps the line when the server refuses", async () => {
    const { user, server } = open();
    server.refusals["/api/quick"] = { status: 409, detail: "Elis Merrow has already left at 09:05" };
    await user.keyboard("/merrow both ill");
    await screen.findByText("1 and 2 ill", { exact: false });
    await user.keyboard("{Enter}");
    expect(await screen.findByText("Elis Merrow has already left at 09:05")).toBeInTheDocument();
    expect(screen.getByRole("combobox")).toHaveValue("merrow both ill");
  });

  it("only finds for those who may not write", async () => {
    const { user, server } = open(false);
    await user.keyboard("/brandt");
    expect(await screen.findByText("Orla Brandt")).toBeInTheDocument();
    expect(server.sent).toHaveLength(0);
  });
});
