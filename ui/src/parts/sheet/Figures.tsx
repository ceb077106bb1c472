import type { Schemas } from "../../api/client";
import { Bases } from "../Bases";
import { PolicyLink } from "../PolicyLink";

/** Absence, lates and what is due, as the core counted them. */
export function Figures({ s }: { s: Schemas["StudentSheet"] }) {
  const f = s.figures;
  return (
    <>
      <div className="figures">
        <div>
          <b>{f.rate ? `${f.rate} %` : "–"}</b>
          <div className="look-small look-muted">
            <PolicyLink id={f.policy}>
              {f.absent} of {f.possible} days
            </PolicyLink>
            {f.band && ` · ${f.band}`}
          </div>
        </div>
        <div>
          <b>{f.unexcused}</b>
          <div className="look-small look-muted">days unexcused, {f.excused} excused</div>
        </div>
        <div>
          {f.wayBack.units > 0 ? (
            <>
              <b>{f.wayBack.units}</b>
              <div className="look-small look-muted">
                {f.backInTime ? `days in a row to be under ${f.line} %` : "days in a row: not this year"}
              </div>
            </>
          ) : (
            <>
              <b>{f.headroom.known ? (f.headroom.none ? "none" : f.headroom.units) : "–"}</b>
              <div className="look-small look-muted">days of room left this year</div>
            </>
          )}
        </div>
        <div>
          <b>{s.lates}</b>
          <div className="look-small look-muted">
            lates this year, {s.latesNow} in {s.period || "this period"}
          </div>
        </div>
        <div>
          <b>{s.onSite}</b>
          <div className="look-small look-muted">lessons missed while on site</div>
        </div>
      </div>
      {s.since && (
        <p className="look-small look-muted">
          These figures are of {s.student.section}, since {s.since}.
        </p>
      )}
      {s.stays.map((stay) => (
        <p className="look-small look-muted" key={stay.section}>
          In {stay.section}, {stay.label}: <b>{stay.rate ? `${stay.rate} %` : "–"}</b>, {stay.absent} of {stay.possible}{" "}
          days
        </p>
      ))}
      {s.before && (
        <p className="look-small look-muted">
          The year before, {s.before.label}: <b>{s.before.rate ? `${s.before.rate} %` : "–"}</b>, {s.before.absent} of{" "}
          {s.before.possible} days{s.before.whole && `; that whole year ${s.before.whole} %`}
        </p>
      )}
      {s.bases && <Bases b={s.bases} fullDay={false} />}
      {s.due.length > 0 && (
        <section aria-label="Reached and due" className="look-small">
          <h3>Reached and due</h3>
          {s.due.slice(0, 8).map((d) => (
            <div key={`${d.title} ${d.text} ${d.date}`}>
              <b>{d.title}</b>{" "}
              <span className="look-muted">
                · {d.when} · {d.text}
              </span>
            </div>
          ))}
          {s.due.length > 8 && <div className="look-muted">{s.due.length - 8} earlier this year</div>}
        </section>
      )}
    </>
  );
}
