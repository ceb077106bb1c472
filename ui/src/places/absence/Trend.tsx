import { useState } from "react";
import type { Schemas } from "../../api/client";

type Bar = Schemas["TrendBar"];

/** When a group missed what it missed: by week, by weekday and by slot. */
export function Trend({ t }: { t: Schemas["TrendView"] }) {
  const [open, setOpen] = useState(false);
  if (t.weeks.length === 0) return null;
  return (
    <div className="trend">
      <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        When: by week, weekday and slot
      </button>
      {open && (
        <div className="bars-of">
          <Bars title="By week" bars={t.weeks} every={4} />
          <Bars title="By weekday" bars={t.weekdays} every={1} />
          <Bars title="By slot, of its time" bars={t.slots} every={1} />
        </div>
      )}
    </div>
  );
}

/** Bars of one kind on one scale. Where they are many, every n-th has its name and the highest its share. */
function Bars({ title, bars, every }: { title: string; bars: Bar[]; every: number }) {
  const most = Math.max(1, ...bars.map((b) => b.share));
  return (
    <figure>
      <figcaption>{title}</figcaption>
      <ol aria-label={title}>
        {bars.map((b, i) => (
          <li key={b.title} title={`${b.title}: ${b.rate || "–"} %`}>
            <span className={every > 1 && b.share < most ? "visually-hidden" : "look-small"}>{b.rate || "–"}</span>
            <i aria-hidden="true" className="look-fills" style={{ height: Math.max((b.share / most) * 44, 1) }} />
            <span className={i % every === 0 ? "look-small look-muted" : "visually-hidden"}>{b.label}</span>
          </li>
        ))}
      </ol>
    </figure>
  );
}
