import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { typeAsReader } from "../../parts/scanner";
import { place, rail, reasons, renderPage, student, testServer } from "../../test-page";
import Desk from "./Desk";

/** Holds a card to the reader: its keys come at once, however busy the machine is. */
const scan = (code: string) => act(() => typeAsReader(code));

const hit = (id: number, name: string, state: Schemas["Place"]["state"]): Schemas["FoundStudent"] => ({
  student: student(id, name),
  place: place(state, state),
  through: "",
  warnings: [],
});

const desk: Schemas["DeskView"] = {
  date: "2026-03-10",
  scope: "",
  movements: [
    {
      id: 5,
      student: student(8, "Tora Ulvar"),
      at: "09:38",
      kind: "arrived",
      state: "late",
      reason: "overslept",
      note: "",
      returns: "",
      by: "M. Kersey",
      undone: false,
      with: 0,
      collector: "",
      pass: "000018",
      returned: false,
    },
    {
      id: 4,
      student: student(9, "Mats Olin"),
      at: "08:56",
      kind: "departed",
      state: "left",
      reason: "",
      note: "",
      returns: "10:30",
      by: "M. Kersey",
      undone: true,
      with: 2,
      collector: "",
      pass: "",
      returned: false,
    },
  ],
  late: 1,
  left: 0,
  dueBack: [{ student: student(3, "Pip Garrow"), state: "left", text: "appointment", by: "11:15", overdue: true }],
  reasons,
  mostly: [{ reason: "overslept", n: 1 }],
  fetches: [],
  passes: [],
  groups: [],
};

const contact: Schemas["ContactRef"] = {
  id: 1,
  order: 1,
  name: "",
  relation: "mother",
  phone: "07700 900 001",
  mayCollect: true,
  livesWith: true,
  doNotCall: false,
};

const sheetOf = (h: Schemas["FoundStudent"]) => ({ student: h.student, contacts: [], mayFetch: false, photo: false });

function open(more: Record<string, unknown> = {}) {
  const find = (q: string) => `/api/find?q=${encodeURIComponent(q)}`;
  const server = testServer({
    "/api/desk": desk,
    "/api/rail": rail,
    "/api/find": [],
    [find("gar")]: [hit(3, "Pip Garrow", "left"), hit(4, "Ines Garrick", "in")],
    [find("FL740003")]: [hit(3, "Pip Garrow", "left")],
    [find("garrick")]: [hit(4, "Ines Garrick", "in")],
    ...more,
  });
  return { ...renderPage(<Desk />, "/desk"), server };
}

