import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useDeferredValue, useRef, useState } from "react";
import { read, type Schemas, useWrite, write } from "../api/client";
import { Shape } from "../look/Shape";
import { AnswerList, ask, useAnswers } from "./Answers";
import { useGoTo } from "./alone";
import { useKeys } from "./keys";
import { useAddress } from "./look-at";
import { asAnswers, pinnedFirst, usePins } from "./pins";
import { useSeen } from "./seen";
import { tell } from "./told";

const nobody: Schemas["QuickView"] = {
  students: [],
  chosen: [],
  siblings: [],
  action: "",
  text: "",
  error: "",
  tells: "",
  asks: false,
};

/** One line for everything: find a student, or say what happened to them. */
export function QuickLine({ mayWrite, mayNote }: { mayWrite: boolean; mayNote: boolean }) {
  const { set } = useAddress();
  const navigate = useGoTo();
  const field = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const [row, setRow] = useState(-1);
  const [focused, setFocused] = useState(false);
  // "vale incident" names who it is about; the form opens with them.
  const notes = mayNote && /\sincident$/i.test(text.trim());
  const asked = useDeferredValue(notes ? text.trim().replace(/\s+incident$/i, "") : text.trim());
  useKeys({ "/": () => field.current?.focus() });

  const chosen = (view: Schemas["QuickView"] | undefined, at: number) => {
    const student = at >= 0 ? view?.students[at]?.student.id : undefined;
    return student ? [student] : [];
  };
  const readLine = async (line: string): Promise<Schemas["QuickView"]> => {
    if (mayWrite) return write({ path: "/api/quick/read", body: { text: line } });
    const students = await read("/api/find", { q: line });
    return { ...nobody, students, asks: students.length === 0 };
  };
  const question = asked.startsWith("?");
  const quick = useQuery<Schemas["QuickView"], Error>({
    queryKey: ["quick", asked, row],
    enabled: asked.length > 1 && !question,
    placeholderData: keepPreviousData, // the list does not blink at every letter; Enter reads anew what has not come
    queryFn: async () => {
      const first = await readLine(asked);
      const pick = chosen(first, row);
      return mayWrite && pick.length ? write({ path: "/api/quick/read", body: { text: asked, chosen: pick } }) : first;
    },
  });
  const view = asked.length > 1 ? (question ? nobody : quick.data) : undefined;
  // What names no student is a question.
  const asks = question || (view?.asks ?? false);
  const { found, stale } = useAnswers(asks ? asked : "");
  const { pins } = usePins();
  const offersPins = !text && pins.length > 0;
  const answers = offersPins ? asAnswers(pins) : pinnedFirst(found, pins);
  const act = useWrite({
    done: (r) => {
      tell.receipt(r);
      leave();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const seen = useSeen();
  const leave = () => {
    seen.end();
    setText("");
    setRow(-1);
    field.current?.blur();
  };
  const open = (id: number) => {
    set(notes ? { incident: `new:${id}` } : { student: String(id) }, false);
    leave();
  };
  const goTo = (path: string) => {
    navigate(path);
    leave();
  };
  const enter = async () => {
    // What is typed now decides, not what was typed when the list was last fetched.
    const typed = notes ? text.trim().replace(/\s+incident$/i, "") : text.trim();
    if (!typed) {
      const to = row >= 0 ? answers[row] : undefined;
      if (to) goTo(to.path);
      return;
    }
    if (typed.startsWith("?")) {
      const to = typed === asked && !stale ? answers[Math.max(row, 0)] : pinnedFirst(await ask(typed), pins)[0];
      if (to) goTo(to.path);
      return;
    }
    const shown = typed === asked && !quick.isPlaceholderData ? view : undefined;
    const current = shown ?? (await readLine(typed).catch(() => undefined));
    if (current?.action) {
      const body = { text: typed, chosen: chosen(current, row), seen: seen.entry() };
      act.mutate({ path: "/api/quick", body }, { onError: seen.told });
    } else if (current && !current.error) {
      const student = current.students[Math.max(row, 0)];
      if (student) open(student.student.id);
    } else if (current?.asks) {
      const to = typed === asked && !stale ? answers[Math.max(row, 0)] : pinnedFirst(await ask(typed), pins)[0];
      if (to) goTo(to.path);
    }
  };
  const onKey = (e: KeyboardEvent) => {
    const n = asks || offersPins ? answers.length : (view?.students.length ?? 0);
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      e.preventDefault();
      if (n) setRow((r) => (e.key === "ArrowDown" ? r + 1 : Math.max(r, 0) + n - 1) % n);
    } else if (e.key === "Enter") {
      e.preventDefault();
      void enter();
    } else if (e.key === "Escape") {
      leave();
    }
  };
  return (
    <search className="quick">
      <input
        ref={field}
        value={text}
        role="combobox"
        aria-label="Quick line"
        aria-expanded={Boolean((view || offersPins) && focused)}
        aria-controls="quick-list"
        aria-autocomplete="list"
        aria-activedescendant={row >= 0 ? `quick-${row}` : undefined}
        placeholder={mayWrite ? "Name, card, or: merrow ill" : "Name or number"}
        autoComplete="off"
        spellCheck={false}
        onChange={(e) => {
          seen.begin();
          setText(e.target.value);
          setRow(-1);
        }}
        onFocus={() => setFocused(true)}
        onBlur={() => setFocused(false)}
        onKeyDown={onKey}
      />
      <kbd>/</kbd>
      {offersPins && focused && (
        <div className="quick-list">
          <div id="quick-list" role="listbox" aria-label="Pinned pages">
            <AnswerList answers={answers} chosen={row} goTo={goTo} name="quick" />
          </div>
        </div>
      )}
      {view && focused && (
        <div className="quick-list">
          {view.error && answers.length > 0 ? (
            <div className="will look-small look-muted" role="status">
              No student of that name. Where it is done:
            </div>
          ) : view.error ? (
            <div className="will error" role="alert">
              {view.error}
            </div>
          ) : (
            view.text && (
              <div className="will" role="status">
                {view.text} <kbd>Enter</kbd>
              </div>
            )
          )}
          {notes && !view.error && (
            <div className="will" role="status">
              {view.students.length === 1 || row >= 0
                ? `${view.students[Math.max(row, 0)]?.student.name}: note an incident`
                : "Whose incident? The arrows choose."}{" "}
              <kbd>Enter</kbd>
            </div>
          )}
          {view.tells && !view.error && (
            <div className="will" role="status">
              {view.tells}
            </div>
          )}
          <div id="quick-list" role="listbox" aria-label={asks ? "Pages" : "Students"}>
            {asks && <AnswerList answers={answers} chosen={Math.max(row, 0)} goTo={goTo} name="quick" />}
            {view.students.map((s, i) => (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
              <div
                key={s.student.id}
                id={`quick-${i}`}
                role="option"
                tabIndex={-1}
                aria-selected={row >= 0 ? i === row : view.chosen.includes(s.student.id)}
                onMouseDown={(e) => e.preventDefault()}
                onClick={() => open(s.student.id)}
              >
                <Shape state={s.place.state} />
                <span className="look-strong">{s.student.name}</span>
                <span className="look-muted">{s.student.form}</span>
                <span className="look-muted look-small look-push">
                  {s.through ? `${s.through} · ` : ""}
                  {s.place.text} · {s.student.number}
                </span>
              </div>
            ))}
          </div>
          {mayWrite && !asks && (
            <div className="hint">
              {view.siblings.length > 0 && `${view.siblings.map((s) => s.name).join(", ")}: type both · `}
              then in, out, late, ill or away · 925 · until thu · a reason · incident · or 845-925
            </div>
          )}
        </div>
      )}
    </search>
  );
}
