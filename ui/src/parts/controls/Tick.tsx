import { Checkbox } from "antd";
import type { ReactNode } from "react";

/** Yes or no. It never parts from its name at the end of a line. */
export function Tick({
  checked,
  onChange,
  label,
  children,
  disabled,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  label?: string; // its name, where none stands beside it or that would say too little
  children?: ReactNode;
  disabled?: boolean;
}) {
  return (
    <Checkbox
      className="tick"
      aria-label={label}
      checked={checked}
      disabled={disabled}
      onChange={(e) => onChange(e.target.checked)}
    >
      {children}
    </Checkbox>
  );
}
