import { useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { keyOf, type NewTick, type RollCallState, type rollCallBox, type Shown } from "../../api/ticks";
import { Long } from "../../parts/Long";
import { useScanner } from "../../parts/scanner";

type Person = Schemas["PersonView"];
type Box = ReturnType<typeof rollCallBox>;

const lately = 3; // ticks that stay under those who are missing, to be taken back

const rank = ["missing", "unknown", "found", "expected", "signed-in", "on-site", "not-here"];

/** Those of whom least is known come first. */
const worstFirst = (a: Person, b: Person) => rank.indexOf(a.why) - rank.indexOf(b.why);

const fold = (s: string) => s.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();

/** Who fits what was typed: a number or a card whole, or the beginning of every word in name or form. */
function fits(p: Person, typed: string): boolean {
  if (typed === fold(p.number) || (p.card && typed === fold(p.card))) return true;
  const words = fold(`${p.name} ${p.form}`).split(/\s+/);
  return typed.split(/\s+/).every((t) => words.some((w) => w.startsWith(t)));
}

/** The lists: those still missing, and each meeting point; or whoever fits what is typed. */
export function People({ state, box }: { state: RollCallState; box: Box }) {
  const [point, setPoint] = useState("");
  const [typed, setTyped] = useState("");
  const field = useRef<HTMLInputElement>(null);
  const people = state.list?.people ?? [];
  const everyone = [...people, ...(state.list?.others ?? [])];
  const points = [...new Set(people.map((p) => p.point))];
  const missing = people.filter((p) => !state.ticks.has(keyOf(p))).sort(worstFirst);
  const place = point;
  const tick = (p: Person, how: NewTick["how"], here = true, where = place) =>
    box.tick({ kind: p.kind, person: p.person, here, place: where, how });
  const exact = (text: string) => {
    const q = fold(text.trim());
    return everyone.find((p) => q !== "" && (fold(p.number) === q || fold(p.card) === q));
  };
  useScanner((code) => {
    const hit = exact(code);
    if (hit && !state.ticks.has(keyOf(hit))) tick(hit, "card");
    setTyped(hit ? "" : code);
  });
  const q = fold(typed.trim());
  const hits = q.length > 1 ? everyone.filter((p) => fits(p, q)).slice(0, 40) : [];
  const enter = () => {
    const hit = exact(typed) ?? (hits.length === 1 ? hits[0] : undefined);
    if (!hit) return;
    if (!state.ticks.has(keyOf(hit))) tick(hit, fold(hit.card) === q && q !== "" ? "card" : "name");
    setTyped("");
    field.current?.focus();
  };
  const last = [...state.ticks]
    .sort(([, a], [, b]) => b.at.localeCompare(a.at))
    .slice(0, lately)
    .flatMap(([key]) => everyone.filter((p) => keyOf(p) === key));
  const rows = q.length > 1 ? hits : point ? people.filter((p) => p.point === point) : [...missing, ...last];
  return (
    <>
      <nav className="points" aria-label="Meeting points">
        <button type="button" aria-pressed={point === ""} onClick={() => setPoint("")}>
          Missing {missing.length}
        </button>
        {points.map((one) => (
          <button key={one} type="button" aria-pressed={point === one} onClick={() => setPoint(one)}>
            {one} {people.filter((p) => p.point === one).length}
          </button>
        ))}
      </nav>
      {q.length <= 1 && point === "" && missing.length === 0 && (
        <p className="all">Everyone on the list is accounted for.</p>
      )}
      {q.length > 1 && hits.length === 0 && <p className="all">Nobody of the school fits “{typed.trim()}”.</p>}
      <div className="people">
        <Long rows={rows} height={80} keyOf={keyOf} as="div">
          {(p, at) => (
            <div key={keyOf(p)} {...at}>
              <Row
                p={p}
                shown={state.ticks.get(keyOf(p))}
                now={p.kind === "student" ? state.now.get(p.person) : undefined}
                line={state.line}
                tick={(here, where) => {
                  tick(p, q.length > 1 ? "name" : "list", here, where ?? place);
                  setTyped("");
                }}
                undo={(s) => box.undo(s, p)}
              />
            </div>
          )}
        </Long>
      </div>
      <form
        className="by-name"
        onSubmit={(e) => {
          e.preventDefault();
          enter();
        }}
      >
        <input
          ref={field}
          aria-label="Name, number or card"
          placeholder="name, number or card"
          autoComplete="off"
          maxLength={100}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <button
          type="button"
          disabled={q.length < 2 || hits.length > 0}
          onClick={() => {
            box.tick({ kind: "visitor", person: 0, name: typed.trim(), here: true, place, how: "name" });
            setTyped("");
          }}
        >
          not on the list
        </button>
      </form>
    </>
  );
}

/** Somebody: who, where they should be and were seen last, and one large target. */
function Row({
  p,
  shown,
  now,
  line,
  tick,
  undo,
}: {
  p: Person;
  shown: Shown | undefined;
  now: string | undefined;
  line: boolean;
  tick: (here: boolean, where?: string) => void;
  undo: (shown: Shown) => void;
}) {
  const [asks, setAsks] = useState(false);
  const [how, setHow] = useState("");
  const where = now ?? [p.place, p.seen].filter(Boolean).join(" · ");
  return (
    <div className={`person ${p.why}`}>
      <Face p={p} line={line} />
      <div className="who">
        <b>{p.name}</b> <span>{p.form}</span>
        <p>
          {shown
            ? `${shown.here ? "met" : "known to be elsewhere"}${shown.place ? `: ${shown.place}` : ""}${shown.by ? `, ${shown.by}` : ""}${shown.waiting ? " · kept here" : ""}`
            : where || "nothing is known of today"}
        </p>
        {asks && !shown && (
          <form
            className="elsewhere"
            onSubmit={(e) => {
              e.preventDefault();
              if (how.trim()) tick(false, how.trim());
              setAsks(false);
            }}
          >
            <input
              aria-label={`Where ${p.name} is, and how that is known`}
              placeholder="where, and how it is known"
              maxLength={100}
              // biome-ignore lint/a11y/noAutofocus: it was asked for
              autoFocus
              value={how}
              onChange={(e) => setHow(e.target.value)}
            />
            <button type="submit">Save</button>
          </form>
        )}
      </div>
      <div className="does">
        {shown ? (
          <>
            <span className={`done${shown.here ? "" : " away"}`}>{shown.at.slice(0, 5)}</span>
            <button type="button" className="link" aria-label={`Undo ${p.name}`} onClick={() => undo(shown)}>
              undo
            </button>
          </>
        ) : (
          <>
            <button type="button" className="here" aria-label={`${p.name} is here`} onClick={() => tick(true)}>
              here
            </button>
            <button
              type="button"
              className="link"
              aria-label={`${p.name} is known to be elsewhere`}
              aria-expanded={asks}
              onClick={() => setAsks(!asks)}
            >
              elsewhere
            </button>
          </>
        )}
      </div>
    </div>
  );
}

/** A picture where there is one and a line to fetch it; else the initials. */
function Face({ p, line }: { p: Person; line: boolean }) {
  const [none, setNone] = useState(false);
  const initials = p.name
    .split(/\s+/)
    .map((w) => w.charAt(0))
    .slice(0, 3)
    .join("");
  if (p.kind !== "student" || !p.photo || none || !line)
    return (
      <span className="face" aria-hidden="true">
        {initials}
      </span>
    );
  return <img className="face" src={`/api/students/${p.person}/photo`} alt="" onError={() => setNone(true)} />;
}
