import { Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";

export type Chosen = { id?: number; new?: string };

const fresh = "new:";
const keyOf = (c: Chosen) => (c.new ? fresh + c.new : String(c.id));
const chosenOf = (key: string): Chosen =>
  key.startsWith(fresh) ? { new: key.slice(fresh.length) } : { id: Number(key) };

/** One word of the school's lists, or several: found by typing; who may adds one that the list lacks. */
export function WordField({
  label,
  list,
  value,
  onChange,
  several = false,
  mayAdd,
}: {
  label: string;
  list: Schemas["ConductListView"];
  value: Chosen[];
  onChange: (value: Chosen[]) => void;
  several?: boolean;
  mayAdd: boolean;
}) {
  const [typed, setTyped] = useState("");
  const text = typed.trim();
  const there = list.words.filter((w) => !w.retired || value.some((v) => v.id === w.id));
  const options = there.map((w) => ({ value: String(w.id), label: w.name }));
  for (const v of value) if (v.new) options.push({ value: keyOf(v), label: v.new });
  if (mayAdd && text && !options.some((o) => o.label.toLowerCase() === text.toLowerCase()))
    options.push({ value: fresh + text, label: `add “${text}”` });
  if (!several && value.length > 0) options.push({ value: "", label: "not known" });
  const keys = value.map(keyOf);
  return (
    <Select<string | string[]>
      aria-label={label}
      mode={several ? "multiple" : undefined}
      showSearch={{ optionFilterProp: "label", onSearch: setTyped }}
      value={several ? keys : keys[0]}
      placeholder={several ? "none yet" : "not known"}
      popupMatchSelectWidth={false}
      notFoundContent={mayAdd ? "Type a word to add it." : "No such word; the office adds one."}
      onChange={(next) => {
        setTyped("");
        onChange((Array.isArray(next) ? next : next ? [next] : []).map(chosenOf));
      }}
      options={options}
    />
  );
}
