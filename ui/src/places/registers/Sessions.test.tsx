import { screen, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import { Sessions } from "./Sessions";

const session = (id: number, change: Partial<Schemas["CheckInSession"]>): Schemas["CheckInSession"] => ({
  id,
  date: "2026-03-10",
  label: "Tue 10 March",
  term: "Spring 2",
  slot: "PM",
  from: "13:46",
  to: "13:51",
  state: "held",
  link: "",
  question: "",
  in: 2,
  far: 0,
  of: 26,
  ...change,
});

const all: Schemas["CheckInSessions"] = {
  class: 48,
  title: "8 Halyard",
  teachers: "P. Osk",
  terms: ["Autumn 1", "Spring 2"],
  term: "Spring 2",
  sessions: [
    session(3, { state: "to come", link: "/check-in?l=3.abc", label: "Wed 11 March", question: "And today?" }),
    session(2, { question: "One word for today?", far: 1 }),
    session(1, { term: "Autumn 1", label: "Mon 8 September", question: "What did you read?" }),
  ],
  answers: [
    { checkIn: 1, student: 7, at: "13:46", far: false, answer: "a book on whales" },
    { checkIn: 2, student: 7, at: "13:46", far: false, answer: "windy" },
    { checkIn: 2, student: 8, at: "13:47", far: true, answer: "tired" },
  ],
  students: [student(7, "Juno Sandal"), student(8, "Finn Calloway")],
};

const show = () => {
  testServer({ "/api/classes/48/check-ins": all });
  return renderPage(<Sessions />, "/registers/check-ins/48", "/registers/check-ins/:class");
};

describe("all check-ins of a class", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("begin with the present term, and say what was held, how many came and from where", async () => {
    const { user } = show();
    const rows = within(await screen.findByRole("table")).getAllByRole("row");
    expect(rows.map((r) => r.textContent)).toEqual([
      "DaySlotOpenIn",
      "Wed 11 MarchPMto come, 13:46Copy",
      "Tue 10 MarchPM13:46 to 13:512 of 26, 1 at a distance",
    ]);
    expect(screen.getByLabelText("Link for a remote lesson")).toHaveValue("http://localhost:3000/check-in?l=3.abc");
    await user.click(screen.getByText("Autumn 1"));
    expect(screen.getByText("Mon 8 September", { selector: "td" })).toBeInTheDocument();
    expect(screen.getByText(/whales/)).toBeInTheDocument();
    expect(screen.queryByText(/windy/)).toBeNull();
  });

  it("are found by question, by student and by a word", async () => {
    const { user } = show();
    expect(await screen.findByRole("heading", { name: /One word for today\? Tue 10 March · 2 answers/ })).toBeVisible();
    await user.click(screen.getByText("by student"));
    expect(screen.getByRole("heading", { name: /Juno Sandal · 1 answer$/ })).toBeVisible();
    const find = screen.getByLabelText("Find in questions, names and answers");
    await user.type(find, "tired");
    expect(screen.queryByRole("heading", { name: /Juno/ })).toBeNull();
    expect(screen.getByRole("heading", { name: /Finn Calloway/ })).toBeVisible();
    await user.clear(find);
    await user.type(find, "zebra");
    expect(screen.getByText("Nothing with “zebra”.")).toBeInTheDocument();
  });

  it("can be taken along", async () => {
    show();
    expect(await screen.findByRole("link", { name: "CSV" })).toHaveAttribute(
      "href",
      "/api/classes/48/check-ins/file?format=csv",
    );
  });
});
