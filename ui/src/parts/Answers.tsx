import "./answers.css";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type KeyboardEvent, useDeferredValue, useState } from "react";
import { useLocation } from "react-router";
import { read, type Schemas } from "../api/client";
import { useGoTo } from "./alone";
import { asAnswers, lasting, pinnedFirst, usePins } from "./pins";

type Answer = Schemas["HelpAnswer"];

/** The pages that answer a question, the best first. */
export const ask = (question: string) => read("/api/help", { q: question });

const shortest = 3; // letters of a question

/** The same while it is typed. Until they have come, those of what was typed before stay, and are not for Enter. */
export function useAnswers(question: string): { found: Answer[]; stale: boolean } {
  const found = useQuery({
    queryKey: ["help", question],
    enabled: question.length >= shortest,
    placeholderData: keepPreviousData,
    queryFn: () => ask(question),
  });
  return question.length >= shortest
    ? { found: found.data ?? [], stale: found.isPlaceholderData }
    : { found: [], stale: false };
}

/** Pages with what each does; the chosen one is where Enter goes. */
export function AnswerList({
  answers,
  chosen,
  goTo,
  name,
}: {
  answers: Answer[];
  chosen: number;
  goTo: (path: string) => void;
  name: string;
}) {
  return answers.map((a, i) => (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
    <div
      key={a.path + a.title}
      id={`${name}-${i}`}
      className="help-answer"
      role="option"
      tabIndex={-1}
      aria-selected={i === chosen}
      onMouseDown={(e) => e.preventDefault()}
      onClick={() => goTo(a.path)}
    >
      <b>{a.title}</b> <span className="look-small">{a.answer}</span>
      {i === chosen && <kbd>Enter</kbd>}
    </div>
  ));
}

/** A field for a question, with the pages that answer it. */
export function AskHelp({ done }: { done: () => void }) {
  const navigate = useGoTo();
  const [text, setText] = useState("");
  const [row, setRow] = useState(0);
  const asked = useDeferredValue(text.trim());
  const { pathname, search } = useLocation();
  const here = lasting(pathname, search);
  const { pins, pin, unpin, busy } = usePins();
  const { found, stale } = useAnswers(asked);
  const answers = asked ? pinnedFirst(found, pins) : asAnswers(pins);
  const chosen = answers[row];
  const chosenPin = pins.find((p) => p.path === chosen?.path);
  const name = document.querySelector("main h1")?.textContent?.trim().slice(0, 60);
  const goTo = (path: string) => {
    done();
    navigate(path);
  };
  const onKey = (e: KeyboardEvent) => {
    const n = answers.length;
    if (n && (e.key === "ArrowDown" || e.key === "ArrowUp")) {
      e.preventDefault();
      setRow((r) => (r + (e.key === "ArrowDown" ? 1 : n - 1)) % n);
    } else if (e.key === "Enter") {
      e.preventDefault();
      if (text.trim() === asked && !stale && answers[row]) goTo(answers[row].path);
      else if (text.trim())
        void ask(text.trim()).then((list) => {
          const [first] = pinnedFirst(list, pins);
          if (first) goTo(first.path);
        });
    }
  };
  return (
    <div className="ask-help">
      <Input
        autoFocus
        role="combobox"
        aria-label="Ask where something is done"
        aria-expanded={answers.length > 0}
        aria-controls="help-list"
        aria-activedescendant={answers.length > 0 ? `help-${row}` : undefined}
        placeholder="what is it that you want to do? how many times absent, evacuation, who has not called"
        autoComplete="off"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setRow(0);
        }}
        onKeyDown={onKey}
      />
      <div id="help-list" role="listbox" aria-label={asked ? "Pages" : "Pinned pages"}>
        <AnswerList answers={answers} chosen={row} goTo={goTo} name="help" />
      </div>
      <div className="look-actions look-here pin-actions">
        {chosen && (
          <Button
            size="small"
            disabled={busy}
            onClick={() => (chosenPin ? unpin(chosenPin) : pin(chosen.path, chosen.title.slice(0, 60)))}
          >
            {chosenPin ? `Unpin ${chosen.title}` : `Pin ${chosen.title}`}
          </Button>
        )}
        {!asked && name && !pins.some((p) => p.path === here) && (
          <Button size="small" disabled={busy} onClick={() => pin(here, name)}>
            Pin this page: {name}
          </Button>
        )}
      </div>
      {asked.length >= shortest && answers.length === 0 && (
        <p className="look-small look-muted">
          No page is known by these words. Try others: late, register, letter, list.
        </p>
      )}
    </div>
  );
}
