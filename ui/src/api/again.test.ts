import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { lookAgain, lookNow } from "./again";

/** A page that follows a number on a server whose answers take a while. */
function page(takes: number) {
  const queries = new QueryClient();
  const server = { n: 0, asked: 0, takes };
  const observer = new QueryObserver(queries, {
    queryKey: ["n"],
    queryFn: async () => {
      server.asked++;
      const n = server.n;
      await new Promise((answer) => setTimeout(answer, server.takes));
      return n;
    },
  });
  const leave = observer.subscribe(() => undefined);
  return { queries, server, leave, shown: () => observer.getCurrentResult().data };
}

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

it("shows what is new although changes come faster than answers, and asks no more often than it can show", async () => {
  const { queries, server, leave, shown } = page(500);
  await vi.advanceTimersByTimeAsync(500);
  for (let change = 1; change <= 100; change++) {
    server.n = change;
    void lookAgain(queries);
    await vi.advanceTimersByTimeAsync(50);
    if (change >= 20) expect(Number(shown())).toBeGreaterThan(change - 21);
  }
  expect(server.asked).toBeLessThan(14);
  await vi.advanceTimersByTimeAsync(1_000);
  expect(shown()).toBe(100);
  leave();
});

it("is done when what changed before the call is shown", async () => {
  const { queries, server, leave, shown } = page(500);
  await vi.advanceTimersByTimeAsync(500);
  void lookAgain(queries);
  await vi.advanceTimersByTimeAsync(10);
  server.n = 7;
  const seen = lookAgain(queries).then(shown);
  await vi.advanceTimersByTimeAsync(1_000);
  await expect(seen).resolves.toBe(7);
  leave();
});

it("asks again for a first answer that was on its way when something changed", async () => {
  const { queries, server, leave, shown } = page(500);
  await vi.advanceTimersByTimeAsync(10);
  server.n = 7;
  const seen = lookAgain(queries).then(shown);
  await vi.advanceTimersByTimeAsync(1_000);
  await expect(seen).resolves.toBe(7);
  leave();
});

it("does not make whoever has written wait for the round before", async () => {
  const { queries, server, leave, shown } = page(500);
  await vi.advanceTimersByTimeAsync(500);
  void lookAgain(queries);
  void lookAgain(queries);
  await vi.advanceTimersByTimeAsync(400);
  server.n = 7;
  const seen = lookNow(queries).then(shown);
  await vi.advanceTimersByTimeAsync(500);
  await expect(seen).resolves.toBe(7);
  expect(server.asked).toBe(3);
  leave();
});

it("goes on after a while where an answer does not come", async () => {
  const { queries, server, leave } = page(500);
  await vi.advanceTimersByTimeAsync(500);
  server.takes = 60_000;
  void lookAgain(queries);
  await vi.advanceTimersByTimeAsync(1);
  void lookAgain(queries);
  expect(server.asked).toBe(2);
  await vi.advanceTimersByTimeAsync(3_010);
  expect(server.asked).toBe(3);
  leave();
});
