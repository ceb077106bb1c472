import { Button } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { OneOf } from "../../parts/controls/OneOf";
import { useAddress } from "../../parts/look-at";
import { Panel, Scrolls } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import type { Asked } from "./asked";
import type { CellAsked } from "./Cell";

type View = Schemas["CoursesView"];
type Line = Schemas["StudentLine"];
type Tried = { line: Line; strip: Schemas["CourseStrip"]; part: Schemas["PartMark"] };

/** Who is not on track and what would still do it, what fails most, and what a grade would change. */
export function Tracks({
  v,
  asked,
  mayCorrect,
  open,
}: {
  v: View;
  asked: Asked;
  mayCorrect: boolean;
  open: (cell: CellAsked) => void;
}) {
  const { set } = useAddress();
  const [tried, setTried] = useState<Tried>();
  return (
    <div className="columns courses">
      <Panel
        title={`${v.not} of ${v.of} ${v.not === 1 ? "is" : "are"} not on track`}
        extra={
          v.before === undefined ? `${v.period}, ${v.half}` : `${v.period}, ${v.half} · ${v.before} after ${v.since}`
        }
      >
        {v.own && <p className="empty">In the courses that you teach, of the students you teach them to.</p>}
        {v.not === 0 && <p className="empty">{v.group ? `Everyone of ${v.group}` : "Everyone"} is on track.</p>}
        {v.tracks.map((t) => (
          <div key={t.title}>
            <div className="group">
              <span>{t.title}</span>
              <span>{t.students.length}</span>
            </div>
            <Scrolls>
              {t.students.map((s) => (
                <Row key={s.student.id} s={s} tried={tried} choose={setTried} />
              ))}
            </Scrolls>
          </div>
        ))}
      </Panel>
      <div className="stack">
        <Fails
          v={v}
          choose={(by) => set({ by: by === "course" ? undefined : by })}
          open={(name) => open({ by: asked.by, column: v.period, name })}
        />
        <WhatIf
          key={tried && `${tried.line.student.id} ${tried.strip.course} ${tried.part.part}`}
          v={v}
          tried={tried}
          mayCorrect={mayCorrect}
          saved={() => setTried(undefined)}
        />
        {v.ninth && <Ninth n={v.ninth} />}
      </div>
    </div>
  );
}

