import { Button } from "antd";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas, Writing } from "../../api/client";
import { useKeys } from "../../parts/keys";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { plural } from "../../parts/words";
import { Filter, fits } from "./Filter";
import { Home } from "./Home";
import { Held, HoldMany, TextMany } from "./Many";

const rowHeight = 44; // px

/** What opens the dialog for a call from home, about an earlier day or the present one. */
export const callFromHome = (past: string | undefined) =>
  past ? { notice: "new", noticeFrom: past, noticeTo: past } : { notice: "new" };

/** The homes to ring, one after the other, by key. */
export function CallHome({
  t,
  may,
  write,
  texted,
}: {
  t: Schemas["TodayView"];
  may: boolean;
  write: Writing;
  texted: (stored: Schemas["Receipt"]) => void; // homes were written to: for some seconds it can be taken back
}) {
  const [chosenKey, setChosen] = useState<string>();
  const [causeKey, setCause] = useState<string>();
  const [begun, setBegun] = useState<Schemas["HouseholdView"]>(); // whose call is being written down
  const [written, setWritten] = useState(0); // calls stored or left, each with a field of its own
  const [doing, setDoing] = useState<"hold" | "text">();
  const { set } = useAddress();
  const [filter, setFilter] = useState<string[]>([]);
  const [early, setEarly] = useState(false); // ring before the school's own minute
  const cause = t.causes.find((c) => c.key === causeKey);
  const due = t.households.filter((h) => early || !h.early);
  const listed = (
    cause ? due.filter((h) => h.students.some((s) => cause.students.includes(s.student.id))) : due
  ).filter((h) => fits(h, filter));
  const off = begun && !listed.some((h) => h.key === begun.key);
  const households = off ? [begun, ...listed] : listed;
  const list = useRef<HTMLDivElement>(null);
  const now = households.findIndex((h) => h.key === (begun?.key ?? chosenKey));
  const chosen = households[now] ?? households[0];
  const place = Math.max(now, 0);
  const go = (step: number) => {
    const next = households[Math.min(Math.max(place + step, 0), households.length - 1)];
    if (next) choose(next);
  };
  const choose = (h: Schemas["HouseholdView"]) => {
    setChosen(h.key);
    if (h.key !== begun?.key) setBegun(undefined);
  };
  useKeys({ ArrowDown: () => go(1), ArrowUp: () => go(-1) }, households.length > 0);
  useKeys({ h: () => setDoing("hold"), x: () => setDoing("text") }, may && !t.past && households.length > 0);
  useKeys({ k: () => setCause(cause ? undefined : t.causes[0]?.key) }, t.causes.length > 0);
  useEffect(() => {
    if (chosenKey) list.current?.querySelector(".chosen")?.scrollIntoView({ block: "nearest" });
  }, [chosenKey]);
  const extra = [
    `${plural(t.ring, "home")} to ring`,
    t.held > 0 && `${t.held} held`,
    filter.length > 0 && `${listed.length} of ${due.length} shown`,
  ]
    .filter(Boolean)
    .join(" · ");
  const free = listed.filter((h) => !h.held);
  const waiting = t.households.filter((h) => h.early);
  return (
    <Panel title="Call home" extra={t.households.length > 0 ? extra : undefined} className="call-home">
      {t.households.length === 0 && (
        <p className="empty">
          {t.calm} {t.scope}.
        </p>
      )}
      {waiting.length > 0 && !early && (
        <p className="empty">
          Homes are rung from {t.callFrom}: {plural(waiting.length, "home")} so far.{" "}
          <button type="button" className="link" onClick={() => setEarly(true)}>
            Show them now
          </button>
        </p>
      )}
      {t.causes.map((c, i) => (
        <div className="look-line look-small cause" key={c.key}>
          <span>
            <b>{c.text}</b> · {c.shares}
          </span>
          <button
            type="button"
            className="link look-push"
            aria-pressed={c === cause}
            onClick={() => setCause(c === cause ? undefined : c.key)}
          >
            {c === cause ? "Show everyone" : `Only these ${c.students.length}`} {i === 0 && <kbd>K</kbd>}
          </button>
          {may && !t.past && unheld(t, c) > 0 && (
            <Button
              size="small"
              onClick={() => {
                setCause(c.key);
                setDoing("hold");
              }}
            >
              Hold these {unheld(t, c)}
            </Button>
          )}
        </div>
      ))}
      {t.holds.map((h) => (
        <Held key={h.id} h={h} may={may} write={write} />
      ))}
      {may && doing === "hold" && (
        <HoldMany
          key={causeKey}
          homes={cause ? free : [chosen].filter((h) => h !== undefined)}
          cause={cause}
          write={write}
          done={() => {
            setDoing(undefined);
            setCause(undefined);
          }}
        />
      )}
      {may && doing === "text" && (
        <TextMany
          homes={listed}
          write={write}
          done={(stored) => {
            setDoing(undefined);
            if (stored) texted(stored);
          }}
        />
      )}
      <div ref={list} className="homes">
        <Long rows={households} height={rowHeight} keyOf={(h) => h.key} as="div">
          {(h, place) => (
            <div {...place}>
              <Home
                key={h === chosen ? `${h.key} ${written}` : h.key}
                h={h}
                date={t.past ? t.date : undefined}
                chosen={h === chosen}
                may={may}
                write={write}
                choose={() => choose(h)}
                next={() => go(1)}
                off={off === true && h === begun}
                begun={() => setBegun(h)}
                done={() => {
                  setBegun(undefined);
                  setWritten((n) => n + 1);
                }}
              />
            </div>
          )}
        </Long>
      </div>
      {(t.households.length > 0 || may) && (
        <div className="look-line look-wrap look-small look-muted">
          {may && (
            <span className="look-actions look-here">
              <Button size="small" onClick={() => set(callFromHome(t.past ? t.date : undefined), false)}>
                Call from home <kbd>N</kbd>
              </Button>
              {listed.length > 0 && !t.past && (
                <Button size="small" onClick={() => setDoing("text")}>
                  Text … <kbd>X</kbd>
                </Button>
              )}
              {chosen && !chosen.held && !t.past && (
                <Button size="small" onClick={() => setDoing("hold")}>
                  Hold … <kbd>H</kbd>
                </Button>
              )}
              {t.households.length > 0 && (
                <Link to={`/calls${t.past ? `?at=${t.date}` : ""}`} className="ant-btn-like">
                  Print or save
                </Link>
              )}
            </span>
          )}
          {t.households.length > 1 && <Filter t={t} value={filter} onChange={setFilter} />}
        </div>
      )}
    </Panel>
  );
}

/** How many of those who share a cause are not held yet. */
function unheld(t: Schemas["TodayView"], c: Schemas["CauseView"]): number {
  const held = new Set(t.households.filter((h) => h.held).flatMap((h) => h.students.map((s) => s.student.id)));
  return c.students.filter((s) => !held.has(s)).length;
}
