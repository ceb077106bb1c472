import "./today.css";
import { App, Button } from "antd";
import { Fragment, useState } from "react";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite, type Writing } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { Fetching } from "../../parts/home/Fetch";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { Answers } from "./Answers";
import { CallHome } from "./CallHome";
import { Closing } from "./Closing";
import { Mismatches } from "./Mismatches";
import { OnSite } from "./OnSite";

const colour: Record<string, string> = {
  in: "var(--in)",
  late: "var(--late)",
  left: "var(--left)",
  elsewhere: "var(--elsewhere)",
  explained: "var(--explained)",
  "not-due": "var(--not-due)",
  "not-yet-known": "repeating-linear-gradient(115deg, var(--unknown) 0 3px, var(--sheet) 3px 6px)",
  unaccounted: "var(--unaccounted)",
};

/** The morning: who is where, and what is left to do until safe arrival closes. */
export default function Today() {
  const { at, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const { message } = App.useApp();
  const today = useRead("/api/today", { at, section: useScope() });
  const write = useWrite({ done: (r) => message.success(r.text), failed: (e) => message.error(e.message, 8) });
  useKeys({ n: () => set({ notice: "new" }, false) }, who.mayWrite && !at);
  if (!today.data) return <Waiting error={today.error} />;
  const t = today.data;
  const may = !at && ["officer", "pastoral", "administrator"].includes(who.role);
  const maySearch = may || (!at && who.role === "desk");
  if (!t.open) {
    return (
      <main className="page today-place">
        <h1 className="visually-hidden">Today</h1>
        <p>No school on this date. {t.scope}.</p>
      </main>
    );
  }
  return (
    <main className="page today-place stack">
      <h1 className="visually-hidden">Today</h1>
      <Count t={t} />
      <div className="columns today">
        <div className="stack">
          <OnSite t={t} may={maySearch} write={write} />
          <RegistersOut t={t} may={may} write={write} />
          <Mismatches rows={t.mismatches} date={t.date} may={may} write={write} />
          {t.fetches.length > 0 && (
            <Panel title="To be fetched" extra={t.fetches.length}>
              {t.fetches.map((f) => (
                <Fetching key={f.id} f={f} may={maySearch} />
              ))}
            </Panel>
          )}
          <DueBack rows={t.dueBack} />
        </div>
        <div className="stack">
          <Answers rows={t.answers} may={maySearch} write={write} />
          <CallHome t={t} may={may} write={write} />
          <Closing t={t} may={may} write={write} />
          <Also t={t} who={who} />
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
                {c.label}
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

function RegistersOut({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [all, setAll] = useState(false);
  const remind = (r: Schemas["RegisterOut"]) =>
    write.mutate({ path: "/api/messages", body: { kind: "remind", class: r.class, slot: r.slot } });
  const next = t.registers.find((r) => r.reminded.length === 0) ?? t.registers[0];
  useKeys({ r: () => next && remind(next) }, may);
  const shown = all ? t.registers : t.registers.slice(0, 5);
  return (
    <Panel title="Registers still out" extra={t.due > 0 ? `${t.registers.length} of ${t.due} due` : undefined}>
      {t.registers.length === 0 && (
        <p className="empty">
          {t.due > 0 ? `Every register that is due is in. ${t.asAt.slice(11)}` : "No register is due yet."}
        </p>
      )}
      {shown.map((r) => (
        <div className="line wrap" key={`${r.class} ${r.slot}`}>
          <Link className="strong nowrap" to={`/registers/${r.class}/${r.slot}`}>
            {r.title}
          </Link>
          <span className="small">
            {r.label} · {r.teacher}
          </span>
          <span className="overdue push">{r.overdue} min</span>
          {may && (
            <Button size="small" onClick={() => remind(r)}>
              {r.reminded.length > 0 ? "Ask again" : "Remind"} {r === next && <kbd>R</kbd>}
            </Button>
          )}
          {r.reminded.length > 0 && (
            <Link className="small muted trace" to="/outbox" title={r.reminded.join(", ")}>
              asked {r.reminded.at(-1)}
              {r.answer && ` · ${r.answer}`}
            </Link>
          )}
        </div>
      ))}
      {t.registers.length > 5 && (
        <div className="line">
          <button type="button" className="link muted" onClick={() => setAll(!all)}>
            {all ? "Fewer" : `${t.registers.length - 5} more`}
          </button>
        </div>
      )}
      {t.waiting > 0 && <p className="empty small">{t.waiting} students wait for these. None of them is called.</p>}
    </Panel>
  );
}

function DueBack({ rows }: { rows: Schemas["DueBack"][] }) {
  return (
    <Panel title="Due back" extra={rows.length || undefined}>
      {rows.length === 0 && <p className="empty">Nobody is expected back.</p>}
      {rows.map((d) => (
        <div className="line" key={d.student.id}>
          <Shape state={d.state} />
          <StudentName student={d.student} />
          <span className="small muted">{d.text}</span>
          <span className={`push nowrap${d.overdue ? " overdue" : ""}`}>
            {d.overdue ? "overdue since " : "by "}
            <b>{d.by}</b>
          </span>
        </div>
      ))}
    </Panel>
  );
}

/** What else is waiting, each with its own list. */
function Also({ t, who }: { t: Schemas["TodayView"]; who: Schemas["Who"] }) {
  const office = [
    { to: "/reasons", n: t.overdue, words: t.overdue === 1 ? "reason overdue" : "reasons overdue", act: t.overdue > 0 },
    {
      to: "/contacts",
      n: t.tasks,
      words: t.tasks === 1 ? "contact to correct" : "contacts to correct",
      act: t.tasks > 0,
    },
  ];
  return (
    <nav className="also small" aria-label="Other lists">
      <Link to="/notices">
        <b>{t.notices}</b> {t.notices === 1 ? "notice from home" : "notices from home"}
      </Link>
      {who.inOffice &&
        office.map((l) => (
          <Link key={l.to} to={l.to}>
            <b className={l.act ? "act" : undefined}>{l.n}</b> {l.words}
          </Link>
        ))}
      {who.role !== "desk" && <Link to="/outbox">Outbox</Link>}
    </nav>
  );
}