/** How many of the ninth year are on track by its rule, and who is not. */
function Ninth({ n }: { n: Schemas["NinthView"] }) {
  return (
    <Panel title="Year 9 rule" extra={`${n.onTrack} of ${n.of} on track`}>
      <p className="empty look-small">{n.source}.</p>
      {n.not.length > 0 && (
        <details className="ninth">
          <summary>Who is not</summary>
          <ul className="ninth-list">
            {n.not.map((x) => (
              <li key={x.student.id}>
                <StudentName student={x.student} />
                <span className="look-small look-muted">{x.words}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </Panel>
  );
}

function Row({ s, tried, choose }: { s: Line; tried?: Tried; choose: (t: Tried) => void }) {
  return (
    <div className="student">
      <span className="look-two">
        <StudentName student={s.student} form={false} />
        <span className="look-small look-muted">{s.student.form}</span>
      </span>
      <span className="strip look-fills">
        {(s.still.length > 0 ? s.courses : []).map((c) => (
          <span key={c.course} className="course">
            <span title={c.title}>{c.short}</span>
            <span>
              {c.parts.map((m) => (
                <button
                  key={m.part}
                  type="button"
                  className={m.failing ? "mark fails" : m.nearly ? "mark nearly" : m.grade ? "mark" : "mark to-come"}
                  aria-label={`${m.grade || "?"} ${c.title}, ${m.name}: what if`}
                  aria-pressed={tried?.line === s && tried.strip === c && tried.part === m}
                  onClick={() => choose({ line: s, strip: c, part: m })}
                >
                  {m.grade || "?"}
                </button>
              ))}
            </span>
          </span>
        ))}
      </span>
      <span className="look-small">{s.behind}</span>
      <span className="still">
        {s.still.map((x) => (
          <span key={x.course}>
            {x.course}: <b>{x.words}</b>
          </span>
        ))}
        {s.lost.length > 0 && <span className="look-small look-muted">lost: {s.lost.join("; ")}</span>}
      </span>
    </div>
  );
}

/** Which courses, classes or areas fail most: of those who have a grade there. */
function Fails({ v, choose, open }: { v: View; choose: (by: string) => void; open: (name: string) => void }) {
  const [all, setAll] = useState(false);
  const most = 8;
  return (
    <Panel title="Failing most" extra="of those who have a grade">
      <div className="look-line no-print">
        <OneOf
          label="By"
          value={v.by}
          onChange={choose}
          options={[
            { value: "course", label: "course" },
            { value: "class", label: "class" },
            { value: "area", label: "area" },
          ]}
        />
      </div>
      {(all ? v.failing : v.failing.slice(0, most)).map((f) => (
        <div className="fail look-fills" key={f.name}>
          <button type="button" className="link" onClick={() => open(f.name)}>
            {f.name}
          </button>
          <span className="track" aria-hidden="true">
            <span className="fails" style={{ width: `${(f.failing / f.of) * 100}%` }} />
            <span className="nearly" style={{ width: `${(f.nearly / f.of) * 100}%` }} />
          </span>
          <span className="look-nowrap">
            <b>{f.failing}</b> of {f.of}
          </span>
          <span className="look-small look-muted" title={`${plural(f.nearly, "grade")} nearly failing`}>
            {f.nearly > 0 && `+${f.nearly} nearly`}
          </span>
          <span className="look-muted">{f.change === undefined ? "" : f.change > 0 ? `+${f.change}` : f.change}</span>
        </div>
      ))}
      {v.failing.length > most && (
        <div className="look-line">
          <button type="button" className="link" onClick={() => setAll(!all)}>
            {all ? "fewer" : `all ${v.failing.length}`}
          </button>
        </div>
      )}
      {v.since && <p className="empty look-small">The last column: change since {v.since}.</p>}
    </Panel>
  );
}

/** A grade tried out: what it would change for the student. It is kept nowhere. */
function WhatIf({ v, tried, mayCorrect, saved }: { v: View; tried?: Tried; mayCorrect: boolean; saved: () => void }) {
  const { at } = useAddress();
  const [grade, setGrade] = useState("");
  const asked = {
    at,
    period: v.period,
    of: tried?.line.student.id ?? 0,
    course: tried?.strip.course ?? 0,
    part: tried?.part.part ?? 0,
    grade,
  };
  const guess = useRead("/api/courses/what-if", asked, { enabled: tried !== undefined && grade !== "" });
  const save = useWrite({
    done: (r) => {
      tell.receipt(r);
      saved();
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <Panel title="What if" extra="kept nowhere" className="no-print">
      {!tried && <p className="empty">Choose a grade or a ? of a student: what another there would change.</p>}
      {tried && (
        <div className="what-if">
          <p>
            <b>{tried.line.student.name}</b>, {tried.strip.title}, {tried.part.name}:{" "}
            <Choice
              label="Grade"
              size="small"
              value={grade || undefined}
              placeholder="grade"
              onChange={setGrade}
              options={v.grades.map((g) => ({ value: g, label: g }))}
            />
          </p>
          <div role="status">
            {guess.error && <p className="look-overdue">{guess.error.message}</p>}
            {guess.data && grade && (
              <p>
                {guess.data.words}. Then {guess.data.track}
                {guess.data.now !== guess.data.away && `, and not ${plural(guess.data.now, "course")} away`}.
              </p>
            )}
          </div>
          {mayCorrect && grade && grade !== tried.part.grade && (
            <p>
              <Button
                size="small"
                loading={save.isPending}
                onClick={() =>
                  save.mutate({
                    path: "/api/courses/grade",
                    body: {
                      student: tried.line.student.id,
                      course: tried.strip.course,
                      period: v.period,
                      part: tried.part.part,
                      grade,
                      seen: tried.part.grade,
                    },
                  })
                }
              >
                It was given: save {grade}
              </Button>
            </p>
          )}
        </div>
      )}
    </Panel>
  );
}
