import { useAddress } from "../../parts/look-at";

/** What the address asks for. */
export function useAsked() {
  const { at, params } = useAddress();
  return {
    at,
    policy: params.get("policy") ?? undefined,
    from: params.get("from") ?? undefined,
    to: params.get("to") ?? undefined,
    group: params.get("group") ?? undefined,
  };
}
