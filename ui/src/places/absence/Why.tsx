import { useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Bases } from "../../parts/Bases";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { PolicyLink } from "../../parts/PolicyLink";
import { duration, plural } from "../../parts/words";
import { useAsked } from "./asked";
import { amount, counted, roomWords } from "./figures";
import { MadeUp } from "./MadeUp";

type View = Schemas["WhyView"];

/** A figure taken apart, down to the marks. */
export function Why({ student, bands }: { student: number; bands: Schemas["BandView"][] }) {
  const { set } = useAddress();
  const asked = useAsked();
  const why = useRead("/api/absence/{student}", { student, ...asked });
  const who = useOutletContext<Schemas["Who"]>();
  const [madeUp, setMadeUp] = useState<Schemas["WhyDay"]>();
  const w = why.data;
  if (!w) return null;
  const f = w.figures;
  const next = bands[f.bandPlace];
  return (
    <Panel title={f.rate ? `Why ${f.rate} %?` : "Why no figure?"} className="why">
      <Sentence w={w} />
      <p className="look-small look-muted">
        {next?.name ? `Band: ${f.band}. ` : bands.length > 0 && "No band yet. "}
        {w.whole &&
          !w.lessons &&
          (f.wayBack.known && f.wayBack.units > 0
            ? `Under ${f.line} % again after ${f.backInTime ? `${f.wayBack.units} in a row` : "more than this year has left"}. `
            : f.headroom.known && `Room left: ${roomWords(f.headroom, f.unit)} of the ${f.toCome} to come. `)}
        <PolicyLink id={w.policy}>
          {w.title} (version {w.version})
        </PolicyLink>
        , {w.label.toLowerCase().startsWith("year") ? w.label.replace("Year", "year") : w.label}.
      </p>
      {w.bases && <Bases b={w.bases} fullDay={w.fullDay} />}
      {w.triggers.map((t) => (
        <Line key={t.id} t={t} />
      ))}
      {w.due
        .filter((d) => d.kind === "step")
        .map((d) => (
          <p key={`${d.text} ${d.date}`} className="step">
            <b>{d.title}</b>{" "}
            <span className="look-muted">
              · {d.text} · {d.when}
            </span>
          </p>
        ))}
      {w.days.slice(0, 60).map((d) => (
        <Day key={d.date} d={d} unit={f.unit} makeUp={who.inOffice && !asked.at ? () => setMadeUp(d) : undefined} />
      ))}
      {madeUp && <MadeUp student={w.student} day={madeUp} close={() => setMadeUp(undefined)} />}
      {w.days.length > 60 && (
        <div className="look-line">
          <button type="button" className="link look-muted" onClick={() => set({ student: String(student) }, false)}>
            {w.days.length - 60} older days are on the student's sheet
          </button>
        </div>
      )}
    </Panel>
  );
}

/** Says in words how the policy came to its figure. */
function Sentence({ w }: { w: View }) {
  const f = w.figures;
  const rule = {
    day: (
      <>
        A day counts once {w.halfOf === "1/2" ? "half" : w.halfOf} of its minutes are missed:{" "}
        {plural(w.wholeDay, "was a whole day", "were whole days")}, {w.partDay} a part.{" "}
      </>
    ),
    session: <>A session counts by its mark, however much of it was missed. </>,
    minute: <>Every minute with a mark counts. </>,
  }[f.unit];
  return (
    <p>
      <b>{w.student.name}</b> missed {amount(f.absent, f.unit)} of {counted(f.possible, f.unit)}. {rule}
      {amount(f.excused, f.unit)} {f.excused === 1 && f.unit !== "minute" ? "is" : "are"} excused,{" "}
      {amount(f.unexcused, f.unit)} not.{" "}
      {f.unexplained > 0 && `${plural(f.unexplained, "mark has", "marks have")} no reason yet. `}
      {f.unit === "day" &&
        w.shorter > 0 &&
        `${plural(w.shorter, "shorter absence does", "shorter absences do")} not count. `}
      {f.void > 0 && `${plural(f.void, "mark says", "marks say")} that nothing was required. `}
      {f.unmarked > 0 && `${plural(f.unmarked, "slot")} without a mark counts neither way. `}
      {f.unit !== "minute" && `In all ${f.missed} were missed. `}
      {plural(f.lates, "late")} counted.
    </p>
  );
}

/** A line of the policy with what was added up for it. */
function Line({ t }: { t: Schemas["WhyTrigger"] }) {
  return (
    <details>
      <summary>
        <b>{t.title}</b>{" "}
        <span className={t.reached ? "look-overdue" : "look-muted"}>
          {t.reached ? `reached ${t.reached}` : `not reached: ${t.now} of ${t.reach}`}
        </span>
      </summary>
      <p className="look-small look-muted">
        {t.reached ? `${t.countThen} of ${t.reach} ${t.window} then, ${t.now} now.` : `Counted ${t.window}.`}
      </p>
      <ul className="look-small">
        {t.days.map((d) => (
          <li key={d.date}>
            {d.label}: {d.amount}
          </li>
        ))}
      </ul>
    </details>
  );
}

function Day({
  d,
  unit,
  makeUp,
}: {
  d: Schemas["WhyDay"];
  unit: Schemas["AbsenceFigures"]["unit"];
  makeUp: (() => void) | undefined; // by whoever may excuse what was made up
}) {
  return (
    <details>
      <summary>
        {d.verdict === "excused" || d.verdict === "unexcused" ? (
          <Shape state={d.verdict === "excused" ? "explained" : "unexcused"} silent />
        ) : null}{" "}
        {d.label} ·{" "}
        {d.missed === 0
          ? plural(d.unmarked, "slot without a mark", "slots without a mark")
          : d.missed === d.due
            ? "whole day"
            : `${duration(d.missed)} of ${duration(d.due)}`}
        {unit === "day" && <span className="look-muted"> · {d.verdict === "attended" ? "not a day" : d.verdict}</span>}
      </summary>
      <ul className="look-small">
        {d.marks.map((m) => (
          <li key={m.slot}>
            {m.label}: <b>{m.code}</b> {m.word}
            {m.to && `, came ${m.to}`}
            {m.from && `, left ${m.from}`} · {m.missed} of {m.due} min
          </li>
        ))}
      </ul>
      {unit === "day" && d.due > 0 && (
        <span className="look-small look-muted">absent from {duration(d.absentFrom)} on</span>
      )}{" "}
      {makeUp && d.marks.some((m) => m.state === "unexcused") && (
        <button type="button" className="link look-small" onClick={makeUp}>
          made up …
        </button>
      )}
    </details>
  );
}