describe("the desk", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("signs someone in without the mouse", async () => {
    const { hand: user, server } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("gar");
    await screen.findByText("Ines Garrick");
    await user.keyboard("{Enter}");
    expect(await screen.findByRole("button", { name: /Pip is in/ })).toBeInTheDocument();
    await user.keyboard("{Alt>}2{/Alt}931{Enter}");
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({
      path: "/api/movements",
      body: { students: [3], kind: "arrived", time: "931", reason: "overslept", returns: "" },
    });
  });

  it("takes whoever the scan names, though the list has not come", async () => {
    open();
    await screen.findByText("Today at the desk");
    scan("FL740003");
    expect(await screen.findByRole("button", { name: /Pip is in/ })).toBeInTheDocument();
  });

  it("has those who are in leave, with when they are back", async () => {
    const { hand: user, server } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("garrick{Enter}");
    await screen.findByRole("button", { name: /Ines leaves/ });
    await user.type(screen.getByLabelText("back by"), "1115{Enter}");
    expect(await screen.findByText("Say why Ines leaves: in.")).toBeInTheDocument();
    expect(server.sent).toHaveLength(0);
    await user.keyboard("{Enter}"); // the first reason has the focus
    await waitFor(() => expect(screen.queryByText(/^Say why/)).toBeNull());
    await user.type(screen.getByLabelText("back by"), "{Enter}");
    await waitFor(() =>
      expect(server.sent[0]?.body).toMatchObject({
        students: [4],
        kind: "departed",
        returns: "11:15",
        reason: reasons.find((r) => r.leave)?.word,
      }),
    );
  });

  it("switches to leaving by key, drops the reason, and leaves by Escape", async () => {
    const { user, server } = open();
    await screen.findByText("Today at the desk");
    scan("FL740003");
    await screen.findByRole("button", { name: /Pip is in/ });
    await user.keyboard("{Alt>}1{/Alt}{Alt>}l{/Alt}");
    expect(await screen.findByRole("button", { name: /Pip leaves/ })).toBeInTheDocument();
    await user.keyboard("{Escape}");
    await waitFor(() => expect(screen.queryByRole("button", { name: /Pip leaves/ })).not.toBeInTheDocument());
    expect(server.sent).toHaveLength(0);
  });

  it("keeps what was typed when it is refused", async () => {
    const { hand, server } = open();
    await screen.findByText("Today at the desk");
    scan("FL740003");
    await screen.findByRole("button", { name: /Pip is in/ });
    server.refusals["/api/movements"] = {
      status: 422,
      detail: "10:30 is still to come, it is 09:12; nothing was saved",
    };
    await hand.keyboard("1030{Enter}");
    expect(await screen.findByText(/still to come/)).toBeInTheDocument();
    expect(screen.getByLabelText("at")).toHaveValue("1030");
  });

  it("leaves whoever was open when another card is scanned, and takes passes back", async () => {
    const { hand, server } = open();
    await screen.findByText("Today at the desk");
    await hand.keyboard("garrick{Enter}");
    await screen.findByRole("button", { name: /Ines leaves/ });
    scan("FL740003");
    await screen.findByRole("button", { name: /Pip is in/ });
    expect(await screen.findByText("Ines Garrick was put aside; nothing was saved.")).toBeInTheDocument();
    expect(server.sent).toHaveLength(0);
    scan("P-000018");
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/passes/P-000018/return"));
    expect(screen.getByRole("button", { name: /Pip is in/ })).toBeInTheDocument();
    scan("XX999999");
    expect(await screen.findByText("No card or number XX999999 is on the roll.")).toBeInTheDocument();
  });

  it("offers only those who may collect, and takes anyone else with a note", async () => {
    const { hand: user, server } = open({
      "/api/students/4": {
        ...sheetOf(hit(4, "Ines Garrick", "in")),
        contacts: [
          { ...contact, id: 1, name: "Ida Garrick", mayCollect: true },
          { ...contact, id: 2, name: "Joss Garrick", mayCollect: false },
        ],
      },
    });
    await screen.findByText("Today at the desk");
    await user.keyboard("garrick{Enter}");
    await user.click(await screen.findByRole("button", { name: /Ida Garrick/ }));
    expect(screen.queryByRole("button", { name: /Joss Garrick/ })).not.toBeInTheDocument();
    await user.keyboard("{Alt>}1{/Alt}");
    await user.click(screen.getByRole("button", { name: /Ines leaves/ }));
    await waitFor(() => expect(server.sent[0]?.body).toMatchObject({ kind: "departed", collector: 1, collects: "" }));
  });

  it("prepares the departure of who is to be collected, and prints a pass", async () => {
    const opened = vi.fn();
    vi.stubGlobal("open", opened);
    const fetching: Schemas["FetchView"] = {
      id: 9,
      student: student(4, "Ines Garrick"),
      since: "10:20",
      reason: "ill",
      place: "sick room",
      by: "M. Kersey",
      warnings: [],
      contacts: [],
      next: -1,
      notCalled: [],
      attempts: [],
      collector: 0,
      comes: "Uncle Brand",
      note: "mother agreed",
      expected: "11:00",
      overdue: false,
    };
    const { hand: user, server } = open({
      "/api/desk": { ...desk, fetches: [fetching] },
      "/api/movements": { seq: 1, text: "stored", ids: [77] },
      "/api/movements/77/pass": { number: "000026", student: student(4, "Ines Garrick") },
    });
    await screen.findByText("Today at the desk");
    await user.keyboard("garrick{Enter}");
    await screen.findByRole("button", { name: /Ines leaves/ });
    await user.keyboard("{Control>}{Enter}{/Control}");
    await waitFor(() => expect(opened).toHaveBeenCalledWith("/api/passes/000026/sheet?stock=leaf", "_blank"));
    expect(server.sent[0]?.body).toMatchObject({ reason: "ill", collects: "Uncle Brand", note: "mother agreed" });
  });

  it("has a group in at once: who is missing is ticked, who is not known stays out", async () => {
    const member = (id: number, name: string, state: Schemas["Place"]["state"]) => ({
      student: student(id, name),
      place: place(state, state),
      likely: state === "unaccounted",
    });
    const petrel: Schemas["GroupView"] = {
      key: "travels Petrel",
      title: "the Petrel",
      reason: "ferry",
      of: 70,
      members: [
        member(1, "Ivar Kvale", "unaccounted"),
        member(2, "Nell Chandler", "not-yet-known"),
        member(5, "Dilys Moorhen", "explained"),
        member(6, "Iris Rook", "unaccounted"),
      ],
    };
    const { hand: user, server } = open({ "/api/desk": { ...desk, groups: [petrel] } });
    await user.click(await screen.findByRole("button", { name: /the Petrel/ }));
    await user.click(screen.getByRole("checkbox", { name: /Iris Rook/ }));
    await user.click(screen.getByRole("checkbox", { name: /Dilys Moorhen/ }));
    await user.type(screen.getByRole("textbox", { name: "in at" }), "941{Enter}");
    await waitFor(() =>
      expect(server.sent[0]?.body).toEqual({
        students: [1, 5],
        kind: "arrived",
        time: "941",
        reason: "ferry",
        note: "",
      }),
    );
  });

  it("never signs a child in class out by Enter and Enter", async () => {
    const { hand, server } = open();
    await screen.findByText("Today at the desk");
    await hand.keyboard("garrick{Enter}");
    await screen.findByRole("button", { name: /Ines leaves/ });
    await hand.keyboard("{Enter}");
    expect(await screen.findByText("Say why Ines leaves: in.")).toBeInTheDocument();
    expect(server.sent).toHaveLength(0);
  });

  it("adds what was forgotten, where no pass says otherwise", async () => {
    const forgotten = { ...desk.movements[1], undone: false } as Schemas["MovementView"];
    const { user, server } = open({
      "/api/desk": { ...desk, movements: [desk.movements[0], forgotten], left: 1 },
      "/api/students/9": {
        ...sheetOf(hit(9, "Mats Olin", "left")),
        contacts: [{ ...contact, name: "Runa Olin" }],
      },
    });
    expect(await screen.findByText(/no reason yet/)).toBeInTheDocument();
    expect(screen.queryByRole("button", { name: /Change Tora/ })).toBeNull();
    await user.click(screen.getByRole("button", { name: "Change Mats Olin 08:56" }));
    await user.click(await screen.findByRole("button", { name: /Runa Olin/ }));
    await user.clear(screen.getByLabelText("Left at"));
    await user.type(screen.getByLabelText("Left at"), "851");
    await user.click(screen.getByRole("checkbox", { name: "all 3 who left together" }));
    await user.click(screen.getByRole("button", { name: "appointment" }));
    await user.click(screen.getByRole("button", { name: /^Save/ }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/movements/4/amend",
        body: { at: "851", together: true, reason: "appointment", collector: 1, returns: "10:30" },
      }),
    );
  });

  it("shows only who was late, or who left, and all again", async () => {
    const { user } = open();
    await user.click(await screen.findByRole("button", { name: "left 0" }));
    expect(screen.queryByText("Tora Ulvar")).toBeNull();
    await user.click(screen.getByRole("button", { name: "late 1" }));
    expect(screen.getByText("Tora Ulvar")).toBeInTheDocument();
    expect(screen.queryByText("Mats Olin")).toBeNull();
    await user.click(screen.getByRole("button", { name: "all" }));
    expect(screen.getByText("Mats Olin")).toBeInTheDocument();
  });

  it("undoes a movement, and not one that is taken back", async () => {
    const { user, server } = open();
    await user.click(await screen.findByRole("button", { name: "Undo Tora Ulvar 09:38" }));
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/movements/5/undo"));
    expect(screen.queryByRole("button", { name: /Undo Mats Olin/ })).not.toBeInTheDocument();
  });

  it("says when nobody fits", async () => {
    const { user } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("zzz");
    expect(await screen.findByText("Nobody on the roll fits “zzz”.")).toBeInTheDocument();
  });
});
