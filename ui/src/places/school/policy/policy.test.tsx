import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../../api/client";
import { renderPage, testServer } from "../../../test-page";
import { PolicyEditor } from "./PolicyEditor";

const form: Schemas["PolicyForm"] = {
  id: "hours",
  title: "Hours",
  source: "",
  codes: "plain",
  unit: "minute",
  basis: "full_day",
  slots: "all",
  dayAbsentAt: "50 %",
  minPossible: "0",
  threshold: "10 %",
  unexplainedAfter: "0",
  bands: [
    { name: "below", below: "10 %" },
    { name: "over", below: "" },
  ],
  triggers: [
    { id: "year", title: "In a year", count: "minutes", of: ["unexcused"], reach: "72 h", window: "year", n: "" },
  ],
  ladders: [],
};

const shown: Schemas["PolicyView"] = {
  id: "hours",
  title: "Hours",
  source: "",
  version: "0a1b",
  on: "Tue 10 March 2026",
  plain: [{ about: "What is counted", lines: ["Minutes are counted."] }],
  text: "id: hours\nthreshold: 1/10\n",
  form,
  versions: [],
  section: "",
};

const nobody = { count: 0, students: [] };
const asta = { id: 7, name: "Asta Øye", form: "7 Ames", when: "Mon 2 March" };

/** A server that takes the policy unless its form or file says "ten". */
function open() {
  const server = testServer({
    "/api/policy": shown,
    "/api/school/policies/draft": ({ body }: { body: Schemas["PolicyDraft"] }): Schemas["PolicyDrafted"] => {
      const text = body.text ?? `id: hours\nthreshold: ${body.form?.threshold}\n`;
      const wrong = text.includes("ten");
      return {
        text,
        line: wrong ? 2 : 0,
        problem: wrong ? "threshold is not a share" : "",
        plain: wrong ? [] : [{ about: "What is counted", lines: ["Minutes, by a copy."] }],
        ...(wrong ? {} : { form: { ...form, threshold: text.includes("20 %") ? "20 %" : "12.5 %" } }),
      };
    },
    "/api/school/policies": ({ body }: { body: Schemas["PolicyChoice"] }): Schemas["PolicyPlan"] => ({
      applied: body.apply,
      id: "hours",
      title: "Hours",
      when: body.from ? "from Mon 16 March on" : "from Tue 10 March on",
      instead: "Hours",
      version: "0a1b",
      under: ["now, Hours: absence 6.1 %"],
      moved: 1,
      stay: 40,
      moves: [
        { from: "over", to: "below", who: { count: 1, students: [asta] } },
        { from: "below", to: "below", who: { count: 40, students: [] } },
      ],
      lines: [
        {
          title: "In a year",
          sentence: "reached at 60 h unexcused in the year.",
          had: true,
          has: true,
          before: 2,
          after: 3,
          only: { count: 1, students: [asta] },
          never: nobody,
          other: nobody,
        },
      ],
      ...(body.apply ? { receipt: { seq: 3, text: "Hours holds", ids: [] } } : {}),
    }),
  });
  return {
    ...renderPage(<PolicyEditor section={0} />, "/school/policies/edit?policy=hours"),
    asked: (path: string) => server.sent.filter((s) => s.path === path).map((s) => s.body),
  };
}

describe("a policy that is edited", () => {
  afterEach(() => vi.restoreAllMocks());

  it("is checked as it is typed, and shows for whom it makes a difference before it is taken", async () => {
    const { user, asked } = open();
    const line = await screen.findByRole("textbox", { name: "The line" });
    expect(screen.getByText("Nothing is changed yet.")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Take it" })).toBeDisabled();
    await user.clear(line);
    await user.type(line, "ten");
    expect(await screen.findByText("Line 2: threshold is not a share")).toBeInTheDocument();
    expect(screen.getByRole("textbox", { name: "The policy as its file" })).toBeInvalid();
    expect(screen.getByRole("button", { name: "Take it" })).toBeDisabled();
    expect(JSON.stringify(asked("/api/school/policies"))).not.toContain("ten");
    await user.clear(line);
    await user.type(line, "20 %");
    expect(await screen.findByText("Minutes, by a copy.")).toBeInTheDocument();
    const figures = within(screen.getByRole("region", { name: "On this year’s figures" }));
    expect(await figures.findByText("1 student in another band, 40 where they were.")).toBeInTheDocument();
    expect(figures.getByText(/3 students came to it; 2 before\./)).toBeInTheDocument();
    await user.click(figures.getByText("only under this one: 1"));
    expect(await figures.findByRole("button", { name: "Asta Øye" })).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Take it from Tue 10 March on" }));
    await waitFor(() =>
      expect(asked("/api/school/policies").at(-1)).toMatchObject({
        text: "id: hours\nthreshold: 20 %\n",
        seen: "0a1b",
        apply: true,
      }),
    );
  });

  it("fills itself in from its file, and asks about the date anew", async () => {
    const { user, asked } = open();
    const file = await screen.findByRole("textbox", { name: "The policy as its file" });
    await user.type(file, "# 1/8");
    await waitFor(() => expect(screen.getByRole("textbox", { name: "The line" })).toHaveValue("12.5 %"));
    await user.type(screen.getByRole("textbox", { name: "Holds from" }), "2026-03-16{Enter}");
    expect(await screen.findByRole("button", { name: "Take it from Mon 16 March on" })).toBeEnabled();
    expect(asked("/api/school/policies").at(-1)).toMatchObject({ from: "2026-03-16", apply: false });
  });

  it("takes lines, bands and steps for lates in and out", async () => {
    const { user, asked } = open();
    await user.click(await screen.findByRole("button", { name: "Add a line" }));
    await user.click(screen.getByRole("button", { name: "Add steps for lates" }));
    await user.click(screen.getByRole("button", { name: "take out: In a year" }));
    await user.click(screen.getByRole("button", { name: "Add a band" }));
    await waitFor(() => {
      const last = asked("/api/school/policies/draft").at(-1) as Schemas["PolicyDraft"] | undefined;
      expect(last?.form?.triggers.map((t) => t.title)).toEqual(["New line"]);
      expect(last?.form?.ladders).toHaveLength(1);
      expect(last?.form?.bands.map((b) => b.name)).toEqual(["below", "new band", "over"]);
    });
  });
});
