import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Refusal, type Schemas } from "../../api/client";
import { forgetKept, kept, keptSession } from "../../api/kept";
import { place, renderPage, student, testServer } from "../../test-page";
import Trip from "./Trip";
import Trips from "./Trips";

const line: Schemas["TripLine"] = {
  id: 4,
  title: "light house",
  place: "Skerry",
  day: "Tue 10 March",
  date: "2026-03-10",
  last: "2026-03-10",
  from: "09:20",
  to: "10:30",
  leader: "T. Rask",
  phone: "07700 900 903",
  state: "not back",
  text: "should have been back 10:30",
  students: 3,
  there: 1,
  missing: ["Corin Vale"],
  mine: true,
};

const member = (id: number, name: string, said: "" | "here" | "missing"): Schemas["MemberView"] => ({
  student: student(id, name),
  said,
  at: said && "09:25",
  by: said && "T. Rask",
  place: place("elsewhere", "light house"),
  warnings: [],
});

const trip: Schemas["TripView"] = {
  ...line,
  toDate: "",
  home: false,
  leaderId: 3,
  members: [member(1, "Maren Holt", "here"), member(2, "Tavi Lund", ""), member(3, "Corin Vale", "missing")],
  mayEdit: true,
  marking: true,
  phones: [{ student: 3, name: "Ada Vale, mother", phone: "07700 900 111" }],
};

const view: Schemas["TripsView"] = {
  today: "2026-03-10",
  trips: [line],
  groups: [{ value: "class:48", label: "8 Halyard", kind: "form" }],
  staff: [{ id: 3, name: "Rask, T." }],
};

function open(page: React.ReactNode, at: string, pattern: string, more: Record<string, unknown> = {}) {
  const server = testServer({
    "/api/trips": view,
    "/api/trips/4": trip,
    ...more,
    "/api/trips/group": [student(5, "Oona Harle"), student(1, "Maren Holt")],
    "/api/find": [
      { student: student(6, "Ivar Whimbrel"), place: place("in", "in since 08:50"), through: "", warnings: [] },
    ],
  });
  server.answers["/api/find?q=whim"] = server.answers["/api/find"];
  return { ...renderPage(page, at, pattern), server };
}

const body = (server: ReturnType<typeof testServer>, path: string) => server.sent.find((s) => s.path === path)?.body;

