import "./home.css";
import { keepPreviousData } from "@tanstack/react-query";
import { type KeyboardEvent, useId, useState } from "react";
import { read, type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";

type Hit = Schemas["FoundStudent"];

/** Finds a student by name, number, card, or a parent's name or phone. */
export function WhoField({
  onChoose,
  label,
  autoFocus = false,
}: {
  onChoose: (hit: Hit) => void;
  label: string;
  autoFocus?: boolean;
}) {
  const id = useId();
  const [query, setQuery] = useState("");
  const [row, setRow] = useState(0);
  const q = query.trim();
  const found = useRead("/api/find", { q }, { enabled: q.length > 1, placeholderData: keepPreviousData });
  const hits = q.length > 1 ? (found.data ?? []) : [];
  const onKey = async (e: KeyboardEvent) => {
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      e.preventDefault();
      setRow((r) => Math.min(Math.max(r + (e.key === "ArrowDown" ? 1 : -1), 0), Math.max(hits.length - 1, 0)));
    } else if (e.key === "Enter" && q) {
      e.preventDefault();
      e.stopPropagation();
      // What stands in the field decides, not what was found for an earlier letter.
      const hit = (await read("/api/find", { q }))[row];
      if (hit) onChoose(hit);
    }
  };
  return (
    <div className="who-field">
      <input
        className="plain"
        role="combobox"
        aria-label={label}
        aria-expanded={hits.length > 0}
        aria-controls={id}
        aria-autocomplete="list"
        aria-activedescendant={hits.length > 0 ? `${id}-${row}` : undefined}
        placeholder={label.toLowerCase()}
        autoComplete="off"
        spellCheck={false}
        // biome-ignore lint/a11y/noAutofocus: the one thing to do first
        autoFocus={autoFocus}
        value={query}
        onChange={(e) => {
          setQuery(e.target.value);
          setRow(0);
        }}
        onKeyDown={(e) => void onKey(e)}
      />
      <div id={id} role="listbox" aria-label="Students">
        {hits.map((h, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
          <div
            key={h.student.id}
            id={`${id}-${i}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === row}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => onChoose(h)}
          >
            <Shape state={h.place.state} /> <b>{h.student.name}</b> <span className="look-muted">{h.student.form}</span>
            <span className="look-small look-muted look-push">
              {[h.through, h.place.text].filter(Boolean).join(" · ")}
            </span>
          </div>
        ))}
      </div>
      {q.length > 1 && found.data?.length === 0 && (
        <span className="look-small look-muted">Nobody on the roll fits “{q}”.</span>
      )}
    </div>
  );
}
