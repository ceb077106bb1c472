import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Shape } from "../../look/Shape";
import { OneOf } from "../controls/OneOf";
import { useAddress } from "../look-at";
import { Scrolls } from "../Panel";

type Happened = Schemas["HappenedView"];

const kinds: Record<Happened["kind"], string> = {
  mark: "marks",
  desk: "desk",
  home: "home",
  call: "calls",
  conduct: "conduct",
  "follow-up": "follow-up",
  step: "steps and letters",
};

/** What happened, a day at a time, newest first; of one kind where it is chosen. */
export function History({ list }: { list: Happened[] }) {
  const [kind, setKind] = useState<Happened["kind"] | "all">("all");
  const { set } = useAddress();
  const there = [...new Set(list.map((h) => h.kind))];
  const shown = list.filter((h) => kind === "all" || h.kind === kind);
  const days = [...new Set(shown.map((h) => h.date))];
  return (
    <section aria-label="What happened">
      <h3>What happened</h3>
      {there.length > 1 && (
        <OneOf
          label="What is shown"
          value={kind}
          onChange={setKind}
          options={[
            { value: "all" as const, label: "all" },
            ...(Object.keys(kinds) as Happened["kind"][])
              .filter((k) => there.includes(k))
              .map((k) => ({ value: k, label: kinds[k] })),
          ]}
        />
      )}
      <Scrolls>
        <table className="look-small history">
          <thead className="visually-hidden">
            <tr>
              <th>When</th>
              <th>Kind</th>
              <th>What</th>
              <th>By</th>
            </tr>
          </thead>
          {days.map((d) => {
            const of = shown.filter((h) => h.date === d);
            return (
              <tbody key={d}>
                <tr>
                  <th colSpan={4} scope="rowgroup">
                    {of[0]?.day}
                  </th>
                </tr>
                {of.map((h, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: entries have no other name
                  <tr key={i}>
                    <td className="look-nowrap look-muted">{h.at}</td>
                    <td>{h.state ? <Shape state={h.state} /> : <span className="look-muted">{h.kind}</span>}</td>
                    <td className="what">
                      {h.letter ? (
                        <a href={`/api/letters/sheet?letters=${h.letter}`} target="_blank" rel="noreferrer">
                          {h.text}
                        </a>
                      ) : h.incident ? (
                        <button
                          type="button"
                          className="link"
                          onClick={() => set({ incident: String(h.incident) }, false)}
                        >
                          {h.text}
                        </button>
                      ) : (
                        h.text
                      )}
                    </td>
                    <td className="look-nowrap look-muted">{h.by}</td>
                  </tr>
                ))}
              </tbody>
            );
          })}
        </table>
      </Scrolls>
      {shown.length === 0 && <p className="look-muted">Nothing but being in so far.</p>}
    </section>
  );
}
