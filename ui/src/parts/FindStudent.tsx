import "./find-student.css";
import { useQuery } from "@tanstack/react-query";
import { Input } from "antd";
import { type KeyboardEvent, useDeferredValue, useId, useState } from "react";
import { read, type Schemas } from "../api/client";

type Found = Schemas["PersonFound"];

/** A field that finds any student by name and form: the first of those offered by Enter, others by the arrows. */
export function FindStudent({
  taken,
  add,
  takeLast,
  nameIn = (text) => text.trim(),
  placeholder = "a name",
  label = "Who",
  autoFocus,
  submit,
}: {
  taken: number[]; // who is chosen already
  add: (one: Found, text: string) => void;
  takeLast?: () => void; // Backspace in an empty field
  nameIn?: (text: string) => string; // what of the text is the name
  placeholder?: string;
  label?: string;
  autoFocus?: boolean;
  submit?: () => void; // Enter in an empty field
}) {
  const [text, setText] = useState("");
  const [row, setRow] = useState(0);
  const id = useId();
  const asked = useDeferredValue(nameIn(text));
  const found = useQuery({
    queryKey: ["students by name", asked],
    enabled: asked.length > 0,
    queryFn: () => read("/api/conduct/people", { q: asked }),
  });
  const free = (list: Found[]) => list.filter((o) => !taken.includes(o.id));
  const offered = asked ? free(found.data ?? []) : [];
  const take = (one: Found | undefined) => {
    if (!one) return;
    add(one, text);
    setText("");
    setRow(0);
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey) return;
    if (e.key === "ArrowDown" || e.key === "ArrowUp") {
      e.preventDefault();
      if (offered.length) setRow((r) => (r + (e.key === "ArrowDown" ? 1 : offered.length - 1)) % offered.length);
    } else if (e.key === "Enter") {
      e.preventDefault();
      // What is typed now decides, not what was offered for what was typed before.
      const name = nameIn(text);
      if (!name) submit?.();
      else if (name === asked && !found.isFetching) take(offered[row]);
      else void read("/api/conduct/people", { q: name }).then((list) => take(free(list)[0]));
    } else if (e.key === "Backspace" && text === "") takeLast?.();
  };
  return (
    <div className="find-student">
      <Input
        aria-label={label}
        role="combobox"
        aria-expanded={offered.length > 0}
        aria-controls={id}
        aria-autocomplete="list"
        aria-activedescendant={offered[row] ? `${id}-${offered[row].id}` : undefined}
        autoComplete="off"
        autoFocus={autoFocus}
        value={text}
        placeholder={placeholder}
        onChange={(e) => {
          setText(e.target.value);
          setRow(0);
        }}
        onKeyDown={onKey}
      />
      <div id={id} role="listbox" aria-label="Students">
        {offered.map((o, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
          <div
            key={o.id}
            id={`${id}-${o.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === row}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => take(o)}
          >
            {o.name} <span className="look-muted">{o.form}</span>
          </div>
        ))}
      </div>
    </div>
  );
}
