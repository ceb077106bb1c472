import { Select } from "antd";
import type { Schemas } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { grouped } from "../../parts/grouped";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";

type View = Schemas["ConductView"];

const weekdays = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday"].map((label, n) => ({
  value: String(n + 1),
  label,
}));

const parts = ["did it", "was harmed", "saw it"].map((r) => ({ value: r, label: r }));

const own = "own";

/** Which incidents: dates, whom, and any of their kinds, places, parts, times, actions, and who recorded them. */
export function Search({ v }: { v: View }) {
  const { params, set } = useAddress();
  const lists = useListGroups();
  const choose = (changes: Record<string, string | undefined>) =>
    set({ ...changes, cellRow: undefined, cellTime: undefined });
  const span = v.spans.find((s) => s.value.startsWith(`${v.from}..`) && (s.value.endsWith(v.to) || !params.get("to")));
  const word = (list: Schemas["ConductWordRef"][], none: string) => [
    ...list.map((w) => ({ value: String(w.id), label: w.retired ? `${w.name} (no longer used)` : w.name })),
    { value: "0", label: none },
  ];
  const any = (label: string, name: string, options: { value: string; label: string }[]) => (
    <Select
      mode="multiple"
      aria-label={label}
      className="any"
      value={params.get(name)?.split(",") ?? []}
      placeholder={label}
      maxTagCount="responsive"
      popupMatchSelectWidth={false}
      showSearch={{ optionFilterProp: "label" }}
      onChange={(list: string[]) => choose({ [name]: list.join(",") || undefined })}
      options={options}
    />
  );
  return (
    <div className="search no-print">
      <Select
        aria-label="Span"
        value={span?.value ?? own}
        popupMatchSelectWidth={false}
        className="span"
        onChange={(value: string) => {
          const [from, to] = value === own ? [v.from, v.to] : value.split("..");
          choose({ from, to, beside: undefined });
        }}
        options={[...grouped(v.spans), { value: own, label: "own dates" }]}
      />
      {!span && (
        <span className="dates">
          <DateField label="From" back value={v.from} onChange={(d) => d !== v.from && choose({ from: d, to: v.to })} />
          –
          <DateField label="To" back value={v.to} onChange={(d) => d !== v.to && choose({ from: v.from, to: d })} />
        </span>
      )}
      <Select
        aria-label="Of whom"
        showSearch={{ optionFilterProp: "label" }}
        value={params.get("group") ?? ""}
        popupMatchSelectWidth={false}
        className="whom"
        onChange={(group: string) => choose({ group })}
        options={[
          { value: "", label: "Everyone" },
          ...(params.get("group")?.startsWith("student:")
            ? [{ value: params.get("group") ?? "", label: v.group }]
            : []),
          ...grouped([...v.groups, ...lists]),
        ]}
      />
      {any("every part", "roles", parts)}
      {any("every kind", "kinds", word(v.kinds, "not known"))}
      {any("every place", "spots", word(v.places, "not known"))}
      {any("any time", "times", v.times)}
      {any("any weekday", "weekdays", weekdays)}
      {any("any action", "actions", word(v.actions, "no action yet"))}
      {any(
        "by anyone",
        "by",
        v.by.map((b) => ({ value: b, label: b })),
      )}
      <Tick checked={params.get("incomplete") === "1"} onChange={(on) => choose({ incomplete: on ? "1" : undefined })}>
        incomplete
      </Tick>
    </div>
  );
}
