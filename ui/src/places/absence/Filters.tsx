import { Select } from "antd";
import type { Schemas } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { grouped } from "../../parts/grouped";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { PolicyLink } from "../../parts/PolicyLink";

/** What every page of figures offers to choose from; those with lines also which one matters. */
type View = Pick<Schemas["AbsenceView"], "policy" | "policies" | "spans" | "groups" | "from" | "asAt"> &
  Partial<Pick<Schemas["AbsenceView"], "lines" | "line" | "bands">>;

const own = "own";

/** What is measured, over which dates, for whom, and which line matters. */
export function Filters({ p, children }: { p: View; children?: React.ReactNode }) {
  const { params, set } = useAddress();
  const lists = useListGroups();
  const year = p.spans.find((s) => s.kind === "year");
  const from = params.get("from") ?? "";
  const to = params.get("to") ?? "";
  const chosen = p.spans.find((s) => s.kind !== "year" && s.value === `${from}..${to}`);
  const span = !from && !to ? (year?.value ?? own) : (chosen?.value ?? own);
  const choose = (changes: Record<string, string | undefined>) => set({ ...changes, why: undefined });

  const chooseSpan = (value: string) => {
    if (value === year?.value) return choose({ from: undefined, to: undefined });
    if (value === own) return choose({ from: p.from, to: p.asAt });
    const [first, last] = value.split("..");
    choose({ from: first, to: last });
  };
  return (
    <div className="filters">
      <Select
        aria-label="Measured by"
        value={p.policy}
        popupMatchSelectWidth={false}
        className="policy"
        onChange={(v) => choose({ policy: v === "ten-percent" ? undefined : v, line: undefined, band: undefined })}
        options={p.policies.map((c) => ({ value: c.value, label: c.label }))}
      />
      <span className="look-small no-print">
        <PolicyLink id={p.policy}>what it says</PolicyLink>
      </span>
      <Select
        aria-label="Span"
        value={span}
        popupMatchSelectWidth={false}
        className="span"
        onChange={chooseSpan}
        options={[
          ...(year ? [{ value: year.value, label: year.label }] : []),
          ...grouped(p.spans.filter((s) => s.kind !== "year")),
          { value: own, label: "own dates" },
        ]}
      />
      {span === own && (
        <span className="dates">
          <DateField
            label="From"
            back
            value={from || p.from}
            onChange={(d) => d !== from && choose({ from: d, to: to || p.asAt })}
          />
          –
          <DateField
            label="To"
            back
            value={to || p.asAt}
            onChange={(d) => d !== to && choose({ from: from || p.from, to: d })}
          />
        </span>
      )}
      <Select
        aria-label="Of whom"
        showSearch={{ optionFilterProp: "label" }}
        value={params.get("group") ?? ""}
        popupMatchSelectWidth={false}
        className="whom"
        onChange={(v) => choose({ group: v })}
        options={[{ value: "", label: "Everyone" }, ...grouped([...p.groups, ...lists])]}
      />
      {p.lines && (
        <Select
          aria-label="Nearest to"
          value={params.get("line") ?? p.lines?.find((l) => l.label === p.line)?.value}
          className="line-near"
          onChange={(v) => choose({ line: v, sort: "near", up: undefined })}
          options={p.lines.map((l) => ({ value: l.value, label: `nearest to ${l.label} %` }))}
        />
      )}
      {p.bands && p.bands.length > 0 && (
        <Select
          aria-label="Band"
          value={params.get("band") ?? ""}
          popupMatchSelectWidth={false}
          className="band-of"
          onChange={(v) => choose({ band: v })}
          options={[
            { value: "", label: "every band" },
            ...p.bands.map((b, i) => ({ value: String(i), label: `${b.name} ${b.count}` })),
          ]}
        />
      )}
      {children}
    </div>
  );
}
