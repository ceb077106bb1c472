import { useScope } from "../parts/scope";
import { useRead } from "./client";

/** What the school has decided; read once, since it seldom changes. */
export function useSettings() {
  return useRead("/api/settings", { section: useScope() }, { staleTime: 600_000 });
}
