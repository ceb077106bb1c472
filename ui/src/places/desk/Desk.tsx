import "./desk.css";
import { keepPreviousData } from "@tanstack/react-query";
import { Fragment, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { read, type Schemas, useRead, useWrite } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Fetching } from "../../parts/home/Fetch";
import { isTyping } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScanner } from "../../parts/scanner";
import { covering, useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { Amend } from "./Amend";
import { Groups } from "./Groups";
import { Move } from "./Move";
import { isPass, PassesOut, usePass } from "./passes";
import { Visitors } from "./Visitors";

/** The desk: one field, arriving or leaving, a reason, Enter. */
export default function Desk() {
  const { at } = useAddress();
  const desk = useRead("/api/desk", { at, section: useScope() });
  const field = useRef<HTMLInputElement>(null);
  const [query, setQuery] = useState("");
  const [row, setRow] = useState(0);
  const [student, setStudent] = useState<Schemas["FoundStudent"]>();
  const found = useRead(
    "/api/find",
    { q: query.trim() },
    { enabled: query.trim().length > 1 && !student, placeholderData: keepPreviousData },
  );
  const hits = query.trim().length > 1 && !student ? (found.data ?? []) : [];
  useEffect(() => {
    const toField = (e: globalThis.KeyboardEvent) => {
      // Typing, or a scan, goes to the field from wherever the focus is.
      if (
        isTyping(e.target) ||
        e.ctrlKey ||
        e.altKey ||
        e.metaKey ||
        e.key.length !== 1 ||
        e.key === "/" ||
        e.key === "?"
      )
        return;
      if (e.target instanceof HTMLElement && e.target.closest("[role=dialog], [role=slider], [role=radiogroup]"))
        return;
      field.current?.focus();
    };
    window.addEventListener("keydown", toField, true);
    return () => window.removeEventListener("keydown", toField, true);
  }, []);
  const back = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  /** Takes a pass back where the text is one; reports whether it was. */
  const isBack = (text: string) => {
    if (!isPass(text)) return false;
    back.mutate({ path: "/api/passes/{number}/return", params: { number: text } });
    return true;
  };
  useScanner((code) => {
    if (isBack(code)) return;
    if (student) tell.done(`${student.student.name} was put aside; nothing was saved.`);
    setStudent(undefined);
    setQuery(code);
    setRow(0);
    void read("/api/find", { q: code }).then((hits) => {
      const hit = hits[0];
      if (hit) setStudent(hit);
      else tell.wrong(`No card or number ${code} is on the roll.`);
    });
  }, !at);
  if (!desk.data) return <Waiting error={desk.error} />;
  const choose = (hit: Schemas["FoundStudent"] | undefined) => {
    if (hit) setStudent(hit);
  };
  const enter = async () => {
    // A scan ends before the list has come: what stands in the field decides.
    const q = query.trim();
    if (!q) return;
    if (isBack(q)) setQuery("");
    else choose((await read("/api/find", { q }))[row]);
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      e.preventDefault();
      setRow((r) => Math.min(Math.max(r + (e.key === "ArrowDown" ? 1 : -1), 0), Math.max(hits.length - 1, 0)));
    } else if (e.key === "Enter") {
      e.preventDefault();
      void enter();
    } else if (e.key === "Escape") setQuery("");
  };
  const leave = () => {
    setStudent(undefined);
    setQuery("");
    setRow(0);
    setTimeout(() => field.current?.focus());
  };
  return (
    <main className="page desk-place">
      <h1 className="visually-hidden">Desk</h1>
      <div className="columns desk">
        <div className="stack">
          <section className="panel" aria-label="Find a student">
            <div className="find">
              <input
                ref={field}
                // biome-ignore lint/a11y/noAutofocus: the desk's one field
                autoFocus
                value={student ? student.student.name : query}
                role="combobox"
                aria-label="Name, number or card"
                aria-expanded={hits.length > 0}
                aria-controls="desk-hits"
                aria-autocomplete="list"
                aria-activedescendant={hits.length > 0 ? `desk-hit-${row}` : undefined}
                placeholder="name, number or card; a pass that comes back"
                autoComplete="off"
                spellCheck={false}
                onFocus={() => student && leave()}
                onChange={(e) => {
                  setStudent(undefined);
                  setQuery(e.target.value);
                  setRow(0);
                }}
                onKeyDown={onKey}
              />
            </div>
            <div id="desk-hits" role="listbox" aria-label="Students">
              {hits.map((h, i) => (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
                <div
                  key={h.student.id}
                  id={`desk-hit-${i}`}
                  role="option"
                  tabIndex={-1}
                  aria-selected={i === row}
                  className={`hit${i === row ? " chosen" : ""}`}
                  onClick={() => choose(h)}
                >
                  <Shape state={h.place.state} />
                  <span>
                    <b>{h.student.name}</b> <span className="look-muted">{h.student.form}</span>
                  </span>
                  <span>{h.student.number}</span>
                  <span className="look-small look-muted">
                    {h.through ? `${h.through} · ${h.place.text}` : h.place.text}
                  </span>
                </div>
              ))}
            </div>
            {query.trim().length > 1 && !student && found.data?.length === 0 && (
              <p className="empty">Nobody on the roll fits “{query}”.</p>
            )}
          </section>
          {student && !at && (
            <Move
              key={student.student.id}
              found={student}
              reasons={desk.data.reasons}
              fetching={desk.data.fetches.find((f) => f.student.id === student.student.id)}
              leave={leave}
            />
          )}
          {!student && !at && <Groups groups={desk.data.groups} reasons={desk.data.reasons} />}
          {!student && !at && <Visitors />}
          {at && <p className="look-muted">This is an earlier minute. Go back to live to sign someone in or out.</p>}
        </div>
        <Movements desk={desk.data} may={!at} />
      </div>
    </main>
  );
}

