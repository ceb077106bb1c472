import { QueryClient } from "@tanstack/react-query";
import { Refusal } from "./client";

/** The pages' cache: what was shown stays until the new has come, so that nothing jumps. */
export function newQueries(tries = 3): QueryClient {
  return new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 30_000,
        placeholderData: <T>(previous: T) => previous,
        retry: (count, error) => !(error instanceof Refusal) && count < tries,
      },
    },
  });
}
