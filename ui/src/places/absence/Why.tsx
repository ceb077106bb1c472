import { type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { roomWords } from "./Absence";

/** Minutes as people say them. */
export function duration(minutes: number): string {
  const h = Math.floor(minutes / 60);
  const m = minutes % 60;
  if (h === 0) return `${m} min`;
  return m === 0 ? `${h} h` : `${h} h ${m} min`;
}

const plural = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** A figure taken apart, down to the marks. */
export function Why({ student, bands }: { student: string; bands: Schemas["BandView"][] }) {
  const { at } = useAddress();
  const why = useRead("/api/absence/{student}", { student, at });
  const w = why.data;
  if (!w) return null;
  const f = w.figures;
  const next = bands[f.bandPlace];
  return (
    <Panel title={f.rate ? `Why ${f.rate} %?` : "Why no figure?"} className="why">
      <p>
        <b>{w.student.name}</b> missed {f.absent} of {plural(f.possible, "day")}. A day counts once{" "}
        {w.halfOf === "1/2" ? "half" : w.halfOf} of its minutes are missed:{" "}
        {plural(w.whole, "was a whole day", "were whole days")}, {w.part} a part. {f.excused} are excused, {f.unexcused}{" "}
        are not. {w.shorter > 0 && `${plural(w.shorter, "shorter absence does", "shorter absences do")} not count. `}
        {f.unmarked > 0 && `${plural(f.unmarked, "slot")} without a mark counts neither way. `}
        In all {f.missed} were missed, and {plural(f.lates, "late")} counted.
      </p>
      <p className="small quiet">
        {next?.name ? `Band: ${f.band}. ` : "No band yet. "}
        Room left: {roomWords(f.headroom, "day")} of the {f.toCome} to come. {w.title}.
      </p>
      {w.days.slice(0, 60).map((d) => (
        <details key={d.date}>
          <summary>
            {d.verdict === "excused" || d.verdict === "unexcused" ? (
              <Shape state={d.verdict === "excused" ? "explained" : "unexcused"} silent />
            ) : null}{" "}
            {d.words} · {d.missed === d.due ? "whole day" : `${duration(d.missed)} of ${duration(d.due)}`}
            <span className="quiet"> · {d.verdict === "attended" ? "not a day" : d.verdict}</span>
          </summary>
          <ul className="small">
            {d.marks.map((m) => (
              <li key={m.slot}>
                {m.words}: <b>{m.code}</b> {m.word}
                {m.to && `, came ${m.to}`}
                {m.from && `, left ${m.from}`} · {m.missed} of {m.due} min
              </li>
            ))}
          </ul>
          <span className="small quiet">absent from {duration(d.absentFrom)} on</span>
        </details>
      ))}
    </Panel>
  );
}
