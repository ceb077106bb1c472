import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import Concerns from "./Concerns";
import { Reviews } from "./Reviews";

const contact = (id: number, name: string, doNotCall = false): Schemas["ContactRef"] => ({
  id,
  order: id,
  name,
  relation: "mother",
  phone: "07700 900 012",
  mayCollect: false,
  livesWith: true,
  doNotCall,
});

const concern = (kind: string, area: string, figure: string, why: string, fresh = false) => ({
  kind,
  area,
  figure,
  why,
  fresh,
  since: "Mon 23 February",
});

const row = (id: number, name: string, more: Partial<Schemas["ConcernRow"]>): Schemas["ConcernRow"] => ({
  student: student(id, name),
  inStage: "",
  turn: "new",
  due: true,
  gone: false,
  late: false,
  since: "Thu 5 March",
  concerns: [concern("incidents", "conduct", "Two incidents", "2 incidents in 30 days")],
  areas: [{ area: "conduct", n: 1 }],
  before: 0,
  course: [0, 0, 1],
  rate: "12.4",
  absent: 14,
  possible: 113,
  unexcused: 10,
  contacts: [],
  words: [],
  ...more,
});

const view: Schemas["ConcernsView"] = {
  scope: "",
  asAt: "2026-03-09",
  label: "Mon 9 March",
  today: "2026-03-10",
  group: "",
  groups: [],
  students: 612,
  any: 3,
  kinds: [
    { kind: "chronic", area: "absence", title: "Chronic or severe absence", n: 1 },
    { kind: "incidents", area: "conduct", title: "Two incidents in 30 days", n: 2 },
  ],
  review: {
    date: "Tue 10 March",
    day: "2026-03-10",
    begun: true,
    finished: "",
    asAt: "Mon 9 March",
    before: "Tue 3 March",
    next: "Tue 17 March",
    of: 3,
    due: 2,
    deciders: [{ by: "D. Ase", n: 1, last: "09:04" }],
    rule: { weekday: 2, weeks: 1 },
    ruleText: "every week on Tuesday",
  },
  rows: [
    row(1, "Mika Ulvar", {
      concerns: [concern("chronic", "absence", "Chronic or severe absence", "absent 12.4 % of the time")],
      contacts: [contact(1, "Runa Ulvar"), contact(2, "Aksel Brenn", true)],
      words: [{ text: "sleeps in class", by: "J. Osk", on: "Mon 9 March, 14:20" }],
      last: {
        date: "Mon 2 March",
        outcome: "spoke",
        note: "",
        by: "D. Ase",
        next: "Tue 10 March",
        nextDay: "2026-03-10",
        overdue: false,
      },
    }),
    row(2, "Oona Harle", {
      turn: "holding",
      before: 1,
      due: false,
      case: {
        id: 4,
        owner: "D. Ase",
        ownerId: 2,
        mine: false,
        next: "Fri 6 March",
        nextDay: "2026-03-06",
        overdue: true,
        text: "",
      },
    }),
    row(3, "Cato Vane", { turn: "easing", before: 2 }),
  ],
  outcomes: ["spoke", "left a message", "no answer", "met"],
  owners: [
    { id: 2, name: "D. Ase", mine: false },
    { id: 41, name: "R. Tolvan", mine: true },
  ],
  chances: "",
  mayDecide: true,
  mayTell: true,
  maySet: false,
};

function open(at = "/concerns", more: Partial<Schemas["ConcernsView"]> = {}) {
  const server = testServer({ "/api/concerns": { ...view, ...more }, "/api/lists": [], "/api/own-fields/groups": [] });
  return { ...renderPage(<Concerns />, at), server };
}

