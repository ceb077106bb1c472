import { keepPreviousData } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";
import { ofStudent } from "../../parts/in-list";
import { KeepList } from "../../parts/KeepList";
import { useKeys } from "../../parts/keys";
import { LogContact } from "../../parts/LogContact";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { throughout } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { tell } from "../../parts/told";
import { WriteToMany } from "../../parts/WriteToMany";
import { plural } from "../../parts/words";
import { asQuery, useAsked } from "./asked";
import { Confidential } from "./Confidential";
import { Filters } from "./Filters";
import { SessionDialog } from "./SessionDialog";
import { WeekTable } from "./WeekTable";

type Page = Schemas["NextView"];
type Row = Schemas["NextRow"];

const rowHeight = 64; // px
const parts = ["due", "unmet", "ahead"] as const;
const partWords = { due: "Due", unmet: "In no session this week", ahead: "Longest not reached" };
const outcomeKeys: Record<string, string> = {
  "1": "spoke",
  "2": "left a message",
  "3": "no answer",
  "4": "wrong number",
  m: "met",
};

/** Whom to contact next, in the order of the work, each done by key. */
export function Next() {
  const asked = useAsked();
  const page = useRead("/api/next", asked, { placeholderData: keepPreviousData });
  const week = useRead("/api/support/week", { ...asked, overdue: undefined }, { placeholderData: keepPreviousData });
  const { params, set } = useAddress();
  const [session, setSession] = useState(false);
  useKeys({ l: () => setSession(true) }, week.data?.may === true && !session);
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  return (
    <main className="page followup-place">
      <h1 className="visually-hidden">Whom to contact next</h1>
      <div className="asked">
        <Filters groups={p.groups} owners={p.owners}>
          <Tick checked={params.has("overdue")} onChange={(on) => set({ overdue: on ? "1" : undefined })}>
            overdue
          </Tick>
        </Filters>
        <span className="look-actions no-print look-push">
          <TakeAlong small file={(format) => `/api/next/file?${asQuery(asked)}&format=${format}`} />
          <KeepList students={p.rows.map((r) => r.student)}>Keep as a list …</KeepList>
          {p.mayLog && <WriteToMany students={p.rows.map((r) => r.student)} />}
          {week.data?.may && (
            <Button size="small" type="primary" onClick={() => setSession(true)}>
              Session … <kbd>L</kbd>
            </Button>
          )}
        </span>
      </div>
      <div className="columns next">
        <List p={p} still={session} />
        {week.data && (
          <Panel
            title="Support by week"
            extra={<Link to="/follow-up/support">the whole week</Link>}
            className="no-print"
          >
            <WeekTable v={week.data} most={14} />
          </Panel>
        )}
      </div>
      {session && week.data && <SessionDialog v={week.data} close={() => setSession(false)} />}
    </main>
  );
}

function List({ p, still }: { p: Page; still: boolean }) {
  const [current, setCurrent] = useState<number>();
  const [doing, setDoing] = useState<{ student: number; outcome?: string }>();
  const [turned, setTurned] = useState<Record<number, number>>({}); // which contact is next, by student
  const row = p.rows.find((r) => r.student.id === current) ?? p.rows[0];
  useEffect(() => {
    if (current) document.querySelector(`[data-row="${current}"]`)?.scrollIntoView({ block: "nearest" });
  }, [current]);
  const move = (by: number) => {
    const from = row ? p.rows.indexOf(row) : 0;
    setCurrent(p.rows[Math.min(Math.max(from + by, 0), p.rows.length - 1)]?.student.id);
  };
  const begin = (outcome?: string) => {
    if (!row || !p.mayLog) return;
    setCurrent(row.student.id);
    setDoing({ student: row.student.id, outcome });
  };
  const turn = (r: Row) => {
    const n = r.contacts.filter((c) => !c.doNotCall).length;
    if (n > 1) setTurned({ ...turned, [r.student.id]: ((turned[r.student.id] ?? 0) + 1) % n });
  };
  const goOn = (from: Row) => {
    setDoing(undefined);
    setCurrent((p.rows[p.rows.indexOf(from) + 1] ?? from).student.id);
  };
  useKeys(
    {
      ArrowDown: () => move(1),
      ArrowUp: () => move(-1),
      ArrowRight: () => row && turn(row),
      Enter: () => begin(),
      ...Object.fromEntries(Object.entries(outcomeKeys).map(([key, outcome]) => [key, () => begin(outcome)])),
    },
    !doing && !still,
  );
  return (
    <Panel
      title={plural(p.rows.length, "student")}
      extra={`${p.due} due · ${p.unmet} in no session this week${throughout(p.scope)} · figures as at ${p.label}`}
    >
      {p.rows.length === 0 && (
        <p className="empty">
          Nobody waits for a contact. Whoever is in a case, or was put off to a date, stands here; a case is opened
          under <Link to="/concerns">Concerns</Link> or <Link to="/follow-up/cases">Cases</Link>.
        </p>
      )}
      {parts.map((part) => {
        const rows = p.rows.filter((r) => r.part === part);
        if (rows.length === 0) return null;
        return (
          <div key={part}>
            <h3 className="group">
              <span>{partWords[part]}</span>
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
              {(r, place) => (
                <div {...place}>
                  <One
                    r={r}
                    p={p}
                    current={r === row}
                    turned={turned[r.student.id] ?? 0}
                    turn={() => turn(r)}
                    choose={() => setCurrent(r.student.id)}
                    begin={(outcome) => {
                      setCurrent(r.student.id);
                      setDoing({ student: r.student.id, outcome });
                    }}
                    doing={doing?.student === r.student.id ? doing : undefined}
                    done={() => goOn(r)}
                    close={() => setDoing(undefined)}
                  />
                </div>
              )}
            </Long>
          </div>
        );
      })}
    </Panel>
  );
}

