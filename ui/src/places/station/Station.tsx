import "./station.css";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { newKey, Refusal, read, type Schemas, write } from "../../api/client";
import { minuteAfter } from "../../parts/clock";
import { useScanner } from "../../parts/scanner";
import { Visitor } from "./Visitor";

type Page = Schemas["StationPage"];

/** How long thanks, or a fault, stand before the next student's turn. */
const thanksFor = 4_000; // ms
/** How long a station waits for someone who walked away. */
const patience = 25_000; // ms
/** How long for a visitor who fills in a form. */
const forms = 120_000; // ms

/** A device that students sign themselves in and out on. */
export default function Station() {
  const station = useQuery<Page, Error>({
    queryKey: ["/api/station"],
    queryFn: () => read("/api/station"),
    refetchInterval: 60_000,
    retry: false,
  });
  const unbound = station.error instanceof Refusal && station.error.status === 403;
  if (unbound) return <Bind bound={() => void station.refetch()} />;
  if (!station.data)
    return (
      <main className="station">
        <p role="status">{station.error ? "The line to the school is down. Please sign in at the office." : "…"}</p>
      </main>
    );
  return <Stand page={station.data} at={station.dataUpdatedAt} down={Boolean(station.error)} />;
}

/** The device is no station yet: an administrator's code makes it one. */
function Bind({ bound }: { bound: () => void }) {
  const [code, setCode] = useState("");
  const [fault, setFault] = useState("");
  const bind = async () => {
    try {
      await write({ path: "/api/station/bind", body: { code } });
      setFault("");
      bound();
      // A browser may refuse; the page works without.
      await document.documentElement.requestFullscreen?.().catch(() => undefined);
    } catch (e) {
      setFault((e as Error).message);
    }
  };
  return (
    <main className="station bind">
      <h1>This device is not set up as a station</h1>
      <p>Type the code that an administrator made for it, under School.</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void bind();
        }}
      >
        <input
          aria-label="Code"
          inputMode="numeric"
          autoComplete="off"
          // biome-ignore lint/a11y/noAutofocus: the one thing to do
          autoFocus
          value={code}
          onChange={(e) => setCode(e.target.value)}
        />
        <button type="submit">Set it up as a station</button>
      </form>
      <p role="alert">{fault}</p>
    </main>
  );
}

type Step =
  | { at: "number" }
  | { at: "who"; who: Schemas["StationStudent"]; number: string }
  | { at: "visitor" }
  | { at: "thanks"; words: string; more: string }
  | { at: "fault"; words: string };

