import type { Schemas } from "../../api/client";

/** The year, a bar a day, by term and week. */
export function DayBars({ days }: { days: Schemas["DayBar"][] }) {
  const terms = [...new Set(days.map((d) => d.term))];
  return (
    <div className="bars">
      {terms.map((t) => {
        const inTerm = days.filter((d) => d.term === t);
        const weeks = [...new Set(inTerm.map((d) => d.week))];
        return (
          <div key={t} className="of-term">
            <span className="look-small look-muted">{t}</span>
            <div className="term">
              {weeks.map((w) => (
                <div key={w} className="week">
                  {inTerm
                    .filter((d) => d.week === w)
                    .map((d) => (
                      <div
                        key={d.date}
                        className={`bar look-fills ${d.state}`}
                        title={`${d.label}${d.missed ? `: ${d.missed} missed` : ""}`}
                      >
                        {d.missed && <span className="visually-hidden">{`${d.label}: ${d.missed} missed`}</span>}
                        {d.bars.map((b) => (
                          <i
                            key={b.from}
                            className={b.state}
                            style={{ top: `${b.from / 10}%`, height: `${(b.to - b.from) / 10}%` }}
                          />
                        ))}
                      </div>
                    ))}
                </div>
              ))}
            </div>
          </div>
        );
      })}
    </div>
  );
}
