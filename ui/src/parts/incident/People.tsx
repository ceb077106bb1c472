import { useQuery } from "@tanstack/react-query";
import { Input } from "antd";
import { type KeyboardEvent, useDeferredValue, useState } from "react";
import { read, type Schemas } from "../../api/client";

export type Role = Schemas["IncidentPart"]["role"];
export type Person = { student: number; name: string; form: string; role: Role };

export const roles: Role[] = ["did it", "was harmed", "saw it"];

/** What is typed before a name says the part: `h juno` was harmed, `s roan` saw it. */
function partOf(text: string): { role?: Role; name: string } {
  const [first = "", ...rest] = text.trimStart().split(" ");
  const role = ({ d: "did it", h: "was harmed", s: "saw it" } as const)[first.toLowerCase()];
  return role && rest.length > 0 ? { role, name: rest.join(" ").trim() } : { name: text.trim() };
}

/** Who had which part: typed, the first of those offered by Enter; the part is another by a click on it. */
export function People({ people, onChange }: { people: Person[]; onChange: (people: Person[]) => void }) {
  const [text, setText] = useState("");
  const [row, setRow] = useState(0);
  const asked = useDeferredValue(partOf(text).name);
  const found = useQuery({
    queryKey: ["people of an incident", asked],
    enabled: asked.length > 0,
    queryFn: () => read("/api/conduct/people", { q: asked }),
  });
  const offered = (asked ? (found.data ?? []) : []).filter((o) => !people.some((p) => p.student === o.id));
  const add = (one: Schemas["PersonFound"] | undefined) => {
    if (!one) return;
    const role = partOf(text).role ?? "did it";
    onChange([...people, { student: one.id, name: one.name, form: one.form, role }]);
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
      const name = partOf(text).name;
      if (name === asked && !found.isFetching) add(offered[row]);
      else if (name)
        void read("/api/conduct/people", { q: name }).then((list) =>
          add(list.find((o) => !people.some((p) => p.student === o.id))),
        );
    } else if (e.key === "Backspace" && text === "" && people.length > 0) {
      onChange(people.slice(0, -1));
    }
  };
  return (
    <div className="people-of">
      {people.length > 0 && (
        <ul>
          {people.map((p) => (
            <li key={p.student}>
              <b>{p.name}</b> <span className="look-muted">{p.form}</span>
              <button
                type="button"
                className="part"
                aria-label={`${p.role}: ${p.name}, another part`}
                onClick={() =>
                  onChange(
                    people.map((o) =>
                      o === p ? { ...o, role: roles[(roles.indexOf(o.role) + 1) % roles.length] ?? o.role } : o,
                    ),
                  )
                }
              >
                {p.role}
              </button>
              <button
                type="button"
                className="link look-muted"
                aria-label={`take off ${p.name}`}
                onClick={() => onChange(people.filter((o) => o !== p))}
              >
                take off
              </button>
            </li>
          ))}
        </ul>
      )}
      <Input
        aria-label="Who"
        role="combobox"
        aria-expanded={offered.length > 0}
        aria-controls="people-offered"
        aria-autocomplete="list"
        aria-activedescendant={offered[row] ? `person-${offered[row].id}` : undefined}
        autoComplete="off"
        autoFocus
        value={text}
        placeholder="finn · h juno: was harmed · s roan: saw it"
        onChange={(e) => {
          setText(e.target.value);
          setRow(0);
        }}
        onKeyDown={onKey}
      />
      <div id="people-offered" role="listbox" aria-label="Students">
        {offered.map((o, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the field's arrow keys and Enter do the same
          <div
            key={o.id}
            id={`person-${o.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === row}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => add(o)}
          >
            {o.name} <span className="look-muted">{o.form}</span>
          </div>
        ))}
      </div>
    </div>
  );
}
