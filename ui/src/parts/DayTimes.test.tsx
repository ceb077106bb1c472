import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { renderPage, testServer } from "../test-page";
import { DayTimes } from "./DayTimes";

const times: Schemas["DayTimesView"] = {
  date: "2026-03-09",
  label: "Mon 9 March",
  sections: [
    {
      id: 1,
      name: "",
      slots: [
        { name: "1", label: "lesson 1", from: "09:05", to: "09:40", usual: "09:05 to 09:55" },
        { name: "2", label: "lesson 2", from: "10:00", to: "10:50", usual: "" },
      ],
    },
  ],
};

const plan: Schemas["Plan"] = {
  applied: false,
  stamp: "s1",
  from: "2026-03-09",
  when: "on Mon 9 March 2026 alone, fire alarm",
  past: true,
  parts: [{ what: "slot", added: 0, changed: 1, ended: 0, same: 1 }],
  figures: ["2025/26, Hours: the figures of 3 students change; the school's rate stays at 4.1 %"],
  details: ["change slot 2, 10:00 to 10:50 to 2, 10:00 to 10:30"],
  problems: [],
  notes: [],
  kept: [],
};

describe("the times of a day", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are put right after a look at what would change, and go back to the usual ones", async () => {
    const server = testServer({ "/api/day-times?at=2026-03-09": times, "/api/day-times": plan });
    const close = vi.fn();
    const { user } = renderPage(<DayTimes at="2026-03-09" onClose={close} />);
    const to = await screen.findByLabelText("lesson 2, to");
    expect(screen.getByRole("button", { name: /Save/ })).toBeDisabled();
    await user.clear(to);
    await user.type(to, "1030");
    await user.tab();
    expect(await screen.findByText(/figures of 3 students change/)).toBeInTheDocument();
    expect(server.sent.at(-1)?.body).toEqual({
      date: "2026-03-09",
      section: 1,
      slots: [{ slot: "2", from: "10:00", to: "1030" }],
      reason: "looked at",
      apply: false,
    });
    await user.click(screen.getByRole("button", { name: "09:05 to 09:55" }));
    await user.type(screen.getByLabelText("Why"), "fire alarm");
    server.refusals["/api/day-times"] = {
      status: 422,
      detail: "2 and 3 would be at the same time; nothing was changed",
    };
    await user.click(screen.getByRole("button", { name: /Save/ }));
    expect(await screen.findByRole("alert")).toHaveTextContent("at the same time");
    expect(close).not.toHaveBeenCalled();

    delete server.refusals["/api/day-times"];
    server.answers["/api/day-times"] = { ...plan, applied: true };
    await user.click(screen.getByRole("button", { name: /Save/ }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(server.sent.at(-1)?.body).toMatchObject({
      slots: [
        { slot: "1", from: "09:05", to: "09:55" },
        { slot: "2", from: "10:00", to: "10:30" },
      ],
      reason: "fire alarm",
      apply: true,
    });
  });
});
