import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { choose, renderPage, student, testServer } from "../test-page";
import { WriteToMany } from "./WriteToMany";

const mika = student(1, "Mika Ulvar");
const oona = student(2, "Oona Harle");

function open() {
  const server = testServer({
    "/api/letters/many/look": ({ body }: { body: Schemas["ToMany"] }): Schemas["ManyView"] => ({
      problem: body.text?.includes("{count}") ? "{count} is for a letter that a step asks for" : "",
      rows: [
        { student: mika, to: [{ names: "Runa Ulvar", eMail: body.paper ? "" : "runa@example.org" }] },
        { student: oona, to: [{ names: "Ida Harle", eMail: "" }] },
        { student: student(3, "Cato Vane"), to: [] },
      ],
      eMails: 1,
      paper: 1,
      nobody: 1,
      subject: body.letter ? "An invitation" : (body.subject ?? ""),
      text: body.letter ? "We would like to talk." : (body.text ?? "").replace("{given name}", "Mika"),
      fields: ["given name"],
      letters: [{ id: 4, name: "Invitation to a talk", subject: "An invitation", text: "We would like to talk." }],
    }),
    "/api/letters/many": { seq: 1, text: "1 on the way by e-mail, 1 to print", ids: [9] },
  });
  return { server, ...renderPage(<WriteToMany students={[mika, oona, student(3, "Cato Vane")]} />) };
}

describe("a letter to many", () => {
  it("shows who gets it and how, lets names be taken off, and goes", async () => {
    const { user, server } = open();
    const opened = vi.spyOn(window, "open").mockReturnValue(null);
    await user.click(screen.getByRole("button", { name: "Write to them …" }));
    expect(await screen.findByText("nobody is on file")).toBeInTheDocument();
    expect(screen.getByText("Ida Harle, to print")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Send 1 e-mail, print 1" })).toBeDisabled();
    await user.type(screen.getByRole("textbox", { name: "Subject" }), "The harbour course");
    await user.type(screen.getByRole("textbox", { name: "Text" }), "Dear {{given name}");
    expect(await screen.findByText(/Dear Mika/)).toBeInTheDocument();
    await user.click(screen.getByRole("checkbox", { name: /Cato Vane/ }));
    await user.click(screen.getByRole("button", { name: "Send 1 e-mail, print 1" }));
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/letters/many")?.body).toEqual({
        students: [1, 2],
        homes: true,
        paper: false,
        subject: "The harbour course",
        text: "Dear {given name}",
      }),
    );
    await waitFor(() => expect(opened).toHaveBeenCalledWith("/api/letters/sheet?letters=9", "_blank"));
  });

  it("goes in the words of one of the school's letters, or begins with them", async () => {
    const { user, server } = open();
    vi.spyOn(window, "open").mockReturnValue(null);
    await user.click(screen.getByRole("button", { name: "Write to them …" }));
    await choose(user, "In which words", "Invitation to a talk");
    expect(await screen.findByText(/We would like to talk/)).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Change its words for this time" }));
    expect(screen.getByRole("textbox", { name: "Text" })).toHaveValue("We would like to talk.");
    await choose(user, "In which words", "Invitation to a talk");
    await user.click(screen.getByRole("button", { name: "Send 1 e-mail, print 1" }));
    await waitFor(() =>
      expect(server.sent.find((s) => s.path === "/api/letters/many")?.body).toEqual({
        students: [1, 2, 3],
        homes: true,
        paper: false,
        letter: 4,
      }),
    );
  });

  it("does not go with a field that says nothing", async () => {
    const { user } = open();
    await user.click(screen.getByRole("button", { name: "Write to them …" }));
    await user.type(screen.getByRole("textbox", { name: "Subject" }), "x");
    await user.type(screen.getByRole("textbox", { name: "Text" }), "{{count}");
    expect(await screen.findByRole("alert")).toHaveTextContent("is for a letter that a step asks for");
    expect(screen.getByRole("button", { name: "Send 1 e-mail, print 1" })).toBeDisabled();
  });
});
