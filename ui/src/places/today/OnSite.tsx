import { Button } from "antd";
import { type KeyboardEvent, useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { Shape } from "../../look/Shape";
import { useKeys } from "../../parts/keys";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

type Missing = Schemas["MissingOnSite"];

/** On site and not where they should be: a search first, with who looks and who found them where. */
export function OnSite({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [asking, setAsking] = useState<{ student: number; what: "search" | "found" }>();
  const first = t.onSite[0];
  const giveUp = (m: Missing) =>
    write.mutate({ path: "/api/searches/end", body: { student: m.student.id, found: false } });
  const ask = (m: Missing, what: "search" | "found") => setAsking({ student: m.student.id, what });
  useKeys(
    {
      s: () => first && !first.search && ask(first, "search"),
      f: () => first && ask(first, "found"),
      g: () => first && giveUp(first),
    },
    may,
  );
  return (
    <Panel
      title="On site, not where they should be"
      extra={t.onSite.length || undefined}
      className={t.onSite.length ? "alarm" : ""}
    >
      {t.onSite.length === 0 && <p className="empty">Everyone who was seen is where they should be.</p>}
      {t.onSite.map((m, i) => (
        <div className="line wrap" key={m.student.id}>
          <Shape state="unaccounted" />
          <div className="two">
            <StudentName student={m.student} />
            <span className="small">{m.search ? `${m.searcher} is looking since ${m.since}` : m.text}</span>
          </div>
          {may && (
            <div className="actions">
              {!m.search && (
                <Button size="small" type="primary" onClick={() => ask(m, "search")}>
                  Search {i === 0 && <kbd>S</kbd>}
                </Button>
              )}
              <Button size="small" onClick={() => ask(m, "found")}>
                Found {i === 0 && <kbd>F</kbd>}
              </Button>
              <Button size="small" onClick={() => giveUp(m)}>
                {m.search ? "Give up" : "Ring home"} {i === 0 && <kbd>G</kbd>}
              </Button>
            </div>
          )}
          {asking?.student === m.student.id && (
            <Say key={asking.what} m={m} what={asking.what} write={write} done={() => setAsking(undefined)} />
          )}
        </div>
      ))}
    </Panel>
  );
}

/** Who looks; or where the student was found, and by whom. Enter alone is enough. */
function Say({ m, what, write, done }: { m: Missing; what: "search" | "found"; write: Writing; done: () => void }) {
  const [who, setWho] = useState("");
  const [place, setPlace] = useState("");
  const store = () => {
    const student = m.student.id;
    if (what === "search") write.mutate({ path: "/api/searches", body: { student, searcher: who } });
    else write.mutate({ path: "/api/searches/end", body: { student, found: true, place, foundBy: who } });
    done();
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Enter" && !(e.target instanceof HTMLButtonElement)) {
      e.preventDefault();
      store();
    } else if (e.key === "Escape") done();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: Enter in its fields stores, Escape leaves
    <div className="say" onKeyDown={onKey}>
      {what === "found" && (
        <input
          className="plain"
          aria-label="Found where"
          placeholder="where"
          // biome-ignore lint/a11y/noAutofocus: it was asked for
          autoFocus
          value={place}
          onChange={(e) => setPlace(e.target.value)}
        />
      )}
      <input
        className="plain"
        aria-label={what === "found" ? "Found by" : "Who looks"}
        placeholder={what === "found" ? `by ${m.searcher || "you"}` : "who looks: you"}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus={what === "search"}
        value={who}
        onChange={(e) => setWho(e.target.value)}
      />
      <Button size="small" type="primary" onClick={store}>
        {what === "found" ? "Found" : "Search"} <kbd>Enter</kbd>
      </Button>
    </div>
  );
}
