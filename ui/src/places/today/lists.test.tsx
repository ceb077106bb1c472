import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, safe, student, testServer } from "../../test-page";
import ContactsToCorrect from "./ContactsToCorrect";
import Notices from "./Notices";
import OverdueReasons from "./OverdueReasons";
import Protocol from "./Protocol";

afterEach(() => vi.unstubAllGlobals());

describe("notices of a day", () => {
  const notices: Schemas["NoticeView"][] = [
    {
      id: 4,
      student: student(1, "Elis Merrow"),
      text: "ill until Thu 12 March",
      told: "Ida Merrow · phone",
      noted: "09:12 by R. Tolvan",
      withdrawn: false,
    },
    {
      id: 3,
      student: student(2, "Jory Marr"),
      text: "ill",
      told: "a neighbour",
      noted: "08:22 by M. Kersey",
      withdrawn: true,
    },
  ];

  it("say who told what and how, and are withdrawn", async () => {
    const server = testServer({ "/api/notices": notices });
    const { user } = renderPage(<Notices />, "/notices");
    expect(await screen.findByText("Ida Merrow · phone")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Withdraw the notice about Elis Merrow" }));
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/notices/4/withdraw"));
    expect(screen.queryByRole("button", { name: /about Jory Marr/ })).not.toBeInTheDocument();
  });

  it("are read, and not withdrawn, at an earlier minute", async () => {
    testServer({ "/api/notices": notices });
    renderPage(<Notices />, "/notices?at=2026-03-10T09:00");
    await screen.findByText("Ida Merrow · phone");
    expect(screen.queryByRole("button", { name: /Withdraw/ })).not.toBeInTheDocument();
  });
});

describe("reasons that are overdue", () => {
  const view: Schemas["UnexplainedView"] = {
    scope: "",
    policy: "Half-day sessions",
    after: 5,
    overdue: 1,
    students: [
      {
        student: student(7, "Zelda Bankfoot"),
        days: [
          { date: "2026-02-06", label: "Fri 6 February", slots: "", since: 17, overdue: true },
          { date: "2026-03-09", label: "Mon 9 March", slots: "1, 2", since: 1, overdue: false },
        ],
        overdue: 1,
        contact: "Elsa Bankfoot · 07700 900 233",
      },
      {
        student: student(8, "Kit Ramsden"),
        days: [{ date: "2026-03-09", label: "Mon 9 March", slots: "", since: 1, overdue: false }],
        overdue: 0,
        contact: "",
      },
    ],
  };

  it("stand first, the others on request, and a reason is noted for the days it is about", async () => {
    testServer({ "/api/unexplained": view });
    const { user, router } = renderPage(<OverdueReasons />, "/reasons");
    expect(await screen.findByText("Zelda Bankfoot")).toBeInTheDocument();
    expect(screen.queryByText("Kit Ramsden")).not.toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "All without a reason" }));
    expect(screen.getByText("no contact on file")).toBeInTheDocument();
    await user.click(screen.getAllByRole("button", { name: "Note the reason" })[0] as HTMLElement);
    expect(router.state.location.search).toBe("?notice=7&noticeFrom=2026-02-06&noticeTo=2026-03-09");
  });
});

describe("contacts to correct", () => {
  it("say who is missing now, and take a note on a number that was corrected", async () => {
    const tasks: Schemas["Task"][] = [
      {
        key: "a",
        kind: "no contact",
        students: [student(5, "Della Fairhurst")],
        text: "no contact on file",
        since: "",
        missing: true,
        call: 0,
        contact: 0,
      },
      {
        key: "b",
        kind: "wrong number",
        students: [student(6, "Juno Sandal")],
        text: "Liv Sandal · 07700 900 018",
        since: "09:14 by R. Tolvan",
        missing: false,
        call: 31,
        contact: 31,
      },
    ];
    const server = testServer({ "/api/tasks": tasks });
    const { user } = renderPage(<ContactsToCorrect />, "/contacts");
    expect(await screen.findByText(/missing now/)).toBeInTheDocument();
    await user.type(screen.getByLabelText(/How the number of Liv Sandal/), "asked the form");
    await user.click(screen.getByRole("button", { name: "Corrected" }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/calls/31/mended", body: { note: "asked the form" } }),
    );
  });
});

describe("the record of a morning", () => {
  it("adds up, names who is open, and what was done by whom", async () => {
    const protocol: Schemas["Protocol"] = {
      school: "Fairlead School",
      date: "2026-03-10",
      day: "Tue 10 March",
      asAt: "2026-03-10T09:40",
      scope: "",
      slot: "AM registration",
      safe: [safe({ registersIn: 1, registers: 2, unaccounted: 1 })],
      roll: 612,
      count: [
        { state: "in", label: "in", n: 611 },
        { state: "unaccounted", label: "unaccounted for", n: 1 },
      ],
      countAt: "09:40",
      registers: [
        { class: "7 Reef", taker: "J. Aune", sent: "08:56", by: "J. Aune" },
        { class: "11 Cleat", taker: "M. Jahn", sent: "", by: "" },
      ],
      lines: [{ at: "09:05", kind: "reminder", text: "11 Cleat, AM", by: "" }],
      explained: [],
      open: [{ student: student(5, "Della Fairhurst"), text: "not in AM registration", lately: "", warnings: [] }],
    };
    testServer({ "/api/safe-arrival/protocol": protocol });
    renderPage(<Protocol />, "/protocol");
    expect(await screen.findByRole("heading", { level: 1 })).toHaveTextContent(
      "Fairlead School: safe arrival, Tue 10 March",
    );
    expect(screen.getByText(/612 on the roll = 611 in \+ 1 unaccounted for/)).toBeInTheDocument();
    expect(screen.getByText(/Della Fairhurst \(7 Reef\), not in AM registration/)).toBeInTheDocument();
    expect(screen.getByText("automatic")).toBeInTheDocument();
    expect(screen.getByText("1 of 2 in")).toBeInTheDocument();
    expect(screen.getByText("11 Cleat").closest("li")).toHaveClass("look-overdue");
  });
});
