import type { Schemas } from "../../api/client";
import { FindStudent } from "../FindStudent";

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
      <FindStudent
        taken={people.map((p) => p.student)}
        nameIn={(text) => partOf(text).name}
        placeholder="finn · h juno: was harmed · s roan: saw it"
        autoFocus
        add={(one, text) =>
          onChange([
            ...people,
            { student: one.id, name: one.name, form: one.form, role: partOf(text).role ?? "did it" },
          ])
        }
        takeLast={() => onChange(people.slice(0, -1))}
      />
    </div>
  );
}
