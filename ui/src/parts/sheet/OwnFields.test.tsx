import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { OwnFields as Definitions } from "../../places/school/OwnFields";
import { choose, filesOf, renderPage, student, testServer } from "../../test-page";
import { WithOwnMarks } from "../OwnMarks";
import { StudentName } from "../StudentName";
import { OwnFields } from "./OwnFields";

const line = (field: number, name: string, more: Partial<Schemas["OwnLine"]> = {}): Schemas["OwnLine"] => ({
  field,
  name,
  kind: "text",
  choices: [],
  icon: "",
  value: "",
  words: "",
  by: "",
  mayChange: true,
  ...more,
});

describe("own fields", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("are changed on the sheet by whoever may, from what they held", async () => {
    const server = testServer({
      "/api/students/7/own-fields": [
        line(1, "Seat", { value: "in front", words: "in front" }),
        line(2, "Bus", { kind: "choice", choices: ["Bus 4", "on foot"] }),
        line(3, "Plan until", { kind: "date", value: "2026-07-16", words: "Thu 16 July 2026", mayChange: false }),
      ],
    });
    const { user } = renderPage(<OwnFields student={7} />);
    await user.click(await screen.findByRole("button", { name: "Change Seat" }));
    await user.clear(screen.getByRole("textbox", { name: "Seat" }));
    await user.type(screen.getByRole("textbox", { name: "Seat" }), "at the back{Enter}");
    await waitFor(() => expect(screen.queryByRole("textbox")).not.toBeInTheDocument());
    await user.click(screen.getByRole("button", { name: "Change Bus" }));
    await choose(user, "Bus", "on foot");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(server.sent.map((s) => s.body)).toEqual([
        { student: 7, field: 1, value: "at the back", seen: "in front" },
        { student: 7, field: 2, value: "on foot" },
      ]),
    );
    expect(screen.queryByRole("button", { name: "Change Plan until" })).not.toBeInTheDocument();
  });

  it("stand beside the name where they are for, in words for those who cannot see them", async () => {
    const server = testServer({
      "/api/own-fields?where=roll": [
        {
          student: 7,
          marks: [
            { name: "Seat", icon: "flag", words: "in front" },
            { name: "Bus", icon: "", words: "Bus 4" },
          ],
        },
      ],
    });
    renderPage(
      <WithOwnMarks path="/registers/48/AM">
        <StudentName student={student(7, "Asta Øye")} />
        <StudentName student={student(8, "Bo Lone")} />
      </WithOwnMarks>,
    );
    expect(await screen.findByText("Seat: in front")).toBeInTheDocument();
    expect(screen.getByText("Bus 4")).toHaveAttribute("title", "Bus: Bus 4");
    expect(server.asked).toEqual(["/api/own-fields?where=roll"]);
  });

  it("are defined under School, and filled from a file that is looked at first", async () => {
    const server = testServer({
      "/api/school/own-fields": {
        fields: [{ id: 4, name: "Seat", kind: "text", sees: ["teacher"], changes: [], shown: ["roll"] }],
        seen: "a1",
        roles: ["officer", "teacher"],
        held: [{ field: 4, students: 12 }],
      },
      "/api/school/own-fields/import": ({ body }: { body: Schemas["OwnImport"] }): Schemas["OwnImportPlan"] => ({
        applied: body.apply ?? false,
        set: 3,
        taken: 1,
        same: 8,
        problems: [],
      }),
    });
    const { user } = renderPage(<Definitions />);
    const panel = within(await screen.findByRole("region", { name: /Own fields on students/ }));
    expect(panel.getByText("12 students")).toBeInTheDocument();
    await user.click(panel.getByRole("checkbox", { name: "Seat: teachers change it" }));
    await user.click(panel.getByRole("button", { name: "Add a field" }));
    await user.type(panel.getByRole("textbox", { name: "Name of field 2" }), "Bus");
    await user.click(panel.getByRole("checkbox", { name: "Bus: on desk" }));
    await user.click(panel.getByRole("checkbox", { name: "Seat: teachers see it" }));
    await user.click(panel.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(server.sent.at(-1)?.body).toEqual({
        seen: "a1",
        fields: [
          { id: 4, name: "Seat", kind: "text", sees: [], changes: [], shown: ["roll"] },
          {
            name: "Bus",
            kind: "text",
            sees: ["officer", "pastoral"],
            changes: ["officer", "pastoral"],
            shown: ["desk"],
          },
        ],
      }),
    );
    await user.upload(await filesOf("Values from a CSV file …"), new File(["number,Bus\n7,4\n"], "bus.csv"));
    expect(await panel.findByText(/1 taken away, 8 as they are/)).toBeInTheDocument();
    await user.click(panel.getByRole("button", { name: "Take them" }));
    await waitFor(() => expect(server.sent.at(-1)?.body).toEqual({ text: "number,Bus\n7,4\n", apply: true }));
  });
});
