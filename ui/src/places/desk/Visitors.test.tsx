import { screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, testServer } from "../../test-page";
import { Visitors } from "./Visitors";

const visits: Schemas["VisitsView"] = {
  in: [
    {
      id: 4,
      kind: "visitor",
      name: "H. Lorne",
      firm: "Harbour Works",
      host: "M. Jahn",
      badge: "12",
      from: "08:40",
      to: "",
      by: "M. Kersey",
    },
  ],
  left: [{ id: 3, kind: "staff", name: "J. Aune", firm: "", host: "", badge: "", from: "07:50", to: "09:10", by: "" }],
  staff: [
    { id: 1, name: "P. Osk" },
    { id: 3, name: "T. Rask" },
  ],
};

function open() {
  const server = testServer({ "/api/visits": visits });
  return { ...renderPage(<Visitors />), server };
}

describe("visitors and staff at the desk", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("sign in with what the roll call needs, and leave with one touch", async () => {
    const { user, server } = open();
    expect(await screen.findByText("Harbour Works · host M. Jahn · badge 12 · in 08:40")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "H. Lorne leaves" }));
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/visits/4/end"));
    await user.click(screen.getByRole("button", { name: "Sign a visitor in" }));
    await user.type(screen.getByLabelText("Visitor: name"), "B. Olin");
    await user.type(screen.getByLabelText("Visitor: whom they visit"), "P. Osk{Enter}");
    await waitFor(() => expect(server.sent[1]?.body).toEqual({ name: "B. Olin", firm: "", host: "P. Osk", badge: "" }));
  });

  it("are in after all where somebody was signed out by mistake; staff are chosen, not typed", async () => {
    const { user, server } = open();
    await user.click(await screen.findByRole("button", { name: "1 left today" }));
    await user.click(screen.getByRole("button", { name: "is in after all" }));
    await waitFor(() => expect(server.sent[0]?.path).toBe("/api/visits/3/back"));
    await user.click(screen.getByRole("button", { name: "Sign staff in" }));
    await user.type(screen.getByRole("combobox", { name: "Who of the staff" }), "rask");
    await user.click(await screen.findByText("T. Rask", { selector: ".ant-select-item-option-content" }));
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    await waitFor(() => expect(server.sent[1]?.body).toEqual({ staff: 3 }));
  });
});
