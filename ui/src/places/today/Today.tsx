import "./today.css";
import { App, Button } from "antd";
import { Fragment, useState } from "react";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite, type Writing } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { CallHome } from "./CallHome";
import { Mismatches } from "./Mismatches";

const colour: Record<string, string> = {
  in: "var(--in)",
  late: "var(--late)",
  left: "var(--left)",
  elsewhere: "var(--elsewhere)",
  explained: "var(--explained)",
  "not-due": "#cfc9bc",
  "not-yet-known": "repeating-linear-gradient(115deg, #c9c2b3 0 3px, #fffefb 3px 6px)",
  unaccounted: "var(--unaccounted)",
};

/** The morning: who is where, and what is left to do until safe arrival closes. */
export default function Today() {
  const { at } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const { message } = App.useApp();
  const today = useRead("/api/today", { at });
  const write = useWrite({ done: (r) => message.success(r.words), failed: (e) => message.error(e.message) });
  if (!today.data) return <Waiting error={today.error} />;
  const t = today.data;
  const may = !at && ["officer", "pastoral", "administrator"].includes(who.role);
  const maySearch = may || (!at && who.role === "desk");
  if (!t.open) {
    return (
      <main className="page">
        <h1 className="visually-hidden">Today</h1>
        <p>No school at {t.scope} on this date.</p>
      </main>
    );
  }
  return (
    <main className="page stack">
      <h1 className="visually-hidden">Today</h1>
      <Count t={t} />
      <div className="columns today">
        <div className="stack">
          <OnSite t={t} may={maySearch} write={write} />
          <RegistersOut t={t} may={may} write={write} />
          <Mismatches rows={t.mismatches} date={t.date} may={may} write={write} />
          <DueBack rows={t.dueBack} />
        </div>
        <div className="stack">
          <CallHome t={t} may={may} write={write} />
          <Closing t={t} may={may} write={write} />
        </div>
      </div>
    </main>
  );
}

/** The count as one equation that adds up. */
export function Count({ t }: { t: Schemas["TodayView"] }) {
  return (
    <section className="panel" aria-label={`Count at ${t.scope}`}>
      <div className="count" data-testid="count">
        <div className="part">
          <b data-state="roll">{t.roll}</b>
          <span>on roll</span>
        </div>
        {t.count.map((c, i) => (
          <Fragment key={c.state}>
            <span className="sign" aria-hidden="true">
              {i === 0 ? "=" : "+"}
            </span>
            <div className={`part ${c.state}${c.n === 0 ? " none" : ""}`}>
              <b data-state={c.state}>{c.n}</b>
              <span>
                {isState(c.state) && c.state !== "not-due" && <Shape state={c.state} silent />}
                {c.words}
              </span>
            </div>
          </Fragment>
        ))}
      </div>
      <div className="countbar" aria-hidden="true">
        {t.count.map((c) => c.n > 0 && <i key={c.state} style={{ flex: c.n, background: colour[c.state] }} />)}
      </div>
    </section>
  );
}

