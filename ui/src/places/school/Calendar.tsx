import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { DayTimes } from "../../parts/DayTimes";
import { Panel, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { plural } from "../../parts/words";
import { CloseDays, ClosedDays } from "./CloseDays";
import { PatternForm, TermsForm } from "./YearForms";

type Year = Schemas["SectionYear"];

/** The school years, day by day; a day that went otherwise is put right from here. */
export function Calendar() {
  const page = useRead("/api/school/calendar", { section: useScope() });
  const [date, setDate] = useState<string>();
  const [closing, setClosing] = useState(false);
  const [patterns, setPatterns] = useState(false);
  const [terms, setTerms] = useState<Pick<Year, "section" | "first">>(); // whose are being changed
  const after = (done: () => void) => (changed: boolean) => {
    done();
    if (changed) void page.refetch();
  };
  if (!page.data) return <Waiting inside error={page.error} />;
  const changing = page.data.years.find((y) => y.section === terms?.section && y.first === terms.first);
  return (
    <div className="stack">
      {page.data.years.length === 0 && (
        <Panel title="Calendar">
          <p className="empty">
            There is no calendar yet: <Link to="/school/import">import one</Link>.
          </p>
        </Panel>
      )}
      {page.data.years.map((y) => (
        <OneYear
          key={y.section}
          y={y}
          today={page.data.today}
          choose={setDate}
          close={() => setClosing(true)}
          pattern={() => setPatterns(true)}
          terms={() => setTerms(y)}
          changed={() => void page.refetch()}
        />
      ))}
      {closing && <CloseDays years={page.data.years} close={after(() => setClosing(false))} />}
      {patterns && <PatternForm years={page.data.years} close={after(() => setPatterns(false))} />}
      {changing && <TermsForm year={changing} close={after(() => setTerms(undefined))} />}
      {date && <DayTimes at={date} onClose={() => setDate(undefined)} />}
    </div>
  );
}

function OneYear({
  y,
  today,
  choose,
  close,
  pattern,
  terms,
  changed,
}: {
  y: Year;
  today: string;
  choose: (date: string) => void;
  close: () => void;
  pattern: () => void;
  terms: () => void;
  changed: () => void;
}) {
  return (
    <Panel
      title={y.name ? `${y.title}, ${y.name}` : y.title}
      extra={`${plural(y.days, "school day")}${y.number > 0 ? `, ${y.number} of them up to today` : ", not begun"}`}
    >
      <div className="year">
        <div className="months look-fills">
          {y.months.map((m) => (
            <Month key={m.title} m={m} today={today} choose={choose} />
          ))}
        </div>
        <div className="stack">
          <ul className="kinds look-fills">
            {y.kinds.map((k, i) => (
              <li key={k.name}>
                <i className={`date ${i === 0 ? "usual" : "other"}`} aria-hidden="true" /> {k.name}:{" "}
                {plural(k.days, "day")}
              </li>
            ))}
            <li>
              <i className="date changed" aria-hidden="true" /> times of the day changed
            </li>
            <li>
              <i className="date closed" aria-hidden="true" /> no school
            </li>
          </ul>
          <table className="rows">
            <caption>Terms and grading periods</caption>
            <tbody>
              {[...y.terms, ...y.periods].map((t) => (
                <tr key={`${t.name} ${t.first}`}>
                  <th scope="row">{t.name}</th>
                  <td>
                    {t.from} to {t.to}
                  </td>
                  <td className="number">{plural(t.days, "day")}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <h3>Closed against the calendar</h3>
          {y.closed.length === 0 ? (
            <p className="look-muted">No date so far.</p>
          ) : (
            <ClosedDays closed={y.closed} changed={changed} />
          )}
          <p>
            <Button onClick={close}>Close dates or hours …</Button>{" "}
            <Button onClick={pattern}>Another day pattern …</Button> <Button onClick={terms}>Terms …</Button>
          </p>
          <p className="look-muted">
            A date with school opens its times. A whole year comes by <Link to="/school/import">files</Link>.
          </p>
        </div>
      </div>
    </Panel>
  );
}

/** A month in weeks from Monday; a day before the first stands empty. */
function Month({ m, today, choose }: { m: Schemas["MonthOfYear"]; today: string; choose: (date: string) => void }) {
  const width = Math.max(5, ...m.days.map((d) => d.weekday));
  return (
    <div>
      <h3>{m.title}</h3>
      <div className="dates" style={{ gridTemplateColumns: `repeat(${width}, 1fr)` }}>
        {m.days.map((d) =>
          d.kind === "closed" ? (
            <span key={d.date} className="date closed" style={{ gridColumn: d.weekday }} title={d.words}>
              <span aria-hidden="true">{d.day}</span>
              <span className="visually-hidden">{d.words}</span>
            </span>
          ) : (
            <button
              key={d.date}
              type="button"
              className={`date ${d.kind}`}
              style={{ gridColumn: d.weekday }}
              title={d.words}
              aria-label={d.words}
              aria-current={d.date === today ? "date" : undefined}
              onClick={() => choose(d.date)}
            >
              {d.day}
            </button>
          ),
        )}
      </div>
    </div>
  );
}
