import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { forgetRollCalls } from "../../api/ticks";
import { renderPage, testServer, who } from "../../test-page";
import RollCall from "./RollCall";
import RollCalls from "./RollCalls";
import RollRecord from "./RollRecord";

type Person = Schemas["PersonView"];

const person = (n: number, name: string, more: Partial<Person> = {}): Person => ({
  kind: "student",
  person: n,
  name,
  sorted: name,
  form: "10 Cleat",
  number: String(40_000 + n),
  card: `FL${n}00`,
  why: "on-site",
  point: "Pier",
  place: "lesson 2 10Ar1",
  seen: "seen 10:05, lesson 1",
  photo: false,
  ...more,
});

const people = [
  person(1, "Oona Harle"),
  person(2, "Finn Fjeld", { why: "missing", seen: "not in lesson 2 · not seen today" }),
  person(3, "Pella Brightwater", { form: "7 Halyard", point: "Field" }),
  person(3, "J. Aune", {
    kind: "staff",
    form: "staff",
    point: "Field",
    why: "expected",
    seen: "",
    number: "",
    card: "",
  }),
];
const other = person(9, "Cato Vane", { why: "not-here", seen: "left 10:38 · appointment" });

function open(running: Schemas["Running"], more: Record<string, unknown> = {}) {
  const view: Schemas["RollCallView"] = {
    running,
    asAt: "2026-03-10T10:42",
    label: "Tue 10 March",
    school: "Fairlead School",
    people,
    others: [other],
    account: 41,
    seq: 1,
  };
  const ticks: Schemas["TickView"][] = [];
  const server = testServer({
    "/api/session": who,
    "/api/roll-call": view,
    "/api/roll-calls": { id: 7, text: "" },
    "/api/roll-calls/7/ticks": (post?: { body: unknown }) => {
      for (const t of (post?.body as Schemas["Ticks"] | undefined)?.ticks ?? [])
        ticks.push({
          token: t.token,
          kind: t.kind,
          person: t.person ?? 0,
          at: "10:45:10",
          here: t.here,
          place: t.place ?? "",
          by: "D. Ase",
          undone: t.undo ?? false,
        });
      if (post) return { seq: 2, refused: [] };
      return {
        kind: "drill",
        ended: "",
        seq: 2,
        ticks,
        added: people.length,
        now: [{ person: 2, text: "left 10:38 · ask the desk" }],
      };
    },
    ...more,
  });
  return { ...renderPage(<RollCall />), server, view };
}

const drill = { id: 7, kind: "drill", began: "10:42", by: "R. Tolvan" };
const none = { id: 0, kind: "", began: "", by: "" };
const rows = () => [...document.querySelectorAll(".person b")].map((b) => b.textContent);
const sent = (server: ReturnType<typeof testServer>) =>
  server.sent.filter((s) => s.path.endsWith("/ticks")).flatMap((s) => (s.body as Schemas["Ticks"]).ticks);

