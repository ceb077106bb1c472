import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import { MadeUp } from "./MadeUp";

const mark = (slot: string, state: string): Schemas["WhyMark"] => ({
  slot,
  label: `lesson ${slot}`,
  code: "U",
  word: "",
  from: "",
  to: "",
  due: 50,
  missed: 50,
  state,
});

describe("made-up work", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("excuses the slots that were missed unexcused, with who allowed it", async () => {
    const server = testServer({ "/api/made-up": { seq: 1, text: "excused", ids: [], undo: true } });
    const close = vi.fn();
    const day: Schemas["WhyDay"] = {
      date: "2026-03-05",
      label: "Thu 5 March",
      due: 150,
      missed: 150,
      absentFrom: 75,
      verdict: "unexcused",
      unmarked: 0,
      marks: [mark("1", "unexcused"), mark("2", "explained"), mark("3", "unexcused")],
    };
    const { user } = renderPage(<MadeUp student={student(7, "Asta Øye")} day={day} close={close} />);
    const save = await screen.findByRole("button", { name: "Excuse it" });
    expect(screen.queryByRole("checkbox", { name: "lesson 2" })).not.toBeInTheDocument();
    await user.click(screen.getByRole("checkbox", { name: "lesson 3" }));
    await user.type(screen.getByRole("textbox", { name: "Made up on" }), "2026-03-09{Enter}");
    expect(save).toBeDisabled();
    await user.type(screen.getByRole("textbox", { name: "Allowed by" }), "J. Rask");
    await user.click(save);
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(server.sent[0]?.body).toEqual({
      student: 7,
      date: "2026-03-05",
      slots: ["1"],
      done: "2026-03-09",
      allowed: "J. Rask",
    });
  });
});
