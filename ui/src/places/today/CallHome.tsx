import { Button } from "antd";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { Schemas, Writing } from "../../api/client";
import { useSettings } from "../../api/settings";
import { Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { Reasons } from "../../parts/Reasons";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";
import { ForMany, Held } from "./Many";

type Household = Schemas["HouseholdView"];
type Reason = Schemas["Reason"];

const outcomes = [
  { outcome: "spoke", words: "Spoke" },
  { outcome: "message", words: "Left message" },
  { outcome: "no answer", words: "No answer" },
  { outcome: "wrong number", words: "Wrong number" },
] as const;

/** The homes to ring, one after the other, by key. */
export function CallHome({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [chosenKey, setChosen] = useState<string>();
  const [all, setAll] = useState(false);
  const [causeKey, setCause] = useState<string>();
  const [doing, setDoing] = useState<"hold" | "text">();
  const { set } = useAddress();
  const cause = t.causes.find((c) => c.key === causeKey);
  const households = cause
    ? t.households.filter((h) => h.students.some((s) => cause.students.includes(s.student.id)))
    : t.households;
  const list = useRef<HTMLDivElement>(null);
  const now = households.findIndex((h) => h.key === chosenKey);
  const chosen = households[now] ?? households[0];
  const place = Math.max(now, 0);
  const shown = all ? households : households.slice(0, Math.max(7, place + 1));
  const go = (step: number) => {
    const next = households[Math.min(Math.max(place + step, 0), households.length - 1)];
    if (next) setChosen(next.key);
  };
  useKeys({ ArrowDown: () => go(1), ArrowUp: () => go(-1) }, households.length > 0);
  useKeys({ h: () => setDoing("hold"), x: () => setDoing("text") }, may && households.length > 0);
  useKeys({ k: () => setCause(cause ? undefined : t.causes[0]?.key) }, t.causes.length > 0);
  useEffect(() => {
    if (chosenKey) list.current?.querySelector(".chosen")?.scrollIntoView({ block: "nearest" });
  }, [chosenKey]);
  const aside =
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
    <Panel title="Call home" aside={aside}>
      {t.households.length === 0 && (
        <p className="empty" style={{ margin: 0 }}>
          {t.waiting > 0 || t.registers.length > 0
            ? `Nobody to ring at ${t.scope} yet; ${t.registers.length} registers are still out.`
            : `Nobody at ${t.scope} is unaccounted for. ${t.asAt.slice(11)}`}
        </p>
      )}
      {t.causes.map((c, i) => (
        <div className="line small cause" key={c.key}>
          <span>
            <b>{c.words}</b> · {c.shares}
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
        {shown.map((h) => (
          <Home
            key={h.key}
            h={h}
            chosen={h === chosen}
            may={may}
            write={write}
            choose={() => setChosen(h.key)}
            next={() => go(1)}
          />
        ))}
      </div>
      {(households.length > 0 || may) && (
        <div className="line small quiet">
          {households.length > shown.length && (
            <button type="button" className="link" onClick={() => setAll(true)}>
              {households.length - shown.length} more homes
            </button>
          )}
          {may && (
            <span className="actions" style={{ margin: 0 }}>
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

function Home({
  h,
  chosen,
  may,
  write,
  choose,
  next,
}: {
  h: Household;
  chosen: boolean;
  may: boolean;
  write: Writing;
  choose: () => void;
  next: () => void;
}) {
  const last = h.attempts.at(-1);
  return (
    <section
      className={`home${chosen ? " chosen" : ""}`}
      aria-label={h.students.map((s) => s.student.name).join(", ")}
      data-home={h.key}
    >
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys choose a home */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: as above */}
      <div className="row" onClick={choose}>
        <div>
          {h.students.map((s) => (
            <div className="who" key={s.student.id}>
              <Shape state="unaccounted" />
              <StudentName student={s.student} />
              {s.warnings.map((w) => (
                <span key={w} className="warn">
                  {w}
                </span>
              ))}
            </div>
          ))}
        </div>
        <Contacts h={h} open={chosen} />
        <div className="small quiet">
          {h.held ? (
            <span>
              held until {h.again}: {h.held}
            </span>
          ) : last ? (
            <span>
              {attemptWords(last)}
              {h.again && (h.waits ? `, again ${h.again}` : ", try again now")}
            </span>
          ) : (
            <span>
              {chosen && `${h.students[0]?.words} · `}
              {h.students[0]?.words.startsWith("expected") ? h.students[0].words : h.students[0]?.lately}
            </span>
          )}
        </div>
      </div>
      {chosen && may && <Act h={h} write={write} next={next} key={`${h.key} ${h.attempts.length}`} />}
    </section>
  );
}

/** An attempt in a few words: "no answer 09:12", "text delivered 09:12". */
function attemptWords(a: Schemas["AttemptView"]): string {
  return [a.outcome, a.outcome === "text" && a.said, a.at].filter(Boolean).join(" ");
}

function Contacts({ h, open }: { h: Household; open: boolean }) {
  if (h.contacts.length === 0) return <b className="overdue">no contact on file · ask {h.students[0]?.student.form}</b>;
  if (!open) {
    const c = h.contacts[Math.max(h.next, 0)];
    return (
      <span className="small">
        {c?.name} · {c?.phone}
      </span>
    );
  }
  return (
    <ol className="small">
      {h.contacts.map((c, i) => (
        <li key={c.id} className={i === h.next ? "next" : ""}>
          <span>{c.order}</span>
          <span>
            {c.name} <span className="quiet">{c.relation}</span> · {c.phone}
            {c.id === h.answered && <span className="answered"> answered last time</span>}
          </span>
        </li>
      ))}
      {h.notCalled.map((n) => (
        <li key={n} className="overdue">
          not {n}
        </li>
      ))}
    </ol>
  );
}

/** The open home: an outcome, then what they said, for whom, and the mark that follows. */
function Act({ h, write, next }: { h: Household; write: Writing; next: () => void }) {
  const settings = useSettings();
  const reasons = settings.data?.reasons.filter((r) => r.home) ?? [];
  const [contact, setContact] = useState(Math.max(h.next, 0));
  const [spoke, setSpoke] = useState(h.contacts.length === 0);
  const [reason, setReason] = useState<Reason>();
  const [until, setUntil] = useState("");
  const [days, setDays] = useState("");
  const [note, setNote] = useState("");
  const [again, setAgain] = useState("");
  const [forWhom, setForWhom] = useState(() => new Set(h.students.map((s) => s.student.id)));
  const field = useRef<HTMLInputElement>(null);
  const ringing = h.contacts[contact];
  const students = h.students.map((s) => s.student.id);

  const log = (outcome: string, said?: Reason) => {
    write.mutate(
      {
        path: "/api/calls",
        body: {
          students,
          contact: ringing?.id ?? 0,
          outcome,
          note,
          again: outcome === "spoke" ? "" : again,
          ...(said ? { said: said.word, for: [...forWhom], until, days } : {}),
        },
      },
      { onSuccess: () => outcome !== "spoke" && next() },
    );
  };
  const store = () => {
    if (spoke) log("spoke", reason);
  };
  const choose = (r: Reason) => {
    flushSync(() => setReason(r));
    if (r.word === "on the way") field.current?.focus();
  };
  const storeOnEnter = (e: KeyboardEvent) => {
    if (e.key !== "Enter") return;
    e.preventDefault();
    store();
  };
  const toggle = (id: number) =>
    setForWhom((old) => {
      const changed = new Set(old);
      if (!changed.delete(id)) changed.add(id);
      return changed;
    });
  const keys: Record<string, () => void> = {
    "1": () => setSpoke(true),
    "2": () => log("message"),
    "3": () => log("no answer"),
    "4": () => log("wrong number"),
    ArrowRight: () => setContact((c) => (c + 1) % Math.max(h.contacts.length, 1)),
    Escape: () => setSpoke(h.contacts.length === 0),
  };
  if (h.contacts.length === 0) for (const k of ["1", "2", "3", "4", "ArrowRight"]) delete keys[k];
  if (spoke) {
    for (const r of reasons) if (r.key) keys[r.key] = () => choose(r);
    keys.Enter = store;
  }
  useKeys(keys);
  return (
    <>
      {h.contacts.length > 0 && (
        <div className="act">
          <span className="small">
            Ring <b>{ringing?.name}</b> {ringing?.phone}
          </span>
          {outcomes.map((o, i) => (
            <Button
              key={o.outcome}
              size="small"
              type={i === 0 ? "primary" : "default"}
              onClick={() => (i === 0 ? setSpoke(true) : log(o.outcome))}
            >
              {o.words} <kbd>{i + 1}</kbd>
            </Button>
          ))}
          {h.contacts.length > 1 && (
            <Button size="small" onClick={keys.ArrowRight}>
              Next contact <kbd>→</kbd>
            </Button>
          )}
          <label className="until small">
            again{" "}
            <input
              className="plain"
              placeholder="as usual"
              aria-label="Again at"
              value={again}
              onChange={(e) => setAgain(e.target.value)}
            />
          </label>
        </div>
      )}
      {h.attempts.length > 1 && (
        <div className="act small quiet">
          {h.attempts.map((a) => [a.contact, attemptWords(a), a.note].filter(Boolean).join(" · ")).join("; ")}
        </div>
      )}
      {spoke && (
        <div className="act">
          <span className="small quiet">{h.contacts.length > 0 ? "says" : "known from elsewhere"}</span>
          <Reasons offered={reasons} value={reason?.word ?? ""} use="home" keyOf={(r) => r.key} onChange={choose} />
          {reason && (
            <>
              <label className="until small">
                {reason.word === "on the way" ? "expected by" : "until"}{" "}
                <input
                  ref={field}
                  className="plain"
                  value={until}
                  placeholder={reason.word === "on the way" ? "940" : "all day"}
                  onChange={(e) => setUntil(e.target.value)}
                  onKeyDown={storeOnEnter}
                />
              </label>
              {reason.word !== "on the way" && (
                <label className="small">
                  to{" "}
                  <input
                    className="plain"
                    type="date"
                    aria-label="Last day"
                    value={days}
                    onChange={(e) => setDays(e.target.value)}
                    onKeyDown={storeOnEnter}
                  />
                </label>
              )}
            </>
          )}
          <input
            className="plain note"
            aria-label="Note"
            placeholder="note"
            value={note}
            onChange={(e) => setNote(e.target.value)}
            onKeyDown={storeOnEnter}
          />
          {h.students.length > 1 && (
            <>
              <span className="small quiet">for</span>
              {h.students.map((s) => (
                <label key={s.student.id} className="small nowrap">
                  <input type="checkbox" checked={forWhom.has(s.student.id)} onChange={() => toggle(s.student.id)} />{" "}
                  {s.student.given}
                </label>
              ))}
            </>
          )}
          <Button size="small" type="primary" disabled={forWhom.size === 0} onClick={store}>
            {reason
              ? `Store: ${reason.word === "on the way" ? "explained until then" : `code ${reason.absent}`}`
              : "Store the call"}{" "}
            <kbd>Enter</kbd>
          </Button>
        </div>
      )}
    </>
  );
}
