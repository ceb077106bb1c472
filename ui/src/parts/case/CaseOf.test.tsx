import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, student, testServer } from "../../test-page";
import { CaseOf } from "./CaseOf";

const mika = student(1, "Mika Ulvar");

function shown(cases: Schemas["CaseLine"][], mayChange = true) {
  const server = testServer({
    "/api/students/1/cases": {
      cases,
      owners: [
        { id: 3, name: "D. Ase", mine: false },
        { id: 4, name: "R. Tolvan", mine: true },
      ],
      mayChange,
    } satisfies Schemas["StudentCases"],
  });
  return { server, ...renderPage(<CaseOf student={mika} from="step" why="Letter at 5 days, 5 unexcused days" />) };
}

describe("the case of a student", () => {
  it("is opened from where the student is met, with why", async () => {
    const { user, server } = shown([
      { id: 8, open: false, mayRead: true, text: "closed Mon 2 March by D. Ase, settled" },
    ]);
    expect(await screen.findByText("No open case")).toBeInTheDocument();
    expect(screen.getByRole("link", { name: /settled/ })).toHaveAttribute("href", "/follow-up/cases/1/8");
    await user.click(screen.getByRole("button", { name: "Open a case …" }));
    expect(screen.getByRole("textbox", { name: "Why" })).toHaveValue("Letter at 5 days, 5 unexcused days");
    await user.type(screen.getByRole("textbox", { name: "Looked at next" }), "2026-03-12{Tab}");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(server.sent.at(-1)?.body).toEqual({
        kind: "opened",
        student: 1,
        from: "step",
        owner: 4,
        next: "2026-03-12",
        weekly: "no",
        kept: "office",
        text: "Letter at 5 days, 5 unexcused days",
      }),
    );
  });

  it("is named where there is one, without a way in for who may not read it", async () => {
    shown([{ id: 9, open: true, mayRead: false, text: "in the hands of D. Ase, next tomorrow" }]);
    expect(await screen.findByText(/in the hands of D. Ase, next tomorrow/)).toBeInTheDocument();
    expect(screen.queryByRole("link")).not.toBeInTheDocument();
    expect(screen.queryByRole("button", { name: "Open a case …" })).not.toBeInTheDocument();
  });

  it("is opened by nobody on a day of the past", async () => {
    shown([], false);
    expect(await screen.findByText("No open case")).toBeInTheDocument();
    expect(screen.queryByRole("button")).not.toBeInTheDocument();
  });
});
