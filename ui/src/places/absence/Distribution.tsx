import type { Schemas } from "../../api/client";

const height = 108;

/** Tenths of a per cent at the right edge: the last line, and some room beyond it. */
const edge = (bands: Schemas["BandView"][]) => Math.max(300, Math.round(Number(bands.at(-1)?.from ?? 0) * 10) + 100);

/** Everyone by share of days missed, with the policy's lines; a band can be chosen. */
export function Distribution({
  bins,
  bands,
  chosen,
  choose = () => undefined,
  width = 880,
}: {
  bins: Schemas["Bin"][];
  bands: Schemas["BandView"][];
  chosen: string | null;
  choose?: (band: string) => void;
  width?: number; // of the drawing, so that its words stay as large where it is narrow
}) {
  const most = edge(bands);
  const x = (tenths: number) => (Math.min(tenths, most) / most) * (width - 20) + 4;
  const stacked = new Map<number, { count: number; band: number }[]>();
  for (const b of bins) {
    const at = Math.min(b.from, most - 10);
    stacked.set(at, [...(stacked.get(at) ?? []), { count: b.count, band: b.band }]);
  }
  const tallest = Math.max(1, ...[...stacked.values()].map((s) => s.reduce((n, b) => n + b.count, 0)));
  const unit = (height - 34) / tallest;
  const column = (width - 20) / (most / 10);
  const words = bands.map((b) => `${b.name} ${b.count}`).join(", ");
  return (
    <div className="distribution look-fills">
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={`Distribution: ${words}`}>
        {[...stacked].map(([from, parts]) => {
          let base = height - 22;
          return parts.map((part) => {
            const h = Math.max(part.count * unit, 1.5);
            base -= h;
            const faded = chosen !== null && chosen !== String(part.band);
            return (
              <rect
                key={`${from} ${part.band}`}
                x={x(from)}
                y={base}
                width={column - 1.5}
                height={h}
                fill={`var(--band-${Math.max(part.band, 0)})`}
                opacity={faded ? 0.3 : 1}
              />
            );
          });
        })}
        <line x1="4" x2={width - 16} y1={height - 21.5} y2={height - 21.5} stroke="var(--line)" />
        {bands.map((b, i) => {
          const from = Number(b.from) * 10;
          const next = bands[i + 1];
          const to = next ? Number(next.from) * 10 : most;
          return (
            <g key={b.name} onPointerDown={() => choose(String(i))}>
              <rect x={x(from)} y="0" width={Math.max(x(to) - x(from), 0)} height={height} fill="transparent" />
              {i > 0 && (
                <>
                  <line x1={x(from)} x2={x(from)} y1="2" y2={height - 16} stroke="var(--ink)" strokeDasharray="2 3" />
                  <text x={x(from) + 4} y="11" fontSize="12" fill="var(--ink-2)">
                    {b.from} %
                  </text>
                </>
              )}
              <text
                x={(x(from) + x(to)) / 2}
                y={height - 6}
                fontSize="12.5"
                textAnchor="middle"
                fontWeight={chosen === String(i) ? 700 : 400}
                fill="var(--ink-2)"
              >
                {b.name} {b.count}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
