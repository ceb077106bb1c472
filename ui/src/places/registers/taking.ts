import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { flushSync } from "react-dom";
import { useOutletContext } from "react-router";
import type { Schemas } from "../../api/client";
import { outboxOf, type Paper } from "../../api/outbox";
import { useMinute } from "../../parts/clock";
import { tell } from "../../parts/told";
import { markOf, type Row, rowOf, rowsOf, sentMarks, tally } from "./draft";

type View = Schemas["RegisterView"];

/** Taking one register: the rows as they stand and everything that can be done to them, whatever shows them. */
export function useTaking(view: View) {
  const who = useOutletContext<Schemas["Who"]>();
  const minute = useMinute();
  const { date } = view;
  const { class: group, slot } = view.register;
  const box = useMemo(() => outboxOf(who.account, { date, class: group, slot }), [who.account, date, group, slot]);
  const kept = useSyncExternalStore(box.subscribe, box.snapshot);
  const [current, setCurrent] = useState(0);
  const [paper, setPaper] = useState<Paper>(); // it comes back on paper: who took it, and when
  const late = useRef<HTMLInputElement>(null);
  const rows = useMemo(() => rowsOf(view, kept, who.name), [view, kept, who.name]);
  const counts = tally(view, rows);
  useEffect(() => box.flush(), [box]);

  const put = (id: number, change: Partial<Row>) => {
    const row = { ...rowOf(rows, id), source: "", made: minute(), ...change };
    box.put([markOf(id, row)]);
  };
  /** The next row without a mark, or else the next row. */
  const nextToMark = (from: number) => {
    const open = view.rows.findIndex((r, i) => i > from && !rowOf(rows, r.student.id).code);
    return open >= 0 ? open : Math.min(from + 1, view.rows.length - 1);
  };
  const mark = (code: string, index = current, stay = false) => {
    const r = view.rows[index];
    if (!r) return;
    const asksForTime = view.codes.find((c) => c.code === code)?.late ?? false;
    // The field for the minutes is there before the next key is.
    flushSync(() => {
      put(r.student.id, { code, time: "" });
      setCurrent(asksForTime || stay ? index : nextToMark(index));
    });
    if (asksForTime) late.current?.focus();
  };
  const everyoneIn = () => {
    const made = minute();
    const blanks = view.rows.filter((r) => !rowOf(rows, r.student.id).code);
    box.put(
      blanks.map((r) =>
        markOf(r.student.id, { ...rowOf(rows, r.student.id), code: view.arriving.in, source: "rest", made }),
      ),
    );
  };
  const send = () => {
    if (kept.finished) return;
    const disputed = view.rows.findIndex((r) => kept.clashes.has(r.student.id));
    if (disputed >= 0) {
      setCurrent(disputed);
      tell.wrong("Someone else marked a row otherwise: choose which mark stands.");
      return;
    }
    if (counts.toMark > 0) {
      setCurrent(view.rows.findIndex((r) => !rowOf(rows, r.student.id).code));
      tell.wrong(`${counts.toMark} still to mark: a blank is never an absence.`);
      return;
    }
    if (paper && !paper.takenBy?.trim()) {
      tell.wrong("Say who took it on paper.");
      return;
    }
    box.send(sentMarks(view, rows), paper);
  };
  const move = (step: number, from = current) => setCurrent(Math.min(Math.max(from + step, 0), view.rows.length - 1));
  /**
   * A key in the field for the minutes that is no part of a number ends the number: an arrow moves on,
   * a letter is a mark or whatever else it is on the page. It never lands in the field.
   */
  const endNumber = (key: string, index: number): boolean => {
    const arrow = { ArrowDown: 1, ArrowUp: -1 }[key];
    if (!arrow && (key.length > 1 || /[\d:.]/.test(key))) return false;
    flushSync(() => {
      if (arrow) move(arrow, index);
      else setCurrent(nextToMark(index));
    });
    (document.activeElement as HTMLElement | null)?.blur();
    if (!arrow) document.body.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
    return true;
  };
  /** Marks someone whose card was read; says what came of it. */
  const cardHeld = (card: string): string | undefined => {
    const index = view.rows.findIndex((r) => r.card !== "" && r.card === card);
    const r = view.rows[index];
    if (!r) return undefined;
    setCurrent(index);
    const own = rowOf(rows, r.student.id);
    const state = view.codes.find((c) => c.code === own.code)?.state;
    if (own.source !== "desk" && (state === "in" || state === "late")) return `${r.student.name} is in already`;
    const now = minute();
    const onTime = now <= view.arriving.inUntil;
    put(r.student.id, {
      code: onTime ? view.arriving.in : view.arriving.late,
      time: onTime ? "" : now,
      source: "card",
    });
    return onTime ? `${r.student.name} is in` : `${r.student.name} is late, ${now}`;
  };
  return {
    view,
    rows,
    counts,
    kept,
    box,
    current,
    setCurrent,
    late,
    put,
    mark,
    everyoneIn,
    send,
    cardHeld,
    nextToMark,
    endNumber,
    paper,
    setPaper,
    move,
  };
}

export type Taking = ReturnType<typeof useTaking>;

/** The mark in a code set's words. */
export function codeWord(view: View, code: string): string {
  return view.codes.find((c) => c.code === code)?.word ?? code;
}
