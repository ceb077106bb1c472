import { type Schemas, useRead } from "../api/client";

/** The lists that may be used, as groups to choose; another's with whose it is. */
export function useListGroups(): Schemas["Choice"][] {
  const lists = useRead("/api/lists").data ?? [];
  return lists.map((l) => ({ value: `list:${l.id}`, label: l.own ? l.name : `${l.name} (${l.by})`, kind: "list" }));
}