/** The station at work: a number or a card, arriving or leaving, a reason, thanks. */
function Stand({ page, at, down }: { page: Page; at: number; down: boolean }) {
  const [step, setStep] = useState<Step>({ at: "number" });
  const [typed, setTyped] = useState("");
  const busy = useRef(false);
  const again = useCallback(() => {
    setTyped("");
    setStep({ at: "number" });
  }, []);
  useEffect(() => {
    if (step.at === "number") return;
    const long = { who: patience, visitor: forms, fault: thanksFor, thanks: thanksFor }[step.at];
    const timer = setTimeout(again, long);
    return () => clearTimeout(timer);
  }, [step, again]);

  const asking = useCallback(async <T,>(ask: () => Promise<T>): Promise<T | undefined> => {
    if (busy.current) return undefined; // a second touch while the first is on its way
    busy.current = true;
    try {
      return await ask();
    } catch (e) {
      const words = e instanceof Refusal ? e.message : "the line to the school is down: please sign in at the office";
      setStep({ at: "fault", words });
      return undefined;
    } finally {
      busy.current = false;
    }
  }, []);
  const find = useCallback(
    async (number: string) => {
      setTyped("");
      if (!number) return;
      const who = await asking(() => write({ path: "/api/station/who", body: { number } }));
      if (who) setStep({ at: "who", who, number });
    },
    [asking],
  );
  const move = async (number: string, kind: "arrived" | "departed", reason: string) => {
    const key = newKey();
    const done = await asking(() => write({ path: "/api/station/moves", body: { number, kind, reason } }, key));
    if (!done) return;
    const name = `${done.given} ${done.initial}.`;
    const came = done.kind === "arrived";
    setStep({
      at: "thanks",
      words: came ? `Thank you, ${name} You are in.` : `Thank you, ${name} You are signed out.`,
      more: done.already ? `That was saved at ${done.at} already.` : done.at,
    });
  };
  useScanner((code) => void find(code));
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (step.at === "number" && /^[\w-]$/.test(e.key) && !e.ctrlKey && !e.altKey) setTyped((t) => t + e.key);
      else if (step.at === "visitor" && e.key !== "Escape") return;
      else if (e.key === "Backspace") setTyped((t) => t.slice(0, -1));
      else if (e.key === "Enter" && step.at === "number") void find(typed);
      else if (e.key === "Escape") again();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [step.at, typed, find, again]);

  return (
    <main className="station" data-step={step.at}>
      <header>
        <b>{page.school}</b>
        <span>{page.name}</span>
        <Time now={page.now} at={at} />
      </header>
      {step.at === "number" && (
        <section aria-label="Your number">
          <h1>Hold your card to the reader, or type your number</h1>
          <output aria-live="polite">{typed || " "}</output>
          <div className="pad">
            {["1", "2", "3", "4", "5", "6", "7", "8", "9", "⌫", "0"].map((k) => (
              <button
                key={k}
                type="button"
                aria-label={k === "⌫" ? "Take the last digit away" : k}
                onClick={() => setTyped((t) => (k === "⌫" ? t.slice(0, -1) : t + k))}
              >
                {k}
              </button>
            ))}
            <button type="button" className="go" disabled={!typed} onClick={() => void find(typed)}>
              Continue
            </button>
          </div>
          <button type="button" className="leave" onClick={() => setStep({ at: "visitor" })}>
            I am a visitor
          </button>
          {down && <p className="fault">The line to the school is down.</p>}
        </section>
      )}
      {step.at === "who" && <Choose key={step.number} page={page} step={step} move={move} leave={again} />}
      {step.at === "visitor" && (
        <Visitor asking={asking} thanks={(words, more) => setStep({ at: "thanks", words, more })} leave={again} />
      )}
      {step.at === "thanks" && (
        <section className="thanks" role="status">
          <h1>{step.words}</h1>
          <p>{step.more}</p>
          <button type="button" onClick={again}>
            Next
          </button>
        </section>
      )}
      {step.at === "fault" && (
        <section className="thanks" role="alert">
          <h1 className="fault">{step.words.charAt(0).toUpperCase() + step.words.slice(1)}</h1>
          <p>Nothing was saved.</p>
          <button type="button" onClick={again}>
            Try again
          </button>
        </section>
      )}
    </main>
  );
}

/** Arriving or leaving, and why; what is likely stands first. */
function Choose({
  page,
  step,
  move,
  leave,
}: {
  page: Page;
  step: Extract<Step, { at: "who" }>;
  move: (number: string, kind: "arrived" | "departed", reason: string) => Promise<void>;
  leave: () => void;
}) {
  const { who, number } = step;
  const [kind, setKind] = useState(who.kind);
  const arriving = kind === "arrived";
  const reasons = arriving ? page.arrive : page.leave;
  return (
    <section aria-label="Arriving or leaving">
      <h1>
        Hello {who.given} {who.initial}.{who.since && ` You are in since ${who.since}.`}
      </h1>
      <fieldset className="kinds">
        <legend className="visually-hidden">Arriving or leaving</legend>
        <button type="button" aria-pressed={arriving} onClick={() => setKind("arrived")}>
          I am arriving
        </button>
        <button type="button" aria-pressed={!arriving} onClick={() => setKind("departed")}>
          I am leaving
        </button>
      </fieldset>
      {arriving && !who.late ? (
        <button type="button" className="go wide" onClick={() => void move(number, kind, "")}>
          Sign in
        </button>
      ) : (
        <>
          <p>{arriving ? "You are late today. Why?" : "Why do you leave?"}</p>
          <div className="reasons">
            {reasons.map((r) => (
              <button key={r} type="button" onClick={() => void move(number, kind, r)}>
                {r}
              </button>
            ))}
          </div>
        </>
      )}
      <button type="button" className="leave" onClick={leave}>
        That is not me
      </button>
    </section>
  );
}

/** The school's time, which goes on while nobody asks the server. */
function Time({ now, at }: { now: string; at: number }) {
  const [present, setPresent] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setPresent(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  return <time>{minuteAfter(now, present - at)}</time>;
}
