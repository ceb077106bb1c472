/** What the address asks for. */
export type Asked = Record<"at" | "from" | "to" | "group" | "kind", string | undefined>;

/** A query string of what is asked for. */
export function queryOf(asked: Record<string, string | undefined>): string {
  return new URLSearchParams(
    Object.entries(asked).filter((e): e is [string, string] => e[1] !== undefined && e[1] !== ""),
  ).toString();
}
