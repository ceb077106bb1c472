import { Button } from "antd";
import { useEffect, useRef, useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { useKeys } from "../../parts/keys";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { plural } from "../../parts/words";
import { Home } from "./Home";
import { ForMany, Held } from "./Many";

const rowHeight = 44; // px

/** The homes to ring, one after the other, by key. */
export function CallHome({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [chosenKey, setChosen] = useState<string>();
  const [all, setAll] = useState(false);
  const [causeKey, setCause] = useState<string>();
  const [begun, setBegun] = useState<Schemas["HouseholdView"]>(); // whose call is being written down
  const [written, setWritten] = useState(0); // calls stored or left, each with a field of its own
  const [doing, setDoing] = useState<"hold" | "text">();
  const { set } = useAddress();
  const cause = t.causes.find((c) => c.key === causeKey);
  const listed = cause
    ? t.households.filter((h) => h.students.some((s) => cause.students.includes(s.student.id)))
    : t.households;
  const off = begun && !listed.some((h) => h.key === begun.key);
  const households = off ? [begun, ...listed] : listed;
  const list = useRef<HTMLDivElement>(null);
  const now = households.findIndex((h) => h.key === (begun?.key ?? chosenKey));
  const chosen = households[now] ?? households[0];
  const place = Math.max(now, 0);
  const shown = all ? households : households.slice(0, Math.max(7, place + 1));
  const go = (step: number) => {
    const next = households[Math.min(Math.max(place + step, 0), households.length - 1)];
    if (next) choose(next);
  };
  const choose = (h: Schemas["HouseholdView"]) => {
    setChosen(h.key);
    if (h.key !== begun?.key) setBegun(undefined);
  };
  useKeys({ ArrowDown: () => go(1), ArrowUp: () => go(-1) }, households.length > 0);
  useKeys({ h: () => setDoing("hold"), x: () => setDoing("text") }, may && households.length > 0);
  useKeys({ k: () => setCause(cause ? undefined : t.causes[0]?.key) }, t.causes.length > 0);
  useEffect(() => {
    if (chosenKey) list.current?.querySelector(".chosen")?.scrollIntoView({ block: "nearest" });
  }, [chosenKey]);
  const extra =
    t.missing > 0
      ? [
          plural(t.missing, "student"),
          plural(t.households.length, "home"),
          t.held > 0 && `${t.held} held`,
          t.noContact > 0 && `${t.noContact} without a contact`,
        ]
          .filter(Boolean)
          .join(" · ")
      : undefined;
  const free = households.filter((h) => !h.held);
  return (
    <Panel title="Call home" extra={extra}>
      {t.households.length === 0 && (
        <p className="empty">
          {t.waiting > 0 || t.registers.length > 0
            ? `Nobody to ring yet; ${t.registers.length} registers are still out. ${t.scope}.`
            : `Nobody is unaccounted for at ${t.asAt.slice(11)}. ${t.scope}.`}
        </p>
      )}
      {t.causes.map((c, i) => (
        <div className="line small cause" key={c.key}>
          <span>
            <b>{c.text}</b> · {c.shares}
          </span>
          <button
            type="button"
            className="link push"
            aria-pressed={c === cause}
            onClick={() => setCause(c === cause ? undefined : c.key)}
          >
            {c === cause ? "Show everyone" : `Only these ${c.students.length}`} {i === 0 && <kbd>K</kbd>}
          </button>
          {may && (
            <Button
              size="small"
              onClick={() => {
                setCause(c.key);
                setDoing("hold");
              }}
            >
              Hold these {c.students.length}
            </Button>
          )}
        </div>
      ))}
      {t.holds.map((h) => (
        <Held key={h.id} h={h} may={may} write={write} />
      ))}
      {may && doing && (
        <ForMany
          key={`${doing} ${causeKey}`}
          what={doing}
          homes={doing === "hold" && !cause ? [chosen].filter((h) => h !== undefined) : free}
          cause={cause}
          write={write}
          done={() => {
            setDoing(undefined);
            setCause(undefined);
          }}
        />
      )}
      <div ref={list}>
        <Long rows={shown} height={rowHeight} keyOf={(h) => h.key} as="div">
          {(h, place) => (
            <div {...place}>
              <Home
                key={h === chosen ? `${h.key} ${written}` : h.key}
                h={h}
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
      {(households.length > 0 || may) && (
        <div className="line small muted">
          {households.length > shown.length && (
            <button type="button" className="link" onClick={() => setAll(true)}>
              {households.length - shown.length} more homes
            </button>
          )}
          {may && (
            <span className="actions here">
              <Button size="small" onClick={() => set({ notice: "new" }, false)}>
                Home rings in <kbd>N</kbd>
              </Button>
              {free.length > 0 && (
                <Button size="small" onClick={() => setDoing("text")}>
                  Text {plural(free.length, "home")} <kbd>X</kbd>
                </Button>
              )}
              {chosen && !chosen.held && (
                <Button size="small" onClick={() => setDoing("hold")}>
                  Hold <kbd>H</kbd>
                </Button>
              )}
            </span>
          )}
          <span className="push">Care first, then the youngest, then those not yet tried</span>
        </div>
      )}
    </Panel>
  );
}