describe("trips and visits", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are planned as a list, by name and a whole form at once", async () => {
    const { user, server } = open(<Trips />, "/trips", "/trips");
    const row = within((await screen.findByText("light house")).closest("tr") as HTMLElement);
    expect(row.getByText(/should have been back 10:30/)).toHaveClass("look-overdue");
    expect(row.getByText(/missing: Corin Vale/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Plan a trip" }));
    const form = within(screen.getByRole("form", { name: "Plan a trip" }));
    await user.type(form.getByLabelText("What"), "harbour survey");
    await user.type(form.getByLabelText("From"), "830");
    await user.type(form.getByLabelText("To"), "1500");
    await user.type(form.getByLabelText("or somebody else"), "S. Aune");
    await user.click(form.getByRole("combobox", { name: "Add a whole group" }));
    await user.click(await screen.findByText("8 Halyard", { selector: ".ant-select-item-option-content" }));
    expect(await form.findByText("2 on it")).toBeInTheDocument();
    await user.type(form.getByLabelText("Add a student"), "whim");
    await user.click(await form.findByRole("button", { name: /Ivar Whimbrel/ }));
    await user.click(form.getByRole("button", { name: "Take Maren Holt off" }));
    await user.click(form.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(body(server, "/api/trips")).toMatchObject({
        title: "harbour survey",
        from: "830",
        to: "1500",
        leader: "S. Aune",
        date: "2026-03-10",
        students: [5, 6],
      }),
    );
  });

  it("have a register of their own, with whom to ring, and come back as a whole", async () => {
    const { user, server } = open(<Trip />, "/trips/4", "/trips/:trip");
    expect(await screen.findByText(/Should have been back 10:30/)).toHaveClass("look-overdue");
    expect(screen.getByRole("link", { name: "07700 900 111" })).toHaveAttribute("href", "tel:07700900111");
    expect(screen.getByText("1 of 3 students, 1 missing")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "The other one is there" }));
    await waitFor(() => expect(body(server, "/api/trips/4/marks")).toMatchObject({ here: [2], missing: [] }));
    await user.click(screen.getByRole("button", { name: "Corin Vale is there" }));
    await waitFor(() => expect(server.sent.at(-1)?.body).toMatchObject({ here: [3], missing: [] }));
    await user.type(screen.getByLabelText("Back at"), "1118");
    await user.click(screen.getByRole("button", { name: "All 2 are back" }));
    await waitFor(() => expect(body(server, "/api/trips/4/back")).toEqual({ at: "11:18", home: false }));
  });

  it("keep what the leader says while the line is down, and send the last word of each", async () => {
    localStorage.clear();
    const { user, server } = open(<Trip />, "/trips/4", "/trips/:trip");
    let down = true;
    const said: unknown[] = [];
    server.answers["/api/trips/4/marks"] = (post: { body: unknown }) => {
      if (down) throw new TypeError("the line is down");
      said.push(post.body);
      return { seq: 1, text: "stored", ids: [] };
    };
    await user.click(await screen.findByRole("button", { name: "Tavi Lund is missing" }));
    expect(await screen.findByText(/No line: what you say is kept here/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Tavi Lund is there" }));
    await user.click(screen.getByRole("button", { name: "Corin Vale is there" }));
    expect(screen.getAllByText(/there · kept here/)).toHaveLength(2);
    down = false;
    await waitFor(() => expect(said).toMatchObject([{ here: [2], missing: [] }, { here: [3] }]), { timeout: 8000 });
    await waitFor(() => expect(localStorage.getItem("meldung trip|41|4")).toBeNull());
    expect(screen.queryByText(/No line/)).toBeNull();
  });

  it("open with the line down for whoever leads them, until they are back or refused", async () => {
    localStorage.clear();
    const name = "meldung kept|trip 41 4";
    const first = open(<Trip />, "/trips/4", "/trips/:trip");
    await screen.findByText("1 of 3 students, 1 missing");
    await waitFor(() => expect(localStorage.getItem(name)).not.toBeNull());
    expect(keptSession()?.name).toBe("R. Tolvan");
    first.unmount();

    const noLine = () => {
      throw new TypeError("the line is down");
    };
    const down = open(<Trip />, "/trips/4", "/trips/:trip", { "/api/trips/4": noLine });
    expect(await screen.findByText(/No line to the server/)).toBeInTheDocument();
    expect(screen.getByRole("link", { name: "07700 900 111" })).toBeInTheDocument();
    down.unmount();

    const isBack = { ...trip, state: "back", marking: false };
    const back = open(<Trip />, "/trips/4", "/trips/:trip", { "/api/trips/4": isBack });
    await waitFor(() => expect(localStorage.getItem(name)).toBeNull());
    back.unmount();

    localStorage.setItem(name, JSON.stringify({ had: Date.now(), answer: trip }));
    const refuse = () => {
      throw new Refusal(404, "there is no such trip among yours");
    };
    open(<Trip />, "/trips/4", "/trips/:trip", { "/api/trips/4": refuse });
    expect(await screen.findByText(/no such trip among yours/i)).toBeInTheDocument();
    expect(localStorage.getItem(name)).toBeNull();

    localStorage.setItem(name, JSON.stringify({ had: Date.now() - 25 * 3_600_000, answer: trip }));
    expect(kept(name.slice("meldung kept|".length))).toBeUndefined();
    forgetKept();
    expect(keptSession()).toBeUndefined();
  });

  it("send what is said while something else is on its way, after a line that was down", async () => {
    localStorage.clear();
    const { user, server } = open(<Trip />, "/trips/4", "/trips/:trip");
    const said: unknown[] = [];
    let tries = 0;
    server.answers["/api/trips/4/marks"] = async (post: { body: unknown }) => {
      tries++;
      if (tries === 1) throw new TypeError("the line is down");
      await new Promise((done) => setTimeout(done, 300));
      said.push(post.body);
      return { seq: 1, text: "stored", ids: [] };
    };
    await user.click(await screen.findByRole("button", { name: "Tavi Lund is there" }));
    await waitFor(() => expect(tries).toBe(2), { timeout: 8000 });
    await user.click(screen.getByRole("button", { name: "Corin Vale is there" }));
    await waitFor(() => expect(said).toMatchObject([{ here: [2] }, { here: [3] }]), { timeout: 8000 });
  });
});
