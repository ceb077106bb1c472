import "./frame.css";
import { useQueryClient } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { Link, NavLink, Outlet, useLocation } from "react-router";
import { lookAgain } from "../api/again";
import { type Schemas, useRead, write } from "../api/client";
import { forgetKept } from "../api/kept";
import { followLive } from "../api/live";
import { outboxesOf } from "../api/outbox";
import { forgetRollCalls } from "../api/ticks";
import { AskHelp } from "./Answers";
import { Tick } from "./controls/Tick";
import { keepFocusInLists } from "./focus";
import { KeyList } from "./KeyList";
import { singleKeys, useKeys } from "./keys";
import { useAddress } from "./look-at";
import { WithOwnMarks } from "./OwnMarks";
import { QuickLine } from "./QuickLine";
import { Rail } from "./Rail";
import { StillThere } from "./StillThere";
import { useReaderStandIn } from "./scanner";
import { tell } from "./told";
import { Stuck, useUnsent } from "./Unsent";

const IncidentDialog = lazy(() => import("./incident/IncidentDialog"));
const NoticeDialog = lazy(() => import("./home/NoticeDialog"));
const StudentSheet = lazy(() => import("./sheet/StudentSheet"));

const placeWords: Record<string, string> = {
  today: "Today",
  registers: "Registers",
  desk: "Desk",
  absence: "Absence",
  conduct: "Conduct",
  courses: "Courses",
  concerns: "Concerns",
  "follow-up": "Follow-up",
  papers: "Papers",
  school: "School",
};

/** Pages that are no places, as their windows are called. */
const pageWords: Record<string, string> = {
  ...placeWords,
  outbox: "Outbox",
  notices: "Notices from home",
  reasons: "Reasons overdue",
  contacts: "Contacts to correct",
  protocol: "Record of the morning",
  calls: "Call list",
  trips: "Trips and visits",
  "roll-calls": "Roll calls",
  controls: "Controls",
};

/** What stands on every page: the band, the day rail, the student's sheet. */
export function Frame({ who }: { who: Schemas["Who"] }) {
  const queries = useQueryClient();
  const { at, student, params, set } = useAddress();
  const notice = params.get("notice");
  const location = useLocation();
  const [connected, setConnected] = useState(true);
  const [help, setHelp] = useState(false);
  const { waiting, stuck } = useUnsent(who.account);
  useEffect(
    () =>
      followLive(
        queries,
        (on) => {
          setConnected(on);
          if (on) for (const box of outboxesOf(who.account)) box.flush();
        },
        (kind) => {
          if (kind === "clock") for (const box of outboxesOf(who.account)) box.forget();
        },
      ),
    [queries, who.account],
  );
  useEffect(keepFocusInLists, []);
  useReaderStandIn(who.demo);
  const mayNote = who.places.includes("conduct");
  const incident = mayNote ? params.get("incident") : null;
  const note = () => set({ incident: student ? `new:${student}` : "new" }, false);
  useKeys({ "?": () => setHelp(true), ...(mayNote && { "!": note }) });
  // The day looked at and the student in hand stay from place to place.
  const place = location.pathname.split("/")[1] ?? "";
  useEffect(() => {
    document.title = [pageWords[place], "Meldung"].filter(Boolean).join(" · ");
  }, [place]);
  const keep = new URLSearchParams({ ...(at && { at }), ...(student && { student }) }).toString();
  const mine = who.places.filter((p) => p in placeWords);
  return (
    <>
      <header className="band">
        <a className="brand" href="/">
          <img src="/mark.svg" alt="" width="22" height="22" />
          Meldung
        </a>
        <nav aria-label="Places">
          {mine.map((p) => (
            <NavLink key={p} to={{ pathname: `/${p}`, search: keep }}>
              {placeWords[p]}
            </NavLink>
          ))}
        </nav>
        <QuickLine mayWrite={who.mayWrite} mayNote={mayNote} />
        {mayNote && (
          <button type="button" className="note-it" onClick={note} title="Note an incident: !">
            Incident
          </button>
        )}
        {who.mayBeginRollCall && (
          <a className="roll" href="/roll-call">
            Roll call
          </a>
        )}
        <Me who={who} />
      </header>
      <Rail who={who} />
      {who.lines.text === "simulated" && !who.demo && (
        <p className="offline" role="status">
          Messages are simulated: nothing leaves this machine, and what homes answer is invented.
        </p>
      )}
      {!connected && (
        <p className="offline" role="status">
          The line to the server is down. What you see may be old; unsent marks are kept on this machine.
          {waiting > 0 && ` ${waiting} ${waiting === 1 ? "register waits" : "registers wait"} to be saved.`}
        </p>
      )}
      {stuck.map((box) => (
        <Stuck key={Object.values(box.register).join(" ")} box={box} />
      ))}
      <RollCallRuns />
      <Notes />
      <div key={place}>
        <WithOwnMarks path={location.pathname}>
          <Outlet context={who} />
        </WithOwnMarks>
      </div>
      {student && (
        <Suspense fallback={null}>
          <StudentSheet
            id={Number(student)}
            mayCall={who.role !== "teacher"}
            mayWrite={who.mayWrite}
            inOffice={who.inOffice}
            mayTakeAlong={who.role === "administrator"}
            mayJudge={who.role !== "desk"}
            mayFollow={who.places.includes("follow-up")}
            mayState={who.role !== "teacher" && who.role !== "desk"}
            onClose={() => set({ student: undefined }, false)}
          />
        </Suspense>
      )}
      {incident && (
        <Suspense fallback={null}>
          <IncidentDialog key={incident} asked={incident} onClose={() => set({ incident: undefined }, false)} />
        </Suspense>
      )}
      {notice && who.mayWrite && (
        <Suspense fallback={null}>
          <NoticeDialog
            key={notice}
            asked={{
              students: notice.split(",").map(Number).filter(Boolean),
              from: params.get("noticeFrom") ?? "",
              to: params.get("noticeTo") ?? "",
              message: Number(params.get("noticeMessage") ?? 0),
            }}
            onClose={() =>
              set({ notice: undefined, noticeFrom: undefined, noticeTo: undefined, noticeMessage: undefined }, false)
            }
          />
        </Suspense>
      )}
      <StillThere />
      <Modal
        open={help}
        onCancel={() => setHelp(false)}
        footer={null}
        title="Where is it done, and by which keys"
        width={760}
        className="keys-dialog"
        destroyOnHidden
      >
        <AskHelp done={() => setHelp(false)} />
        <KeyList path={location.pathname} />
      </Modal>
    </>
  );
}

