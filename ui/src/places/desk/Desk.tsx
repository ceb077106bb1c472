import "./desk.css";
import { App, Button, Input, Segmented } from "antd";
import { type FormEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { read, type Schemas, useRead, useWrite } from "../../api/client";
import { Shape } from "../../look/Shape";
import { isTyping } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

type Kind = "arrived" | "departed";

/** Arriving or leaving is chosen from where the student is. */
export function likelyKind(place: Schemas["Place"]): Kind {
  return place.state === "in" || place.state === "late" ? "departed" : "arrived";
}

/** The desk: one field, arriving or leaving, a reason, Enter. */
export default function Desk() {
  const { at } = useAddress();
  const desk = useRead("/api/desk", { at });
  const field = useRef<HTMLInputElement>(null);
  const [query, setQuery] = useState("");
  const [row, setRow] = useState(0);
  const [student, setStudent] = useState<Schemas["FoundStudent"]>();
  const found = useRead("/api/find", { q: query.trim() }, { enabled: query.trim().length > 1 && !student });
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
  if (!desk.data) return <Waiting error={desk.error} />;
  const choose = (hit: Schemas["FoundStudent"] | undefined) => {
    if (hit) setStudent(hit);
  };
  const enter = async () => {
    // A scan ends before the list has come: what stands in the field decides.
    const q = query.trim();
    if (q) choose((await read("/api/find", { q }))[row]);
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
    <main className="page">
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
                aria-label="Name, number or card"
                placeholder="name, number or card"
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
            {hits.map((h, i) => (
              <button
                key={h.student.id}
                type="button"
                className={`hit${i === row ? " chosen" : ""}`}
                onClick={() => choose(h)}
              >
                <Shape state={h.place.state} />
                <span>
                  <b>{h.student.name}</b> <span className="quiet">{h.student.form}</span>
                </span>
                <span>{h.student.number}</span>
                <span className="small quiet">{h.through ? `${h.through} · ${h.place.words}` : h.place.words}</span>
              </button>
            ))}
            {query.trim().length > 1 && !student && found.data?.length === 0 && (
              <p className="empty" style={{ margin: 0 }}>
                Nobody on the roll fits “{query}”.
              </p>
            )}
          </section>
          {student && !at && (
            <Move key={student.student.id} found={student} reasons={desk.data.reasons} leave={leave} />
          )}
          {at && <p className="quiet">This is an earlier minute. Go back to live to sign someone in or out.</p>}
        </div>
        <Movements desk={desk.data} may={!at} />
      </div>
    </main>
  );
}

function Move({
  found,
  reasons,
  leave,
}: {
  found: Schemas["FoundStudent"];
  reasons: Schemas["Reason"][];
  leave: () => void;
}) {
  const { message } = App.useApp();
  const rail = useRead("/api/rail", {});
  const [kind, setKind] = useState<Kind>(likelyKind(found.place));
  const [time, setTime] = useState("");
  const [reason, setReason] = useState("");
  const [own, setOwn] = useState<string>();
  const [note, setNote] = useState("");
  const [returns, setReturns] = useState("");
  const timeField = useRef<HTMLInputElement>(null);
  const form = useRef<HTMLFormElement>(null);
  const store = useWrite({
    done: (r) => {
      message.success(r.words);
      leave();
    },
    failed: (e) => message.error(e.message, 8),
  });
  const offered = reasons.filter((r) => (kind === "arrived" ? r.arrive : r.leave));
  useEffect(() => timeField.current?.focus(), []);
  const submit = (e?: FormEvent) => {
    e?.preventDefault();
    store.mutate({
      path: "/api/movements",
      body: {
        students: [found.student.id],
        kind,
        time,
        reason: own?.trim() || reason,
        note,
        returns: kind === "departed" ? returns : "",
      },
    });
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Escape") leave();
    if (!e.altKey) return;
    const n = Number(e.code.replace("Digit", ""));
    if (n >= 1 && offered[n - 1]) {
      e.preventDefault();
      setOwn(undefined);
      setReason(offered[n - 1]?.word ?? "");
    } else if (e.code === "KeyA" || e.code === "KeyL") {
      e.preventDefault();
      setKind(e.code === "KeyA" ? "arrived" : "departed");
      setReason("");
    }
  };
  const s = found.student;
  const verb = kind === "arrived" ? "is in" : "leaves";
  return (
    <form ref={form} className="panel" aria-label={`${s.name} arriving or leaving`} onSubmit={submit} onKeyDown={onKey}>
      <div className="person">
        <div className="initials" aria-hidden="true">
          {s.given.charAt(0)}
          {s.sorted.charAt(0)}
        </div>
        <div style={{ display: "flex", alignItems: "center", gap: 12 }}>
          <h2 className="big">{s.name}</h2>
          <span className="quiet">
            {s.form} · {s.number}
          </span>
          <span className="push">
            <Segmented<Kind>
              value={kind}
              aria-label="Arriving or leaving"
              onChange={(k) => {
                setKind(k);
                setReason("");
              }}
              options={[
                { value: "arrived", label: "Arriving" },
                { value: "departed", label: "Leaving" },
              ]}
            />
          </span>
        </div>
        <div className="small">
          <Shape state={found.place.state} /> {found.place.words}{" "}
          {found.warnings.map((w) => (
            <span key={w} className="warn">
              {w}
            </span>
          ))}
        </div>
      </div>
      <dl>
        <dt>
          <label htmlFor="desk-time">at</label>
        </dt>
        <dd>
          <input
            id="desk-time"
            ref={timeField}
            className="plain time"
            value={time}
            placeholder={rail.data?.now.slice(11)}
            onChange={(e) => setTime(e.target.value)}
          />
          <span className="small quiet">now · type 931 for 09:31</span>
        </dd>
        <dt>because</dt>
        <dd>
          {offered.map((r, i) => (
            <Button
              key={r.word}
              aria-pressed={reason === r.word}
              type={reason === r.word ? "primary" : "default"}
              onClick={() => setReason(r.word)}
            >
              {r.word} <kbd>Alt {i + 1}</kbd>
            </Button>
          ))}
          {own === undefined ? (
            <Button type="dashed" onClick={() => setOwn("")}>
              another
            </Button>
          ) : (
            <Input
              style={{ width: 170 }}
              autoFocus
              aria-label="Another reason"
              value={own}
              onChange={(e) => setOwn(e.target.value)}
              onPressEnter={() => submit()}
            />
          )}
        </dd>
        {kind === "departed" && (
          <>
            <dt>
              <label htmlFor="desk-back">back by</label>
            </dt>
            <dd>
              <Input
                id="desk-back"
                style={{ width: 84 }}
                value={returns}
                onChange={(e) => setReturns(e.target.value)}
                placeholder="–"
              />
              <span className="small quiet">empty when not today</span>
            </dd>
          </>
        )}
        <dt>
          <label htmlFor="desk-note">note</label>
        </dt>
        <dd>
          <Input id="desk-note" style={{ maxWidth: 430 }} value={note} onChange={(e) => setNote(e.target.value)} />
        </dd>
        <dt />
        <dd>
          <Button type="primary" size="large" htmlType="submit" loading={store.isPending}>
            {s.given} {verb} <kbd>Enter</kbd>
          </Button>
          <Button size="large" onClick={leave}>
            Leave it <kbd>Esc</kbd>
          </Button>
          <span className="small quiet">
            Leaving or arriving: <kbd>Alt L</kbd> <kbd>Alt A</kbd>
          </span>
        </dd>
      </dl>
    </form>
  );
}

function Movements({ desk, may }: { desk: Schemas["DeskView"]; may: boolean }) {
  const { message } = App.useApp();
  const undo = useWrite({ done: (r) => message.success(r.words), failed: (e) => message.error(e.message) });
  return (
    <div className="stack">
      <Panel title="Today at the desk" aside={`late ${desk.late} · left ${desk.left}`}>
        {desk.movements.length === 0 && <p className="empty">Nobody has signed in or out.</p>}
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
            {desk.movements.slice(0, 40).map((m) => (
              <tr key={m.id} className={m.undone ? "undone" : ""}>
                <td style={{ width: 52 }}>{m.at}</td>
                <td style={{ width: 20, padding: 0 }}>
                  <Shape state={m.state} />
                </td>
                <td>
                  <StudentName student={m.student} />{" "}
                  <span className="small quiet">
                    {[m.reason, m.note, m.returns && `back by ${m.returns}`].filter(Boolean).join(" · ")}
                  </span>
                </td>
                <td className="number">
                  {may && !m.undone && (
                    <button
                      type="button"
                      className="link small quiet"
                      aria-label={`Undo ${m.student.name} ${m.at}`}
                      onClick={() => undo.mutate({ path: `/api/movements/${m.id}/undo`, body: {} })}
                    >
                      undo
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {desk.mostly.length > 0 && (
          <div className="line small quiet">Late: {desk.mostly.map((r) => `${r.reason} ${r.n}`).join(", ")}</div>
        )}
      </Panel>
      <Panel title="Due back" aside={desk.dueBack.length || undefined}>
        {desk.dueBack.length === 0 && <p className="empty">Nobody is expected back.</p>}
        {desk.dueBack.map((d) => (
          <div className="line" key={d.student.id}>
            <Shape state={d.state} />
            <StudentName student={d.student} />
            <span className={`push${d.overdue ? " overdue" : ""}`}>
              by <b>{d.by}</b>
            </span>
          </div>
        ))}
      </Panel>
    </div>
  );
}
