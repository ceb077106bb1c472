import { useQueryClient } from "@tanstack/react-query";
import { App, Button, Input, Modal } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Link, useLocation, useParams } from "react-router";
import { newKey, type Schemas, useRead, useWrite, write } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { type Draft, draftStore, type Row, rowOf, sentMarks, tally, withKnown } from "./draft";

/** The codes with a button in every row; the others have keys. */
const buttons = ["P", "L", "N", "X", "M", "V"];
const keyed: Record<string, string> = { p: "P", l: "L", n: "N", x: "X", m: "M", u: "U", v: "V", r: "R", z: "Z" };

/** One register: taking it, or reading what was sent and correcting it. */
export function Register() {
  const params = useParams();
  const { at } = useAddress();
  const { search } = useLocation();
  const view = useRead("/api/registers/{class}/{slot}", { class: params.class, slot: params.slot, at });
  if (view.error && !view.data) {
    return (
      <main className="page">
        <p role="alert">{view.error.message}</p>
        <Link to={`/registers${search}`}>All registers</Link>
      </main>
    );
  }
  if (!view.data || String(view.data.register.class) !== params.class || view.data.register.slot !== params.slot)
    return <Waiting />;
  const key = `${view.data.date} ${params.class} ${params.slot}`;
  return view.data.register.state === "sent" ? (
    <Sent view={view.data} />
  ) : (
    <Taking key={key} storeKey={key} view={view.data} />
  );
}

type View = Schemas["RegisterView"];

function clockNow(asAt: string | undefined): string {
  return asAt?.slice(11, 16) ?? "";
}

