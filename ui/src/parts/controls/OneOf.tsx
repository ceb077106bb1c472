import { Radio } from "antd";
import type { ReactNode } from "react";

/** One of a few that all stand there; the arrows choose. */
export function OneOf<V extends string | number>({
  label,
  value,
  onChange,
  options,
}: {
  label: string;
  value: V;
  onChange: (value: V) => void;
  options: { value: V; label: ReactNode }[];
}) {
  return (
    <Radio.Group
      aria-label={label}
      className="one-of"
      value={value}
      onChange={(e) => onChange(e.target.value as V)}
      options={options}
    />
  );
}
