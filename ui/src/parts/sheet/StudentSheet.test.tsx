import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { place, renderPage, student, testServer } from "../../test-page";
import { ofStudent } from "../in-list";
import { Long } from "../Long";
import { useAddress } from "../look-at";
import { Panel } from "../Panel";
import { StudentName } from "../StudentName";
import StudentSheet from "./StudentSheet";

const figures = {
  rate: "9.1",
  possible: 110,
  absent: 10,
  unexcused: 6,
  excused: 4,
  band: "at risk",
  line: "10",
  wayBack: { units: 0 },
  headroom: { known: true, none: false, units: 9 },
} as unknown as Schemas["AbsenceFigures"];

const happened = (
  date: string,
  day: string,
  kind: "mark" | "call",
  text: string,
  at = "",
): Schemas["HappenedView"] => ({
  date,
  day,
  at,
  kind,
  state: kind === "mark" ? "unexcused" : "",
  text,
  by: "R. Tolvan",
});

const sheet = (id: number, name: string) =>
  ({
    student: student(id, name),
    place: place("in", "in since 08:50"),
    sentence: "In every morning. Misses lesson 5: 20 of 31 missed lessons.",
    onSite: 18,
    where: {
      slots: [
        { name: "AM", label: "AM registration" },
        { name: "5", label: "lesson 5" },
      ],
      weekdays: [
        {
          weekday: "Monday",
          cells: [
            { marked: 22, missed: 0, onSite: 0 },
            { marked: 22, missed: 9, onSite: 8 },
          ],
        },
      ],
    },
    figures,
    warnings: [],
    warningsNow: [],
    siblings: [],
    due: [],
    stays: [],
    days: [],
    lates: 2,
    latesNow: 1,
    period: "Quarter 3",
    incidents: 0,
    contacts: [
      {
        id: 7,
        order: 1,
        name: "Ada Vale",
        phone: "07700 900 111",
        relation: "mother",
        mayCollect: true,
        livesWith: true,
        doNotCall: false,
      },
    ],
    contactsNow: [],
    happened: [
      happened("2026-03-10", "Today", "call", "Spoke · ill", "09:12"),
      happened("2026-03-10", "Today", "mark", "Lesson 5: no reason"),
      happened("2026-03-09", "Mon 9 March", "mark", "Lesson 5: unexcused"),
    ],
    mayFetch: false,
    photo: false,
    inOffice: true,
  }) as unknown as Schemas["StudentSheet"];

/** The sheet of whom the address names. */
function Opened() {
  const { student: open } = useAddress();
  return open ? (
    <StudentSheet
      id={Number(open)}
      mayCall
      mayWrite
      inOffice
      mayTakeAlong={false}
      mayState
      mayJudge
      mayFollow
      onClose={() => undefined}
    />
  ) : null;
}

function List() {
  return (
    <>
      <Panel title="Some students">
        <StudentName student={student(1, "Maren Holt")} />
        <StudentName student={student(2, "Tavi Lund")} />
        <StudentName student={student(3, "Corin Vale")} />
      </Panel>
      <Opened />
    </>
  );
}

const results: Schemas["OneView"] = {
  any: true,
  own: false,
  periods: ["Quarter 2", "Quarter 3"],
  courses: [
    {
      title: "English 9",
      grades: [
        { grade: "D-", failing: false, nearly: true },
        { grade: "F", failing: true, nearly: false },
      ],
      halves: [{ half: "half-year 2", state: "stands_lost", exam: "", words: "a D in Quarter 4" }],
    },
  ],
  means: [
    { mean: "2.90", share: 0.725 },
    { mean: "2.50", share: 0.625 },
  ],
  change: "−0.40",
  earned: "4",
  expected: "4.5",
  behind: "0.5",
  track: "one course away",
  ninth: "",
  pieces: [
    {
      title: "Essay",
      class: "9En2",
      category: "Written",
      due: "Fri 27 February",
      points: "",
      share: "",
      state: "never",
      comment: "",
    },
    {
      title: "Reading",
      class: "9En2",
      category: "",
      due: "",
      points: "12 of 20",
      share: "60.0 %",
      state: "scored",
      comment: "",
    },
  ],
};

function show(at = "/") {
  const server = testServer({
    "/api/courses/student": results,
    "/api/students/1": sheet(1, "Maren Holt"),
    "/api/students/2": sheet(2, "Tavi Lund"),
    "/api/students/3": sheet(3, "Corin Vale"),
    "/api/students/1/statement": { seq: 4, text: "Statement on the way by e-mail to Ada Vale", ids: [9] },
  });
  return { ...renderPage(<List />, at), server };
}

