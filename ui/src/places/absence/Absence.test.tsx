import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import Absence from "./Absence";

const figures = (
  absent: number,
  rate: string,
  bandPlace: number,
  wayBack: number,
  more = {},
): Schemas["AbsenceFigures"] => ({
  possible: 113,
  absent,
  excused: 2,
  unexcused: absent - 2,
  unexplained: 0,
  unmarked: 0,
  lates: 3,
  rate,
  band: "chronic",
  bandPlace,
  headroom: { known: true, none: wayBack > 70, units: 6 },
  wayBack: { known: true, none: false, units: wayBack },
  toCome: 77,
  missed: "66 h 11 min",
  ...more,
});

const row = (id: number, name: string, f: Schemas["AbsenceFigures"]): Schemas["AbsenceRow"] => ({
  student: student(id, name),
  figures: f,
  weeks: [0, 1, 3],
  mostly: "medical 9",
});

const view: Schemas["AbsenceView"] = {
  policy: "ten-percent",
  title: "Ten per cent of days",
  source: "",
  asAt: "2026-03-09",
  words: "Year to Mon 9 March",
  days: 113,
  school: "4.6",
  students: 3,
  unbanded: 0,
  bands: [
    { name: "on course", from: "0", count: 1 },
    { name: "at risk", from: "5", count: 0 },
    { name: "chronic", from: "10", count: 1 },
    { name: "severe", from: "20", count: 1 },
  ],
  bins: [
    { from: 20, band: 0, count: 1 },
    { from: 100, band: 2, count: 1 },
    { from: 420, band: 3, count: 1 },
  ],
  line: "10",
  rows: [
    row(1, "Perran Hask", figures(12, "10.6", 2, 8)),
    row(2, "Ida Holm", figures(3, "2.7", 0, 0)),
    row(3, "Odd Fenn", figures(48, "42.5", 3, 368)),
  ],
  forms: ["7 Reef", "7 Bowline"],
};

const why = (id: number, name: string): Schemas["WhyView"] => ({
  student: student(id, name),
  policy: "ten-percent",
  title: "Ten per cent of days",
  figures: figures(12, "10.6", 2, 8),
  whole: 10,
  part: 2,
  shorter: 1,
  halfOf: "1/2",
  complete: 100,
  days: [
    {
      date: "2026-03-05",
      words: "Thu 5 March",
      due: 325,
      missed: 110,
      absentFrom: 163,
      verdict: "attended",
      unmarked: 0,
      marks: [
        {
          slot: "1",
          words: "lesson 1",
          code: "L",
          word: "late",
          from: "",
          to: "09:15",
          due: 50,
          missed: 10,
          state: "late",
        },
      ],
    },
  ],
});

function open(at = "/absence") {
  testServer({ "/api/absence": view, "/api/absence/1": why(1, "Perran Hask"), "/api/absence/3": why(3, "Odd Fenn") });
  return renderPage(<Absence />, at);
}

describe("absence against policy", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says what it measures, and until when", async () => {
    open();
    expect(await screen.findByText(/Measured by/)).toHaveTextContent(
      "Measured by Ten per cent of days · Year to Mon 9 March, 113 days",
    );
    expect(
      screen.getByRole("img", { name: /Distribution: on course 1, at risk 0, chronic 1, severe 1/ }),
    ).toBeInTheDocument();
  });

  it("shows room left and the way back, and says what can't be reached", async () => {
    open();
    const hask = (await screen.findByText("Perran Hask", { selector: "td *" })).closest("tr") as HTMLElement;
    expect(within(hask).getByText("8 in a row")).toBeInTheDocument();
    const fenn = screen.getByText("Odd Fenn").closest("tr") as HTMLElement;
    expect(within(fenn).getByText("none")).toBeInTheDocument();
    expect(within(fenn).getByText("not this year")).toBeInTheDocument();
  });

  it("takes the first figure apart at once, down to the marks", async () => {
    open();
    expect(await screen.findByText("Why 10.6 %?")).toBeInTheDocument();
    expect(screen.getByText(/missed 12 of 113 days/)).toHaveTextContent(
      "10 were whole days, 2 a part. 2 are excused, 10 are not. 1 shorter absence does not count.",
    );
    expect(screen.getByText(/Thu 5 March/)).toHaveTextContent("1 h 50 min of 5 h 25 min · not a day");
    expect(screen.getByText(/lesson 1:/)).toHaveTextContent("lesson 1: L late, came 09:15 · 10 of 50 min");
  });

  it("takes another figure apart when its row is chosen, and keeps that in the address", async () => {
    const { user, router } = open();
    await user.click((await screen.findByText("Odd Fenn")).closest("tr") as HTMLElement);
    await waitFor(() => expect(router.state.location.search).toBe("?why=3"));
  });

  it("shows one band, from the address too", async () => {
    open("/absence?band=3");
    await screen.findByText("Odd Fenn", { selector: "td *" });
    expect(screen.queryByText("Ida Holm")).not.toBeInTheDocument();
  });
});
