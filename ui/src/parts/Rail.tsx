import { Button } from "antd";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { type Schemas, useRead } from "../api/client";
import { useAddress } from "./look-at";
import { chosen, lookAtSections, useScope } from "./scope";

const around = 75; // minutes that the rail shows before the first slot and after the last
const usual = { from: 7 * 60 + 30, to: 16 * 60 + 30 }; // of a day without slots

/** The span that a rail shows: that of the day's slots, with who comes before and leaves after. */
class Scale {
  readonly from: number;
  readonly to: number;

  constructor(strips: Schemas["RailStrip"][]) {
    const slots = strips.flatMap((s) => s.slots);
    const half = (minute: number) => Math.round(minute / 30) * 30;
    this.from = slots.length > 0 ? Math.max(0, half(Math.min(...slots.map((s) => s.start)) - around)) : usual.from;
    this.to = slots.length > 0 ? Math.min(1440, half(Math.max(...slots.map((s) => s.end)) + around - 30)) : usual.to;
  }

  bounded = (minute: number) => Math.min(Math.max(minute, this.from), this.to);
  left = (minute: number) => `${((minute - this.from) / (this.to - this.from)) * 100}%`;
  width = (minutes: number) => `${(minutes / (this.to - this.from)) * 100}%`;
  hours = () => {
    const first = Math.ceil((this.from + 1) / 60);
    return Array.from({ length: Math.floor((this.to - 1) / 60) - first + 1 }, (_, i) => first + i);
  };
}

export function clock(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
}

function minuteOf(instant: string): number {
  return Number(instant.slice(11, 13)) * 60 + Number(instant.slice(14, 16));
}

const tickColour = { in: "var(--in)", late: "var(--late)", left: "var(--left)" } as const;

type RailStrip = Schemas["RailStrip"];

/** Which of its school days a section is looked at. */
const dayOf = (s: RailStrip) => (s.open ? `day ${s.number} of ${s.of}` : "no school");

/** Which sections are looked at: all, or those chosen. Schools with one have nothing to choose. */
function Sections({ all, looked }: { all: Schemas["SectionRef"][]; looked: number[] | undefined }) {
  if (all.length === 0) return null;
  const ids = all.map((s) => s.id);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset draws a frame of its own
    <div className="sections" role="group" aria-label="Sections">
      <button type="button" aria-pressed={!looked} onClick={() => lookAtSections([])}>
        All
      </button>
      {all.map((s) => (
        <button
          key={s.id}
          type="button"
          aria-pressed={looked?.includes(s.id) ?? false}
          onClick={() => lookAtSections(chosen(looked, s.id, ids))}
        >
          {s.name}
        </button>
      ))}
    </div>
  );
}

/** The day of one section: its bells with the registers that are in, and who came and went. */
function Strip({ strip, minute, scale }: { strip: RailStrip; minute: number; scale: Scale }) {
  return (
    <div className="strip" data-section={strip.name || undefined}>
      {strip.ticks.map((t) => (
        <i
          key={`${t.at} ${t.kind}`}
          className="tick"
          style={{
            left: scale.left(t.at),
            height: Math.min(4 + t.n * 1.2, 16),
            background: tickColour[t.kind],
            opacity: t.n > 1 ? 1 : 0.75,
          }}
        />
      ))}
      {strip.slots.map((s) => (
        <div
          key={s.name}
          className={`slot ${s.kind}${minute >= s.start && minute < s.end ? " now" : ""}`}
          style={{ left: scale.left(s.start), width: scale.width(s.end - s.start) }}
          title={`${[strip.name, s.name].filter(Boolean).join(", ")} ${clock(s.start)}–${clock(s.end)}: ${s.in} of ${s.registers} registers in`}
        >
          {s.kind === "registration" ? "Reg" : s.name}
          {s.registers > 0 && s.in > 0 && <i className="fill" style={{ width: `${(s.in / s.registers) * 100}%` }} />}
        </div>
      ))}
    </div>
  );
}

