import { Button } from "antd";
import { useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { AskTeacher, Say } from "./Search";
import { Settle } from "./Settle";

type Row = Schemas["WorriedFor"];

/** Whose homes believe them at school, and whom nobody has seen: before everyone else. */
export function Worried({
  t,
  may,
  settles,
  write,
}: {
  t: Schemas["TodayView"];
  may: boolean;
  settles: boolean;
  write: Writing;
}) {
  const [asking, setAsking] = useState<{ student: number; what: "search" | "found" | "settle" }>();
  const first = t.worried[0];
  const ask = (w: Row, what: "search" | "found" | "settle") => setAsking({ student: w.student.id, what });
  useKeys(
    { s: () => first && !first.search.id && ask(first, "search"), f: () => first && ask(first, "found") },
    may && first !== undefined && !t.past,
  );
  if (!first) return null;
  const done = () => setAsking(undefined);
  return (
    <Panel title="Worried for" extra={t.worried.length} className="alarm worried">
      {t.worried.map((w) => (
        <div className="worry" key={w.student.id} data-worried={w.student.id}>
          <div className="look-line">
            <Shape state={w.place.state} />
            <StudentName student={w.student} />
            {w.warnings.map((one) => (
              <span key={one} className="look-warn">
                {one}
              </span>
            ))}
            <span className="look-small look-muted look-push look-nowrap">since {w.since}</span>
          </div>
          <p className="look-small">
            {w.text}.{w.seen && <span className="look-muted"> Before today last seen {w.seen}.</span>}
            {w.lesson && (
              <span className="look-muted">
                {" "}
                Should be in {w.lesson.title}, {w.lesson.room}.
              </span>
            )}
          </p>
          {w.contacts.map((c) => (
            <p key={c.id} className="look-small">
              {c.name} <span className="look-muted">{c.relation}</span> <b className="phone">{c.phone}</b>
            </p>
          ))}
          {w.search.id > 0 && (
            <p className="look-small look-strong">
              {w.search.by} is looking since {w.search.since}
            </p>
          )}
          {may && (
            <div className="look-actions">
              {!w.search.id && !t.past && (
                <Button size="small" type="primary" onClick={() => ask(w, "search")}>
                  Search {w === first && <kbd>S</kbd>}
                </Button>
              )}
              {!t.past && (
                <Button size="small" onClick={() => ask(w, "found")}>
                  Found {w === first && <kbd>F</kbd>}
                </Button>
              )}
              {settles && !t.past && (
                <AskTeacher
                  student={w.student}
                  lesson={w.lesson}
                  text={`Is ${w.student.name} with you? Home believes ${w.student.given} is at school, and nobody has seen them.`}
                  write={write}
                />
              )}
              {settles && (
                <Button size="small" onClick={() => ask(w, "settle")}>
                  Settle
                </Button>
              )}
            </div>
          )}
          {asking?.student === w.student.id &&
            (asking.what === "settle" ? (
              <Settle students={[w.student.id]} date={t.past ? t.date : undefined} write={write} done={done} />
            ) : (
              <Say
                key={asking.what}
                student={w.student.id}
                searcher={w.search.by}
                what={asking.what}
                write={write}
                done={done}
              />
            ))}
        </div>
      ))}
    </Panel>
  );
}
