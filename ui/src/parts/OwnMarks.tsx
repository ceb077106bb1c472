import "./own-marks.css";
import { createContext, type ReactNode, useContext, useMemo } from "react";
import { type Schemas, useRead } from "../api/client";
import { Icon } from "../look/Icon";

type Mark = Schemas["OwnMark"];
type Where = "roll" | "call" | "desk";

/** What the school's own fields show beside names here. */
const Shown = createContext<ReadonlyMap<number, Mark[]>>(new Map());

const places: [RegExp, Where][] = [
  [/^\/registers/, "roll"],
  [/^\/(today|calls|follow-up)/, "call"],
  [/^\/desk/, "desk"],
];

/** Shows the school's own fields beside names on the pages that they are for. */
export function WithOwnMarks({ path, children }: { path: string; children: ReactNode }) {
  const where = places.find(([of]) => of.test(path))?.[1];
  const list = useRead("/api/own-fields", { where: where ?? "roll" }, { enabled: where !== undefined }).data;
  const marks = useMemo(
    () => new Map(where && list ? list.map((s) => [s.student, s.marks] as const) : []),
    [where, list],
  );
  return <Shown.Provider value={marks}>{children}</Shown.Provider>;
}

/** The marks of one student, by icon, or by what the field holds where it has none. */
export function OwnMarks({ student }: { student: number }) {
  const marks = useContext(Shown).get(student);
  if (!marks) return null;
  return (
    <>
      {marks.map((m) => (
        <span key={m.name} className="own-mark" title={`${m.name}: ${m.words}`}>
          {m.icon ? <Icon name={m.icon} /> : m.words}
          {m.icon && (
            <span className="visually-hidden">
              {m.name}: {m.words}
            </span>
          )}
        </span>
      ))}
    </>
  );
}
