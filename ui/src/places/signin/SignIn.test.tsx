import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { renderPage, testServer, who } from "../../test-page";
import { SignIn } from "./SignIn";

const page = {
  school: "Fairlead School",
  hints: [{ username: "tolvan", who: "Ruth Tolvan, attendance officer", password: "holm-isles" }],
};

describe("signing in", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("signs in by keyboard", async () => {
    const server = testServer({ "/api/sign-in": page, "/api/session": who });
    const { user } = renderPage(<SignIn />);
    await user.keyboard("osk{Tab}secret{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/session", body: { username: "osk", password: "secret" } }),
    );
  });

  it("says what was wrong, and keeps the name", async () => {
    const server = testServer({ "/api/sign-in": page });
    server.refusals["/api/session"] = { status: 403, detail: "name and password do not fit together" };
    const { user } = renderPage(<SignIn />);
    await user.keyboard("osk{Tab}wrong{Enter}");
    expect(await screen.findByRole("alert")).toHaveTextContent("do not fit together");
    expect(screen.getByLabelText("Name")).toHaveValue("osk");
  });

  it("fills in an account of the demonstration", async () => {
    testServer({ "/api/sign-in": page });
    const { user } = renderPage(<SignIn />);
    await user.click(await screen.findByRole("button", { name: /Ruth Tolvan/ }));
    expect(screen.getByLabelText("Name")).toHaveValue("tolvan");
    expect(screen.getByLabelText("Password")).toHaveValue("holm-isles");
  });

  it("has a one-time password replaced", async () => {
    const server = testServer({ "/api/sign-in": page, "/api/session/password": {} });
    const { user } = renderPage(<SignIn replace="Administrator" />);
    expect(screen.queryByLabelText("Name")).not.toBeInTheDocument();
    await user.type(screen.getByLabelText("Password"), "long enough now{Enter}");
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({ path: "/api/session/password", body: { password: "long enough now" } }),
    );
  });
});