describe("a student’s sheet", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says first what stands out, with when lessons are missed and the grades in words", async () => {
    show("/?student=1");
    expect(await screen.findByText("In every morning. Misses lesson 5: 20 of 31 missed lessons.")).toBeInTheDocument();
    expect(screen.getByTitle("Monday, lesson 5: 9 of 22 missed, 8 while on site")).toHaveTextContent("9");
    expect(screen.getByText("lessons missed while on site").previousSibling).toHaveTextContent("18");
  });

  it("has the courses over the quarters, with how the credit stands", async () => {
    show("/?student=1");
    const courses = within(await screen.findByRole("region", { name: "Courses" }));
    expect(
      courses.getByRole("row", { name: /^English 9 .*stands lost *in half-year 2.*a D in Quarter 4/ }),
    ).toBeVisible();
    expect(courses.getByText("One course away")).toBeVisible();
    expect(courses.getByText("1 piece due and not handed in")).toBeVisible();
    expect(courses.getByRole("row", { name: "Reading 9En2 12 of 20 60.0 %" })).toBeVisible();
    expect(courses.getByText("−0.40 since Quarter 2")).toBeVisible();
  });

  it("has a statement to print or to send, over some dates and without some codes", async () => {
    const { user, server } = show("/?student=1");
    await user.click(await screen.findByRole("button", { name: "Statement …" }));
    await user.type(screen.getByLabelText("Codes that are left out"), "L, LX");
    await user.type(screen.getByLabelText("Statement from"), "2026-02-02{Enter}");
    expect(screen.getByRole("link", { name: "Print" })).toHaveAttribute(
      "href",
      "/api/students/1/statement?from=2026-02-02&without=L%2CLX",
    );
    await user.click(screen.getByRole("button", { name: "Send home by e-mail" }));
    await waitFor(() =>
      expect(server.sent.at(-1)).toMatchObject({
        path: "/api/students/1/statement",
        body: { from: "2026-02-02", without: ["L", "LX"] },
      }),
    );
    expect(await screen.findByText("Statement on the way by e-mail to Ada Vale")).toBeInTheDocument();
    expect(screen.queryByRole("button", { name: "Send home by e-mail" })).toBeNull();
  });

  it("has what happened by day, of one kind where it is chosen", async () => {
    const { user } = show("/?student=1");
    const history = within(await screen.findByRole("region", { name: "What happened" }));
    expect(history.getAllByRole("rowheader", { hidden: true }).map((h) => h.textContent)).toEqual([
      "Today",
      "Mon 9 March",
    ]);
    await user.click(history.getByRole("radio", { name: "calls" }));
    expect(history.queryByText(/unexcused/)).toBeNull();
    expect(history.getByText("Spoke · ill")).toBeInTheDocument();
  });

  it("logs a call from the contact’s own row", async () => {
    const { user, server } = show("/?student=1");
    await user.click(await screen.findByRole("button", { name: "Called Ada Vale" }));
    await user.type(screen.getByLabelText("Note"), "will ring back");
    await user.click(screen.getByRole("button", { name: "Left a message" }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/calls",
        body: { students: [1], contact: 7, outcome: "message", note: "will ring back" },
      }),
    );
    await waitFor(() => expect(screen.queryByLabelText("Note")).toBeNull());
  });

  it("goes on through a long list as a whole, of which a part is on the page", async () => {
    const rows = Array.from({ length: 300 }, (_, i) => ({ student: student(i + 1, `Student ${i + 1}`) }));
    testServer(
      Object.fromEntries(rows.map((r) => [`/api/students/${r.student.id}`, sheet(r.student.id, r.student.name)])),
    );
    function Page() {
      return (
        <>
          <Long rows={rows} height={30} keyOf={ofStudent} student={ofStudent} as="div">
            {(r, at) => (
              <div {...at}>
                <StudentName student={r.student} />
              </div>
            )}
          </Long>
          <Opened />
        </>
      );
    }
    const { user } = renderPage(<Page />);
    await user.click((await screen.findAllByRole("button", { name: /^Student / }))[0] as HTMLElement);
    expect(await screen.findByText("1 of 300")).toBeInTheDocument();
  });

  it("goes on through the list in which it was opened, by arrows", async () => {
    const { user, router } = show();
    await user.click(await screen.findByRole("button", { name: "Tavi Lund" }));
    expect(await screen.findByText("2 of 3")).toBeInTheDocument();
    await user.keyboard("{ArrowDown}");
    expect(await screen.findByText("3 of 3")).toBeInTheDocument();
    expect(router.state.location.search).toBe("?student=3");
    expect(screen.getByRole("button", { name: "The next student" })).toBeDisabled();
    await user.keyboard("{ArrowUp}{ArrowUp}");
    expect(await screen.findByText("1 of 3")).toBeInTheDocument();
  });
});
