import { useAddress } from "../../parts/look-at";
import { useScope } from "../../parts/scope";

/** Of whom a part of Follow-up is, as its address says, and the same as the end of a file's address. */
export function useAsked() {
  const { at, params } = useAddress();
  const asked = {
    at,
    section: useScope(),
    group: params.get("group") ?? undefined,
    owner: Number(params.get("owner")) || undefined,
    overdue: params.has("overdue") || undefined,
  };
  return asked;
}

/** What is asked, as a file's address has it. */
export function asQuery(asked: Record<string, unknown>): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(asked)) if (value !== undefined) query.set(name, String(value));
  return String(query);
}
