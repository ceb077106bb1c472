import { type Schemas, useRead } from "../api/client";

/** What a school itself makes groups of: the lists that may be used, another's with whose it is, and own fields. */
export function useListGroups(): Schemas["Choice"][] {
  const lists = useRead("/api/lists").data ?? [];
  const chosen = useRead("/api/own-fields/groups").data ?? [];
  return [
    ...lists.map((l) => ({ value: `list:${l.id}`, label: l.own ? l.name : `${l.name} (${l.by})`, kind: "list" })),
    ...chosen,
  ];
}
