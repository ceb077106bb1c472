import { QueryClient } from "@tanstack/react-query";
import { expect, it } from "vitest";
import { refresh } from "./live";

const register = "/api/registers/{class}/{slot}";
const keys = [
  [register, { class: 48, slot: "AM", at: undefined }],
  [register, { class: 48, slot: "AM", at: "2026-03-09" }],
  [register, { class: 48, slot: "1", at: undefined }],
  [register, { class: 90, slot: "AM", at: undefined }],
  ["/api/today", {}],
];

function stale(event: Parameters<typeof refresh>[1]): number[] {
  const queries = new QueryClient();
  for (const key of keys) queries.setQueryData(key, {});
  refresh(queries, event);
  return keys.flatMap((key, i) => (queries.getQueryState(key)?.isInvalidated ? [i] : []));
}

it("looks again at the one register that an event names", () => {
  expect(stale({ seq: 1, kind: "draft", scope: "2026-03-10 48 AM" })).toEqual([0]);
  expect(stale({ seq: 1, kind: "draft", scope: "2026-03-09 48 AM" })).toEqual([0, 1]);
});

it("looks again at everything otherwise, and after a break", () => {
  expect(stale({ seq: 1, kind: "movement" })).toEqual([0, 1, 2, 3, 4]);
  expect(stale({})).toEqual([0, 1, 2, 3, 4]);
});
