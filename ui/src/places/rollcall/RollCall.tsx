import "./rollcall.css";
import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { Refusal, type Schemas, useRead } from "../../api/client";
import { keepPages } from "../../api/kept";
import { followLive } from "../../api/live";
import { keyOf, type RollCallState, rollCallBox } from "../../api/ticks";
import { Tick } from "../../parts/controls/Tick";
import { Waiting } from "../../parts/Panel";
import { plural } from "../../parts/words";
import { SignIn } from "../signin/SignIn";
import { EndRollCall } from "./EndRollCall";
import { People } from "./People";

/** The roll call, for a phone in one hand: who is still to be found, and ticking them. */
export default function RollCall() {
  const who = useRead("/api/session", undefined, { staleTime: Number.POSITIVE_INFINITY });
  if (who.error instanceof Refusal && who.error.status === 401) return <SignIn />;
  const account = who.data?.account ?? kept();
  if (account === undefined) return <Waiting error={who.error} />;
  return <Running account={account} who={who.data} />;
}

const accountName = "meldung roll call of";

/** Whose phone it is, for when it is opened with the line down. */
function kept(): number | undefined {
  return Number(localStorage.getItem(accountName)) || undefined;
}

function Running({ account, who }: { account: number; who: Schemas["Who"] | undefined }) {
  const queries = useQueryClient();
  const box = useMemo(() => rollCallBox(account), [account]);
  const state = useSyncExternalStore(box.subscribe, box.snapshot);
  useEffect(() => {
    localStorage.setItem(accountName, String(account));
    void keepPages();
    const elsewhere = (e: StorageEvent) => e.key?.startsWith("meldung roll|") && box.changed();
    const back = () => box.flush(0);
    window.addEventListener("storage", elsewhere);
    window.addEventListener("online", back);
    const stop = followLive(
      queries,
      (on) => on && box.flush(0),
      (kind) => /tick|roll call/.test(kind) && box.flush(0),
    );
    box.flush(0);
    return () => {
      window.removeEventListener("storage", elsewhere);
      window.removeEventListener("online", back);
      stop();
      box.stop();
    };
  }, [account, box, queries]);
  useEffect(() => {
    if (state.out) void queries.invalidateQueries({ queryKey: ["/api/session"] });
  }, [state.out, queries]);
  const mayBegin = who ? who.mayBeginRollCall : Boolean(state.list?.people.length);
  return (
    <main className="roll-call">
      <Head state={state} box={box} mayBegin={mayBegin} />
      <Said state={state} box={box} />
      {state.call ? <People state={state} box={box} /> : <Before state={state} box={box} mayBegin={mayBegin} />}
    </main>
  );
}

type Box = ReturnType<typeof rollCallBox>;

/** How it stands, in figures that add up. */
function Head({ state, box, mayBegin }: { state: RollCallState; box: Box; mayBegin: boolean }) {
  const [ending, setEnding] = useState(false);
  const { call, list } = state;
  const people = list?.people ?? [];
  const added = box.met().length;
  const open = people.filter((p) => !state.ticks.has(keyOf(p)));
  const of = people.length + added;
  const kinds = (["student", "staff", "visitor"] as const).map((k) => {
    const n = people.filter((p) => p.kind === k).length + (k === "visitor" ? added : 0);
    return k === "staff" ? `${n} staff` : plural(n, k);
  });
  if (!call)
    return (
      <header>
        <div className="top">
          <h1>Roll call</h1>
          <a href="/">Back</a>
        </div>
      </header>
    );
  return (
    <header className={call.kind}>
      <div className="top">
        <h1>
          Roll call <span>{`${call.kind} · began ${call.began}`}</span>
        </h1>
        {mayBegin && call.id > 0 && (
          <button type="button" className="end" onClick={() => setEnding(true)}>
            End
          </button>
        )}
        <a href="/">Back</a>
      </div>
      <p className="figures" role="status">
        <b>{open.length}</b>
        <span>
          not ticked of <strong>{of}</strong>
          <br />
          {kinds.join(" · ")}
        </span>
      </p>
      <div className="bar" aria-hidden="true">
        <div style={{ width: `${of ? (100 * (of - open.length)) / of : 0}%` }} />
      </div>
      {ending && <EndRollCall call={call.id} open={open} close={() => setEnding(false)} ended={() => box.flush(0)} />}
    </header>
  );
}

/** What the person has to know about line, phone and ticks. */
function Said({ state, box }: { state: RollCallState; box: Box }) {
  return (
    <>
      {!state.line && (
        // Below the rows, which must not move under a finger when the line goes.
        <p className="said no-line" role="status">
          No line since {state.lost}.{" "}
          {state.waiting > 0
            ? `Your ${plural(state.waiting, "tick")} ${state.waiting === 1 ? "is" : "are"} kept here, and ${state.waiting === 1 ? "joins" : "join"} up automatically.`
            : "You can go on: ticks are kept here and join up automatically."}
        </p>
      )}
      {!window.isSecureContext && (
        <p className="said" role="status">
          This address is not secure (https), so the page itself is not kept: do not close or reload it while the line
          is down. Ticks are kept all the same.
        </p>
      )}
      {state.refused.length > 0 && (
        <p className="said wrong" role="alert">
          {state.refused.join(". ")}.{" "}
          <button type="button" className="link look-strong" onClick={() => box.dismiss()}>
            Noted
          </button>
        </p>
      )}
    </>
  );
}

/** While none runs: what would be on the list, beginning one, and the lists on paper. */
function Before({ state, box, mayBegin }: { state: RollCallState; box: Box; mayBegin: boolean }) {
  const people = state.list?.people ?? [];
  const unknown = people.filter((p) => p.why === "missing" || p.why === "unknown").length;
  if (state.ended)
    return (
      <section className="before">
        <p role="status">{state.ended} Its list is no longer on this device.</p>
        <p>
          <a href="/roll-calls">What came of it, and the roll calls of the year</a>
        </p>
      </section>
    );
  return (
    <section className="before">
      {!mayBegin && <p>No roll call runs. When the office begins one, its list opens here.</p>}
      {mayBegin && state.list && (
        <>
          <p>
            <b>{people.length}</b> people would be on the list at {state.list.asAt.slice(11)}
            {unknown > 0 && `, ${unknown} of them unaccounted for or not yet known`}.
          </p>
          <Begin box={box} />
          <p>
            <a href="/roll-calls">Roll calls of this year</a>
          </p>
        </>
      )}
      {mayBegin && !state.list && (
        <p role="status">{state.line ? "Fetching …" : "No list was loaded on this device."}</p>
      )}
    </section>
  );
}

/** One action begins it; the lists for paper open with it where they are wanted. */
function Begin({ box }: { box: Box }) {
  const [paper, setPaper] = useState(false);
  const begin = (kind: "drill" | "real") => {
    box.begin(kind);
    if (paper) window.open("/api/roll-call/paper", "_blank");
  };
  return (
    <>
      <div className="begin">
        <Button type="primary" danger size="large" onClick={() => begin("real")}>
          This is real: begin
        </Button>
        <Button size="large" onClick={() => begin("drill")}>
          Begin a drill
        </Button>
      </div>
      <Tick checked={paper} onChange={setPaper}>
        with the lists to print
      </Tick>
      <p>
        <a href="/api/roll-call/paper" target="_blank" rel="noreferrer">
          Print the lists as they are now
        </a>
      </p>
    </>
  );
}
