import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { renderPage, testServer } from "../../test-page";
import Phone from "./Phone";

const begun = {
  ticket: "9.1.x",
  class: "8 Halyard",
  slot: "PM registration",
  closes: "13:55",
  question: "",
  distance: false,
  byLink: true,
};
const nobody = { known: false, given: "", days: [], counts: [] };

describe("checking in by the link of a remote lesson", () => {
  afterEach(() => {
    vi.unstubAllGlobals();
    window.history.replaceState(null, "", "/");
  });

  it("asks for the number alone, and says that one is somewhere else", async () => {
    window.history.replaceState(null, "", "/check-in?l=9.abc");
    const server = testServer({ "/api/phone/start": begun, "/api/phone/record": nobody });
    const { user } = renderPage(<Phone />);
    await screen.findByText("You take part from somewhere else today.");
    expect(server.sent[0]).toMatchObject({ path: "/api/phone/start", body: { code: "9.abc" } });
    expect(screen.queryByRole("checkbox")).toBeNull();
    await user.keyboard("40012{Enter}");
    await waitFor(() =>
      expect(server.sent[1]).toMatchObject({ path: "/api/phone/check-in", body: { ticket: "9.1.x", number: "40012" } }),
    );
    expect(window.location.search).toBe("?l=9.abc"); // a reload begins anew
  });

  it("says when it opens, and can be tried again then", async () => {
    window.history.replaceState(null, "", "/check-in?l=9.abc");
    const server = testServer({ "/api/phone/start": begun, "/api/phone/record": nobody });
    server.refusals["/api/phone/start"] = {
      status: 403,
      detail: "check-in to 8 Halyard opens at 13:45: open this link again then",
    };
    const { user } = renderPage(<Phone />);
    expect(await screen.findByRole("alert")).toHaveTextContent("opens at 13:45");
    delete server.refusals["/api/phone/start"];
    await user.click(screen.getByRole("button", { name: "Try again" }));
    await screen.findByText("You take part from somewhere else today.");
  });
});