function One({
  r,
  p,
  current,
  turned,
  turn,
  choose,
  begin,
  doing,
  done,
  close,
}: {
  r: Row;
  p: Page;
  current: boolean;
  turned: number;
  turn: () => void;
  choose: () => void;
  begin: (outcome?: string) => void;
  doing: { outcome?: string } | undefined;
  done: () => void;
  close: () => void;
}) {
  const callable = r.contacts.filter((c) => !c.doNotCall);
  const ring = callable[turned % Math.max(callable.length, 1)];
  return (
    <>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: the arrows choose, and the row's buttons do */}
      <div className={current ? "one chosen" : "one"} onClick={choose} data-row={r.student.id}>
        <div className="look-two">
          <StudentName student={r.student} form={false} />
          <span className="look-small look-muted">{r.student.form}</span>
        </div>
        <div className="look-two">
          <span>
            {r.why}
            {r.away && <b className="look-overdue"> · {r.away}</b>}
          </span>
          <span className="look-small look-muted">{r.figures}</span>
        </div>
        <div className="look-two look-small">
          <span>
            {r.last ? r.last : <b>home never reached</b>}
            {r.lastDays >= 0 && (
              <>
                {" · "}
                <b>{r.lastDays === 0 ? "today" : plural(r.lastDays, "day")}</b>
              </>
            )}
          </span>
          <span className="look-muted">{[r.tried, r.met || "student never met"].filter(Boolean).join(" · ")}</span>
        </div>
        <div className="look-two side">
          <span className={r.overdue ? "look-overdue" : undefined}>{r.today ? "today" : r.next || "–"}</span>
          {r.case ? (
            <Link className="look-small" to={`/follow-up/cases/${r.student.id}/${r.case}`}>
              case, {r.mine ? "yours" : r.owner}
            </Link>
          ) : (
            <span className="look-small look-muted">in no case</span>
          )}
        </div>
      </div>
      {current && !doing && (
        <div className="work">
          {r.warnings.map((w) => (
            <span key={w} className="look-warn look-small">
              {w}
            </span>
          ))}
          {ring ? (
            <span>
              Ring <b>{ring.name}</b> <span className="look-muted">{ring.relation}</span>{" "}
              <a href={`tel:${ring.phone.replace(/[^+\d]/g, "")}`}>{ring.phone}</a>
            </span>
          ) : (
            <b className="look-overdue">no contact on file</b>
          )}
          {p.mayLog && (
            <span className="look-actions look-here">
              {Object.entries(outcomeKeys).map(([key, outcome]) => (
                <Button
                  key={key}
                  size="small"
                  type={key === "1" ? "primary" : "default"}
                  onClick={() => begin(outcome)}
                >
                  {outcome === "met" ? "Met the student" : outcome.charAt(0).toUpperCase() + outcome.slice(1)}{" "}
                  <kbd>{key.toUpperCase()}</kbd>
                </Button>
              ))}
              {callable.length > 1 && (
                <Button size="small" onClick={turn} aria-label="→ Next contact">
                  <kbd>→</kbd>
                </Button>
              )}
            </span>
          )}
          {r.planned.map((s) => (
            <Planned key={s.id} r={r} s={s} may={p.mayLog} />
          ))}
          {r.agreed && (
            <span className="look-small look-muted last">
              last time: {r.note ? <Confidential student={r.student.id} note={r.note} /> : <q>{r.agreed}</q>} ·{" "}
              {r.agreedBy}
            </span>
          )}
        </div>
      )}
      {doing && (
        <LogContact
          key={doing.outcome}
          r={r}
          outcomes={p.outcomes}
          outcome={doing.outcome}
          contact={ring?.id}
          done={done}
          close={close}
        />
      )}
    </>
  );
}

/** Something planned whose day has come. */
function Planned({ r, s, may }: { r: Row; s: Schemas["PlannedNow"]; may: boolean }) {
  const end = useWrite({ done: (receipt) => tell.receipt(receipt), failed: (e) => tell.wrong(e.message) });
  return (
    <span className="planned">
      planned for {s.due}: <b>{s.text}</b> <span className="look-muted">{s.owner}</span>{" "}
      {may && (
        <Button
          size="small"
          loading={end.isPending}
          onClick={() => end.mutate({ path: "/api/cases/planned", body: { case: r.case, step: s.id, done: true } })}
        >
          Done
        </Button>
      )}
    </span>
  );
}
