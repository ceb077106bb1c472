import "./under.css";
import type { FormEvent, ReactNode } from "react";

/** A line under a row, for what is done about it. */
export function Under({
  label,
  submit,
  close,
  children,
}: {
  label: string;
  submit: () => void;
  close: () => void;
  children: ReactNode;
}) {
  return (
    <form
      className="under"
      aria-label={label}
      onSubmit={(e: FormEvent) => {
        e.preventDefault();
        submit();
      }}
      onKeyDown={(e) => e.key === "Escape" && !e.defaultPrevented && close()}
    >
      {children}
    </form>
  );
}
