import "./concerns.css";
import { keepPreviousData } from "@tanstack/react-query";
import { Select } from "antd";
import { useEffect, useMemo, useState } from "react";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { grouped } from "../../parts/grouped";
import { ofStudent } from "../../parts/in-list";
import { KeepList } from "../../parts/KeepList";
import { useKeys } from "../../parts/keys";
import { Long } from "../../parts/Long";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { throughout, useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { WriteToMany } from "../../parts/WriteToMany";
import { plural } from "../../parts/words";
import { Areas, areaColour } from "./Areas";
import { OneLine } from "./OneLine";
import { ReviewPanel } from "./ReviewPanel";
import { type Doing, Row } from "./Row";

type Page = Schemas["ConcernsView"];

const turns = ["new", "rising", "holding", "easing"] as const;
const rowHeight = 66; // px

/** Those whom the rules find, in the order of the decision to be made, each decided by one key. */
export default function Concerns() {
  const { at, params } = useAddress();
  const scope = useScope();
  const asked = {
    at,
    section: scope,
    group: params.get("group") ?? undefined,
    rule: params.get("kind") ?? undefined,
    owner: Number(params.get("owner")) || undefined,
    undecided: params.has("undecided") || undefined,
  };
  const page = useRead("/api/concerns", asked, { placeholderData: keepPreviousData });
  if (!page.data) return <Waiting error={page.error} />;
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(asked)) if (value !== undefined) query.set(name, String(value));
  return <Review p={page.data} file={(format) => `/api/concerns/file?${query}&format=${format}`} />;
}

function Review({ p, file }: { p: Page; file: (format: "csv" | "xlsx") => string }) {
  const who = useOutletContext<Schemas["Who"]>();
  const { params } = useAddress();
  const [current, setCurrent] = useState<number>();
  const [doing, setDoing] = useState<{ student: number; what: Doing }>();
  const teacher = who.role === "teacher";
  const at = p.rows.findIndex((r) => r.student.id === current);
  const row = p.rows[at] ?? p.rows.find((r) => r.due) ?? p.rows[0]; // until one is chosen, the first that waits

  useEffect(() => {
    if (current) document.querySelector(`[data-row="${current}"]`)?.scrollIntoView({ block: "nearest" });
  }, [current]);
  const move = (by: number) => {
    const from = row ? p.rows.indexOf(row) : 0;
    setCurrent(p.rows[Math.min(Math.max(from + by, 0), p.rows.length - 1)]?.student.id);
  };
  const begin = (what: Doing) => {
    if (!row) return;
    setCurrent(row.student.id);
    setDoing({ student: row.student.id, what });
  };
  /** Goes on to the next row that waits for a decision; the one that was decided may have left the list. */
  const goOn = (from: Schemas["ConcernRow"]) => {
    const place = p.rows.indexOf(from);
    const next = [...p.rows.slice(place + 1), ...p.rows.slice(0, place)].find((r) => r.due);
    setDoing(undefined);
    setCurrent((next ?? from).student.id);
  };
  const decide = p.mayDecide && {
    o: () => begin("case"),
    w: () => begin("wait"),
    n: () => begin("none"),
    l: () => begin("call"),
  };
  useKeys(
    {
      ArrowDown: () => move(1),
      ArrowUp: () => move(-1),
      ...decide,
      ...(p.mayTell && { t: () => begin("tell") }),
    },
    !doing,
  );
  return (
    <main className="page concerns-place">
      <h1 className="visually-hidden">Concerns</h1>
      <Filters p={p} teacher={teacher} file={file} />
      <div className="columns concerns">
        <div className="stack no-print">
          <Panel title="Rules" extra={`of ${p.students}${throughout(p.scope)}`}>
            <Kinds p={p} />
          </Panel>
          {!teacher && p.review.day && <ReviewPanel p={p} />}
        </div>
        <Panel
          title={plural(p.rows.length, "student")}
          extra={p.rows.length > 0 ? <Areas areas={p.rows.flatMap((r) => r.areas)} /> : `as at ${p.label}`}
        >
          {p.chances && (
            <p className="chances look-small look-muted">
              {p.chances} <Link to="/concerns/outlook">How far to trust it</Link>
            </p>
          )}
          {p.rows.length === 0 && (
            <Nobody p={p} narrowed={["kind", "group", "owner", "undecided"].some((x) => params.has(x))} />
          )}
          {turns.map((turn) => (
            <Turn key={turn} p={p} turn={turn} current={current}>
              {(r, place) => (
                <div {...place}>
                  <Row
                    r={r}
                    p={p}
                    current={r === row}
                    choose={() => setCurrent(r.student.id)}
                    doing={doing?.student === r.student.id ? doing.what : undefined}
                    begin={(what) => {
                      setCurrent(r.student.id);
                      setDoing(what && { student: r.student.id, what });
                    }}
                    done={() => goOn(r)}
                  />
                </div>
              )}
            </Turn>
          ))}
        </Panel>
      </div>
    </main>
  );
}

