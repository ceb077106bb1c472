import "./courses.css";
import { Button, Select } from "antd";
import { useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { OneOf } from "../../parts/controls/OneOf";
import { grouped } from "../../parts/grouped";
import { KeepList } from "../../parts/KeepList";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { Panel, Scrolls, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { Rule } from "./Rule";

type View = Schemas["CoursesView"];
type Line = Schemas["StudentLine"];
type Tried = { line: Line; strip: Schemas["CourseStrip"]; part: Schemas["PartMark"] };

/** Who is not on track and what would still do it, which courses fail most, and what a grade would change. */
export default function Courses() {
  const { at, params, set } = useAddress();
  const section = useScope();
  const lists = useListGroups();
  const asked = {
    at,
    section,
    group: params.get("group") ?? undefined,
    period: params.get("period") ?? undefined,
    by: (params.get("by") ?? undefined) as View["by"] | undefined,
  };
  const page = useRead("/api/courses", asked);
  const [tried, setTried] = useState<Tried>();
  const [rule, setRule] = useState(false);
  const who = useOutletContext<Schemas["Who"]>();
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  const file = (format: "csv" | "xlsx") => {
    const query = new URLSearchParams({ format });
    for (const [name, value] of Object.entries(asked)) if (value !== undefined) query.set(name, String(value));
    return `/api/courses/file?${query}`;
  };
  return (
    <main className="page courses-place">
      <h1 className="visually-hidden">Courses</h1>
      {!v.any ? (
        <Panel title="Courses">
          <p className="empty">
            There are no grades yet. An administrator brings them in under School, Import: courses.csv and grades.csv.
          </p>
        </Panel>
      ) : (
        <>
          <div className="asked no-print">
            <Choice
              label="Period"
              value={v.period}
              onChange={(period) => set({ period })}
              options={grouped(v.periods).map((g) => ({ label: g.label, options: g.options }))}
            />
            <Select
              aria-label="Of whom"
              showSearch={{ optionFilterProp: "label" }}
              value={params.get("group") ?? ""}
              popupMatchSelectWidth={false}
              onChange={(group: string) => set({ group })}
              options={[{ value: "", label: "Everyone" }, ...grouped([...v.groups, ...lists])]}
            />
            <span className="look-actions">
              <TakeAlong small file={file} />
              {!v.own && (
                <KeepList students={v.tracks.flatMap((t) => t.students.map((s) => s.student))}>
                  Keep as a list …
                </KeepList>
              )}
            </span>
          </div>
          <div className="columns courses">
            <Panel
              title={`${v.not} of ${v.of} ${v.not === 1 ? "is" : "are"} not on track`}
              extra={
                v.before === undefined
                  ? `${v.period}, ${v.half}`
                  : `${v.period}, ${v.half} · ${v.before} after ${v.since}`
              }
            >
              {v.own && <p className="empty">In the courses that you teach, of the students you teach them to.</p>}
              {v.not === 0 && (
                <p className="empty">
                  Everyone{v.group && ` of ${v.group}`}
                  is on track.
                </p>
              )}
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
              <Fails v={v} choose={(by) => set({ by: by === "course" ? undefined : by })} />
              <WhatIf
                key={tried && `${tried.line.student.id} ${tried.strip.course} ${tried.part.part}`}
                v={v}
                tried={tried}
                mayCorrect={!at && who.inOffice}
                saved={() => setTried(undefined)}
              />
              {v.ninth && (
                <Panel title="Year 9 rule" extra={`${v.ninth.onTrack} of ${v.ninth.of} on track`}>
                  <p className="empty look-small">{v.ninth.source}.</p>
                </Panel>
              )}
              <p className="look-small look-muted no-print">
                By the rule “{v.rule}”.{" "}
                {who.role !== "teacher" && (
                  <Button size="small" onClick={() => setRule(true)}>
                    What it says …
                  </Button>
                )}
              </p>
            </div>
          </div>
        </>
      )}
      {rule && <Rule mayChange={!at && who.role === "administrator"} close={() => setRule(false)} />}
    </main>
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
function Fails({ v, choose }: { v: View; choose: (by: View["by"]) => void }) {
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
            { value: "course" as const, label: "course" },
            { value: "class" as const, label: "class" },
            { value: "area" as const, label: "area" },
          ]}
        />
      </div>
      {(all ? v.failing : v.failing.slice(0, most)).map((f) => (
        <div className="fail look-fills" key={f.name}>
          <span>{f.name}</span>
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
