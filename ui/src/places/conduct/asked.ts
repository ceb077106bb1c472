import { useAddress } from "../../parts/look-at";
import { useScope } from "../../parts/scope";

const numbers = (text: string | null) => (text ? text.split(",").map(Number) : undefined);
const words = (text: string | null) => (text ? text.split(",") : undefined);

/** What the address asks for of incidents: the search, the cell of the grid that is chosen, what stands beside. */
export function useAsked() {
  const { at, params } = useAddress();
  const section = useScope();
  const one = (name: string) => params.get(name) ?? undefined;
  return {
    at,
    section,
    group: one("group"),
    from: one("from"),
    to: one("to"),
    kinds: numbers(params.get("kinds")),
    spots: numbers(params.get("spots")),
    actions: numbers(params.get("actions")),
    times: words(params.get("times")),
    weekdays: numbers(params.get("weekdays")),
    roles: words(params.get("roles")),
    by: words(params.get("by")),
    incomplete: params.get("incomplete") === "1" || undefined,
    rows: one("rows") as "place" | "weekday" | "kind" | undefined,
    cellRow: one("cellRow"),
    cellTime: one("cellTime"),
    beside: one("beside"),
  };
}

/** The address of a file of what is asked for. */
export function fileOf(asked: ReturnType<typeof useAsked>) {
  return (format: "csv" | "xlsx") => {
    const query = new URLSearchParams({ format });
    for (const [name, value] of Object.entries(asked)) {
      if (value === undefined || name.startsWith("cell")) continue;
      query.set(name, Array.isArray(value) ? value.join(",") : String(value));
    }
    return `/api/conduct/file?${query}`;
  };
}
