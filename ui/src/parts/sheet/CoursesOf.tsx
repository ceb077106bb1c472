import "./courses-of.css";
import { useState } from "react";
import { type Schemas, useRead } from "../../api/client";
import { useAddress } from "../look-at";
import { Scrolls } from "../Panel";
import { plural } from "../words";

const stateWords: Record<Schemas["OneHalf"]["state"], string> = {
  earned: "earned",
  recovered: "recovered",
  lost: "lost",
  stands_lost: "stands lost",
  open: "open",
};

/** A student's courses over the quarters, how each credit stands, and where the mean goes. */
export function CoursesOf({ student }: { student: number }) {
  const { at } = useAddress();
  const v = useRead("/api/courses/student", { of: student, at }).data;
  if (!v) return null;
  return (
    <section aria-label="Courses" className="courses-of">
      <h3>Courses</h3>
      {!v.any && (
        <p className="look-muted">
          {v.own ? "No grades in the courses that you teach this student." : "No grades yet."}
        </p>
      )}
      {v.any && <Facts v={v} />}
      {v.any && (
        <Scrolls>
          <table className="rows">
            <thead>
              <tr>
                <td />
                {v.periods.map((p) => (
                  <th scope="col" key={p}>
                    {p}
                  </th>
                ))}
                <th scope="col">Credit</th>
              </tr>
            </thead>
            <tbody>
              {v.courses.map((c) => (
                <tr key={c.title}>
                  <th scope="row">{c.title}</th>
                  {c.grades.map((g, i) => (
                    <td
                      key={v.periods[i]}
                      className={g.failing ? "fails" : g.nearly ? "nearly" : undefined}
                      title={g.failing ? "failing" : g.nearly ? "nearly failing" : undefined}
                    >
                      {g.grade || <span className="look-muted">–</span>}
                    </td>
                  ))}
                  <td className="credit">
                    {c.halves.map((h) => (
                      <span
                        key={h.half}
                        className={h.state === "lost" || h.state === "stands_lost" ? "away" : undefined}
                      >
                        <b>{stateWords[h.state]}</b> in {h.half}
                        {h.exam && `, examination ${h.exam}`}
                        {h.words && <span className="look-small look-muted"> {h.words}</span>}
                      </span>
                    ))}
                  </td>
                </tr>
              ))}
            </tbody>
            {!v.own && (
              <tfoot>
                <tr>
                  <th scope="row">Mean points</th>
                  {v.means.map((m, i) => (
                    <td key={v.periods[i]}>
                      {m.mean && (
                        <span className="mean">
                          <span className="bar" aria-hidden="true">
                            <span style={{ height: `${m.share * 100}%` }} />
                          </span>
                          {m.mean}
                        </span>
                      )}
                    </td>
                  ))}
                  <td>{v.change && `${v.change} since ${v.periods.at(-2)}`}</td>
                </tr>
              </tfoot>
            )}
          </table>
        </Scrolls>
      )}
      {v.pieces.length > 0 && <Pieces list={v.pieces} />}
    </section>
  );
}

const few = 5; // pieces of work that are shown at once

/** Pieces of work, what was due last first. */
function Pieces({ list }: { list: Schemas["PieceView"][] }) {
  const [all, setAll] = useState(false);
  const due = list.filter((p) => p.state === "never").length;
  return (
    <>
      <h4>Pieces of work {due > 0 && <span className="away">{plural(due, "piece")} due and not handed in</span>}</h4>
      <Scrolls>
        <table className="rows">
          <tbody>
            {(all ? list : list.slice(0, few)).map((p) => (
              <tr key={`${p.class} ${p.title} ${p.due}`}>
                <th scope="row">{p.title}</th>
                <td className="look-small look-muted">{[p.class, p.category].filter(Boolean).join(" · ")}</td>
                <td>{p.due && `due ${p.due}`}</td>
                <td className={p.state === "never" ? "away" : undefined}>
                  {p.points || (p.state === "never" ? <b>not handed in</b> : stateOf[p.state])}
                </td>
                <td>{p.share}</td>
                <td className="look-small">{p.comment}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
      {list.length > few && (
        <p>
          <button type="button" className="link" onClick={() => setAll(!all)}>
            {all ? "fewer" : `all ${list.length}`}
          </button>
        </p>
      )}
    </>
  );
}

const stateOf: Record<Schemas["PieceView"]["state"], string> = {
  scored: "",
  "handed in": "handed in, no points yet",
  never: "not handed in",
  open: "not due yet",
  exempt: "exempt",
};

/** Where the student stands in all; a teacher, who sees some of the courses, has no such figure. */
function Facts({ v }: { v: Schemas["OneView"] }) {
  if (v.own) return <p className="look-muted">In the courses that you teach this student.</p>;
  return (
    <>
      <p>
        <b>{v.track.charAt(0).toUpperCase() + v.track.slice(1)}</b> · {v.earned} credits
        {v.expected && ` of ${v.expected} expected by now`}
      </p>
      {v.ninth && <p className="look-small">Year 9 rule: {v.ninth}.</p>}
    </>
  );
}
