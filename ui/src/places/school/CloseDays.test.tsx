import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { rail, renderPage, testServer } from "../../test-page";
import { Calendar } from "./Calendar";

const year: Schemas["SectionYear"] = {
  section: 1,
  name: "",
  title: "2025 to 2026",
  days: 190,
  number: 114,
  kinds: [{ name: "normal", days: 190 }],
  first: "2025-09-01",
  patterns: ["normal", "short"],
  terms: [
    {
      name: "Autumn",
      days: 60,
      from: "Mon 1 September",
      to: "Fri 19 December",
      first: "2025-09-01",
      last: "2025-12-19",
    },
  ],
  periods: [],
  months: [],
  closed: [{ id: 3, date: "2026-02-04", words: "Wed 4 February: storm, Administrator Thu 5 February", stands: true }],
};

const plan = (applied: boolean, added = 0): Schemas["Plan"] => ({
  stamp: "s1",
  applied,
  from: "",
  when: "on Fri 6 March 2026, storm",
  past: true,
  parts: [{ what: "school day", added, changed: 0, ended: added ? 0 : 1, same: 0 }],
  figures: ["2025/26: the figures of 41 students change"],
  details: [],
  problems: [],
  notes: ["4288 marks of 536 students are set aside: they enter no figure, and come back if the closure is taken back"],
  kept: [],
});

describe("closing dates", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("has terms and day patterns set beside it, the past only where that is asked for", async () => {
    const server = testServer({
      "/api/school/calendar": { today: "2026-03-10", years: [year] },
      "/api/school/terms": ({ body }: { body: { apply: boolean } }) => plan(body.apply),
      "/api/rail": rail,
    });
    server.refusals["/api/school/day-pattern"] = { status: 403, detail: "registers up to Mon 9 March are in" };
    const { user, queries } = renderPage(<Calendar />, "/school/calendar");
    const sent = () => server.sent.map((s) => s.body);
    await user.click(await screen.findByRole("button", { name: "Terms …" }));
    await user.click(screen.getByRole("button", { name: "Add a term" }));
    await user.type(screen.getByRole("textbox", { name: "Name of term 2" }), "Spring");
    await user.type(screen.getByRole("textbox", { name: "Spring, first date" }), "2026-01-05{Enter}");
    await user.type(screen.getByRole("textbox", { name: "Spring, last date" }), "2026-03-27{Enter}");
    await user.click(screen.getByRole("button", { name: /See what it would change$/ }));
    await user.click(await screen.findByRole("button", { name: /Save$/ }));
    const spans = [
      { name: "Autumn", from: "2025-09-01", to: "2025-12-19" },
      { name: "Spring", from: "2026-01-05", to: "2026-03-27" },
    ];
    await waitFor(() =>
      expect(sent().at(-1)).toEqual({ section: 1, year: "2025-09-01", kind: "term", spans, seen: "s1", apply: true }),
    );
    const there = server.answers["/api/school/calendar"] as Schemas["CalendarView"];
    await user.click(screen.getByRole("button", { name: "Terms …" }));
    server.answers["/api/school/calendar"] = {
      ...there,
      years: there.years.map((y) => ({ ...y, terms: y.terms.map((x) => ({ ...x, last: "2025-12-12" })) })),
    };
    await act(() => queries.invalidateQueries());
    expect(await screen.findByRole("alert")).toHaveTextContent("Somebody else has changed this meanwhile");
    expect(screen.getByRole("button", { name: /See what it would change$/ })).toBeDisabled();
    await user.click(screen.getByRole("button", { name: "Cancel" }));
    await user.click(await screen.findByRole("button", { name: "Another day pattern …" }));
    await user.type(screen.getByLabelText("Date"), "2026-03-09{Enter}");
    expect(screen.queryByRole("checkbox")).not.toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: /See what it would change$/ }));
    expect(await screen.findByText("registers up to Mon 9 March are in")).toBeInTheDocument();
    await user.click(screen.getByRole("checkbox", { name: /correct the past/ }));
    await user.click(screen.getByRole("button", { name: /See what it would change$/ }));
    await waitFor(() =>
      expect(sent().at(-1)).toEqual({ section: 1, from: "2026-03-09", pattern: "normal", past: true, apply: false }),
    );
  });

  it("is looked at first, and each closure can be taken back", async () => {
    const server = testServer({
      "/api/school/calendar": { today: "2026-03-10", years: [year] },
      "/api/school/closures": ({ body }: { body: { apply: boolean } }) => plan(body.apply),
      "/api/school/closures/back": ({ body }: { body: { apply: boolean } }) => plan(body.apply, 1),
      "/api/rail": rail,
    });
    const { user } = renderPage(<Calendar />, "/school/calendar");
    await user.click(await screen.findByRole("button", { name: "Close dates or hours …" }));
    const look = await screen.findByRole("button", { name: "See what it would change" });
    expect(look).toBeDisabled();
    await user.type(screen.getByLabelText("Date"), "2026-03-06{Enter}");
    await user.type(screen.getByLabelText("Reason"), "storm");
    await user.click(look);
    expect(await screen.findByText("2025/26: the figures of 41 students change")).toBeInTheDocument();
    expect(screen.getByText(/4288 marks of 536 students are set aside/)).toBeInTheDocument();
    await user.click(await screen.findByRole("button", { name: /Close them$/ }));
    const sent = () => server.sent.map((s) => s.body);
    await waitFor(() =>
      expect(sent()).toEqual([
        { section: 1, from: "2026-03-06", reason: "storm", apply: false },
        { section: 1, from: "2026-03-06", reason: "storm", seen: "s1", apply: true },
      ]),
    );
    await user.click(screen.getByRole("button", { name: "Close dates or hours …" }));
    await user.type(screen.getByLabelText("Date"), "2026-03-09{Enter}");
    await user.type(screen.getByLabelText("Opens late, at"), "1020");
    await user.type(screen.getByLabelText("Reason"), "ice");
    await user.click(await screen.findByRole("button", { name: "See what it would change" }));
    await waitFor(() =>
      expect(sent().at(-1)).toEqual({ section: 1, from: "2026-03-09", opens: "10:20", reason: "ice", apply: false }),
    );
    await user.click(screen.getByRole("button", { name: "Cancel" }));
    await user.click(screen.getByRole("button", { name: "Take back …" }));
    expect(await screen.findByText(/1 school day more/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Take it back" }));
    await waitFor(() => expect(sent().at(-1)).toEqual({ closures: [3], seen: "s1", apply: true }));
  });
});
