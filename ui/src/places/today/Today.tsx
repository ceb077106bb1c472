import "./today.css";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite, type Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Fetching } from "../../parts/home/Fetch";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { Answers } from "./Answers";
import { CallHome, callFromHome } from "./CallHome";
import { Closing } from "./Closing";
import { Count } from "./Count";
import { JustNow } from "./Just";
import { Mismatches } from "./Mismatches";
import { OnSite } from "./OnSite";
import { Part } from "./Part";
import { TripsOut } from "./TripsOut";
import { Earlier, Unsettled } from "./Unsettled";
import { Worried } from "./Worried";

const takeBackFor = 9_500; // ms in which texts can be taken back; the server keeps them a little longer

/** The morning: who is where, and what is left to do until safe arrival closes. */
export default function Today() {
  const { at, params, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const today = useRead("/api/today", { at, section: useScope() });
  const [last, setLast] = useState<Schemas["Receipt"]>();
  const write = useWrite({ done: setLast, failed: (e) => tell.wrong(e.message) });
  const [texts, setTexts] = useState<Schemas["Receipt"]>(); // just written, not gone yet
  useEffect(() => {
    if (!texts) return;
    const gone = setTimeout(() => setTexts(undefined), takeBackFor);
    return () => clearTimeout(gone);
  }, [texts]);
  const past = today.data?.past ? today.data.date : undefined;
  useKeys({ n: () => set(callFromHome(past), false) }, who.mayWrite && (today.data?.worked ?? false));
  if (!today.data) return <Waiting error={today.error} />;
  const t = today.data;
  const may = t.worked && who.inOffice;
  const maySearch = t.worked && !t.past && (may || who.role === "desk");
  const part = params.get("part");
  if (!t.open) {
    return (
      <main className="page today-place stack">
        <h1 className="visually-hidden">Today</h1>
        <p>No school on this date. {t.scope}.</p>
        <Unsettled t={t} may={may} write={write} />
      </main>
    );
  }
  const overdue = t.dueBack.filter((d) => d.overdue);
  return (
    <main className="page today-place stack">
      <h1 className="visually-hidden">Today</h1>
      <Count t={t} />
      <JustNow
        t={t}
        name={who.name}
        may={t.worked && who.mayWrite}
        write={write}
        last={last}
        texts={texts}
        takenBack={() => setTexts(undefined)}
      />
      {part && <Part state={part} />}
      <div className="columns today">
        <div className="stack">
          <Worried t={t} may={may || maySearch} settles={may} write={write} />
          <TripsOut
            trips={t.trips.filter((x) => x.state === "not back" || x.missing.length > 0)}
            may={maySearch}
            write={write}
          />
          {overdue.length > 0 && <DueBack rows={overdue} may={maySearch} write={write} loud />}
          <OnSite t={t} may={maySearch} asks={may} write={write} />
          <Unsettled t={t} may={may} write={write} />
          <RegistersOut t={t} may={may && !t.past} write={write} />
          <Mismatches t={t} may={may} write={write} />
          {t.fetches.length > 0 && (
            <Panel title="To be collected" extra={t.fetches.length}>
              {t.fetches.map((f) => (
                <Fetching key={f.id} f={f} may={maySearch} />
              ))}
            </Panel>
          )}
          <DueBack rows={t.dueBack.filter((d) => !d.overdue)} may={maySearch} write={write} />
          <TripsOut
            trips={t.trips.filter((x) => x.state !== "not back" && x.missing.length === 0)}
            may={maySearch}
            write={write}
          />
          <Earlier t={t} />
        </div>
        <div className="stack">
          <Answers rows={t.answers} may={maySearch} write={write} />
          <CallHome t={t} may={may} write={write} texted={setTexts} />
          <Closing t={t} may={may} write={write} />
          <Also t={t} who={who} />
        </div>
      </div>
    </main>
  );
}

function RegistersOut({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [all, setAll] = useState(false);
  const remind = (r: Schemas["RegisterOut"]) =>
    write.mutate({ path: "/api/messages", body: { kind: "remind", class: r.class, slot: r.slot } });
  const next = t.registers.find((r) => r.reminded.length === 0) ?? t.registers[0];
  useKeys({ r: () => next && remind(next) }, may);
  const shown = all ? t.registers : t.registers.slice(0, 5);
  if (t.past && t.registers.length === 0) return null;
  return (
    <Panel
      title={t.past ? "Registers never sent" : "Registers still out"}
      extra={t.due > 0 ? `${t.registers.length} of ${t.due} due by now` : undefined}
    >
      {t.registers.length === 0 && (
        <p className="empty">
          {t.due > 0 ? `Every register that is due is in. ${t.asAt.slice(11)}` : "No register is due yet."}
        </p>
      )}
      {shown.map((r) => (
        <div className="look-line look-wrap" key={`${r.class} ${r.slot}`}>
          <Link
            className="look-strong look-nowrap"
            to={`/registers/${r.class}/${r.slot}${t.past ? `?at=${t.date}` : ""}`}
          >
            {r.title}
          </Link>
          <span className="look-small">
            {r.label} · {r.teacher}
          </span>
          {!t.past && <span className="look-overdue look-push look-nowrap">{r.overdue} min</span>}
          {may && (
            <Button size="small" onClick={() => remind(r)}>
              {r.reminded.length > 0 ? "Ask again" : "Remind"} {r === next && <kbd>R</kbd>}
            </Button>
          )}
          {r.reminded.length > 0 && (
            <Link className="look-small look-muted trace" to="/outbox" title={r.reminded.join(", ")}>
              asked {r.reminded.at(-1)}
              {r.answer && ` · ${r.answer}`}
            </Link>
          )}
        </div>
      ))}
      {t.registers.length > 5 && (
        <div className="look-line">
          <button type="button" className="link look-muted" onClick={() => setAll(!all)}>
            {all ? "Fewer" : `${t.registers.length - 5} more`}
          </button>
        </div>
      )}
      {t.waiting > 0 && (
        <p className="empty look-small">
          {plural(t.waiting, "student")} {t.waiting === 1 ? "waits" : "wait"} for these; none is rung.
        </p>
      )}
    </Panel>
  );
}

/** Who is expected; those overdue stand first and loud, with what can be done about it. */
function DueBack({
  rows,
  may,
  write,
  loud = false,
}: {
  rows: Schemas["DueBack"][];
  may: boolean;
  write: Writing;
  loud?: boolean;
}) {
  if (rows.length === 0) return null;
  return (
    <Panel title={loud ? "Not back" : "Due back"} extra={rows.length} className={loud ? "alarm" : ""}>
      {rows.map((d) => (
        <div className="look-line look-wrap" key={d.student.id}>
          <Shape state={d.state} />
          <StudentName student={d.student} />
          <span className="look-small look-muted">{d.text}</span>
          <span className={`look-push look-nowrap${d.overdue ? " look-overdue" : ""}`}>
            {d.overdue ? "expected " : "by "}
            <b>{d.by}</b>
          </span>
          {may && loud && (
            <div className="look-actions">
              <Button
                size="small"
                onClick={() =>
                  write.mutate({ path: "/api/movements", body: { students: [d.student.id], kind: "arrived" } })
                }
              >
                Is back
              </Button>
            </div>
          )}
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
    <nav className="also look-small" aria-label="Other lists">
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