function Taking({ view, storeKey }: { view: View; storeKey: string }) {
  const { message } = App.useApp();
  const queries = useQueryClient();
  const rail = useRead("/api/rail", {});
  const store = useMemo(() => draftStore(storeKey), [storeKey]);
  const [draft, setDraft] = useState<Draft>(store.load);
  const [current, setCurrent] = useState(0);
  const [finding, setFinding] = useState(false);
  const [noting, setNoting] = useState(false);
  const [busy, setBusy] = useState(false);
  const sendKey = useRef(newKey());
  const late = useRef<HTMLInputElement>(null);
  const rows = useMemo(() => withKnown(view, draft), [view, draft]);
  const counts = tally(view, rows);
  const row = view.rows[current];

  useEffect(() => store.save(draft), [store, draft]);
  useEffect(() => {
    document.querySelector(`.roll [data-row="${current}"]`)?.scrollIntoView({ block: "nearest" });
  }, [current]);

  const made = () => clockNow(rail.data?.now);
  const put = (id: number, change: Partial<Row>) => {
    sendKey.current = newKey();
    setDraft((old) => ({ ...old, [id]: { ...rowOf(rows, id), source: "", made: made(), ...change } }));
  };
  const mark = (code: string, index = current) => {
    const r = view.rows[index];
    if (!r) return;
    const codeView = view.codes.find((c) => c.code === code);
    // The field for the minutes is there before the next key is.
    flushSync(() => {
      put(r.student.id, { code, time: "" });
      setCurrent(codeView?.late ? index : nextToMark(index));
    });
    if (codeView?.late) late.current?.focus();
  };
  /** The next row without a mark, or else the next row. */
  const nextToMark = (from: number) => {
    const open = view.rows.findIndex((r, i) => i > from && !rowOf(rows, r.student.id).code);
    return open >= 0 ? open : Math.min(from + 1, view.rows.length - 1);
  };
  const everyoneIn = () => {
    sendKey.current = newKey();
    setDraft((old) => {
      const next = { ...old };
      for (const r of view.rows) {
        const own = rowOf(rows, r.student.id);
        if (!own.code) next[r.student.id] = { ...own, code: "P", made: made() };
      }
      return next;
    });
  };
  const send = async () => {
    if (busy) return;
    if (counts.toMark > 0) {
      const firstBlank = view.rows.findIndex((r) => !rowOf(rows, r.student.id).code);
      setCurrent(firstBlank);
      message.warning(`${counts.toMark} still to mark: a blank is never an absence.`);
      return;
    }
    setBusy(true);
    try {
      const r = await write<Schemas["Receipt"]>(
        "/api/registers",
        { date: view.date, class: view.register.class, slot: view.register.slot, marks: sentMarks(view, rows) },
        sendKey.current,
      );
      store.clear();
      message.success(r.words);
      await queries.invalidateQueries();
    } catch (e) {
      message.error(`${(e as Error).message}. Your marks are kept here.`, 8);
    } finally {
      setBusy(false);
    }
  };
  const move = (step: number) => setCurrent((c) => Math.min(Math.max(c + step, 0), view.rows.length - 1));
  const keys: Record<string, () => void> = {
    ArrowDown: () => move(1),
    ArrowUp: () => move(-1),
    a: everyoneIn,
    f: () => setFinding(true),
    ";": () => setNoting(true),
    Backspace: () => row && put(row.student.id, { code: "", time: "" }),
    "Ctrl+Enter": () => void send(),
  };
  for (const [k, code] of Object.entries(keyed))
    if (view.codes.some((c) => c.code === code)) keys[k] = () => mark(code);
  useKeys(view.canSend ? keys : {});

  return (
    <main className="page">
      <div className="columns taking">
        <Panel
          title={`${view.register.title} · ${view.register.words}`}
          aside={
            <span className="small">
              {view.register.room} · {view.rows.length} students · due by {view.register.dueBy}
            </span>
          }
        >
          {finding && (
            <Finder
              view={view}
              done={(i) => {
                setFinding(false);
                if (i !== undefined) setCurrent(i);
              }}
            />
          )}
          <table className="roll">
            <thead className="visually-hidden">
              <tr>
                <th>Number</th>
                <th>Student</th>
                <th>Recent marks</th>
                <th>Mark</th>
                <th>More</th>
              </tr>
            </thead>
            <tbody>
              {view.rows.map((r, i) => {
                const own = rowOf(rows, r.student.id);
                return (
                  <tr
                    key={r.student.id}
                    data-row={i}
                    className={`${i === current ? "current" : ""}${own.code ? "" : " blank"}`}
                    aria-current={i === current || undefined}
                    onClick={() => setCurrent(i)}
                  >
                    <td className="n">{i + 1}</td>
                    <td>
                      <b>{r.student.sorted}</b>
                    </td>
                    <td className="recentcell">
                      <Recent marks={r.recent} />
                    </td>
                    <td>
                      {buttons.map((code) => {
                        const c = view.codes.find((v) => v.code === code);
                        if (!c) return null;
                        const on = own.code === code || (code === "L" && own.code === "LX");
                        return (
                          <button
                            key={code}
                            type="button"
                            tabIndex={-1}
                            className={`code ${c.state}${on ? " on" : ""}`}
                            aria-pressed={on}
                            aria-label={`${r.student.name}: ${c.word}`}
                            disabled={!view.canSend}
                            onClick={(e) => {
                              e.stopPropagation();
                              mark(code, i);
                            }}
                          >
                            {on ? own.code : code}
                          </button>
                        );
                      })}
                    </td>
                    <td className="words">
                      <Words
                        view={view}
                        row={r}
                        own={own}
                        field={i === current ? late : undefined}
                        noting={noting && i === current}
                        put={(c) => put(r.student.id, c)}
                        done={() => {
                          setNoting(false);
                          setCurrent(nextToMark(i));
                          (document.activeElement as HTMLElement | null)?.blur();
                        }}
                      />
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </Panel>
        <div className="stack">
          <section className="panel" aria-label="Counts">
            <Tally counts={counts} />
            <div className="side">
              <Button onClick={everyoneIn} disabled={!view.canSend || counts.toMark === 0} block>
                Everyone else is in <kbd>A</kbd>
              </Button>
              <Button type="primary" onClick={() => void send()} disabled={!view.canSend} loading={busy} block>
                Send register <kbd>Ctrl Enter</kbd>
              </Button>
              <p className="small quiet">
                {view.canSend
                  ? `${counts.toMark > 0 ? `${counts.toMark} still to mark: a blank is never an absence. ` : ""}Nothing leaves this page until you send it; it is kept on this machine.`
                  : view.whyNot}
              </p>
            </div>
          </section>
          <Panel title="Keys">
            <table className="small" style={{ padding: "8px 14px", display: "block" }}>
              <tbody>
                {(
                  [
                    ["P", "in"],
                    ["L 5", "late, by five minutes"],
                    ["L 850", "late, came at 08:50"],
                    ["N", "not here, no reason"],
                    ["X M", "absent with a reason, ill"],
                    ["V", "on an activity elsewhere"],
                    ["↑ ↓ F", "move, find a name"],
                    ["; ⌫", "note, take the mark off"],
                  ] as const
                ).map(([k, w]) => (
                  <tr key={k}>
                    <td style={{ paddingRight: 10 }}>
                      {k.split(" ").map((p) => (
                        <kbd key={p}>{p}</kbd>
                      ))}
                    </td>
                    <td>{w}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Panel>
        </div>
      </div>
    </main>
  );
}

function Recent({ marks }: { marks: Schemas["RecentMark"][] }) {
  return (
    <span className="recent">
      {marks.map((m) => (
        <i key={m.date} className={m.state === "in" ? "in" : ""} title={`${m.date}: ${m.code}`}>
          {m.state !== "in" && <Shape state={m.state} silent size={10} />}
        </i>
      ))}
    </span>
  );
}

function Words({
  view,
  row,
  own,
  field,
  noting,
  put,
  done,
}: {
  view: View;
  row: Schemas["RegisterRow"];
  own: Row;
  field?: React.RefObject<HTMLInputElement | null>;
  noting: boolean;
  put: (change: Partial<Row>) => void;
  done: () => void;
}) {
  const code = view.codes.find((c) => c.code === own.code);
  const onEnter = (e: React.KeyboardEvent) => {
    if (e.key !== "Enter" && e.key !== "Escape") return;
    if (e.ctrlKey) return;
    e.preventDefault();
    done();
  };
  const clash = row.known && own.code && own.code !== row.known.code;
  return (
    <>
      {code?.late && (
        <>
          <input
            ref={field}
            value={own.time}
            aria-label={`${row.student.name}: minutes late, or the time`}
            placeholder="5 or 850"
            onChange={(e) => put({ time: e.target.value, code: own.code })}
            onKeyDown={onEnter}
          />{" "}
          <span className="quiet">{/^\d{1,2}$/.test(own.time) ? `${own.time} min late ` : ""}</span>
        </>
      )}
      {noting && (
        <input
          // biome-ignore lint/a11y/noAutofocus: the note was asked for by key
          autoFocus
          className="note"
          value={own.note}
          aria-label={`${row.student.name}: note`}
          onChange={(e) => put({ note: e.target.value, code: own.code, time: own.time })}
          onKeyDown={onEnter}
          onBlur={done}
        />
      )}
      {!noting && own.note && <span>{own.note} · </span>}
      {code && !buttons.includes(code.code) && code.code !== "LX" && (
        <span>
          {isState(code.state) && <Shape state={code.state} silent />} {code.word}
          {own.time ? ` at ${own.time}` : ""} ·{" "}
        </span>
      )}
      {row.known && (
        <span className={clash ? "clash" : "quiet"}>{clash ? `but ${row.known.words}` : row.known.words} </span>
      )}
      {row.warnings.map((w) => (
        <span key={w} className="warn">
          {w}
        </span>
      ))}
    </>
  );
}

function Finder({ view, done }: { view: View; done: (index?: number) => void }) {
  const [text, setText] = useState("");
  const find = () => {
    const t = text.toLowerCase();
    const i = view.rows.findIndex(
      (r) => r.student.sorted.toLowerCase().startsWith(t) || r.student.given.toLowerCase().startsWith(t),
    );
    done(i >= 0 && t ? i : undefined);
  };
  return (
    <div className="line">
      <Input
        autoFocus
        size="small"
        style={{ width: 240 }}
        placeholder="a name on this register"
        aria-label="Find a name on this register"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") find();
          if (e.key === "Escape") done();
        }}
        onBlur={() => done()}
      />
    </div>
  );
}

function Tally({ counts }: { counts: ReturnType<typeof tally> }) {
  const parts = [
    [counts.in, "in"],
    [counts.late, "late"],
    [counts.noReason, "no reason"],
    [counts.explained, "explained"],
    [counts.elsewhere, "elsewhere"],
    [counts.toMark, "to mark"],
  ] as const;
  return (
    <div className="tally" data-testid="tally">
      {parts.map(([n, w]) => (
        <span key={w}>
          <b>{n}</b> <span className="quiet">{w}</span>
        </span>
      ))}
    </div>
  );
}

/** A register that is in: every version of every mark, and corrections with a reason. */
function Sent({ view }: { view: View }) {
  const { message } = App.useApp();
  const { search } = useLocation();
  const [correcting, setCorrecting] = useState<Schemas["RegisterRow"]>();
  const correct = useWrite({
    done: (r) => {
      message.success(r.words);
      setCorrecting(undefined);
    },
    failed: (e) => message.error(e.message, 8),
  });
  const rows: Draft = Object.fromEntries(
    view.rows.map((r) => [
      r.student.id,
      { code: r.versions.at(-1)?.code ?? "", time: "", note: "", made: "", source: "" },
    ]),
  );
  return (
    <main className="page">
      <div className="columns taking">
        <Panel
          title={`${view.register.title} · ${view.register.words}`}
          aside={
            <span className="small">
              {view.words} · sent {view.register.sentAt} by {view.register.sentBy}
            </span>
          }
        >
          <table className="roll">
            <thead className="visually-hidden">
              <tr>
                <th>Number</th>
                <th>Student</th>
                <th>Recent marks</th>
                <th>Mark</th>
                <th>More</th>
              </tr>
            </thead>
            <tbody>
              {view.rows.map((r, i) => {
                const last = r.versions.at(-1);
                const code = view.codes.find((c) => c.code === last?.code);
                return (
                  <tr key={r.student.id} className={last ? "" : "blank"}>
                    <td className="n">{i + 1}</td>
                    <td>
                      <StudentName student={{ ...r.student, name: r.student.sorted }} form={false} />
                    </td>
                    <td className="recentcell">
                      <Recent marks={r.recent} />
                    </td>
                    <td>
                      {code && isState(code.state) && <Shape state={code.state} silent />} <b>{last?.code ?? "–"}</b>{" "}
                      {code?.word}
                      {last?.to ? `, came ${last.to}` : ""}
                      {last?.from ? ` at ${last.from}` : ""}
                    </td>
                    <td className="words">
                      {r.versions.length > 1 && (
                        <span>
                          {r.versions
                            .slice(0, -1)
                            .map((v) => v.code)
                            .join(", ")}{" "}
                          until {last?.at} · {last?.reason} · {last?.by}{" "}
                        </span>
                      )}
                      {r.versions.length === 1 && last?.note ? `${last.note} ` : ""}
                      {r.versions.length === 0 && "joined after the register was sent "}
                      {r.versions.length > 0 && (
                        <Button
                          size="small"
                          type="link"
                          aria-label={`Correct ${r.student.name}`}
                          onClick={() => setCorrecting(r)}
                        >
                          correct
                        </Button>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </Panel>
        <section className="panel" aria-label="Counts">
          <Tally counts={tally(view, rows)} />
          <div className="side">
            <p className="small quiet">A change is a correction with a reason; both marks stay visible.</p>
            <Link to={`/registers${search}`}>All registers</Link>
          </div>
        </section>
      </div>
      {correcting && (
        <Correct
          view={view}
          row={correcting}
          busy={correct.isPending}
          close={() => setCorrecting(undefined)}
          store={(code, time, reason) =>
            correct.mutate({
              path: "/api/corrections",
              body: { date: view.date, slot: view.register.slot, student: correcting.student.id, code, time, reason },
            })
          }
        />
      )}
    </main>
  );
}

function Correct({
  view,
  row,
  busy,
  close,
  store,
}: {
  view: View;
  row: Schemas["RegisterRow"];
  busy: boolean;
  close: () => void;
  store: (code: string, time: string, reason: string) => void;
}) {
  const [code, setCode] = useState("");
  const [time, setTime] = useState("");
  const [reason, setReason] = useState("");
  const chosen = view.codes.find((c) => c.code === code);
  const timed = chosen?.late || code === "D" || code === "DU";
  return (
    <Modal
      open
      title={`Correct ${row.student.name}, now ${row.versions.at(-1)?.code}`}
      onCancel={close}
      okText="Store the correction"
      okButtonProps={{ disabled: !code || !reason.trim(), loading: busy }}
      onOk={() => store(code, timed ? time : "", reason)}
    >
      <div className="stack">
        <div className="reasons">
          {view.codes.map((c) => (
            <Button
              key={c.code}
              size="small"
              type={c.code === code ? "primary" : "default"}
              aria-pressed={c.code === code}
              onClick={() => setCode(c.code)}
            >
              <b>{c.code}</b> {c.word}
            </Button>
          ))}
        </div>
        {timed && (
          <label htmlFor="correct-time">
            {chosen?.late ? "Minutes late, or the time of arriving" : "The time of leaving"}
            <Input id="correct-time" value={time} onChange={(e) => setTime(e.target.value)} placeholder="5 or 850" />
          </label>
        )}
        <label htmlFor="correct-why">
          Why
          <Input
            id="correct-why"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            onPressEnter={() => code && reason.trim() && store(code, timed ? time : "", reason)}
          />
        </label>
      </div>
    </Modal>
  );
}
