import { type Schemas, useRead } from "../api/client";

/** What a school itself makes groups of: the lists that may be used, another's with whose it is, and own fields. */
export function useListGroups(may = true): Schemas["Choice"][] {
  const lists = useRead("/api/lists", {}, { enabled: may }).data ?? [];
  const chosen = useRead("/api/own-fields/groups", {}, { enabled: may }).data ?? [];
  return [
    ...lists.map((l) => ({ value: `list:${l.id}`, label: l.own ? l.name : `${l.name} (${l.by})`, kind: "list" })),
    ...chosen,
  ];
}
