import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, rail, renderPage, student, testServer } from "../../test-page";
import AbsencePlace from "./AbsencePlace";

const step = (id: number, name: string, more: Partial<Schemas["StepView"]> = {}): Schemas["StepView"] => ({
  ref: { student: id, policy: "letters", rule: "letter-5", reached: "2026-03-09" },
  student: student(id, name),
  action: "Letter at 5 days",
  kind: "letter",
  title: "5 unexcused days",
  count: "5 days",
  dates: "4, 11 and 12 February and 9 March",
  policy: "Three, five, ten",
  when: "Mon 9 March",
  fresh: false,
  partTime: false,
  letters: "",
  blocked: "",
  owner: "",
  mine: false,
  state: "due",
  until: "",
  said: "",
  by: "",
  contacts: [],
  ...more,
});

const bram = step(1, "Bram Wake", { fresh: true });
const kerra = step(2, "Kerra Norrey", { letters: "a letter went before" });
const otis = step(3, "Otis Crossby", {
  ref: {
    student: 3,
    policy: "lates",
    rule: "lateness",
    do: "contact-home",
    scope: "12En1",
    number: 4,
    reached: "2026-03-09",
  },
  action: "Call home",
  kind: "call",
  title: "4th late in 12En1, Quarter 3",
  contacts: [
    {
      id: 9,
      order: 1,
      name: "Ida Crossby",
      relation: "mother",
      phone: "01632 960 101",
      mayCollect: true,
      livesWith: true,
      doNotCall: false,
    },
  ],
});

const view = (more: Partial<Schemas["StepsView"]> = {}): Schemas["StepsView"] => ({
  scope: "",
  label: "Mon 9 March",
  follows: [{ policy: "letters", title: "Three, five, ten", since: "Mon 16 February" }],
  gone: [],
  due: 3,
  groups: [
    { action: "Letter at 5 days", kind: "letter", fresh: 1, steps: [bram, kerra] },
    { action: "Call home", kind: "call", fresh: 0, steps: [otis] },
  ],
  early: [],
  earlyText: "",
  waiting: [],
  takenBack: [],
  closed: [],
  people: [{ value: "7", label: "P. Osk", kind: "teacher" }],
  mayAny: true,
  all: true,
  ...more,
});

const letter: Schemas["LetterView"] = {
  student: student(1, "Bram Wake"),
  sender: ["Fairlead School", "1 Causeway, Holm"],
  recipient: ["Marta and Leon Wake", "3 Net Loft Lane", "Holm"],
  noAddress: false,
  date: "Tuesday 10 March 2026",
  subject: "Bram has missed 5 days",
  paragraphs: ["Dear Marta and Leon Wake,", "In all Bram has missed 131 h 40 min."],
  language: "",
  version: 3,
  letter: "Letter at 5 days",
};

function open(more: Partial<Schemas["StepsView"]> = {}, at = "/absence/steps") {
  const server = testServer({
    "/api/steps": ({ body }: { body?: unknown } = {}) => (body ? { seq: 5, text: "done", ids: [] } : view(more)),
    "/api/letters/preview": [letter],
    "/api/letters/print": { seq: 6, text: "2 letters written", ids: [21, 22], undo: true },
    "/api/rail": rail,
  });
  return { server, ...renderPage(<AbsencePlace />, at, "/absence/*") };
}

const sentTo = (server: ReturnType<typeof testServer>, path: string) =>
  server.sent.filter((s) => s.path === path).map((s) => s.body);

