import { Fragment } from "react";
import type { Schemas } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { useAddress } from "../../parts/look-at";
import { plural } from "../../parts/words";

/** The count as one equation that adds up. A part opens into who it is and why. */
export function Count({ t }: { t: Schemas["TodayView"] }) {
  const { params, set } = useAddress();
  const open = params.get("part");
  return (
    <section className="panel" aria-label={`Count at ${t.scope}`}>
      <div className="count" data-testid="count">
        <div className="part">
          <b data-state="roll">{t.roll}</b>
          <span>on roll</span>
        </div>
        {t.count.map((c, i) =>
          c.state === "not-due" && c.n === 0 ? null : (
            <Fragment key={c.state}>
              <span className="sign" aria-hidden="true">
                {i === 0 ? "=" : "+"}
              </span>
              <button
                type="button"
                className={`part ${c.state}${c.n === 0 ? " none" : ""}`}
                aria-expanded={open === c.state}
                onClick={() => set({ part: open === c.state ? undefined : c.state }, false)}
              >
                <b data-state={c.state}>{c.n}</b>
                <span>
                  {isState(c.state) && c.state !== "not-due" && <Shape state={c.state} silent />}
                  {c.label}
                </span>
              </button>
            </Fragment>
          ),
        )}
        <Beside t={t} />
      </div>
    </section>
  );
}

/** What the last part of the count is made of, in words. */
function Beside({ t }: { t: Schemas["TodayView"] }) {
  const first = [
    t.worried.length > 0 && (
      <span key="worried" className="look-overdue">
        <b>{t.worried.length}</b> worried for
      </span>
    ),
    t.held > 0 && (
      <span key="held">
        <b>{t.held}</b> held{t.holds.length === 1 && `: ${t.holds[0]?.reason}`}
      </span>
    ),
  ].filter(Boolean);
  const second = [
    t.ring > 0 && (
      <span key="ring">
        <b>{t.ring}</b> {t.ring === 1 ? "home to ring" : "homes to ring"}
      </span>
    ),
    t.noContact > 0 && (
      <span key="none">
        <b>{t.noContact}</b> without a contact
      </span>
    ),
  ].filter(Boolean);
  const line = (parts: typeof first) =>
    parts.length > 0 && <div>{parts.flatMap((p, i) => (i > 0 ? [" · ", p] : [p]))}</div>;
  return (
    <div className="beside" role="status" aria-label="Unaccounted for">
      <span className="visually-hidden">
        {plural(t.count.find((c) => c.state === "unaccounted")?.n ?? 0, "student")} unaccounted for
      </span>
      {line(first)}
      {line(second)}
    </div>
  );
}
