import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { choose, renderPage, testServer } from "../../test-page";
import IncidentDialog from "./IncidentDialog";

const word = (id: number, name: string, retired = false) => ({ id, name, retired });

const lists = (maySet = true): Schemas["ConductListsView"] => ({
  today: "2026-03-10",
  now: "09:12",
  maySet,
  breaks: [],
  lists: [
    { list: "kind", stamp: "k", words: [word(1, "rough play"), word(2, "unkind words"), word(3, "spitting", true)] },
    { list: "place", stamp: "p", words: [word(8, "pier"), word(9, "canteen")] },
    { list: "action", stamp: "a", words: [word(15, "spoken to")] },
    { list: "break", stamp: "b", words: [] },
  ],
});

const people: Record<string, Schemas["PersonFound"][]> = {
  finn: [
    { id: 20, name: "Finn Calloway", form: "8 Reef" },
    { id: 21, name: "Finn Fjeld", form: "9 Cleat" },
  ],
  juno: [{ id: 30, name: "Juno Fenn", form: "8 Bowline" }],
};

const line = (change: Partial<Schemas["IncidentLine"]> = {}): Schemas["IncidentLine"] => ({
  id: 5,
  version: 12,
  date: "2026-03-09",
  label: "Mon 9 March",
  time: "",
  when: "time not known",
  kindId: 3,
  kind: "spitting",
  placeId: 0,
  place: "",
  people: [{ student: 20, name: "Finn Calloway", form: "8 Reef", role: "did it", sees: true }],
  text: "at the gate",
  actions: [],
  recordedBy: "P. Osk",
  open: ["when", "where"],
  own: true,
  mayCorrect: true,
  ...change,
});

function show(asked: string, one?: Schemas["IncidentView"], maySet = true) {
  const server = testServer({
    "/api/conduct/lists": lists(maySet),
    "/api/conduct/people": [],
    "/api/conduct/people?q=finn": people.finn,
    "/api/conduct/people?q=juno": people.juno,
    "/api/incidents/5": one,
    "/api/incidents": { seq: 7, text: "rough play noted", ids: [6] },
    "/api/incidents/back": { seq: 8, text: "Incident taken back", ids: [] },
  });
  const close = vi.fn();
  return { ...renderPage(<IncidentDialog asked={asked} onClose={close} />), server, close };
}

describe("an incident", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is noted: who in which part, what kind, where, with the time of now", async () => {
    const { user, server, close } = show("new");
    const who = await screen.findByRole("combobox", { name: "Who" });
    expect(who).toHaveFocus();
    await user.keyboard("finn");
    await screen.findByText("Finn Fjeld");
    await user.keyboard("{ArrowDown}{Enter}h juno");
    await screen.findByText("Juno Fenn");
    await user.keyboard("{Enter}");
    expect(screen.getByRole("button", { name: "was harmed: Juno Fenn, another part" })).toBeInTheDocument();
    await choose(user, "Kind", "rough play");
    await user.click(screen.getByRole("combobox", { name: "Place" }));
    await user.keyboard("lighthouse");
    await user.click(await screen.findByText("add “lighthouse”", { selector: ".ant-select-item-option-content" }));
    await user.keyboard("{Control>}{Enter}{/Control}");
    await waitFor(() =>
      expect(server.sent.at(-1)?.body).toEqual({
        date: "2026-03-10",
        time: "09:12",
        kind: { id: 1 },
        place: { new: "lighthouse" },
        people: [
          { student: 21, role: "did it" },
          { student: 30, role: "was harmed" },
        ],
        actions: [],
      }),
    );
    await waitFor(() => expect(close).toHaveBeenCalled());
  });

  it("is corrected as the version that was seen, and a refusal keeps what was typed", async () => {
    const { user, server, close } = show("5", { incident: line(), before: [], back: "" });
    await user.type(await screen.findByLabelText("What happened"), ", again");
    await user.click(screen.getByRole("button", { name: /did it: Finn Calloway/ }));
    server.refusals["/api/incidents"] = { status: 409, detail: "D. Ase has corrected it meanwhile" };
    await user.click(screen.getByRole("button", { name: /Save/ }));
    expect(await screen.findByRole("alert")).toHaveTextContent("D. Ase has corrected it meanwhile");
    expect(close).not.toHaveBeenCalled();
    expect(server.sent.at(-1)?.body).toMatchObject({
      id: 5,
      seen: 12,
      text: "at the gate, again",
      kind: { id: 3 }, // no longer used, and stays where it was
      people: [{ student: 20, role: "was harmed" }],
    });
    expect(screen.getByLabelText("What happened")).toHaveValue("at the gate, again");
  });

  it("is taken back only with a reason", async () => {
    const { user, server } = show("5", { incident: line(), before: [], back: "" });
    await user.click(await screen.findByRole("button", { name: "Entered by mistake …" }));
    expect(screen.getByRole("button", { name: "Take it back" })).toBeDisabled();
    await user.type(screen.getByLabelText("Why it is taken back"), "another day");
    await user.click(screen.getByRole("button", { name: "Take it back" }));
    await waitFor(() => expect(server.sent.at(-1)?.body).toEqual({ id: 5, seen: 12, why: "another day" }));
  });

  it("is read by whoever may not correct it, with what it was before", async () => {
    const now = line({ mayCorrect: false, place: "pier", placeId: 8 });
    const was = (incident: Schemas["IncidentLine"]) => ({ incident, by: "P. Osk", at: "Mon 9 March 12:00" });
    const { user } = show("5", {
      incident: now,
      before: [was(now), was(line({ version: 11, text: "first" }))],
      back: "",
    });
    expect((await screen.findAllByText("spitting"))[0]).toBeInTheDocument();
    expect(screen.queryByRole("button", { name: /Save/ })).toBeNull();
    await user.click(screen.getByText("What it was before"));
    expect(screen.getByText("first")).toBeInTheDocument();
  });
});
