/** What the address asks for. */
export type Asked = Record<"at" | "from" | "to" | "group" | "kind", string | undefined> & {
  section?: number[] | undefined;
};

/** A query string of what is asked for. */
export function queryOf(asked: Record<string, string | number[] | undefined>): string {
  return new URLSearchParams(
    Object.entries(asked)
      .map(([name, value]): [string, string] => [name, Array.isArray(value) ? value.join(",") : (value ?? "")])
      .filter(([, value]) => value !== ""),
  ).toString();
}
