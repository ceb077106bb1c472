import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/client";
import { place, renderPage, student, testServer } from "../../test-page";
import { JustNow } from "./Just";
import { OnSite } from "./OnSite";
import { Part } from "./Part";
import { Earlier, Unsettled } from "./Unsettled";
import { Worried } from "./Worried";

const worried: Schemas["WorriedFor"] = {
  student: student(5, "Kerra Norrey"),
  place: { ...place("unaccounted", "worried for since 09:13"), worried: "09:13" },
  since: "09:13",
  text: "Dag Norrey believes Kerra is at school: left at 08:05 · card used 09:10, not seen",
  seen: "Mon 9 March, lesson 6",
  warnings: [],
  contacts: [],
  search: { id: 0, by: "", since: "" },
  lesson: { class: 7, slot: "1", title: "8En2", teacher: "P. Thorne", room: "room 16", asked: "" },
};

const yesterday: Schemas["UnsettledDay"] = {
  date: "2026-03-09",
  label: "yesterday",
  text: "4 unsettled",
  students: [
    { student: student(1, "Tarn Imrie"), text: "not seen all day, no reason", now: "", back: false, searched: "" },
    {
      student: student(2, "Fenja Strand"),
      text: "search not ended",
      now: "today in since 08:50",
      back: true,
      searched: "caretaker since 14:20",
    },
    {
      student: student(3, "Otis Jarrow"),
      text: "not seen all day, no reason",
      now: "today in",
      back: true,
      searched: "",
    },
  ],
  registers: [{ class: 48, slot: "6", label: "lesson 6", title: "8Sc1", teacher: "P. Osk", n: 24 }],
  unclosed: ["Lower School"],
  differing: 2,
};

const view = (change: Partial<Schemas["TodayView"]>) =>
  ({
    date: "2026-03-10",
    past: false,
    just: [],
    worried: [],
    onSite: [],
    unsettled: [],
    ...change,
  }) as Schemas["TodayView"];

function Of({ children }: { children: (write: ReturnType<typeof useWrite>) => React.ReactNode }) {
  return children(useWrite());
}

describe("whom one is worried for", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("has the search's keys, before those who are on site", async () => {
    const server = testServer({});
    const lost = { student: student(9, "Oona Harle"), text: "", warnings: [], search: { id: 0, by: "", since: "" } };
    const t = view({ worried: [worried], onSite: [lost] });
    const { user } = renderPage(
      <Of>
        {(write) => (
          <>
            <Worried t={t} may settles write={write} />
            <OnSite t={t} may asks write={write} />
          </>
        )}
      </Of>,
    );
    expect(screen.getByText(/card used 09:10, not seen/)).toBeInTheDocument();
    await user.keyboard("s{Enter}");
    await waitFor(() => expect(server.sent[0]).toMatchObject({ path: "/api/searches", body: { student: 5 } }));
    await user.click(screen.getByRole("button", { name: "Ask P. Thorne" }));
    await waitFor(() =>
      expect(server.sent[1]).toMatchObject({ body: { kind: "ask", class: 7, slot: "1", student: 5 } }),
    );
    await user.click(screen.getByRole("button", { name: "Settle" }));
    await user.type(screen.getByLabelText("Where they are, and how you know"), "with her aunt, who rang{Enter}");
    await waitFor(() =>
      expect(server.sent[2]).toMatchObject({
        path: "/api/students/settled",
        body: { students: [5], how: "with her aunt, who rang", unexcused: false },
      }),
    );
  });
});

