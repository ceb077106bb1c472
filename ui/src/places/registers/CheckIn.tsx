import { Button, Input, InputNumber } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useWrite, type Writing, write } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";
import { useKeys } from "../../parts/keys";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { marksWith } from "./codes";
import { rowOf } from "./draft";
import { RemoteLink } from "./RemoteLink";
import { RepeatCheckIn } from "./RepeatCheckIn";
import { ShowCode } from "./ShowCode";
import { codeWord, type Taking } from "./taking";

type Window = Schemas["CheckInView"];
type Entry = Schemas["CheckInEntryView"];

/** Students checking themselves in by phone: opening the window, who is in, confirming them. */
export function CheckIn({ taking }: { taking: Taking }) {
  const { view } = taking;
  const [showing, setShowing] = useState(false);
  const store = useWrite({
    done: (r) => tell.receipt(r),
    failed: (e) => tell.wrong(e.message),
  });
  const open = view.checkIn?.open ? view.checkIn : undefined;
  const coming = view.checkIn?.toCome ? view.checkIn : undefined;
  const byKey = !marksWith(view, "c");
  useKeys({ c: () => open && setShowing(true) }, view.canSend && byKey);
  if (!view.canSend && !view.checkIn && !view.mayPrepareCheckIn) return null;
  return (
    <Panel
      title="Check-in by phone"
      extra={view.checkIn && <span className="look-small">{stateWords(view.checkIn)}</span>}
    >
      <div className="checkin">
        {open ? (
          <div className="row">
            <Button type="primary" size="small" onClick={() => setShowing(true)}>
              Show the code {byKey && <kbd>C</kbd>}
            </Button>
            <Button
              size="small"
              onClick={() => store.mutate({ path: "/api/check-ins/{id}/end", params: { id: open.id } })}
            >
              Close it
            </Button>
            <RepeatCheckIn view={view} window={open} store={store.mutate} />
          </div>
        ) : coming ? (
          <Button
            size="small"
            onClick={() => store.mutate({ path: "/api/check-ins/{id}/end", params: { id: coming.id } })}
          >
            Do not open it
          </Button>
        ) : (
          (view.canSend || view.mayPrepareCheckIn) && (
            <OpenWindow view={view} opened={() => setShowing(view.canSend)} store={store} />
          )
        )}
        {view.checkIn?.link && (
          <div>
            <RemoteLink path={view.checkIn.link} />
            <p className="look-small look-muted">Link for those at a distance, good until the check-in closes.</p>
          </div>
        )}
        {view.checkInsBefore.map((w) => (
          <div key={w.id}>
            <p className="look-small look-muted">
              {w.entries.length} of the check-in {w.opens} to {w.closes} not confirmed yet
            </p>
            <Entries taking={taking} window={w} />
          </div>
        ))}
        {view.checkIn && <Entries taking={taking} window={view.checkIn} />}
        <Link className="look-small" to={`/registers/check-ins/${view.register.class}`}>
          All check-ins of this class
        </Link>
        {open && <NotYet view={view} window={open} store={store.mutate} />}
      </div>
      {open && showing && <ShowCode window={open} close={() => setShowing(false)} title={view.register.title} />}
    </Panel>
  );
}

function stateWords(w: Window): string {
  if (w.toCome) return `opens at ${w.opens}`;
  return `${w.entries.length} in · ${w.open ? `open until ${w.closes}` : "closed"}`;
}

function OpenWindow({ view, opened, store }: { view: Taking["view"]; opened: () => void; store: Writing }) {
  const [minutes, setMinutes] = useState(5);
  const [question, setQuestion] = useState("");
  const early = view.mayPrepareCheckIn; // for a remote lesson, whose link is sent before
  const [distance, setDistance] = useState(early);
  const { class: group, slot } = view.register;
  const open = () =>
    store.mutate(
      { path: "/api/check-ins", body: { class: group, slot, minutes, question, distance } },
      { onSuccess: opened },
    );
  return (
    <>
      <div className="row">
        <InputNumber
          size="small"
          aria-label="Minutes open"
          min={1}
          max={60}
          value={minutes}
          onChange={(n) => setMinutes(n ?? 5)}
          suffix="min"
          className="minutes"
        />
        <Button size="small" onClick={open} disabled={view.noCheckIn !== ""} loading={store.isPending}>
          {early ? "Prepare a remote check-in" : "Let the class check in"}
        </Button>
      </div>
      {view.noCheckIn && <p className="look-small look-muted">{view.noCheckIn}.</p>}
      <Input
        size="small"
        aria-label="A question for the class"
        placeholder="a question, if you like"
        value={question}
        onChange={(e) => setQuestion(e.target.value)}
        onPressEnter={open}
      />
      {view.mayCheckInAtADistance && !early && (
        <Tick checked={distance} onChange={setDistance}>
          also at a distance
        </Tick>
      )}
    </>
  );
}

