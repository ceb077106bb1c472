import { Button, Input } from "antd";
import { Fragment, useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { buttonsOf, showsOn } from "./codes";
import { type Row, rowOf } from "./draft";
import { Recent } from "./Recent";
import { RollHead } from "./RollHead";
import { codeWord, type Taking } from "./taking";

/** The register as a list, a line for each student. */
export function Roll({
  taking,
  noting,
  setNoting,
}: {
  taking: Taking;
  noting: boolean;
  setNoting: (on: boolean) => void;
}) {
  const { view, rows, current, setCurrent, mark } = taking;
  const buttons = buttonsOf(view);
  useEffect(() => {
    document.querySelector(`.roll [data-row="${current}"]`)?.scrollIntoView({ block: "nearest" });
  }, [current]);
  const at = view.rows[current];
  const mine = at && rowOf(rows, at.student.id);
  // What the eye sees of the row that the keys are on.
  const told = at
    ? [
        `${current + 1} of ${view.rows.length}`,
        at.student.name,
        mine?.code ? codeWord(view, mine.code) : "not marked",
        mine?.time,
      ]
        .filter(Boolean)
        .join(", ")
    : "";
  return (
    <>
      <p className="legend look-small look-muted" aria-hidden="true">
        {buttons.map((b) => (
          <span key={b.code}>
            <b>{b.code}</b> {b.word}
          </span>
        ))}
      </p>
      <p className="visually-hidden" role="status">
        {told}
      </p>
      <table
        className="roll"
        // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: its rows are gone through and marked by keys
        role="grid"
        tabIndex={0}
        aria-label={`Register of ${view.register.title}`}
        aria-rowcount={view.rows.length + 1}
        aria-activedescendant={view.rows[current] ? `row-${current}` : undefined}
      >
        <RollHead buttons={buttons} />
        <tbody>
          {view.rows.map((r, i) => {
            const own = rowOf(rows, r.student.id);
            const given = view.codes.find((c) => c.code === own.code);
            const disputed = taking.kept.clashes.has(r.student.id);
            return (
              <Fragment key={r.student.id}>
                <tr
                  id={`row-${i}`}
                  data-row={i}
                  aria-rowindex={i + 2}
                  className={`${i === current ? "current" : ""}${own.code ? "" : " blank"}${disputed ? " disputed" : ""}`}
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
                  <td className="marks">
                    {buttons.map((c) => {
                      const on = showsOn(c, given);
                      return (
                        <button
                          key={c.code}
                          type="button"
                          tabIndex={-1}
                          className={`code look-fills ${c.state}${on ? " on" : ""}`}
                          aria-pressed={on}
                          aria-label={`${r.student.name}: ${c.word}`}
                          disabled={!view.canSend}
                          onClick={(e) => {
                            e.stopPropagation();
                            mark(c.code, i);
                          }}
                        >
                          {on ? own.code : c.code}
                        </button>
                      );
                    })}
                  </td>
                  <td className="words">
                    <Words taking={taking} row={r} index={i} noting={noting && i === current} setNoting={setNoting} />
                  </td>
                </tr>
                {disputed && (
                  <tr className="disputed">
                    <td className="n" />
                    <td colSpan={4}>
                      <Dispute taking={taking} row={r} current={i === current} />
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

/** What else there is to say of a row: minutes, note, whose mark it is, what is known, warnings. */
export function Words({
  taking,
  row,
  index,
  noting,
  setNoting,
}: {
  taking: Taking;
  row: Schemas["RegisterRow"];
  index: number;
  noting: boolean;
  setNoting: (on: boolean) => void;
}) {
  const { view } = taking;
  const own = rowOf(taking.rows, row.student.id);
  const code = view.codes.find((c) => c.code === own.code);
  const put = (change: Partial<Row>) => taking.put(row.student.id, { code: own.code, time: own.time, ...change });
  const done = () => {
    setNoting(false);
    taking.setCurrent(taking.nextToMark(index));
    (document.activeElement as HTMLElement | null)?.blur();
  };
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
            ref={index === taking.current ? taking.late : undefined}
            value={own.time}
            aria-label={`${row.student.name}: minutes late, or the time`}
            placeholder="5 or 850"
            onChange={(e) => put({ time: e.target.value.replace(/[^\d:.]/g, "") })}
            onKeyDown={(e) => {
              if (!e.ctrlKey && !e.metaKey && !e.altKey && taking.endNumber(e.key, index)) e.preventDefault();
              else onEnter(e);
            }}
          />{" "}
          <span className="look-muted">{/^\d{1,2}$/.test(own.time) ? `${own.time} min late ` : ""}</span>
        </>
      )}
      {noting && (
        <input
          // biome-ignore lint/a11y/noAutofocus: the note was asked for by key
          autoFocus
          className="note"
          value={own.note}
          aria-label={`${row.student.name}: note`}
          onChange={(e) => put({ note: e.target.value })}
          onKeyDown={onEnter}
          onBlur={() => setNoting(false)}
        />
      )}
      {!noting && own.note && <span className="piece">{own.note}</span>}
      {code && !buttonsOf(view).some((b) => showsOn(b, code)) && (
        <span className="piece">
          {isState(code.state) && <Shape state={code.state} silent />} {code.word}
          {own.time ? ` at ${own.time}` : ""}
        </span>
      )}
      {own.source === "card" && <span className="piece look-muted">card {own.made}</span>}
      {own.by && (
        <span className="piece look-muted">
          {own.by} {own.at}
        </span>
      )}
      {row.known && (
        <span className={`piece ${clash ? "clash" : "look-muted"}`}>
          {clash ? `but ${row.known.text}` : row.known.text}
        </span>
      )}{" "}
      {row.warnings.map((w) => (
        <span key={w} className="look-warn">
          {w}
        </span>
      ))}
    </>
  );
}

/** A row that two people have marked: both marks, and which one stands. */
export function Dispute({ taking, row, current }: { taking: Taking; row: Schemas["RegisterRow"]; current: boolean }) {
  const clash = taking.kept.clashes.get(row.student.id);
  if (!clash) return null;
  const said = (m: { code: string; time?: string }) =>
    m.code ? [m.code, codeWord(taking.view, m.code), m.time].filter(Boolean).join(" ") : "no mark";
  return (
    <span className="clash" role="alert">
      {clash.theirs.by} {clash.theirs.at}: {said(clash.theirs)}, yours: {said(clash.mine)}{" "}
      <Button size="small" onClick={() => taking.box.decide(row.student.id, false)}>
        Their mark is right {current && <kbd>1</kbd>}
      </Button>{" "}
      <Button size="small" onClick={() => taking.box.decide(row.student.id, true)}>
        Mine is right {current && <kbd>2</kbd>}
      </Button>{" "}
    </span>
  );
}

/** Finds a name on the register by its first letters. */
export function Finder({ taking, close }: { taking: Taking; close: () => void }) {
  const [text, setText] = useState("");
  const find = () => {
    const t = text.toLowerCase();
    const i = taking.view.rows.findIndex(
      (r) => r.student.sorted.toLowerCase().startsWith(t) || r.student.given.toLowerCase().startsWith(t),
    );
    if (i >= 0 && t) taking.setCurrent(i);
    close();
  };
  return (
    <div className="look-line">
      <Input
        autoFocus
        size="small"
        className="find-name"
        placeholder="a name on this register"
        aria-label="Find a name on this register"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") find();
          if (e.key === "Escape") close();
        }}
        onBlur={close}
      />
    </div>
  );
}
