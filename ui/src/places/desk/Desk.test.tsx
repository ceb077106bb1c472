import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { place, rail, reasons, renderPage, student, testServer } from "../../test-page";
import Desk from "./Desk";

const hit = (id: number, name: string, state: Schemas["Place"]["state"]): Schemas["FoundStudent"] => ({
  student: student(id, name),
  place: place(state, state),
  through: "",
  warnings: [],
});

const desk: Schemas["DeskView"] = {
  date: "2026-03-10",
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
      collector: "",
      pass: "",
      returned: false,
    },
  ],
  late: 1,
  left: 0,
  dueBack: [{ student: student(3, "Pip Garrow"), state: "left", words: "appointment", by: "11:15", overdue: true }],
  reasons,
  mostly: [{ reason: "overslept", n: 1 }],
  fetches: [],
  passes: [],
  groups: [],
};

function open() {
  const find = (q: string) => `/api/find?q=${encodeURIComponent(q)}`;
  const server = testServer({
    "/api/desk": desk,
    "/api/rail": rail,
    "/api/find": [],
    [find("gar")]: [hit(3, "Pip Garrow", "left"), hit(4, "Ines Garrick", "in")],
    [find("FL740003")]: [hit(3, "Pip Garrow", "left")],
    [find("garrick")]: [hit(4, "Ines Garrick", "in")],
  });
  return { ...renderPage(<Desk />, "/desk"), server };
}

describe("the desk", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("signs someone in without the mouse", async () => {
    const { user, server } = open();
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
    const { user } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("FL740003{Enter}");
    expect(await screen.findByRole("button", { name: /Pip is in/ })).toBeInTheDocument();
  });

  it("has those who are in leave, with when they are back", async () => {
    const { user, server } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("garrick{Enter}");
    await screen.findByRole("button", { name: /Ines leaves/ });
    await user.type(screen.getByLabelText("back by"), "1115{Enter}");
    await waitFor(() =>
      expect(server.sent[0]?.body).toMatchObject({ students: [4], kind: "departed", returns: "1115" }),
    );
  });

  it("switches to leaving by key, drops the reason, and leaves by Escape", async () => {
    const { user, server } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("FL740003{Enter}");
    await screen.findByRole("button", { name: /Pip is in/ });
    await user.keyboard("{Alt>}1{/Alt}{Alt>}l{/Alt}");
    expect(await screen.findByRole("button", { name: /Pip leaves/ })).toBeInTheDocument();
    await user.keyboard("{Escape}");
    await waitFor(() => expect(screen.queryByRole("button", { name: /Pip leaves/ })).not.toBeInTheDocument());
    expect(server.sent).toHaveLength(0);
  });

  it("keeps what was typed when it is refused", async () => {
    const { user, server } = open();
    await screen.findByText("Today at the desk");
    await user.keyboard("FL740003{Enter}");
    await screen.findByRole("button", { name: /Pip is in/ });
    server.refusals["/api/movements"] = {
      status: 422,
      detail: "10:30 is still to come, it is 09:12; nothing was stored",
    };
    await user.keyboard("1030{Enter}");
    expect(await screen.findByText(/still to come/)).toBeInTheDocument();
    expect(screen.getByLabelText("at")).toHaveValue("1030");
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
