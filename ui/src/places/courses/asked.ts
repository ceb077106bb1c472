import type { Read } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { useScope } from "../../parts/scope";

export type By = "course" | "class" | "area" | "year" | "form" | "leaving";

/** What the address asks for; every view of the place is asked alike. */
export function useAsked() {
  const { at, params } = useAddress();
  return {
    at,
    section: useScope(),
    group: params.get("group") ?? undefined,
    period: params.get("period") ?? undefined,
    by: (params.get("by") ?? undefined) as By | undefined,
  };
}

export type Asked = ReturnType<typeof useAsked>;
export type Frame = Pick<Read<"/api/courses">, "any" | "period" | "periods" | "groups" | "rule" | "own">;
