import { Button } from "antd";
import { useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { AskTeacher, Say } from "./Search";

type Missing = Schemas["MissingOnSite"];

/**
 * On site and not where they should be: a search first, with who looks and who found them where. Its keys
 * are silent while somebody is worried for: theirs come first.
 */
export function OnSite({
  t,
  may,
  asks,
  write,
}: {
  t: Schemas["TodayView"];
  may: boolean;
  asks: boolean;
  write: Writing;
}) {
  const [asking, setAsking] = useState<{ student: number; what: "search" | "found" }>();
  const first = t.worried.length === 0 ? t.onSite[0] : undefined;
  const giveUp = (m: Missing) =>
    write.mutate({ path: "/api/searches/end", body: { student: m.student.id, found: false } });
  const ask = (m: Missing, what: "search" | "found") => setAsking({ student: m.student.id, what });
  useKeys(
    {
      s: () => first && !first.search.id && ask(first, "search"),
      f: () => first && ask(first, "found"),
      g: () => first && giveUp(first),
    },
    may && first !== undefined,
  );
  if (t.onSite.length === 0) return null;
  return (
    <Panel title="On site, not where they should be" extra={t.onSite.length} className="alarm">
      {t.onSite.map((m) => (
        <div className="look-line look-wrap" key={m.student.id}>
          <Shape state="unaccounted" />
          <div className="look-two look-wide">
            <span>
              <StudentName student={m.student} />{" "}
              {m.warnings.map((w) => (
                <span key={w} className="look-warn">
                  {w}
                </span>
              ))}
            </span>
            <span className="look-small">
              {m.search.id ? `${m.search.by} is looking since ${m.search.since} · ` : ""}
              {m.text}
            </span>
          </div>
          {may && (
            <div className="look-actions">
              {!m.search.id && (
                <Button size="small" type="primary" onClick={() => ask(m, "search")}>
                  Search {m === first && <kbd>S</kbd>}
                </Button>
              )}
              <Button size="small" onClick={() => ask(m, "found")}>
                Found {m === first && <kbd>F</kbd>}
              </Button>
              {asks && (
                <AskTeacher
                  student={m.student}
                  lesson={m.lesson}
                  text={`Is ${m.student.name} with you? ${m.text}.`}
                  write={write}
                />
              )}
              <Button size="small" onClick={() => giveUp(m)}>
                {m.search.id ? "Give up" : "Ring home"} {m === first && <kbd>G</kbd>}
              </Button>
            </div>
          )}
          {asking?.student === m.student.id && (
            <Say
              key={asking.what}
              student={m.student.id}
              searcher={m.search.by}
              what={asking.what}
              write={write}
              done={() => setAsking(undefined)}
            />
          )}
        </div>
      ))}
    </Panel>
  );
}