function Entries({ taking, window: w }: { taking: Taking; window: Window }) {
  const { view, rows, box } = taking;
  const [busy, setBusy] = useState(false);
  const confirm = async (entries: Entry[]) => {
    setBusy(true);
    const seen = (e: Entry) => rowOf(rows, e.student.id).version;
    try {
      const receipt = await write({
        path: "/api/check-ins/{id}/confirm",
        params: { id: w.id },
        body: { students: entries.map((e) => ({ student: e.student.id, seen: seen(e) })) },
      });
      box.learn(
        receipt,
        entries.map((e) => ({ student: e.student.id, code: e.code, time: e.time, source: "check-in", seen: seen(e) })),
      );
    } catch (e) {
      tell.wrong(`${(e as Error).message}. Nothing was confirmed.`);
    } finally {
      setBusy(false);
    }
  };
  const waiting = w.entries.filter((e) => !e.confirmed);
  const clear = waiting.filter((e) => !e.doubt);
  return (
    <>
      {w.question && <p className="look-small question">{w.question}</p>}
      {view.canSend && clear.length > 0 && (
        <Button size="small" type="primary" loading={busy} onClick={() => void confirm(clear)}>
          Confirm {clear.length === 1 ? "this one" : `these ${clear.length}`}
        </Button>
      )}
      {w.entries.length > 0 && (
        <ul className="entries" aria-live="polite">
          {[...w.entries].reverse().map((e) => (
            <li key={e.student.id} className={e.doubt ? "strange" : ""}>
              <b>{e.student.name}</b> {e.at}
              {e.code !== view.arriving.in && ` · ${codeWord(view, e.code)}`}
              {e.answer && <q>{e.answer}</q>}
              {e.doubt && <span> · {e.doubt}</span>}
              {e.confirmed ? (
                <span className="look-muted"> · confirmed</span>
              ) : (
                e.doubt &&
                view.canSend && (
                  <button type="button" className="linklike" onClick={() => void confirm([e])}>
                    confirm
                  </button>
                )
              )}
            </li>
          ))}
        </ul>
      )}
      {w.wrong > 0 && (
        <p className="look-small strange">
          {w.wrong} wrong {w.wrong === 1 ? "code or number" : "codes or numbers"} were tried
        </p>
      )}
    </>
  );
}

/** How many names are shown until more are asked for. */
const few = 6;

/** Who could check in and has not: seen, and written to. */
function NotYet({ view, window: w, store }: { view: Taking["view"]; window: Window; store: Writing["mutate"] }) {
  const [all, setAll] = useState(false);
  if (w.notYet.length === 0) return <p className="look-small">Everyone who is due is in or marked.</p>;
  const { class: group, slot } = view.register;
  return (
    <div className="look-small">
      <b>{w.notYet.length} not yet:</b>{" "}
      {w.notYet
        .slice(0, all ? undefined : few)
        .map((s) => s.name)
        .join(", ")}{" "}
      {w.notYet.length > few && (
        <button type="button" className="linklike" onClick={() => setAll(!all)}>
          {all ? "fewer" : `and ${w.notYet.length - few} more`}
        </button>
      )}{" "}
      <button
        type="button"
        className="linklike"
        onClick={() =>
          store({
            path: "/api/messages/students",
            body: { class: group, slot, students: w.notYet.map((s) => s.id), text: "" },
          })
        }
      >
        write to {w.notYet.length === 1 ? "them" : `these ${w.notYet.length}`}
      </button>
    </div>
  );
}
