import { InputNumber } from "antd";

/** A whole number with its unit. An arrow adds or takes one; what is out of bounds is brought into them. */
export function NumberField({
  label,
  unit,
  value,
  onChange,
  min = 0,
  max,
  size,
}: {
  label: string;
  unit: string; // as it stands behind the number
  value: number | undefined;
  onChange: (n: number | undefined) => void;
  min?: number;
  max: number;
  size?: "small";
}) {
  return (
    <InputNumber
      aria-label={`${label}, ${unit}`}
      className="number-field"
      controls={false}
      precision={0}
      min={min}
      max={max}
      size={size}
      suffix={unit}
      value={value ?? null}
      onChange={(n) => onChange(n === null ? undefined : Number(n))}
    />
  );
}