function OnSite({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const first = t.onSite[0];
  const end = (m: Schemas["MissingOnSite"], found: boolean) =>
    write.mutate({ path: "/api/searches/end", body: { student: m.student.id, found } });
  const start = (m: Schemas["MissingOnSite"]) =>
    write.mutate({ path: "/api/searches", body: { student: m.student.id } });
  useKeys(
    {
      s: () => first && !first.search && start(first),
      f: () => first && end(first, true),
      g: () => first && end(first, false),
    },
    may,
  );
  return (
    <Panel
      title="On site, not where they should be"
      aside={t.onSite.length || undefined}
      className={t.onSite.length ? "alarm" : ""}
    >
      {t.onSite.length === 0 && (
        <p className="empty" style={{ margin: 0 }}>
          Everyone who was seen is where they should be.
        </p>
      )}
      {t.onSite.map((m, i) => (
        <div className="line" key={m.student.id}>
          <Shape state="unaccounted" />
          <div className="two">
            <StudentName student={m.student} />
            <span className="small">{m.search ? `${m.searcher} is looking since ${m.since}` : m.words}</span>
          </div>
          {may && (
            <div className="actions">
              {!m.search && (
                <Button size="small" type="primary" onClick={() => start(m)}>
                  Search {i === 0 && <kbd>S</kbd>}
                </Button>
              )}
              <Button size="small" onClick={() => end(m, true)}>
                Found {i === 0 && <kbd>F</kbd>}
              </Button>
              {m.search > 0 && (
                <Button size="small" onClick={() => end(m, false)}>
                  Give up {i === 0 && <kbd>G</kbd>}
                </Button>
              )}
            </div>
          )}
        </div>
      ))}
    </Panel>
  );
}

function RegistersOut({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [all, setAll] = useState(false);
  const remind = (r: Schemas["RegisterOut"]) =>
    write.mutate({ path: "/api/messages", body: { kind: "remind", class: r.class, slot: r.slot } });
  const next = t.registers.find((r) => r.reminded.length === 0) ?? t.registers[0];
  useKeys({ r: () => next && remind(next) }, may);
  const shown = all ? t.registers : t.registers.slice(0, 5);
  return (
    <Panel title="Registers still out" aside={t.due > 0 ? `${t.registers.length} of ${t.due} due` : undefined}>
      {t.registers.length === 0 && (
        <p className="empty" style={{ margin: 0 }}>
          {t.due > 0 ? `Every register that is due is in. ${t.asAt.slice(11)}` : "No register is due yet."}
        </p>
      )}
      {shown.map((r) => (
        <div className="line" key={`${r.class} ${r.slot}`} style={{ flexWrap: "wrap" }}>
          <Link className="strong nowrap" to={`/registers/${r.class}/${r.slot}`}>
            {r.title}
          </Link>
          <span className="small">
            {r.words} · {r.teacher}
          </span>
          <span className="overdue push">{r.overdue} min</span>
          {may && (
            <Button size="small" onClick={() => remind(r)}>
              {r.reminded.length > 0 ? "Ask again" : "Remind"} {r === next && <kbd>R</kbd>}
            </Button>
          )}
          {r.reminded.length > 0 && (
            <Link className="small quiet trace" to="/outbox" title={r.reminded.join(", ")}>
              asked {r.reminded.at(-1)}
              {r.answer && ` · ${r.answer}`}
            </Link>
          )}
        </div>
      ))}
      {t.registers.length > 5 && (
        <div className="line">
          <button type="button" className="link quiet" onClick={() => setAll(!all)}>
            {all ? "Fewer" : `${t.registers.length - 5} more`}
          </button>
        </div>
      )}
      {t.waiting > 0 && (
        <p className="empty small" style={{ margin: 0 }}>
          {t.waiting} students wait for these. None of them is called.
        </p>
      )}
    </Panel>
  );
}

function DueBack({ rows }: { rows: Schemas["DueBack"][] }) {
  return (
    <Panel title="Due back" aside={rows.length || undefined}>
      {rows.length === 0 && (
        <p className="empty" style={{ margin: 0 }}>
          Nobody is expected back.
        </p>
      )}
      {rows.map((d) => (
        <div className="line" key={d.student.id}>
          <Shape state={d.state} />
          <StudentName student={d.student} />
          <span className="small quiet">{d.words}</span>
          <span className={`push nowrap${d.overdue ? " overdue" : ""}`}>
            {d.overdue ? "overdue since " : "by "}
            <b>{d.by}</b>
          </span>
        </div>
      ))}
    </Panel>
  );
}

function Closing({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const s = t.safe;
  const close = () => write.mutate({ path: "/api/safe-arrival/close", body: {} });
  useKeys({ c: close }, may && s.state === "ready");
  if (s.state === "none") return null;
  const missing = [
    s.registers - s.registersIn > 0 && `${s.registers - s.registersIn} of ${s.registers} registers are out`,
    s.unaccounted > 0 && `${s.unaccounted} students are unaccounted for or not yet known`,
  ].filter(Boolean);
  return (
    <div className={`closing ${s.state}`} role="status" data-testid="safe-arrival" data-state={s.state}>
      {s.state === "closed" ? (
        <b>{s.words}</b>
      ) : (
        <span>
          Safe arrival is{" "}
          <b className={s.state === "ready" ? "" : "overdue"}>{s.state === "ready" ? "ready to close" : s.state}</b>.{" "}
          {s.words} {missing.length > 0 && <span className="quiet">{missing.join("; ")}.</span>}
        </span>
      )}
      {s.state === "ready" && may && (
        <Button type="primary" onClick={close}>
          Close safe arrival <kbd>C</kbd>
        </Button>
      )}
    </div>
  );
}