describe("the review", () => {
  it("stands in the order of the decision, each with its figures, its reasons and in whose hands", async () => {
    open();
    const headings = await screen.findAllByRole("heading", { level: 3 });
    expect(headings.map((h) => h.textContent)).toEqual(["New since Tue 3 March1", "Holding1", "Easing1"]);
    expect(screen.getByText(/absent 12.4 % of the time/)).toBeInTheDocument();
    expect(screen.getByText(/sleeps in class/)).toBeInTheDocument();
    expect(screen.getByText("1 of 3 decided · D. Ase 1, last 09:04")).toBeInTheDocument();
    expect(screen.getByText("· Fri 6 March")).toHaveClass("look-overdue");
    expect(screen.getAllByRole("img", { name: "rules at the last reviews, and now: 0, 0, 1" })).toHaveLength(3);
  });

  it("asks for what is narrowed down, and keeps that in the address", async () => {
    const { user, router, server } = open();
    await user.click(await screen.findByRole("button", { name: /Two incidents in 30 days/ }));
    expect(router.state.location.search).toBe("?kind=incidents");
    await user.click(screen.getByRole("checkbox", { name: /undecided 2/ }));
    await waitFor(() => expect(server.asked).toContain("/api/concerns?rule=incidents&undecided=true"));
    expect(screen.getByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/concerns/file?rule=incidents&undecided=true&format=csv",
    );
  });

  it("is decided by key: a case, a wait, nothing, each going on to the next that waits", async () => {
    const { user, server } = open();
    await screen.findByText("Mika Ulvar");
    await user.keyboard("o");
    await user.type(await screen.findByRole("textbox", { name: "Why" }), "see them on Monday{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/concerns/decide",
      body: { student: 1, kind: "case", owner: 41, until: "2026-03-17", text: "see them on Monday" },
    });
    await waitFor(() => expect(screen.queryByRole("form")).not.toBeInTheDocument());
    await user.keyboard("n");
    const form = await screen.findByRole("form", { name: "No action: Cato Vane" });
    await user.type(within(form).getByRole("textbox", { name: "Why" }), "two full weeks{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(2));
    expect(server.sent[1]?.body).toMatchObject({ student: 3, kind: "none", text: "two full weeks" });
    await waitFor(() => expect(screen.queryByRole("form")).not.toBeInTheDocument());
    await user.keyboard("w");
    await screen.findByRole("form", { name: "Wait: Mika Ulvar" });
    await user.keyboard("{Escape}");
    expect(screen.queryByRole("form")).not.toBeInTheDocument();
  });

  it("says what was refused and keeps what was typed; a second save keeps both", async () => {
    const { user, server } = open();
    server.refusals["/api/concerns/decide"] = {
      status: 409,
      detail: "D. Ase saved at 09:05: waits until Fri 20 March",
    };
    await screen.findByText("Mika Ulvar");
    await user.keyboard("n");
    await user.type(await screen.findByRole("textbox", { name: "Why" }), "known{Enter}");
    expect(await screen.findByText(/D. Ase saved at 09:05/)).toBeInTheDocument();
    expect(screen.getByRole("textbox", { name: "Why" })).toHaveValue("known");
    await user.keyboard("{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(2));
    expect(server.sent[1]?.body).toMatchObject({ seen: 0 });
  });

  it("is finished or read again from its panel", async () => {
    const { user, server } = open();
    await user.click(await screen.findByRole("button", { name: "Run the rules again" }));
    await user.click(screen.getByRole("button", { name: "Finish it, 2 undecided" }));
    await waitFor(() => expect(server.sent.map((s) => s.path)).toEqual(["/api/reviews/again", "/api/reviews/finish"]));
  });

  it("logs a follow-up, and never to those who must not be called", async () => {
    const { user, server } = open();
    await user.click((await screen.findAllByRole("button", { name: "log a call" }))[0] as HTMLElement);
    expect(screen.queryByText("Aksel Brenn")).not.toBeInTheDocument();
    await user.click(screen.getByRole("radio", { name: "left a message" }));
    await user.type(screen.getByLabelText("What was said"), "asked to ring back");
    await user.type(screen.getByLabelText(/Next contact on/), "2026-03-12");
    await user.click(screen.getByRole("button", { name: /Save/ }));
    await waitFor(() =>
      expect(server.sent[0]?.body).toMatchObject({
        student: 1,
        contact: 1,
        outcome: "left a message",
        note: "asked to ring back",
        next: "2026-03-12",
      }),
    );
  });

  it("lets a teacher say what those who decide should know, and nothing else", async () => {
    const { user, server } = open("/concerns", { mayDecide: false, owners: [] });
    await screen.findByText("Mika Ulvar");
    expect(screen.queryByRole("button", { name: /No action/ })).not.toBeInTheDocument();
    await user.keyboard("t");
    await user.type(await screen.findByRole("textbox", { name: "What they should know" }), "asleep by noon{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/concerns/tell",
        body: { student: 1, text: "asleep by noon" },
      }),
    );
  });
});

const line = (id: number, date: string, finished = ""): Schemas["ReviewLine"] => ({
  id,
  section: "",
  date,
  day: "2026-03-03",
  students: 4,
  decided: 3,
  finished,
});

describe("a review that was", () => {
  it("stands beside the one before, with what was decided", async () => {
    const record: Schemas["ReviewRecord"] = {
      review: line(2, "Tue 3 March", "by D. Ase, Tue 3 March, 16:10"),
      asAt: "Mon 2 March",
      begun: "by D. Ase, Tue 3 March, 15:50",
      before: line(1, "Tue 24 February"),
      rows: [
        {
          student: student(1, "Mika Ulvar"),
          turn: "rising",
          concerns: [concern("chronic", "absence", "Chronic", "absent 12.4 %")],
          rate: "12.4",
          decision: "waits until Fri 20 March",
          text: "new ferry",
          by: "D. Ase",
        },
      ],
      turns: [{ turn: "rising", now: 4, before: 6 }],
      decided: [{ kind: "undecided", now: 1, before: 2 }],
      gone: [student(9, "Ida Holt")],
      students: 4,
      earlier: 6,
    };
    testServer({
      "/api/reviews": { scope: "", reviews: [line(2, "Tue 3 March", "by D. Ase")] },
      "/api/reviews/2": record,
    });
    renderPage(<Reviews />, "/concerns/reviews");
    expect(await screen.findByText(/Finished by D. Ase, Tue 3 March, 16:10/)).toBeInTheDocument();
    expect(screen.getByText("Ida Holt")).toBeInTheDocument();
    expect(screen.getByText(/waits until Fri 20 March/)).toBeInTheDocument();
    expect(screen.getByRole("row", { name: "Not decided 1 2" })).toBeInTheDocument();
  });
});
