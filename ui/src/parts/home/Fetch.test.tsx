import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, settings, student, testServer } from "../../test-page";
import { Fetching, MustBeFetched } from "./Fetch";

const contact = (id: number, name: string, mayCollect: boolean): Schemas["ContactRef"] => ({
  id,
  order: id,
  name,
  relation: "",
  phone: `07700 900 00${id}`,
  mayCollect,
  livesWith: false,
  doNotCall: false,
});

const fetching: Schemas["FetchView"] = {
  id: 9,
  student: student(4, "Tavi Lund"),
  since: "10:20",
  reason: "ill",
  place: "sick room",
  by: "M. Kersey",
  warnings: ["asthma"],
  contacts: [contact(1, "Mats Lund", true), contact(2, "Rafe Lund", false)],
  next: 1,
  notCalled: ["Birger Lund"],
  attempts: [{ at: "10:21", contact: "Mats Lund", outcome: "no answer", said: "", note: "", by: "M. Kersey" }],
  collector: 0,
  comes: "",
  note: "",
  expected: "",
  overdue: false,
};

describe("a student to be collected", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("shows whom to ring next, who may collect, and who must not be called", () => {
    testServer({});
    renderPage(<Fetching f={fetching} may />);
    expect(screen.getByText("ill · sick room · since 10:20")).toBeInTheDocument();
    expect(screen.getByText(/^Ring/)).toHaveTextContent("Ring Rafe Lund");
    expect(screen.getByText("no answer 10:21")).toBeInTheDocument();
    expect(screen.getByText("not Birger Lund")).toBeInTheDocument();
  });

  it("offers only those who may collect; anyone else is stored with the note", async () => {
    const server = testServer({});
    const { user } = renderPage(<Fetching f={fetching} may />);
    await user.click(screen.getByRole("button", { name: "Spoke" }));
    expect(screen.getByRole("button", { name: "Mats Lund", pressed: false })).toBeInTheDocument();
    expect(screen.queryByRole("button", { name: "Rafe Lund" })).not.toBeInTheDocument();
    await user.type(screen.getByLabelText("Somebody else comes"), "Uncle Brand");
    await user.type(screen.getByLabelText("Note"), "mother agreed");
    await user.type(screen.getByLabelText("by"), "1030{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/calls",
        body: { fetch: 9, contact: 2, outcome: "spoke", collects: "Uncle Brand", until: "1030", note: "mother agreed" },
      }),
    );
  });

  it("says who comes and that they are overdue", () => {
    testServer({});
    renderPage(<Fetching f={{ ...fetching, comes: "Mats Lund", expected: "10:40", overdue: true }} may={false} />);
    expect(screen.getByText("Mats Lund comes by 10:40").parentElement).toHaveClass("look-overdue");
    expect(screen.queryByRole("button", { name: "Spoke" })).not.toBeInTheDocument();
  });

  it("begins with a reason and where the student waits", async () => {
    const server = testServer({ "/api/settings": settings });
    const { user } = renderPage(<MustBeFetched student={student(4, "Tavi Lund")} />);
    await user.click(screen.getByRole("button", { name: "Tavi must be collected" }));
    await user.keyboard("sick room{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: "/api/fetches",
        body: { student: 4, reason: "ill", place: "sick room" },
      }),
    );
  });
});
