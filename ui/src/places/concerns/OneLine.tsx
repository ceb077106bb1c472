import "./one-line.css";
import type { ReactNode } from "react";

/** A line of a list of which one is chosen. */
export function OneLine({ pressed, choose, children }: { pressed: boolean; choose: () => void; children: ReactNode }) {
  return (
    <button type="button" className="one-line" aria-pressed={pressed} onClick={choose}>
      {children}
    </button>
  );
}
