import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** What every page's address holds: the moment looked at and the open student. */
export function useAddress() {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (changes: Record<string, string | undefined>, replace = true) => {
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          for (const [name, value] of Object.entries(changes)) {
            if (value === undefined || value === "") next.delete(name);
            else next.set(name, value);
          }
          return next;
        },
        { replace },
      );
    },
    [setParams],
  );
  return { at: params.get("at") ?? undefined, student: params.get("student") ?? undefined, params, set };
}