describe("what earlier days have left open", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is settled one by one, or at once for those who are back, with a word of how", async () => {
    const server = testServer({});
    const t = view({ unsettled: [yesterday] });
    const { user } = renderPage(<Of>{(write) => <Unsettled t={t} may write={write} />}</Of>);
    const panel = within(screen.getByRole("region", { name: "From yesterday" }));
    const row = within(panel.getByText("Tarn Imrie").closest(".look-line") as HTMLElement);
    await user.click(row.getByRole("button", { name: "Settle" }));
    await user.keyboard("{Enter}");
    expect(server.sent).toHaveLength(0);
    await user.type(screen.getByLabelText("Where they are, and how you know"), "at home, tutor rang{Enter}");
    await waitFor(() =>
      expect(server.sent[0]?.body).toMatchObject({ students: [1], date: "2026-03-09", how: "at home, tutor rang" }),
    );
    await user.click(screen.getByRole("button", { name: "Settle the 2 who are back …" }));
    await user.type(screen.getByLabelText("Why they were away, and how you know"), "overslept");
    await user.click(screen.getByRole("checkbox", { name: "unexcused" }));
    await user.click(screen.getByRole("button", { name: /^Settle 2/ }));
    await waitFor(() => expect(server.sent[1]?.body).toMatchObject({ students: [2, 3], unexcused: true }));
  });

  it("says why a register was never sent, and leads to it", async () => {
    const server = testServer({});
    const t = view({ unsettled: [yesterday] });
    const { user } = renderPage(<Of>{(write) => <Unsettled t={t} may write={write} />}</Of>);
    expect(screen.getByRole("link", { name: "8Sc1" })).toHaveAttribute("href", "/registers/48/6?at=2026-03-09");
    const row = within(screen.getByText("8Sc1").closest(".look-line") as HTMLElement);
    await user.click(row.getByRole("button", { name: "Settle" }));
    await user.type(screen.getByLabelText("Why it was not sent, and where they were"), "fire drill{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/registers/settled",
        body: { date: "2026-03-09", class: 48, slot: "6", how: "fire drill" },
      }),
    );
  });

  it("shows the last days, and says how much there is before them", async () => {
    const days = ["09", "06", "05", "04", "03", "02"].map((d) => ({ ...yesterday, date: `2026-03-${d}`, label: d }));
    const { user } = renderPage(<Of>{(write) => <Unsettled t={view({ unsettled: days })} may write={write} />}</Of>);
    expect(screen.queryByRole("region", { name: "From 02" })).toBeNull();
    await user.click(screen.getByRole("button", { name: "2 earlier days with 8 unsettled" }));
    expect(screen.getByRole("region", { name: "From 02" })).toBeInTheDocument();
  });

  it("keeps what endangers nobody below", () => {
    renderPage(<Earlier t={view({ unsettled: [yesterday] })} />);
    expect(
      screen.getByText(/safe arrival was not closed \(Lower School\) · 2 students do not add up/),
    ).toBeInTheDocument();
    expect(screen.getByRole("link", { name: "yesterday" })).toHaveAttribute("href", "/today?at=2026-03-09");
  });
});

describe("what has just happened", () => {
  afterEach(() => vi.unstubAllGlobals());
  const just = [
    { entry: 9, at: "09:15", text: "8 Halyard sent AM registration", by: "P. Osk", before: 31, after: 29, undo: false },
    { entry: 8, at: "09:14", text: "Ivar Whimbrel signed in", by: "R. Tolvan", before: 32, after: 31, undo: true },
    { entry: 7, at: "09:13", text: "Mina Vane: no answer", by: "A. Byrne", before: 32, after: 32, undo: true },
  ];
  const line = (may: boolean, name = "R. Tolvan") => (
    <Of>
      {(write) => (
        <JustNow
          t={view({ just })}
          name={name}
          may={may}
          write={write}
          last={undefined}
          texts={undefined}
          takenBack={() => undefined}
        />
      )}
    </Of>
  );

  it("takes back one's own, never what somebody else has done", async () => {
    const server = testServer({});
    const { user } = renderPage(line(true));
    expect(screen.getByText(/Ivar Whimbrel signed in, unaccounted for 32 → 31/)).toBeInTheDocument();
    await user.keyboard("z");
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/entries/8/back"));
  });

  it("has no key for who has done nothing", async () => {
    const server = testServer({});
    const { user } = renderPage(line(true, "N. Body"));
    await user.keyboard("z");
    expect(screen.queryByRole("button", { name: /Undo/ })).toBeNull();
    expect(server.sent).toHaveLength(0);
  });
});

describe("a part of the count", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("lists who is in it and why, and closes by key", async () => {
    const part: Schemas["PartView"] = {
      state: "not-yet-known",
      label: "not yet known",
      asAt: "2026-03-10T09:12",
      scope: "Fairlead School",
      students: [
        {
          student: student(4, "Idris Quell"),
          place: place("not-yet-known", "8 Halyard, AM registration is not in · P. Osk"),
          warnings: ["asthma"],
        },
      ],
    };
    testServer({ "/api/today/part/not-yet-known": part });
    const { user, router } = renderPage(<Part state="not-yet-known" />, "/today?part=not-yet-known");
    expect(await screen.findByText(/AM registration is not in · P. Osk/)).toBeInTheDocument();
    expect(screen.getByRole("region", { name: "Not yet known at 09:12" })).toBeInTheDocument();
    await user.keyboard("{Escape}");
    await waitFor(() => expect(router.state.location.search).toBe(""));
  });
});
