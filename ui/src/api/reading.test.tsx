import { QueryClientProvider } from "@tanstack/react-query";
import { renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, expect, it, vi } from "vitest";
import { rail, testServer } from "../test-page";
import { useRead } from "./client";
import { newQueries } from "./queries";

afterEach(() => vi.unstubAllGlobals());

/** Reads a sheet, then asks for another while the answer to that is withheld; says what shows meanwhile. */
async function meanwhile(first: { id: number; at?: string }, then: { id: number; at?: string }) {
  const { answers } = testServer({ "/api/students/1": { student: { id: 1 } } });
  const queries = newQueries(0);
  queries.setQueryData(["/api/rail", {}], rail);
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  const { result, rerender } = renderHook((asked) => useRead("/api/students/{id}", asked), {
    wrapper,
    initialProps: first,
  });
  await waitFor(() => expect(result.current.data?.student.id).toBe(1));
  answers[`/api/students/${then.id}`] = () => new Promise(() => undefined);
  rerender(then);
  return result.current.data?.student.id;
}

it("shows nobody under another's name while they are on their way", async () => {
  expect(await meanwhile({ id: 1 }, { id: 2 })).toBeUndefined();
  expect(await meanwhile({ id: 1, at: "2026-03-10" }, { id: 1, at: "2026-03-09" })).toBeUndefined();
  expect(await meanwhile({ id: 1, at: "2026-03-09" }, { id: 1 })).toBeUndefined();
});

it("keeps what stands while another minute of the day is on its way", async () => {
  expect(await meanwhile({ id: 1, at: "2026-03-10T08:40" }, { id: 1, at: "2026-03-10T08:41" })).toBe(1);
  expect(await meanwhile({ id: 1 }, { id: 1, at: "2026-03-10T08:41" })).toBe(1);
});