/** The school day to scale; dragging the needle looks at any earlier minute. */
export function Rail({ who }: { who: Schemas["Who"] }) {
  const { at, set } = useAddress();
  const section = useScope();
  const rail = useRead("/api/rail", { at, section }, { refetchInterval: at ? false : 15_000 });
  const scale = useRef<HTMLDivElement>(null);
  const wanted = useRef<number>(undefined);
  const [dragged, setDragged] = useState<number>();
  const data = rail.data;
  if (!data) return <div className="rail" aria-busy="true" />;
  const span = new Scale(data.strips);
  const { from, to } = span;
  const now = minuteOf(data.now);
  const today = data.now.slice(0, 10);
  const latest = data.date === today ? now : to;
  const shown = at && at.length > 10 ? minuteOf(at) : minuteOf(data.asAt);
  const minute = dragged ?? shown;
  const whole = at?.length === "YYYY-MM-DD".length && dragged === undefined; // a day that is over, as it stands now

  const look = (m: number) => {
    const bounded = Math.min(Math.max(m, from), latest);
    set({ at: data.date === today && bounded >= now ? undefined : `${data.date}T${clock(bounded)}` });
  };
  const pointed = (e: PointerEvent) => {
    const box = scale.current?.getBoundingClientRect();
    if (!box) return now;
    return Math.round(Math.min(Math.max(from + ((e.clientX - box.left) / box.width) * (to - from), from), latest));
  };
  const day = (date: string) => date && set({ at: date === today ? undefined : date }, false);
  const onKey = (e: KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowRight: 1, PageDown: -30, PageUp: 30 }[e.key];
    if (step) {
      e.preventDefault();
      // Keys may come faster than the address follows.
      if (wanted.current === shown) wanted.current = undefined;
      wanted.current = (wanted.current ?? minute) + step * (e.shiftKey ? 5 : 1);
      look(wanted.current);
    }
    if (e.key === "Escape" || e.key === "End") {
      wanted.current = undefined;
      set({ at: undefined });
    }
  };
  const one = data.strips.length === 1 ? data.strips[0] : undefined;
  const words = one ? dayOf(one) : data.open ? "" : "no school";
  return (
    <>
      <section className={`rail strips-${data.strips.length}`} aria-label="Day rail">
        <div className="date">
          <strong>{data.label}</strong>
          <div className="look-small look-muted">
            <button
              type="button"
              className="turn"
              aria-label="School day before"
              disabled={!data.before}
              onClick={() => day(data.before)}
            >
              ‹
            </button>
            {[words, data.live && "live"].filter(Boolean).join(" · ")}
            <button
              type="button"
              className="turn"
              aria-label="School day after"
              disabled={!data.after}
              onClick={() => day(data.after)}
            >
              ›
            </button>
          </div>
          <Sections all={data.sections} looked={section} />
        </div>
        {!one && (
          <div className="names look-small">
            {data.strips.map((s) => (
              <span key={s.section} className="name">
                <b>{s.name}</b> <span className="look-muted">{dayOf(s)}</span>
              </span>
            ))}
          </div>
        )}
        <div
          className="scale"
          ref={scale}
          role="slider"
          tabIndex={0}
          aria-label="Minute looked at"
          aria-valuemin={from}
          aria-valuemax={latest}
          aria-valuenow={Math.min(Math.max(minute, from), latest)}
          aria-valuetext={`${clock(minute)}${data.live ? ", live" : ""}`}
          onKeyDown={onKey}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            setDragged(pointed(e));
          }}
          onPointerMove={(e) => dragged !== undefined && setDragged(pointed(e))}
          onPointerUp={() => {
            if (dragged !== undefined) look(dragged);
            setDragged(undefined);
          }}
        >
          {data.strips.map((s) => (
            <Strip key={s.section} strip={s} minute={minute} scale={span} />
          ))}
          {span.hours().map((h) => (
            <span key={h} className="hour" style={{ left: span.left(h * 60) }}>
              {h}
            </span>
          ))}
          <div
            className={`needle${data.live && dragged === undefined ? "" : " past"}`}
            style={{ left: span.left(span.bounded(minute)) }}
          >
            {!whole && <span>{clock(minute)}</span>}
          </div>
        </div>
      </section>
      <p className="look-on-paper">
        <b>{who.school}</b>
        {data.sections.length > 0 && `, ${section ? data.strips.map((s) => s.name).join(", ") : "all sections"}`} ·{" "}
        {whole ? `${data.label}, as it is known now` : `as at ${clock(minute)}, ${data.label}`} · student data, printed
        by {who.name}
      </p>
      {!data.live && (
        <p className="asat no-print" role="status">
          <span>
            {who.school}{" "}
            {whole ? (
              <>
                <b>{data.label}</b>, as it is known now. What you save here is about that day.
              </>
            ) : (
              <>
                <b>
                  as at {clock(minuteOf(data.asAt))}, {data.label}
                </b>
                , as it was known then.
              </>
            )}
          </span>
          <Button size="small" onClick={() => set({ at: undefined })}>
            Back to live
          </Button>
        </p>
      )}
    </>
  );
}
