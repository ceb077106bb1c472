import { act, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, testServer } from "../../test-page";
import { Outlook } from "./Outlook";

const group = (predicted: number, came: number, n: number, name = "") => ({
  name,
  n,
  predicted,
  observed: came / n,
  came,
});

const view: Schemas["OutlookView"] = {
  any: true,
  history: 3,
  problem: "",
  rule: { on: false, ridge: "0", from: "1.5", history: 0 },
  brought: "Wed 3 September, Administrator",
  n: 326,
  leftOut: 5,
  came: 64,
  pairs: "in 70 of 100 pairs",
  auc: "0.700",
  brier: "0.140",
  always: "0.158",
  better: "Its squared error is 11 % less than that of always saying the average.",
  calibration: [group(0.05, 1, 32), group(0.4, 13, 33)],
  byYear: [group(0.2, 18, 81, "9")],
  terms: [
    { term: "absence_rate", estimate: "7.100", stdError: "1.900", p: "below 0.001", out: false },
    { term: "twice", estimate: "", stdError: "", p: "", out: true },
  ],
  inputs: [{ name: "school_changes", area: "changes of school", source: "", missing: 612 }],
  students: 612,
  warnings: ["It says what went with leaving in the past, not why anybody left."],
  known: ["absence_rate"],
  maySet: true,
};

describe("the outlook", () => {
  it("is read before it is switched on, by its history", async () => {
    const server = testServer({
      "/api/outlook": view,
      "/api/outlook/rule": { seq: 2, text: "The outlook is on", ids: [] },
    });
    const { user } = renderPage(<Outlook />, "/concerns/outlook");
    expect(await screen.findByText("The outlook is off")).toBeInTheDocument();
    expect(screen.getByText("nowhere: missing for everybody")).toBeInTheDocument();
    expect(screen.getByRole("img", { name: "Predicted and observed" }).querySelectorAll("circle")).toHaveLength(2);
    await user.click(screen.getByRole("button", { name: "Its coefficients" }));
    expect(screen.getByText(/left out: it says nothing/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "I have read this: switch it on" }));
    await waitFor(() => expect(server.sent[0]?.body).toEqual({ on: true, ridge: "0", from: "1.5", history: 3 }));
  });

  it("shows past a second how far a fit is, and ends it", async () => {
    let answer: (v: Schemas["OutlookView"]) => void = () => undefined;
    const server = testServer({
      "/api/outlook": view,
      "/api/outlook/fit": () => new Promise((done) => (answer = done)),
      "/api/progress": { done: 60, of: 200 },
    });
    const { user } = renderPage(<Outlook />, "/concerns/outlook");
    await user.clear(await screen.findByRole("textbox", { name: "Ridge" }));
    await user.type(screen.getByRole("textbox", { name: "Ridge" }), "2");
    await user.click(screen.getByRole("button", { name: "Fit it again" }));
    expect(await screen.findByText(/60 of 200/)).toBeInTheDocument();
    expect(server.asked.some((x) => x.startsWith("/api/progress?name=long"))).toBe(true);
    await act(async () => answer({ ...view, auc: "0.712", rule: { ...view.rule, ridge: "2" } }));
    expect(await screen.findByText(/Area under the curve 0.712/)).toBeInTheDocument();
    expect(screen.queryByText(/60 of 200/)).not.toBeInTheDocument();
  });

  it("says why there is none", async () => {
    testServer({ "/api/outlook": { ...view, any: false, problem: "no past students have been brought yet" } });
    renderPage(<Outlook />, "/concerns/outlook");
    expect(await screen.findByText("No past students have been brought yet.")).toBeInTheDocument();
    expect(screen.getByText(/The program fills in: absence_rate/)).toBeInTheDocument();
  });
});
