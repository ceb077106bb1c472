import { Input, type InputProps, type InputRef } from "antd";
import type { Ref } from "react";
import { typedTime } from "./dates";

/**
 * A time of the day. It is typed, `925` or `9:25`, and shows `09:25` when the field is left; what is no time stays as
 * it was typed, marked, and the server says what is wrong with it.
 */
export function TimeField({
  label,
  value,
  onChange,
  className = "",
  ...more
}: {
  label: string;
  value: string;
  onChange: (typed: string) => void;
  ref?: Ref<InputRef>;
} & Omit<InputProps, "value" | "onChange" | "type">) {
  return (
    <Input
      {...more}
      aria-label={label}
      className={`time-field ${className}`}
      inputMode="numeric"
      autoComplete="off"
      maxLength={10}
      value={value}
      status={/^\s*\d{1,2}[:.]?\d{0,2}\s*$|^\s*$/.test(value) ? undefined : "error"}
      onChange={(e) => onChange(e.target.value)}
      onBlur={(e) => {
        const time = typedTime(value);
        if (time && time !== value) onChange(time);
        more.onBlur?.(e);
      }}
    />
  );
}