function Movements({ desk, may }: { desk: Schemas["DeskView"]; may: boolean }) {
  const undo = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const pass = usePass();
  const [only, setOnly] = useState<"late" | "left">();
  const [amending, setAmending] = useState<number>();
  const shown = desk.movements.filter((m) => !only || (!m.undone && m.state === only));
  const tab = (of: "late" | "left", n: number) => (
    <button
      type="button"
      className="link"
      aria-pressed={only === of}
      onClick={() => setOnly(only === of ? undefined : of)}
    >
      {of} {n}
    </button>
  );
  return (
    <div className="stack">
      {desk.fetches.length > 0 && (
        <Panel title="To be collected" extra={desk.fetches.length} className="alarm">
          {desk.fetches.map((f) => (
            <Fetching key={f.id} f={f} may={may} />
          ))}
        </Panel>
      )}
      <Panel
        title="Today at the desk"
        extra={
          <span className="tabs">
            {tab("late", desk.late)} {tab("left", desk.left)}
            {only && (
              <button type="button" className="link" onClick={() => setOnly(undefined)}>
                all
              </button>
            )}
            {desk.scope}
          </span>
        }
      >
        {desk.movements.length === 0 && <p className="empty">Nobody{covering(desk.scope)} has signed in or out.</p>}
        <table className="rows moves">
          <thead className="visually-hidden">
            <tr>
              <th>At</th>
              <th>State</th>
              <th>Student</th>
              <th>Undo</th>
            </tr>
          </thead>
          <tbody>
            {shown.slice(0, 40).map((m) => (
              <Fragment key={m.id}>
                <tr className={m.undone ? "undone" : ""}>
                  <td className="at">{m.at}</td>
                  <td className="state">
                    <Shape state={m.state} />
                  </td>
                  <td>
                    <StudentName student={m.student} />{" "}
                    <span className="look-small look-muted">
                      {[
                        m.reason || (m.kind === "departed" && !m.undone && "no reason yet"),
                        m.note,
                        m.collector && `collected by ${m.collector}`,
                        m.returns && `back by ${m.returns}`,
                        m.pass && `pass ${m.pass}${m.returned ? " is back" : ""}`,
                      ]
                        .filter(Boolean)
                        .map((part) => ` · ${part}`)
                        .join("")}
                    </span>
                  </td>
                  <td className="number look-nowrap">
                    {may && !m.undone && m.kind !== "seen" && !m.returned && (
                      <button
                        type="button"
                        className="link look-small look-muted"
                        aria-label={`Pass for ${m.student.name} ${m.at}`}
                        onClick={() => void pass(m.id)}
                      >
                        pass
                      </button>
                    )}
                    {may && !m.undone && m.kind !== "seen" && !m.pass && (
                      <button
                        type="button"
                        className="link look-small look-muted"
                        aria-label={`Change ${m.student.name} ${m.at}`}
                        aria-expanded={amending === m.id}
                        onClick={() => setAmending(amending === m.id ? undefined : m.id)}
                      >
                        change
                      </button>
                    )}
                    {may && !m.undone && (
                      <button
                        type="button"
                        className="link look-small look-muted"
                        aria-label={`Undo ${m.student.name} ${m.at}`}
                        onClick={() => undo.mutate({ path: "/api/movements/{id}/undo", params: { id: m.id } })}
                      >
                        undo
                      </button>
                    )}
                  </td>
                </tr>
                {amending === m.id && (
                  <tr>
                    <td colSpan={4}>
                      <Amend m={m} reasons={desk.reasons} done={() => setAmending(undefined)} />
                    </td>
                  </tr>
                )}
              </Fragment>
            ))}
          </tbody>
        </table>
        {desk.mostly.length > 0 && (
          <div className="look-line look-small look-muted">
            Late: {desk.mostly.map((r) => `${r.reason} ${r.n}`).join(", ")}
          </div>
        )}
      </Panel>
      <Panel title="Due back" extra={desk.dueBack.length || undefined}>
        {desk.dueBack.length === 0 && <p className="empty">Nobody{covering(desk.scope)} is expected back.</p>}
        {desk.dueBack.map((d) => (
          <div className="look-line" key={d.student.id}>
            <Shape state={d.state} />
            <StudentName student={d.student} />
            <span className={`look-push${d.overdue ? " look-overdue" : ""}`}>
              by <b>{d.by}</b>
            </span>
          </div>
        ))}
      </Panel>
      <PassesOut passes={desk.passes} may={may} />
    </div>
  );
}
