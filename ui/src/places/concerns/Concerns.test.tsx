import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import Concerns from "./Concerns";

const figures = { rate: "12.4", unexcused: 10 } as Schemas["AbsenceFigures"];
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

const view: Schemas["ConcernsView"] = {
  scope: "",
  asAt: "2026-03-09",
  label: "Mon 9 March",
  students: 612,
  any: 2,
  kinds: [
    { kind: "absence-band", area: "absence", title: "Chronic or severe absence", n: 1 },
    { kind: "incidents", area: "conduct", title: "Two incidents in 30 days", n: 1 },
  ],
  rows: [
    {
      student: student(1, "Mika Ulvar"),
      new: true,
      since: "Thu 5 March",
      figures,
      contacts: [contact(1, "Runa Ulvar"), contact(2, "Aksel Brenn", true)],
      concerns: [
        {
          kind: "absence-band",
          area: "absence",
          figure: "Chronic",
          why: "missed 14 of 113 days: chronic",
          since: "Mon 23 February",
        },
      ],
      last: {
        date: "Mon 2 March",
        outcome: "spoke",
        note: "",
        by: "D. Ase",
        next: "Tue 10 March",
        nextDay: "2026-03-10",
        overdue: false,
      },
    },
    {
      student: student(2, "Oona Harle"),
      new: false,
      since: "Thu 5 March",
      figures,
      contacts: [],
      concerns: [
        {
          kind: "incidents",
          area: "conduct",
          figure: "Two incidents",
          why: "2 incidents in 30 days: left a lesson",
          since: "Thu 5 March",
        },
      ],
    },
  ],
  due: [
    {
      student: student(3, "Cato Vane"),
      last: {
        date: "Fri 27 February",
        outcome: "left a message",
        note: "",
        by: "D. Ase",
        next: "Fri 6 March",
        nextDay: "2026-03-06",
        overdue: true,
      },
    },
  ],
  outcomes: ["spoke", "left a message", "no answer", "met"],
};

function open(at = "/concerns") {
  const server = testServer({ "/api/concerns": view });
  return { ...renderPage(<Concerns />, at), server };
}

describe("concerns", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("puts the new ones first, each with its figures and its reasons", async () => {
    open();
    expect(await screen.findByText("New in the last seven days")).toBeInTheDocument();
    expect(screen.getByText(/missed 14 of 113 days: chronic/)).toBeInTheDocument();
    expect(screen.getByText("spoke Mon 2 March, again Tue 10 March")).toBeInTheDocument();
    expect(screen.getByText("Fri 6 March")).toHaveClass("look-overdue");
  });

  it("narrows to one concern, and keeps that in the address", async () => {
    const { user, router } = open();
    await user.click(await screen.findByRole("button", { name: /Two incidents in 30 days/ }));
    expect(screen.queryByText("Mika Ulvar")).not.toBeInTheDocument();
    expect(screen.getByText("Oona Harle")).toBeInTheDocument();
    expect(router.state.location.search).toBe("?kind=incidents");
  });

  it("logs a follow-up with outcome, words and next date, and never to those who must not be called", async () => {
    const { user, server } = open();
    await user.click((await screen.findAllByRole("button", { name: "Log a call" }))[0] as HTMLElement);
    expect(screen.queryByText("Aksel Brenn")).not.toBeInTheDocument();
    await user.click(screen.getByRole("radio", { name: "left a message" }));
    await user.type(screen.getByLabelText("What was said"), "asked to ring back");
    await user.type(screen.getByLabelText(/again on/), "2026-03-12");
    await user.click(screen.getByRole("button", { name: /Save/ }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/followups",
      body: { student: 1, contact: 1, outcome: "left a message", note: "asked to ring back", next: "2026-03-12" },
    });
  });

  it("says when there is nobody to ring", async () => {
    const { user } = open();
    await user.click((await screen.findAllByRole("button", { name: "Log a call" }))[1] as HTMLElement);
    expect(screen.getByText("no contact on file")).toBeInTheDocument();
  });

  it("logs nothing at an earlier minute", async () => {
    open("/concerns?at=2026-03-06T10:00");
    await screen.findByText("Mika Ulvar");
    expect(screen.queryByRole("button", { name: "Log a call" })).not.toBeInTheDocument();
  });
});