/** Those of one turn, under their heading. */
function Turn({
  p,
  turn,
  current,
  children,
}: {
  p: Page;
  turn: (typeof turns)[number];
  current: number | undefined;
  children: (row: Schemas["ConcernRow"], place: object) => React.ReactNode;
}) {
  const rows = useMemo(() => p.rows.filter((r) => r.turn === turn), [p.rows, turn]);
  if (rows.length === 0) return null;
  const since = p.review.before ? ` since ${p.review.before}` : "";
  const title = { new: `New${since}`, rising: "Rising", holding: "Holding", easing: "Easing" }[turn];
  return (
    <>
      <h3 className="group">
        <span>{title}</span>
        <span>{rows.length}</span>
      </h3>
      <Long
        rows={rows}
        height={rowHeight}
        keyOf={ofStudent}
        student={ofStudent}
        as="div"
        current={rows.findIndex((r) => r.student.id === current)}
      >
        {children}
      </Long>
    </>
  );
}

function Nobody({ p, narrowed }: { p: Page; narrowed: boolean }) {
  if (narrowed && p.any > 0) return <p className="empty">Nobody fits what is chosen above; {p.any} have a concern.</p>;
  return (
    <p className="empty">
      No rule finds any of {p.students}
      {throughout(p.scope)}.
    </p>
  );
}

/** Of whom the list is, and what goes along. */
function Filters({ p, teacher, file }: { p: Page; teacher: boolean; file: (format: "csv" | "xlsx") => string }) {
  const { params, set } = useAddress();
  const lists = useListGroups(!teacher);
  const decided = p.review.of - p.review.due;
  return (
    <div className="asked">
      <span className="no-print look-actions">
        <Select
          aria-label="Of whom"
          showSearch={{ optionFilterProp: "label" }}
          value={params.get("group") ?? ""}
          popupMatchSelectWidth={false}
          onChange={(group: string) => set({ group })}
          options={[
            { value: "", label: teacher ? "All my students" : "Everyone" },
            ...grouped([...p.groups, ...lists]),
          ]}
        />
        {!teacher && (
          <>
            <Choice
              label="Whose cases"
              value={Number(params.get("owner")) || 0}
              onChange={(owner) => set({ owner: owner ? String(owner) : undefined })}
              options={[
                { value: 0, label: "In anybody’s hands" },
                ...p.owners.map((o) => ({ value: o.id, label: o.mine ? `In mine` : o.name })),
              ]}
            />
            <Tick checked={params.has("undecided")} onChange={(on) => set({ undecided: on ? "1" : undefined })}>
              undecided {p.review.due}
            </Tick>
          </>
        )}
      </span>
      {!teacher && (
        <span className="look-muted look-small look-push" role="status">
          {decided} of {p.review.of} decided
          {p.review.deciders.map((d) => ` · ${d.by} ${d.n}, last ${d.last}`).join("")}
        </span>
      )}
      {!teacher && (
        <span className="look-actions no-print">
          <TakeAlong small file={file} />
          <KeepList students={p.rows.map((r) => r.student)}>Keep as a list …</KeepList>
          {p.mayDecide && <WriteToMany students={p.rows.map((r) => r.student)} />}
        </span>
      )}
    </div>
  );
}

function Kinds({ p }: { p: Page }) {
  const { params, set } = useAddress();
  const kind = params.get("kind") ?? undefined;
  return (
    <>
      <Kind title="Any" n={p.any} pressed={!kind} choose={() => set({ kind: undefined })} />
      {p.kinds.map((k) => (
        <Kind
          key={k.kind}
          title={k.title}
          n={k.n}
          colour={areaColour(k.area)}
          pressed={kind === k.kind}
          choose={() => set({ kind: k.kind })}
        />
      ))}
    </>
  );
}

function Kind({
  title,
  n,
  colour,
  pressed,
  choose,
}: {
  title: string;
  n: number;
  colour?: string;
  pressed: boolean;
  choose: () => void;
}) {
  return (
    <OneLine pressed={pressed} choose={choose}>
      <span>
        {colour && <i className="mark" style={{ background: colour }} />}
        {title}
      </span>
      <b>{n}</b>
    </OneLine>
  );
}
