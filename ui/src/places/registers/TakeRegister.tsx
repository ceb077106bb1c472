import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { TimeField } from "../../parts/controls/TimeField";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { Cards, useCards } from "./Cards";
import { CheckIn } from "./CheckIn";
import { codeFor } from "./codes";
import { Finder, Roll } from "./Roll";
import { Seats } from "./Seats";
import { Tally } from "./Tally";
import { type Taking, useTaking } from "./taking";

/** Taking a register: by list or by seat, one state for both. */
export function TakeRegister({ view }: { view: Schemas["RegisterView"] }) {
  const taking = useTaking(view);
  const cards = useCards(taking);
  const { params, set } = useAddress();
  const bySeat = params.get("by") === "seat";
  const [finding, setFinding] = useState(false);
  const [noting, setNoting] = useState(false);
  const [arranging, setArranging] = useState(false);
  const row = view.rows[taking.current];
  const decide = (mine: boolean) => row && taking.box.decide(row.student.id, mine);
  const keys: Record<string, () => void> = {
    a: taking.everyoneIn,
    f: () => setFinding(true),
    ";": () => setNoting(true),
    Backspace: () => row && taking.put(row.student.id, { code: "", time: "" }),
    "1": () => decide(false),
    "2": () => decide(true),
    "Ctrl+Enter": taking.send,
  };
  if (!bySeat) {
    keys.ArrowDown = () => taking.move(1);
    keys.ArrowUp = () => taking.move(-1);
  }
  for (const c of view.codes) if (c.key) keys[c.key] = () => taking.mark(c.code, taking.current, bySeat);
  useKeys(keys, view.canSend && !arranging);
  const show = (by: "list" | "seat") => {
    setArranging(false);
    set({ by: by === "seat" ? "seat" : undefined });
  };
  useKeys({ s: () => show(bySeat ? "list" : "seat") });

  return (
    <main className="page registers-place">
      <h1 className="visually-hidden">
        Register of {view.register.title}, {view.register.label}
      </h1>
      <div className="columns taking">
        <Panel
          title={`${view.register.title} · ${view.register.label}`}
          extra={
            <span className="look-small">
              {view.register.room} · {view.rows.length} students · due by {view.register.dueBy}{" "}
              <Segmented
                size="small"
                aria-label="Show the register"
                value={bySeat ? "seat" : "list"}
                onChange={(by) => show(by === "seat" ? "seat" : "list")}
                options={[
                  { value: "list", label: "List" },
                  { value: "seat", label: "Seats" },
                ]}
              />
            </span>
          }
        >
          {finding && <Finder taking={taking} close={() => setFinding(false)} />}
          {bySeat ? (
            <Seats {...{ taking, noting, setNoting, arranging, setArranging }} />
          ) : (
            <Roll taking={taking} noting={noting} setNoting={setNoting} />
          )}
        </Panel>
        <div className="stack">
          <section className="panel" aria-label="Counts">
            <Tally counts={taking.counts} />
            <Finish taking={taking} />
          </section>
          <CheckIn taking={taking} />
          <Cards held={cards} taking={taking} />
          <RegisterKeys view={view} bySeat={bySeat} />
        </div>
      </div>
    </main>
  );
}

function Finish({ taking }: { taking: Taking }) {
  const { view, counts, kept } = taking;
  return (
    <div className="side finish">
      <Button onClick={taking.everyoneIn} disabled={!view.canSend || counts.toMark === 0} block>
        Everyone else is in <kbd>A</kbd>
      </Button>
      <Button
        type="primary"
        onClick={taking.send}
        disabled={!view.canSend}
        loading={kept.finished && kept.line === "storing"}
        block
      >
        Send register <kbd>Ctrl Enter</kbd>
      </Button>
      {taking.paper ? (
        <div className="paper look-small">
          <Input
            size="small"
            aria-label="Taken on paper by"
            placeholder="taken on paper by"
            maxLength={100}
            autoFocus
            value={taking.paper.takenBy ?? ""}
            onChange={(e) => taking.setPaper({ ...taking.paper, takenBy: e.target.value })}
          />
          <TimeField
            size="small"
            label="Taken at"
            placeholder={`at ${view.register.start}`}
            value={taking.paper.takenAt ?? ""}
            onChange={(takenAt) => taking.setPaper({ ...taking.paper, takenAt })}
          />
          <button type="button" className="linklike" onClick={() => taking.setPaper(undefined)}>
            taken here
          </button>
        </div>
      ) : (
        view.canSend && (
          <button type="button" className="linklike look-small" onClick={() => taking.setPaper({})}>
            It comes back on paper …
          </button>
        )
      )}
      <p className="look-small look-muted" role="status" data-testid="line">
        {view.canSend ? <LineWords taking={taking} /> : view.whyNot}
      </p>
    </div>
  );
}

/** How the marks stand with the server. */
function LineWords({ taking }: { taking: Taking }) {
  const { counts, kept } = taking;
  const toMark = counts.toMark > 0 ? `${counts.toMark} still to mark: a blank is never an absence. ` : "";
  if (kept.line === "refused") {
    return (
      <>
        Not saved: {kept.words}.{" "}
        <button type="button" className="linklike" onClick={() => taking.box.discard()}>
          Put these marks away
        </button>
      </>
    );
  }
  if (kept.line === "waiting" && kept.finished) {
    return (
      <>
        <b>The line is down.</b> The register is finished, kept on this machine, and goes out when it is back.{" "}
        <button type="button" className="linklike" onClick={() => taking.box.takeBack()}>
          Take it back
        </button>
      </>
    );
  }
  if (kept.line === "waiting") {
    const n = kept.waiting.size;
    return (
      <>
        {toMark}
        <b>The line is down.</b> {n} {n === 1 ? "mark is" : "marks are"} kept on this machine and will be shared when it
        is back.
      </>
    );
  }
  return <>{toMark}All who have this register open see your marks. They count when it is sent.</>;
}

/** What the keys of some uses do, as far as the school has codes for them. */
function codeKeys(view: Schemas["RegisterView"]): [string, string][] {
  const key = (use: string) => codeFor(view, use)?.key.toUpperCase() ?? "";
  const line = (uses: [string, string][]): [string, string] => {
    const there = uses.filter(([use]) => key(use));
    return [there.map(([use]) => key(use)).join(" "), there.map(([, words]) => words).join(", ")];
  };
  const late = key("late");
  const list: [string, string][] = [line([["present", "in"]])];
  if (late) list.push([`${late} 5`, "late, by five minutes"], [`${late} 850`, "late, came at 08:50"]);
  list.push(
    line([["no_reason", "not here, no reason"]]),
    line([
      ["away", "absent with a reason"],
      ["ill", "ill"],
    ]),
    line([
      ["off_site", "elsewhere"],
      ["distance", "at a distance"],
    ]),
  );
  return list.filter(([keys]) => keys);
}

function RegisterKeys({ view, bySeat }: { view: Schemas["RegisterView"]; bySeat: boolean }) {
  const list = [
    ...codeKeys(view),
    [bySeat ? "← ↑ ↓ →" : "↑ ↓ F", bySeat ? "move over the seats" : "move, find a name"],
    ["; ⌫", "note, take the mark off"],
    ["S", bySeat ? "show as a list" : "show by seat"],
  ];
  return (
    <Panel title="Keys">
      <table className="look-small keylist">
        <tbody>
          {list.map(([k = "", w]) => (
            <tr key={k}>
              <td>
                {k.split(" ").map((p) => (
                  <kbd key={p}>{p}</kbd>
                ))}
              </td>
              <td>{w}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Panel>
  );
}
