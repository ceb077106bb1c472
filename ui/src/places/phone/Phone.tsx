import "./phone.css";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { read, type Schemas, type WritePath, type WriteTo, type Written, write } from "../../api/client";
import { isState, Shape } from "../../look/Shape";

type Start = Schemas["PhoneStart"];
type Receipt = Schemas["PhoneReceipt"];

/** Checking in on a student's own phone: the code on show, the number, and the own record. */
export default function Phone() {
  const address = new URLSearchParams(window.location.search);
  const scanned = address.get("c") ?? "";
  const link = address.get("l") ?? "";
  const [start, setStart] = useState<Start>();
  const [receipt, setReceipt] = useState<Receipt>();
  const record = useQuery({ queryKey: ["record", receipt?.at], queryFn: () => read("/api/phone/record") });
  return (
    <main className="phone">
      <h1>
        <img src="/mark.svg" alt="" width="26" height="26" /> Check in
      </h1>
      {receipt ? (
        <Done receipt={receipt} />
      ) : start ? (
        <OwnNumber start={start} done={setReceipt} again={() => setStart(undefined)} />
      ) : (
        <Code scanned={scanned} link={link} done={setStart} />
      )}
      {record.data?.known && <Record record={record.data} />}
    </main>
  );
}

/** Does one thing at a time and says what was wrong. */
function useTry<P extends WritePath>(done: (answer: Written<P>) => void) {
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const attempt = async (what: WriteTo<P>) => {
    setBusy(true);
    setError("");
    try {
      done(await write(what));
    } catch (e) {
      setError((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return { error, busy, attempt };
}

/** The code on show, or the link of a remote lesson, which stays in the address: it is good for a while. */
function Code({ scanned, link, done }: { scanned: string; link: string; done: (start: Start) => void }) {
  const [code, setCode] = useState(scanned);
  const { error, busy, attempt } = useTry<"/api/phone/start">(done);
  const tried = useRef(false);
  useEffect(() => {
    if (!(scanned || link) || tried.current) return;
    tried.current = true;
    if (link) {
      void attempt({ path: "/api/phone/start", body: { code: link } });
      return;
    }
    window.history.replaceState(null, "", "/check-in"); // a reload does not try an old code again
    void attempt({ path: "/api/phone/start", body: { code: scanned } });
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void attempt({ path: "/api/phone/start", body: { code } });
  };
  if (link)
    return (
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void attempt({ path: "/api/phone/start", body: { code: link } });
        }}
      >
        <Problem words={error} />
        <button type="submit" disabled={busy}>
          Try again
        </button>
      </form>
    );
  return (
    <form onSubmit={submit}>
      <label htmlFor="code">The code your teacher shows</label>
      <input
        id="code"
        className="big"
        inputMode="numeric"
        autoComplete="off"
        value={code}
        onChange={(e) => setCode(e.target.value.replace(/[^\d ]/g, "").slice(0, 7))}
      />
      <Problem words={error} />
      <button type="submit" disabled={busy || code.replaceAll(" ", "").length < 6}>
        Continue
      </button>
    </form>
  );
}

function OwnNumber({ start, done, again }: { start: Start; done: (receipt: Receipt) => void; again: () => void }) {
  const [number, setNumber] = useState("");
  const [answer, setAnswer] = useState("");
  const [distance, setDistance] = useState(false);
  const { error, busy, attempt } = useTry<"/api/phone/check-in">(done);
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus(), []);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void attempt({ path: "/api/phone/check-in", body: { ticket: start.ticket, number, answer, distance } });
  };
  return (
    <form onSubmit={submit}>
      <p className="lead">
        <b>{start.class}</b>, {start.slot}, open until {start.closes}
      </p>
      <label htmlFor="number">Your student number</label>
      <input
        id="number"
        ref={first}
        className="big"
        inputMode="numeric"
        autoComplete="off"
        value={number}
        onChange={(e) => setNumber(e.target.value.trim())}
      />
      {start.question && (
        <>
          <label htmlFor="answer">{start.question}</label>
          <textarea id="answer" rows={3} maxLength={500} value={answer} onChange={(e) => setAnswer(e.target.value)} />
        </>
      )}
      {start.byLink && <p>You take part from somewhere else today.</p>}
      {start.distance && (
        <label className="tick">
          <input type="checkbox" checked={distance} onChange={(e) => setDistance(e.target.checked)} />I take part from
          somewhere else today
        </label>
      )}
      <Problem words={error} />
      <button type="submit" disabled={busy || !number}>
        I am here
      </button>
      <button type="button" className="plain" onClick={again}>
        Enter the code again
      </button>
    </form>
  );
}

function Problem({ words }: { words: string }) {
  return words ? (
    <p className="problem" role="alert">
      {words}
    </p>
  ) : null;
}

function Done({ receipt }: { receipt: Receipt }) {
  return (
    <section className="done" role="status">
      <p className="big">
        <Shape state="in" silent size={22} /> {receipt.at}
      </p>
      <p className="lead">
        <b>{receipt.given}</b>, {receipt.class}
      </p>
      <p>{receipt.text}.</p>
    </section>
  );
}

/** A student's own last days, and nothing of anyone else. */
function Record({ record }: { record: Schemas["OwnRecord"] }) {
  return (
    <section className="record">
      <h2>{record.given}, your last days</h2>
      <ul className="strip">
        {record.days.map((d) => (
          <li key={d.date}>
            <span className="look-small">{d.label}</span>
            <span>
              {d.marks.map((m) => (
                <i key={m.slot} title={`${m.slot}: ${m.code}`}>
                  {isState(m.state) && <Shape state={m.state} silent size={13} />}
                </i>
              ))}
            </span>
          </li>
        ))}
      </ul>
      <p className="look-small">
        {record.counts.map((c) => (
          <span key={c.word} className="count">
            {isState(c.state) && <Shape state={c.state} silent size={11} />} {c.n} {c.word}
          </span>
        ))}
      </p>
    </section>
  );
}
