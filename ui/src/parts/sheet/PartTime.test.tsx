import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import { PartTime } from "./PartTime";

const view: Schemas["PartTimeView"] = {
  student: student(7, "Asta Øye"),
  today: "2026-03-10",
  periods: [
    {
      from: "",
      to: "2026-02-28",
      when: "until Sat 28 February 2026",
      now: false,
      here: "1",
      elsewhere: "0",
      words: "every slot",
      full: true,
      slots: [],
    },
    {
      from: "2026-03-01",
      to: "",
      when: "from Sun 1 March 2026",
      now: true,
      here: "1/2",
      elsewhere: "1/2",
      words: "every day AM; Mon 1",
      full: false,
      slots: [
        { slot: "AM", weekday: 0 },
        { slot: "1", weekday: 1 },
      ],
    },
  ],
  slots: [
    { slot: "AM", label: "AM registration", from: "08:45" },
    { slot: "1", label: "1", from: "09:05" },
  ],
  weekdays: [
    { weekday: 1, label: "Mon" },
    { weekday: 2, label: "Tue" },
  ],
};

const plan = (applied: boolean): Schemas["Plan"] => ({
  stamp: "s1",
  applied,
  from: "2026-03-11",
  when: "from Wed 11 March 2026 on",
  past: false,
  parts: [],
  figures: [],
  details: ["end slot of a part-time student Asta Øye, Monday 1"],
  problems: [],
  notes: [],
  kept: [],
});

describe("a student's time here", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is changed from a date on, after a look, and the past only when that is asked for", async () => {
    const server = testServer({
      "/api/students/7/part-time": view,
      "/api/part-time": ({ body }: { body: Schemas["Schedule"] }) => {
        if (body.from === "2026-02-02" && !body.past) throw new Error("registers are in");
        return plan(body.apply ?? false);
      },
    });
    const { user } = renderPage(<PartTime student={7} mayChange />);
    expect(await screen.findByText(/every day AM; Mon 1; 1\/2 here, 1\/2 elsewhere/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Part-time …" }));
    const mon = await screen.findByRole("checkbox", { name: "Mon, 1" });
    expect(mon).toBeChecked();
    expect(screen.getByRole("checkbox", { name: "Tue, 1" })).not.toBeChecked();
    await user.click(mon);
    await user.click(await screen.findByRole("button", { name: /See what it would change$/ }));
    expect(await screen.findByText(/end slot of a part-time student/)).toBeInTheDocument();
    await user.click(screen.getByRole("checkbox", { name: "Tue, all slots" }));
    expect(screen.queryByText(/end slot of a part-time student/)).not.toBeInTheDocument();
    await user.click(await screen.findByRole("button", { name: /See what it would change$/ }));
    await user.click(await screen.findByRole("button", { name: /Save$/ }));
    await waitFor(() =>
      expect(server.sent.map((s) => s.body).at(-1)).toEqual({
        student: 7,
        here: "1/2",
        elsewhere: "1/2",
        slots: [
          { slot: "AM", weekday: 1 },
          { slot: "AM", weekday: 2 },
          { slot: "1", weekday: 2 },
        ],
        past: false,
        seen: "s1",
        apply: true,
      }),
    );
    await waitFor(() => expect(screen.queryByRole("dialog")).not.toBeInTheDocument());
  });

  it("is read by whoever may not change it", async () => {
    testServer({ "/api/students/7/part-time": { ...view, periods: [{ ...view.periods[0], now: true }] } });
    renderPage(<PartTime student={7} mayChange={false} />);
    expect(await screen.findByText("Full time here, due in every slot.")).toBeInTheDocument();
    expect(screen.queryByRole("button")).not.toBeInTheDocument();
  });
});
