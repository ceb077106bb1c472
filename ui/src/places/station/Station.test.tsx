import { fireEvent, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { renderPage, testServer } from "../../test-page";
import Station from "./Station";

const page: Schemas["StationPage"] = {
  id: 1,
  name: "Pier",
  school: "Fairlead School",
  arrive: ["ferry", "overslept"],
  leave: ["ill"],
  now: "2026-03-10T09:12",
};

const juno: Schemas["StationStudent"] = { given: "Juno", initial: "S", kind: "arrived", late: true, since: "" };

function open(who = juno, bound = true) {
  const server = testServer({
    "/api/station": page,
    "/api/station/who": who,
    "/api/station/moves": { given: "Juno", initial: "S", kind: "arrived", at: "09:12", already: false },
  });
  if (!bound) server.refusals["/api/station"] = { status: 403, detail: "this device is no station" };
  return { ...renderPage(<Station />), server };
}

describe("a station", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("takes a number by touch, asks why, thanks, and stands ready again", async () => {
    const { user, server } = open();
    for (const digit of "40009") await user.click(await screen.findByRole("button", { name: digit }));
    await user.click(screen.getByRole("button", { name: "Take the last digit away" }));
    await user.click(screen.getByRole("button", { name: "7" }));
    await user.click(screen.getByRole("button", { name: "Continue" }));
    expect(await screen.findByRole("heading", { name: "Hello Juno S." })).toBeInTheDocument();
    expect(server.sent[0]).toMatchObject({ path: "/api/station/who", body: { number: "40007" } });
    await user.click(screen.getByRole("button", { name: "overslept" }));
    expect(await screen.findByText("Thank you, Juno S. You are in.")).toBeInTheDocument();
    expect(server.sent[1]?.body).toEqual({ number: "40007", kind: "arrived", reason: "overslept" });
    await user.click(screen.getByRole("button", { name: "Next" }));
    expect(screen.getByText("Hold your card to the reader, or type your number")).toBeInTheDocument();
    expect(screen.queryByText(/Juno/)).not.toBeInTheDocument();
  });

  it("stores a hurried second touch once", async () => {
    const { user, server } = open();
    await user.click(await screen.findByRole("button", { name: "7" }));
    await user.click(screen.getByRole("button", { name: "Continue" }));
    const ferry = await screen.findByRole("button", { name: "ferry" });
    fireEvent.click(ferry);
    fireEvent.click(ferry);
    await screen.findByText(/Thank you/);
    expect(server.sent.filter((s) => s.path === "/api/station/moves")).toHaveLength(1);
  });

  it("asks nobody why who is on time, and who leaves why", async () => {
    const { user } = open({ ...juno, late: false });
    await user.click(await screen.findByRole("button", { name: "7" }));
    await user.click(screen.getByRole("button", { name: "Continue" }));
    expect(await screen.findByRole("button", { name: "Sign in" })).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "I am leaving" }));
    expect(screen.getByText("Why do you leave?")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "ill" })).toBeInTheDocument();
  });

  it("says what was wrong and that nothing was saved", async () => {
    const { user, server } = open();
    server.refusals["/api/station/who"] = { status: 404, detail: "nobody here has that number" };
    await user.click(await screen.findByRole("button", { name: "7" }));
    await user.click(screen.getByRole("button", { name: "Continue" }));
    expect(await screen.findByRole("alert")).toHaveTextContent("Nobody here has that number");
    expect(screen.getByText("Nothing was saved.")).toBeInTheDocument();
    await user.click(screen.getByRole("button", { name: "Try again" }));
    expect(screen.getByText("Hold your card to the reader, or type your number")).toBeInTheDocument();
  });

  it("is made of a device by a code, once", async () => {
    const { user, server } = open(juno, false);
    expect(await screen.findByText("This device is not set up as a station")).toBeInTheDocument();
    server.refusals["/api/station/bind"] = { status: 403, detail: "that code is wrong" };
    const field = screen.getByLabelText("Code");
    await user.type(field, "12345678{Enter}");
    expect(await screen.findByText("that code is wrong")).toBeInTheDocument();
    delete server.refusals["/api/station"];
    delete server.refusals["/api/station/bind"];
    await user.type(field, "{Enter}");
    expect(await screen.findByText(/Hold your card to the reader/)).toBeInTheDocument();
  });

  it("signs a visitor in with a badge, and out with badge and name", async () => {
    const { user, server } = open();
    server.answers["/api/station/visits"] = { name: "Hedda Lorne", badge: "12", at: "09:12" };
    await user.click(await screen.findByRole("button", { name: "I am a visitor" }));
    await user.type(screen.getByLabelText("Your name"), "Hedda Lorne");
    await user.type(screen.getByLabelText("Whom you visit"), "M. Jahn");
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    expect(await screen.findByText("Thank you, Hedda Lorne. Your badge is 12.")).toBeInTheDocument();
    expect(server.sent[0]?.body).toEqual({ name: "Hedda Lorne", firm: "", host: "M. Jahn", badge: "" });
    await user.click(screen.getByRole("button", { name: "Next" }));
    await user.click(screen.getByRole("button", { name: "I am a visitor" }));
    await user.click(screen.getByRole("button", { name: "I am leaving" }));
    await user.type(screen.getByLabelText("Your family name"), "Lorne");
    await user.type(screen.getByLabelText("The number of your badge"), "12");
    await user.click(screen.getByRole("button", { name: "Sign out" }));
    expect(await screen.findByText(/You are signed out/)).toBeInTheDocument();
    expect(server.sent[1]?.body).toEqual({ name: "Lorne", badge: "12", leave: true });
  });
});
