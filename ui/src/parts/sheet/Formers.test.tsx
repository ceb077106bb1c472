import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import FormerRecord from "../../places/former/FormerRecord";
import { renderPage, student, testServer } from "../../test-page";
import { Formers } from "./Formers";

const look: Schemas["FormerLook"] = {
  wrong: [],
  school: "Skerry School",
  made: "2026-01-09 10:20",
  of: "Juno Sandal, number 0042",
  others: ["the record says born 2012-05-23, here it is 2012-05-24"],
  there: "",
  tables: [{ name: "Marks", rows: 906, span: "2025-09-03 to 2026-01-09" }],
  parts: [
    {
      id: "contact-1",
      kind: "contact",
      text: "Ragna Lund, mother",
      note: "must not be called",
      may: true,
      usual: true,
    },
    { id: "contact-2", kind: "contact", text: "Dag Lund", note: "is a contact here already", may: false, usual: false },
    { id: "photo", kind: "photo", text: "The photo", note: "there is a photo here", may: true, usual: false },
  ],
};

async function choose(found: Schemas["FormerLook"]) {
  const server = testServer({
    "/api/students/1/former": [
      {
        id: 7,
        school: "Lantern Primary",
        made: "2022-07-01 12:00",
        by: "R. Tolvan, today",
        figure: "missed 14 of 113 days there",
      },
    ],
    "/api/former/look": found,
    "/api/former": { seq: 71, text: "The record of Skerry School is with Juno Sandal", ids: [8] },
  });
  const { user } = renderPage(<Formers student={student(1, "Juno Sandal")} mayBring />, "/today");
  await user.click(await screen.findByRole("button", { name: "Record of an earlier school …" }));
  const dialog = await screen.findByRole("dialog");
  const file = new File(["zip"], "record.zip", { type: "application/zip" });
  await user.upload(dialog.querySelector("input[type=file]") as HTMLInputElement, file);
  return { user, server, dialog: within(dialog) };
}

describe("A record of an earlier school", () => {
  it("is looked at, and brought in with what is ticked once somebody says whose it is", async () => {
    const { user, server, dialog } = await choose(look);
    await dialog.findByText(/here it is 2012-05-24/);
    expect(screen.getByRole("link", { name: "Record of Lantern Primary" })).toHaveAttribute("href", "/former/1/7");
    expect(dialog.getByRole("button", { name: "Bring it in" })).toBeDisabled();
    expect(dialog.getByRole("checkbox", { name: /Ragna Lund.*must not be called/ })).toBeChecked();
    expect(dialog.getByRole("checkbox", { name: /Dag Lund/ })).toBeDisabled();
    expect(dialog.getByRole("checkbox", { name: /The photo/ })).not.toBeChecked();
    await user.click(dialog.getByRole("checkbox", { name: "It is the same student all the same" }));
    await user.click(dialog.getByRole("button", { name: "Bring it in" }));
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/former")?.body).toEqual({
        student: 1,
        file: { name: "record.zip", content: btoa("zip") },
        take: ["contact-1"],
        same: true,
      }),
    );
  });

  it("that is wrong, or here already, is not brought in", async () => {
    const { dialog } = await choose({ ...look, wrong: ["marks.csv:3: has not the 2 fields of the header"] });
    await dialog.findByText(/has not the 2 fields/);
    expect(dialog.getByRole("button", { name: "Bring it in" })).toBeDisabled();
  });

  it("is read kind by kind, and found in", async () => {
    const many = Array.from({ length: 250 }, (_, i) => [
      `2025-09-${String((i % 28) + 1).padStart(2, "0")}`,
      i ? "P" : "X",
    ]);
    testServer({
      "/api/students/1/former/7": {
        id: 7,
        school: "Lantern Primary",
        made: "2022-07-01 12:00",
        by: "R. Tolvan, today",
        figure: "",
        student: student(1, "Juno Sandal"),
        of: "Juno Sandal, number 0042",
        madeBy: "Administrator",
        tables: [
          { name: "Absence", columns: ["policy", "missed"], rows: [["Ten per cent of days", "14"]], span: "" },
          { name: "Marks", columns: ["date", "code"], rows: many, span: "2025-09-01 to 2025-09-28" },
        ],
        without: ["letters"],
        mayEnd: true,
      } satisfies Schemas["FormerView"],
    });
    const { user } = renderPage(<FormerRecord />, "/former/1/7", "/former/:student/:record");
    expect(await screen.findByText("Ten per cent of days")).toBeVisible();
    expect(screen.getByText(/Nothing on record there of: letters/)).toBeVisible();
    await user.click(screen.getByRole("button", { name: /^Marks/ }));
    expect(screen.getAllByRole("row")).toHaveLength(201);
    await user.click(screen.getByRole("button", { name: "Show all 250" }));
    expect(screen.getAllByRole("row")).toHaveLength(251);
    await user.type(screen.getByRole("textbox", { name: "Find in Marks" }), "x");
    expect(screen.getAllByRole("row")).toHaveLength(2);
  });
});
