import { Select } from "antd";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { grouped } from "../../parts/grouped";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";

/** Of whom a list is, and in whose hands. */
export function Filters({
  groups,
  owners,
  children,
}: {
  groups: Schemas["Choice"][];
  owners?: Schemas["OwnerRef"][];
  children?: ReactNode;
}) {
  const { params, set } = useAddress();
  const lists = useListGroups(true);
  return (
    <span className="no-print look-actions look-here">
      <Select
        aria-label="Of whom"
        showSearch={{ optionFilterProp: "label" }}
        value={params.get("group") ?? ""}
        popupMatchSelectWidth={false}
        onChange={(group: string) => set({ group })}
        options={[{ value: "", label: "Everyone" }, ...grouped([...groups, ...lists])]}
      />
      {owners && (
        <Choice
          label="Whose cases"
          value={Number(params.get("owner")) || 0}
          onChange={(owner) => set({ owner: owner ? String(owner) : undefined })}
          options={[
            { value: 0, label: "In anybody’s hands" },
            ...owners.map((o) => ({ value: o.id, label: o.mine ? "In mine" : o.name })),
          ]}
        />
      )}
      {children}
    </span>
  );
}
