import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { renderPage, testServer } from "../test-page";
import { singleKeys, useKeys } from "./keys";
import { tell } from "./told";

describe("what a person is told", () => {
  afterEach(() => vi.unstubAllGlobals());

  it("is read out, can be taken back once, and is closed by hand", async () => {
    const server = testServer({ "/api/entries/7/back": { seq: 8, text: "taken back", ids: [] } });
    const { user } = renderPage(<main />);
    act(() => tell.receipt({ seq: 7, text: "ivar Whimbrel signed in", ids: [], undo: true }));
    act(() => tell.wrong("nobody of that name; nothing was saved"));
    expect(screen.getByText("Ivar Whimbrel signed in").closest("[role=status]")).not.toBeNull();
    expect(screen.getByRole("alert")).toHaveTextContent("Nobody of that name; nothing was saved");
    await user.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(server.sent.map((s) => s.path)).toEqual(["/api/entries/7/back"]));
    expect(await screen.findByText("Taken back")).toBeInTheDocument();
    expect(screen.queryByText("Ivar Whimbrel signed in")).toBeNull();
    await user.click(screen.getByRole("button", { name: /^Close: Nobody of that name/ }));
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("goes by itself, but not while it is looked at, and never stands twice", async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    testServer({});
    const { user } = renderPage(<main />);
    act(() => tell.done("stored"));
    act(() => tell.done("stored"));
    expect(screen.getAllByText("Stored")).toHaveLength(1);
    await user.hover(screen.getByText("Stored"));
    act(() => void vi.advanceTimersByTime(60_000));
    expect(screen.getByText("Stored")).toBeInTheDocument();
    await user.unhover(screen.getByText("Stored"));
    act(() => void vi.advanceTimersByTime(60_000));
    expect(screen.queryByText("Stored")).toBeNull();
    vi.useRealTimers();
  });
});

describe("single keys", () => {
  afterEach(() => {
    singleKeys.set(false);
    vi.unstubAllGlobals();
  });

  it("are silent while they are switched off; Enter and arrows are not", async () => {
    testServer({});
    const did: string[] = [];
    function Page() {
      useKeys({
        z: () => did.push("z"),
        "?": () => did.push("?"),
        Enter: () => did.push("Enter"),
        "Ctrl+z": () => did.push("Ctrl+z"),
      });
      return <main />;
    }
    const { user } = renderPage(<Page />);
    await user.keyboard("z?{Enter}");
    expect(did).toEqual(["z", "?", "Enter"]);
    singleKeys.set(true);
    await user.keyboard("z?{Enter}{Control>}z{/Control}");
    expect(did).toEqual(["z", "?", "Enter", "Enter", "Ctrl+z"]);
  });

  it("are silent while something lies over the page, wherever the focus is", async () => {
    testServer({});
    const did: string[] = [];
    function Page() {
      useKeys({ z: () => did.push("z") });
      return <div className="ant-modal-wrap">over it</div>;
    }
    const { user, unmount } = renderPage(<Page />);
    await user.keyboard("z");
    expect(did).toEqual([]);
    unmount();
  });
});
