import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { testServer } from "../../test-page";
import PassCheck from "./PassCheck";

const pass: Schemas["PassCheck"] = {
  number: "000018",
  name: "Pip Garrow",
  form: "9 Bowline",
  kind: "departed",
  at: "09:05",
  returns: "11:15",
  state: "good",
  text: "This pass is good today.",
  due: "9Hi1, his 1 from 10:00",
};

describe("checking a pass in the corridor", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("says what it is worth, whose it is, and where they belong", async () => {
    testServer({ "/api/passes/000018": pass });
    render(<PassCheck />);
    await userEvent.type(screen.getByLabelText("Pass number"), "000018{Enter}");
    expect(await screen.findByText("Good")).toBeInTheDocument();
    expect(screen.getByRole("heading", { name: "Pip Garrow" })).toBeInTheDocument();
    expect(screen.getByText("11:15")).toBeInTheDocument();
    expect(screen.getByText("9Hi1, his 1 from 10:00")).toBeInTheDocument();
  });

  it("says that a pass is not good any more", async () => {
    testServer({ "/api/passes/000018": { ...pass, state: "back", text: "This pass came back at 10:50." } });
    render(<PassCheck />);
    await userEvent.type(screen.getByLabelText("Pass number"), "000018{Enter}");
    expect(await screen.findByText("Not good")).toHaveTextContent("This pass came back at 10:50.");
  });

  it("tells a wrong number from a line that is down", async () => {
    const server = testServer({});
    server.refusals["/api/passes/000019"] = { status: 422, detail: "000019 is no pass number: a digit is wrong" };
    render(<PassCheck />);
    const field = screen.getByLabelText("Pass number");
    await userEvent.type(field, "000019{Enter}");
    expect(await screen.findByText(/a digit is wrong/)).toBeInTheDocument();
    vi.stubGlobal(
      "fetch",
      vi.fn(() => Promise.reject(new TypeError("failed"))),
    );
    await userEvent.type(field, "{Enter}");
    expect(await screen.findByText(/The line to the school is down/)).toBeInTheDocument();
  });
});