describe("the roll call on a phone", () => {
  beforeEach(() => {
    localStorage.clear();
    vi.stubGlobal(
      "EventSource",
      class {
        close() {}
      },
    );
  });
  afterEach(() => {
    forgetRollCalls();
    vi.unstubAllGlobals();
  });

  it("has those of whom least is known first, says what is known of them by now, and ticks with one touch", async () => {
    const { user, server } = open(drill);
    expect(await screen.findByText("drill · began 10:42")).toBeInTheDocument();
    await screen.findByText("left 10:38 · ask the desk");
    expect(rows()).toEqual(["Finn Fjeld", "J. Aune", "Oona Harle", "Pella Brightwater"]);
    expect(document.querySelector(".figures")).toHaveTextContent("4not ticked of 43 students · 1 staff · 0 visitors");
    await user.click(screen.getByRole("button", { name: "Finn Fjeld is here" }));
    expect(document.querySelector(".figures b")).toHaveTextContent("3");
    await waitFor(() => expect(sent(server)).toMatchObject([{ kind: "student", person: 2, here: true, how: "list" }]));
    await screen.findByText(/met, D. Ase/);
    await user.click(screen.getByRole("button", { name: "Undo Finn Fjeld" }));
    await waitFor(() => expect(sent(server)[1]).toMatchObject({ undo: true, person: 2 }));
    expect(document.querySelector(".figures b")).toHaveTextContent("4");
  });

  it("ticks by meeting point, by name, number and card, and whoever is on no list", async () => {
    const { user, hand, server } = open(drill);
    await user.click(await screen.findByRole("button", { name: "Field 2" }));
    expect(rows()).toEqual(["Pella Brightwater", "J. Aune"]);
    await user.click(screen.getByRole("button", { name: "J. Aune is here" }));
    const field = screen.getByLabelText("Name, number or card");
    await hand.type(field, "oon har{Enter}");
    await hand.type(field, "40009{Enter}");
    await hand.type(field, "A. Piper");
    await user.click(screen.getByRole("button", { name: "not on the list" }));
    await waitFor(() => expect(sent(server)).toHaveLength(4));
    expect(sent(server)).toMatchObject([
      { kind: "staff", person: 3, place: "Field", how: "list" },
      { kind: "student", person: 1, how: "name" },
      { kind: "student", person: 9, how: "name" },
      { kind: "visitor", person: 0, name: "A. Piper", how: "name" },
    ]);
  });

  it("asks how it is known that somebody is elsewhere", async () => {
    const { user, server } = open(drill);
    await user.click(await screen.findByRole("button", { name: "Finn Fjeld is known to be elsewhere" }));
    const form = within(screen.getByLabelText(/Where Finn Fjeld is/).closest("form") as HTMLElement);
    await user.type(form.getByRole("textbox"), "at home, mother rang");
    await user.click(form.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(sent(server)).toMatchObject([{ here: false, place: "at home, mother rang" }]));
    expect(screen.getByText(/known to be elsewhere: at home, mother rang/)).toBeInTheDocument();
  });

  it("begins with one action, and ends with a word of those who were not found", async () => {
    const { user, server, view } = open(none, {
      "/api/roll-calls/7/end": { seq: 3, text: "roll call ended", ids: [7] },
    });
    expect(await screen.findByText(/people would be on the list at 10:42, 1 of them/)).toBeInTheDocument();
    view.running = drill;
    await user.click(screen.getByRole("button", { name: "Begin a drill" }));
    await waitFor(() => expect(server.sent[0]).toMatchObject({ path: "/api/roll-calls", body: { kind: "drill" } }));
    await user.click(await screen.findByRole("button", { name: "End" }));
    const dialog = await screen.findByRole("dialog");
    const end = within(dialog).getByRole("button", { name: "End with 4 not found" });
    expect(end).toBeDisabled();
    await user.type(within(dialog).getByRole("textbox"), "with the fire service");
    await user.click(end);
    await waitFor(() => expect(server.sent.at(-1)?.body).toMatchObject({ note: "with the fire service" }));
  });

  it("tells a teacher that none runs, and nothing else", async () => {
    const { view } = open(none, { "/api/session": { ...who, role: "teacher", mayBeginRollCall: false } });
    view.people = [];
    expect(await screen.findByText(/No roll call runs/)).toBeInTheDocument();
    expect(screen.queryByRole("button", { name: /begin/i })).toBeNull();
  });
});

const call: Schemas["RollCallRow"] = {
  id: 7,
  day: "Tue 10 March",
  kind: "drill",
  began: "10:42",
  by: "R. Tolvan",
  ended: "10:51",
  people: 4,
  open: 1,
  half: "2 min",
  most: "",
  whole: "",
  note: "one went home",
};

it("keeps roll calls side by side, and says of each who was not found first", async () => {
  testServer({
    "/api/roll-calls": { year: "Mon 1 September to Tue 10 March", calls: [call] },
    "/api/roll-calls/7/record": {
      school: "Fairlead School",
      call,
      endBy: "R. Tolvan",
      rows: [
        person(2, "Finn Fjeld", { why: "missing" }),
        {
          ...person(1, "Oona Harle"),
          tick: {
            token: "t",
            kind: "student",
            person: 1,
            at: "10:45:10",
            here: true,
            place: "Pier",
            by: "D. Ase",
            undone: false,
          },
        },
      ],
      taken: [],
    },
  });
  const all = renderPage(<RollCalls />);
  const row = within((await screen.findByText("one went home")).closest("tr") as HTMLElement);
  expect(row.getByText("never")).toBeInTheDocument();
  all.unmount();
  renderPage(<RollRecord />, "/roll-calls/7", "/roll-calls/:roll");
  expect(await screen.findByText(/4 people on the list, 3 accounted for, 1 not/)).toBeInTheDocument();
  expect(screen.getAllByRole("row")[1]).toHaveTextContent("Finn Fjeld");
  expect(screen.getAllByRole("row")[1]).toHaveTextContent("not found");
  expect(screen.getAllByRole("row")[2]).toHaveTextContent("10:45:10D. AsePier");
  expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute("href", "/api/roll-calls/7/file?format=csv");
  vi.unstubAllGlobals();
});
