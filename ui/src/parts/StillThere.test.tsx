import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { renderPage, testServer } from "../test-page";
import { StillThere } from "./StillThere";

afterEach(() => {
  vi.useRealTimers();
});

describe("a sign-in that nobody uses", () => {
  it("is asked about before it ends, and goes on with one key", async () => {
    const server = testServer({ "/api/session/left": { seconds: 240, longest: false } });
    const { user } = renderPage(<StillThere />);
    const stay = await screen.findByRole("button", { name: "Stay signed in" });
    await waitFor(() => expect(stay).toHaveFocus());
    server.answers["/api/session/left"] = { seconds: 7200, longest: false };
    await user.click(stay);
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    const last = vi.mocked(fetch).mock.lastCall?.[0] as Request;
    expect(last.headers.has("Meldung-Untouched"), "a person answered").toBe(false);
  });

  it("is asked about when the time comes, and no sooner", async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    const server = testServer({ "/api/session/left": { seconds: 1000, longest: false } });
    renderPage(<StillThere />);
    await waitFor(() => expect(server.asked).toHaveLength(1));
    await act(() => vi.advanceTimersByTimeAsync(690_000));
    expect(server.asked).toHaveLength(1);
    expect(screen.queryByRole("dialog")).toBeNull();
    server.answers["/api/session/left"] = { seconds: 300, longest: false };
    await act(() => vi.advanceTimersByTimeAsync(11_000));
    expect(await screen.findByRole("dialog", { name: "Are you still there?" })).toBeInTheDocument();
  });

  it("says once that it ends whatever is done", async () => {
    testServer({ "/api/session/left": { seconds: 100, longest: true } });
    const { user } = renderPage(<StillThere />);
    await screen.findByRole("dialog", { name: /^Your sign-in ends at/ });
    await user.click(screen.getByRole("button", { name: "OK" }));
    await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  });
});
