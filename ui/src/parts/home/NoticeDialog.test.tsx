import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { place, rail, renderPage, settings, student, testServer } from "../../test-page";
import NoticeDialog from "./NoticeDialog";

const elis: Schemas["FoundStudent"] = {
  student: student(1, "Elis Merrow"),
  place: place("unaccounted", "not in lesson 1"),
  through: "",
  warnings: [],
};

const contact: Schemas["ContactRef"] = {
  id: 7,
  order: 1,
  name: "Ida Merrow",
  relation: "mother",
  phone: "07700 900 003",
  mayCollect: true,
  livesWith: true,
  doNotCall: false,
};

function open(students: number[] = [], preview: Partial<Schemas["NoticePreview"]> = {}, message = 0) {
  const onClose = vi.fn();
  const server = testServer({
    "/api/settings": settings,
    "/api/rail": rail,
    "/api/find?q=merrow": [elis],
    "/api/students/1": {
      student: elis.student,
      place: elis.place,
      contacts: [contact],
      siblings: [student(2, "Ansa Merrow")],
    },
    "/api/notices/read": { text: "ill", code: "M", codeWord: "medical", explains: 3, stand: 1, error: "", ...preview },
  });
  const page = renderPage(<NoticeDialog asked={{ students, from: "", to: "", message }} onClose={onClose} />);
  const stored = () => server.sent.filter((s) => s.path === "/api/notices");
  return { ...page, server, stored, onClose };
}

describe("a message from home", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is noted for all of a home in a few keys, and says before what it does", async () => {
    const { hand, stored, onClose } = open();
    await hand.type(await screen.findByRole("combobox", { name: "Student or parent" }), "merrow");
    await screen.findByText("Elis Merrow");
    await hand.keyboard("{Enter}");
    await screen.findByText("all of this home");
    await hand.keyboard("bi");
    expect(await screen.findByText(/explains 3 marks without a reason/)).toHaveTextContent(
      "1 mark of that time stays as marked",
    );
    await hand.keyboard("{Enter}");
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect(stored()[0]?.body).toEqual({
      students: [1, 2],
      reason: "ill",
      from: "2026-03-10",
      to: "2026-03-10",
      fromTime: "",
      toTime: "",
      toldBy: "",
      toldHow: "phone",
      seen: 0,
    });
  });

  it("keeps who told it, how, and for which part of the day", async () => {
    const { hand, stored } = open([1]);
    await hand.click(await screen.findByRole("button", { name: /Ida Merrow/ }));
    await hand.click(screen.getByText("letter"));
    await hand.click(screen.getByRole("button", { name: /appointment/ }));
    await hand.type(screen.getByLabelText("expected at"), "1015{Enter}");
    await waitFor(() =>
      expect(stored()[0]?.body).toMatchObject({
        students: [1],
        toTime: "1015",
        toldBy: "Ida Merrow",
        toldHow: "letter",
      }),
    );
  });

  it("takes an answer to a text as what it is", async () => {
    const { hand, stored } = open([1], {}, 12);
    expect(await screen.findByText("whoever answered the text")).toBeInTheDocument();
    await hand.click(await screen.findByRole("button", { name: /^ill/ }));
    await screen.findByText(/explains 3 marks/);
    await hand.click(screen.getByRole("button", { name: /Save the message/ }));
    await waitFor(() => expect(stored()[0]?.body).toMatchObject({ students: [1], reason: "ill", message: 12 }));
  });

  it("says what is wrong and stores nothing", async () => {
    const { hand, stored } = open([1], { error: "the notice ends before it begins" });
    await screen.findByText("all of this home");
    await screen.findByRole("button", { name: /^ill/ });
    await hand.keyboard("i");
    expect(await screen.findByText("the notice ends before it begins")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: /Save the message/ })).toBeDisabled();
    expect(stored()).toHaveLength(0);
  });

  it("adds a reason to the school's own on the spot", async () => {
    const { hand, server } = open([1]);
    server.answers["/api/reasons/kinds"] = [{ absent: "X", late: "LX", excused: true, label: "reason known (X)" }];
    await hand.click(await screen.findByRole("button", { name: "another" }));
    await screen.findByText("reason known (X)");
    await hand.type(screen.getByLabelText("The new reason"), "storm{Enter}");
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/reasons")?.body).toMatchObject({
        word: "storm",
        absent: "X",
        home: true,
      }),
    );
  });
});
