import { QueryClient } from "@tanstack/react-query";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { type Change, lookAgain, lookNow, whileWriting } from "./again";
import { followLive } from "./live";
import { covers } from "./topics";

const register = "/api/registers/{class}/{slot}";
const keys = [
  [register, { class: 48, slot: "AM", at: undefined }],
  [register, { class: 48, slot: "AM", at: "2026-03-09" }],
  [register, { class: 48, slot: "1", at: undefined }],
  [register, { class: 90, slot: "AM", at: undefined }],
  ["/api/today", {}],
  ["/api/outbox", {}],
  ["/api/school", {}],
];

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function stale(event: Change): Promise<number[]> {
  const queries = new QueryClient();
  for (const key of keys) queries.setQueryData(key, {});
  void lookAgain(queries, event);
  await vi.advanceTimersByTimeAsync(10);
  return keys.flatMap((key, i) => (queries.getQueryState(key)?.isInvalidated ? [i] : []));
}

it("looks again at the one register that an event names", async () => {
  expect(await stale({ seq: 1, about: ["day"], scope: "2026-03-10 48 AM" })).toEqual([0]);
  expect(await stale({ seq: 1, about: ["day"], scope: "2026-03-09 48 AM" })).toEqual([0, 1]);
});

it("looks again at what shows something of an event's topics, and at everything after a break", async () => {
  expect(await stale({ seq: 1, about: ["day"] })).toEqual([0, 1, 2, 3, 4, 5]);
  expect(await stale({ seq: 1, about: ["messages"] })).toEqual([4, 5]);
  expect(await stale({ seq: 1, about: ["accounts"] })).toEqual([6]);
  expect(await stale({})).toEqual([0, 1, 2, 3, 4, 5, 6]);
});

it("does not ask again for what an answer covers already", async () => {
  covers(["/api/today", {}], 7);
  expect(await stale({ seq: 7, about: ["messages"] })).toEqual([5]);
  expect(await stale({ seq: 8, about: ["messages"] })).toEqual([4, 5]);
  covers(["/api/today", {}], -1);
});

/** A page that shows today, and how often it has asked; each answer covers what the server has so far. */
function page() {
  const queries = new QueryClient();
  const server = { asked: 0, entry: 0 };
  const key = ["/api/today", { page: "own" }];
  const look = () =>
    queries.fetchQuery({
      queryKey: key,
      queryFn: async () => {
        server.asked++;
        const { entry } = server;
        await new Promise((answer) => setTimeout(answer, 5));
        covers(key, entry);
        return server.asked;
      },
    });
  const unsubscribe = queries.getQueryCache().subscribe((event) => {
    if (event.type === "updated" && event.action.type === "invalidate") void look();
  });
  return { queries, server, look, unsubscribe };
}

it("asks at most four times a second however many changes come", async () => {
  const { queries, server, look, unsubscribe } = page();
  await Promise.all([look(), vi.advanceTimersByTimeAsync(10)]);
  for (let i = 0; i < 100; i++) {
    server.entry++;
    void lookAgain(queries, { seq: server.entry, about: ["day"] });
    await vi.advanceTimersByTimeAsync(10);
  }
  await vi.advanceTimersByTimeAsync(400);
  expect(server.asked).toBeLessThan(8);
  expect(server.asked).toBeGreaterThan(3);
  unsubscribe();
});

it("asks once for what it has written itself, whichever comes first", async () => {
  for (const eventFirst of [true, false]) {
    const { queries, server, look, unsubscribe } = page();
    await Promise.all([look(), vi.advanceTimersByTimeAsync(1_000)]);
    server.asked = 0;
    const told = () => void lookAgain(queries, { seq: 9, about: ["day"] });
    const written = whileWriting(queries, async () => {
      await new Promise((answer) => setTimeout(answer, 20));
      server.entry = 9;
      if (eventFirst) told();
      await new Promise((answer) => setTimeout(answer, 3));
      await lookNow(queries);
    });
    await vi.advanceTimersByTimeAsync(40);
    await written;
    if (!eventFirst) told();
    await vi.advanceTimersByTimeAsync(1_000);
    expect(server.asked).toBe(1);
    unsubscribe();
  }
});

/** A stream as the browser has it, which the test breaks. */
class Stream {
  static all: Stream[] = [];
  static readonly CLOSED = 2;
  readyState = 1;
  onopen?: () => void;
  onerror?: () => void;
  onmessage?: (event: { data: string }) => void;
  close = vi.fn();
  constructor() {
    Stream.all.push(this);
  }
}

it("opens the line again when the server has refused it, and tells every tab that it is down", async () => {
  vi.stubGlobal("EventSource", Stream);
  Stream.all = [];
  const told: unknown[] = [];
  vi.stubGlobal(
    "BroadcastChannel",
    class {
      onmessage?: unknown;
      postMessage = (data: unknown) => void told.push(data);
      close() {}
    },
  );
  const lines: boolean[] = [];
  const stop = followLive(
    new QueryClient(),
    (on) => lines.push(on),
    () => undefined,
  );
  Stream.all[0]?.onopen?.();
  const first = Stream.all[0] as Stream;
  first.readyState = Stream.CLOSED; // as after an answer that is no stream
  first.onerror?.();
  expect(lines).toEqual([true, false]);
  expect(told).toContainEqual({ line: false });
  await vi.advanceTimersByTimeAsync(1_000);
  expect(Stream.all).toHaveLength(2);
  Stream.all[1]?.onopen?.();
  expect(lines).toEqual([true, false, true]);
  expect(told.at(-1)).toEqual({ event: "" });
  stop();
  expect(Stream.all[1]?.close).toHaveBeenCalled();
});
