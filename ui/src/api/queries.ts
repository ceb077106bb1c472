import { QueryClient } from "@tanstack/react-query";
import { Refusal } from "./client";

/** The pages' cache. */
export function newQueries(tries = 3): QueryClient {
  return new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 30_000,
        retry: (count, error) => !(error instanceof Refusal) && count < tries,
      },
    },
  });
}
