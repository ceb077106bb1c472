import type { tally } from "./draft";

/** How many rows stand in each state. */
export function Tally({ counts }: { counts: ReturnType<typeof tally> }) {
  const parts = [
    [counts.in, "in"],
    [counts.late, "late"],
    [counts.noReason, "no reason"],
    [counts.explained, "explained"],
    [counts.elsewhere, "elsewhere"],
    [counts.toMark, "to mark"],
  ] as const;
  return (
    <div className="tally" data-testid="tally">
      {parts.map(([n, w]) => (
        <span key={w}>
          <b>{n}</b> <span className="look-muted">{w}</span>
        </span>
      ))}
    </div>
  );
}
