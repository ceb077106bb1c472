import { useRef } from "react";
import { Refusal } from "../api/client";
import { latestCovered } from "../api/topics";

/**
 * Up to where the work of others had been seen when something was begun. What is sent with it is refused
 * once where somebody else has dealt with the same since; whoever has been told may send it again.
 */
export function useSeen() {
  const seen = useRef<number>(undefined);
  return {
    /** Something is begun, unless it was: from here on, what others do may not have been seen. */
    begin: () => {
      seen.current ??= latestCovered();
    },
    /** It is over: stored, or left. */
    end: () => {
      seen.current = undefined;
    },
    /** What to send with it. */
    entry: () => seen.current ?? latestCovered(),
    /** Somebody else was first, and whoever sent it has been told. */
    told: (error: Error) => {
      if (error instanceof Refusal && error.status === 409) seen.current = 0;
    },
  };
}
