import { Select } from "antd";
import { useState } from "react";

export type Option<V> = { value: V; label: string };
export type Options<V> = Option<V>[] | { label: string; options: Option<V>[] }[];

const many = 9; // options from which on they are found by typing

/** One of several: opened by Space, Enter or an arrow, found by typing where there are many. */
export function Choice<V extends string | number>({
  label,
  value,
  onChange,
  options,
  placeholder,
  size,
  disabled,
  className,
  search,
}: {
  label: string;
  value: V | undefined;
  onChange: (value: V) => void;
  options: Options<V>;
  placeholder?: string;
  size?: "small";
  disabled?: boolean;
  className?: string;
  search?: boolean; // whether they are found by typing, where their number does not say so
}) {
  const [open, setOpen] = useState(false);
  const count = options.reduce((n, o) => n + ("options" in o ? o.options.length : 1), 0);
  return (
    <Select<V>
      aria-label={label}
      value={value}
      placeholder={placeholder}
      size={size}
      disabled={disabled}
      className={className}
      popupMatchSelectWidth={false}
      showSearch={(search ?? count >= many) ? { optionFilterProp: "label" } : false}
      open={open}
      onOpenChange={setOpen}
      onInputKeyDown={(e) => {
        if (!open && (e.key === "ArrowDown" || e.key === "ArrowUp")) {
          e.preventDefault();
          setOpen(true);
        }
      }}
      onChange={onChange}
      options={options as Option<V>[]}
    />
  );
}
