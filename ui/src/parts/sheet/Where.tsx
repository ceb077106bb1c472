import type { Schemas } from "../../api/client";
import { Scrolls } from "../Panel";

/** When lessons are missed: a weekday in each row, a slot in each column, counts in the cells. */
export function Where({ s }: { s: Schemas["StudentSheet"] }) {
  const { slots, weekdays } = s.where;
  if (s.figures.rate === "" || weekdays.every((w) => w.cells.every((c) => c.missed === 0))) return null;
  const most = Math.max(...weekdays.flatMap((w) => w.cells.map((c) => c.missed)));
  return (
    <section aria-label="When lessons are missed">
      <h3>When lessons are missed</h3>
      <Scrolls>
        <table className="where">
          <thead>
            <tr>
              <th>
                <span className="visually-hidden">Weekday</span>
              </th>
              {slots.map((slot) => (
                <th key={slot.name} scope="col" aria-label={slot.label}>
                  {slot.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {weekdays.map((w) => (
              <tr key={w.weekday}>
                <th scope="row">{w.weekday}</th>
                {w.cells.map((c, i) => (
                  <td
                    key={slots[i]?.name}
                    style={{ "--share": c.missed / most } as React.CSSProperties}
                    title={`${w.weekday}, ${slots[i]?.label}: ${c.missed} of ${c.marked} missed${c.onSite ? `, ${c.onSite} while on site` : ""}`}
                  >
                    {c.missed > 0 && (
                      <>
                        {c.missed}
                        {c.onSite > 0 && <sup>{c.onSite}</sup>}
                        <span className="visually-hidden"> of {c.marked} missed</span>
                      </>
                    )}
                    {c.missed === 0 && c.marked > 0 && <span className="look-muted">0</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
      <p className="look-small look-muted">
        How often each lesson was missed this year; raised: of these while on site.
      </p>
    </section>
  );
}