describe("steps due", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("stand by action, the chosen one with why, whom to call, and the letter that would go", async () => {
    const { user } = open();
    expect(await screen.findByText("3 steps due, up to Mon 9 March")).toBeInTheDocument();
    const letters = within(screen.getByRole("region", { name: "Letter at 5 days" }));
    expect(letters.getByText("2 · new 1 ·", { exact: false })).toBeInTheDocument();
    expect(letters.getByText("a letter went before")).toBeInTheDocument();
    const paper = await screen.findByRole("article", { name: "Letter to Marta and Leon Wake" });
    expect(within(paper).getByText("In all Bram has missed 131 h 40 min.")).toBeInTheDocument();
    expect(screen.getByText(/version 3\. The figures hold now/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "4th late in 12En1, Quarter 3" }));
    expect(await screen.findByText("01632 960 101")).toBeInTheDocument();
    expect(screen.queryByRole("article")).toBeNull();
  });

  it("are ticked and printed by keys: the letters open, and the ticks are gone", async () => {
    const opened = vi.fn();
    vi.stubGlobal("open", opened);
    const { user, server } = open();
    await screen.findByText("3 steps due, up to Mon 9 March");
    await user.keyboard(" {ArrowDown} ");
    expect(await screen.findByRole("button", { name: /Print 2 letters/ })).toBeInTheDocument();
    await user.keyboard("p");
    await waitFor(() => expect(sentTo(server, "/api/letters/print")).toEqual([{ steps: [bram.ref, kerra.ref] }]));
    await user.click(await screen.findByRole("button", { name: "E-mail it" }));
    await waitFor(() =>
      expect(sentTo(server, "/api/letters/print").at(-1)).toMatchObject({ email: true, steps: [expect.anything()] }),
    );
    await waitFor(() => expect(opened).toHaveBeenCalledWith("/api/letters/sheet?letters=21,22", "_blank"));
    expect(screen.getByText(/2 letters written/i)).toBeInTheDocument();
    await waitFor(() => expect(screen.getByRole("checkbox", { name: /Bram Wake/ })).not.toBeChecked());
  });

  it("are done, put off and handed on, with what has to be said", async () => {
    const { user, server } = open();
    await screen.findByText("3 steps due, up to Mon 9 March");
    await user.keyboard("d");
    await user.type(await screen.findByLabelText("What came of it"), "met the mother");
    await user.click(screen.getByRole("button", { name: "Done" }));
    await waitFor(() =>
      expect(sentTo(server, "/api/steps")).toEqual([{ steps: [bram.ref], kind: "done", text: "met the mother" }]),
    );
    await user.keyboard("o");
    const off = await screen.findByRole("dialog", { name: /Put off: Bram Wake/ });
    expect(within(off).getByRole("button", { name: "Put off" })).toBeDisabled();
    await user.type(within(off).getByLabelText("Reason"), "ill");
    await user.type(within(off).getByLabelText("Until"), "2026-03-16{Enter}");
    await user.click(within(off).getByRole("button", { name: "Put off" }));
    await waitFor(() =>
      expect(sentTo(server, "/api/steps")[1]).toEqual({
        steps: [bram.ref],
        kind: "put off",
        text: "ill",
        until: "2026-03-16",
      }),
    );
    await user.keyboard("h");
    await screen.findByRole("dialog", { name: /Hand to: Bram Wake/ });
    await choose(user, "To", "P. Osk · teacher");
    await user.click(screen.getByRole("button", { name: "Hand over" }));
    await waitFor(() =>
      expect(sentTo(server, "/api/steps")[2]).toEqual({ steps: [bram.ref], kind: "handed", text: "", to: 7 }),
    );
  });

  it("say what a correction took back, and set aside at once what is from before", async () => {
    const early = [step(4, "Zelda Wake"), step(5, "Tavi Lund")];
    const { user, server } = open({
      takenBack: [
        step(6, "Pia Thorne", { said: "Mon 2 March is now medical, R. Tolvan 09:31" }),
        step(7, "Asta Øye", { said: "letter printed", by: "R. Tolvan Thu 5 March" }),
      ],
      early,
      earlyText: "Wed 3 September to Fri 9 January",
    });
    const back = within(await screen.findByRole("region", { name: "Taken back" }));
    expect(back.getByText("Mon 2 March is now medical, R. Tolvan 09:31")).toBeInTheDocument();
    expect(back.getByText(/it was done already: letter printed, R. Tolvan Thu 5 March/)).toBeInTheDocument();
    await user.click(back.getByRole("button", { name: "Noted" }));
    await waitFor(() => expect(sentTo(server, "/api/steps")).toHaveLength(1));
    expect(sentTo(server, "/api/steps")[0]).toMatchObject({ kind: "noted" });
    await user.click(screen.getByRole("button", { name: "From before the school began" }));
    await user.click(screen.getByRole("button", { name: "Set all 2 aside …" }));
    await user.click(await screen.findByRole("button", { name: "Set aside" }));
    await waitFor(() =>
      expect(sentTo(server, "/api/steps")[1]).toEqual({
        steps: early.map((s) => s.ref),
        kind: "set aside",
        text: "from before the school began",
      }),
    );
  });

  it("say why nothing is due", async () => {
    open({ due: 0, groups: [], follows: [] });
    expect(await screen.findByText(/does not act on any policy yet/)).toBeInTheDocument();
  });
});

describe("letters", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are written beside a real student’s, and what is wrong is said while typing", async () => {
    const letters: Schemas["LettersView"] = {
      letters: [
        {
          id: 2,
          name: "Letter at 5 days",
          retired: false,
          used: "Letter at 5 days",
          wordings: [
            { language: "", version: 3, subject: "Missed", text: "Dear {addressees},", by: "R. Tolvan Mon 2 March" },
          ],
        },
      ],
      fields: [{ name: "count", about: "what was counted" }],
      example: { language: "", version: 0, subject: "S", text: "T", by: "" },
    };
    const server = testServer({
      "/api/steps": view(),
      "/api/rail": rail,
      "/api/letters": ({ body }: { body?: unknown } = {}) => (body ? { seq: 7, text: "saved", ids: [2] } : letters),
      "/api/letters/try": [letter],
    });
    const { user } = renderPage(<AbsencePlace />, "/absence/letters", "/absence/*");
    expect(await screen.findByText("version 3, R. Tolvan Mon 2 March")).toBeInTheDocument();
    expect(await screen.findByRole("article", { name: "Letter to Marta and Leon Wake" })).toBeInTheDocument();
    server.refusals["/api/letters/try"] = { status: 422, detail: "in the text, line 1: there is no field {adressees}" };
    await user.type(screen.getByLabelText("Text"), " more");
    expect(await screen.findByRole("alert")).toHaveTextContent("there is no field {adressees}");
    await user.click(screen.getByText("What a letter can name"));
    await user.click(screen.getByRole("button", { name: "{count}" }));
    await user.click(screen.getByRole("button", { name: "Save as the next version" }));
    await waitFor(() =>
      expect(sentTo(server, "/api/letters")).toEqual([
        {
          id: 2,
          name: "Letter at 5 days",
          language: "",
          subject: "Missed",
          text: "Dear {addressees}, more{count}",
          retired: false,
          seen: 3,
        },
      ]),
    );
  });
});
