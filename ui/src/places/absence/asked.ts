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

/** Where what is shown is had as a file: the same asking, in a format. What is undefined is not asked. */
export function fileAt(path: string, asked: Record<string, unknown>, format: string): string {
  const given = Object.entries({ ...asked, format }).filter(([, v]) => v !== undefined);
  return `${path}?${new URLSearchParams(given.map(([k, v]) => [k, String(v)]))}`;
}