const opened = "roll call opened";

/** A roll call runs: everybody who is signed in can tick. */
function RollCallRuns() {
  const running = useRead("/api/roll-call/running").data;
  const id = running?.id ?? 0;
  useEffect(() => {
    // On a phone it opens by itself, once: what was being marked is kept.
    if (!id || !globalThis.matchMedia?.("(max-width: 480px)").matches || sessionStorage.getItem(opened) === String(id))
      return;
    sessionStorage.setItem(opened, String(id));
    window.location.assign("/roll-call");
  }, [id]);
  if (!running?.id) return null;
  return (
    <p className={`told roll ${running.kind}`} role="alert">
      Roll call, {running.kind === "real" ? "this is real" : "a drill"}, since {running.began}, begun by {running.by}.{" "}
      <a className="look-strong" href="/roll-call">
        Open it and tick
      </a>
    </p>
  );
}

/** Notes that stay until somebody puts them away, with where they lead. */
const putAway: Record<string, { to: string; link: string }> = {
  concern: { to: "/concerns", link: "Look at them" },
  list: { to: "/papers", link: "Look at it" },
};

/** What the office wants of whoever is signed in; showing it tells the office that it was seen. */
function Notes() {
  const { pathname } = useLocation();
  const notes = useRead("/api/notes");
  const told = useRef(new Set<number>());
  const seen = (ids: number[]) =>
    write({ path: "/api/notes/seen", body: { ids } }).then(
      () => notes.refetch(),
      () => undefined,
    );
  const fresh = (notes.data ?? [])
    .filter((n) => !(n.kind in putAway) && n.state !== "seen" && !told.current.has(n.id))
    .map((n) => n.id);
  useEffect(() => {
    if (fresh.length === 0) return;
    for (const id of fresh) told.current.add(id);
    write({ path: "/api/notes/seen", body: { ids: fresh } }).catch(() => {
      for (const id of fresh) told.current.delete(id);
    });
  });
  const register = (n: Schemas["MessageView"]) => `/registers/${n.class}/${n.slot}`;
  return (notes.data ?? [])
    .filter((n) => register(n) !== pathname)
    .map((n) =>
      n.kind in putAway ? (
        <p key={n.id} className="told" role="status">
          {n.at} {n.text}{" "}
          <Link className="look-strong" to={putAway[n.kind]?.to ?? "/"} onClick={() => void seen([n.id])}>
            {putAway[n.kind]?.link}
          </Link>{" "}
          <button type="button" className="link" onClick={() => void seen([n.id])}>
            Put away
          </button>
        </p>
      ) : (
        <p key={n.id} className="told" role="status">
          {n.at} {n.by || "The office"}: {n.text}{" "}
          <Link className="look-strong" to={register(n)}>
            Open it
          </Link>
        </p>
      ),
    );
}

function Me({ who }: { who: Schemas["Who"] }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [keysOff, setKeysOff] = useState(singleKeys.off);
  const out = async () => {
    await write({ path: "/api/session/end" });
    forgetRollCalls();
    forgetKept();
    window.location.assign("/");
  };
  const jump = async (to: string) => {
    setOpen(false);
    const done = tell.waits("The day is being played …");
    try {
      await write({ path: "/api/demo/clock", body: { to } });
      await lookAgain(queries);
    } catch (e) {
      tell.wrong((e as Error).message);
    } finally {
      done();
    }
  };
  return (
    <div className="me">
      <button type="button" aria-expanded={open} aria-haspopup="true" onClick={() => setOpen(!open)}>
        {who.name}
      </button>
      {open && (
        // biome-ignore lint/a11y/noStaticElementInteractions: the menu closes when focus or Escape leaves it
        <div className="menu" onKeyDown={(e) => e.key === "Escape" && setOpen(false)}>
          <p>
            {who.name} · {who.role}
            <br />
            {who.school}
          </p>
          <Tick
            checked={!keysOff}
            onChange={(on) => {
              singleKeys.set(!on);
              setKeysOff(!on);
            }}
          >
            single letters are keys
          </Tick>
          <p>
            <a href="/api/calendar/file">Calendar file</a>: terms, closed days
            {who.places.includes("follow-up") && ", reviews, meetings"}
          </p>
          {who.demo && (
            <>
              <p>
                <Link to="/controls">Controls of the program</Link>
              </p>
              <p>Move the demonstration’s clock. Going back starts the day again.</p>
              <div className="jumps">
                {who.jumps.map((j) => (
                  <Button key={j} size="small" onClick={() => void jump(j)}>
                    {j === "next" ? "next school day" : j}
                  </Button>
                ))}
              </div>
            </>
          )}
          <Button size="small" href="/pass">
            Check a pass
          </Button>
          <Button size="small" href="/password">
            Change my password
          </Button>
          <Button size="small" onClick={() => void out()}>
            Sign out
          </Button>
        </div>
      )}
    </div>
  );
}
