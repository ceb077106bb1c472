import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { LogContact } from "../../parts/LogContact";
import { StudentName } from "../../parts/StudentName";
import { useSeen } from "../../parts/seen";
import { tell } from "../../parts/told";
import { Under } from "../../parts/Under";
import { telling } from "../../parts/whys";
import { ChanceBar, ChanceStrip, Course, Strip } from "./Areas";

type Page = Schemas["ConcernsView"];
type Concern = Schemas["ConcernRow"];

/** What is being done about a row. */
export type Doing = "case" | "wait" | "none" | "call" | "tell";

/** A student on the review: why, the figures, the course, in whose hands, and the decision. */
export function Row({
  r,
  p,
  current,
  choose,
  doing,
  begin,
  done,
}: {
  r: Concern;
  p: Page;
  current: boolean;
  choose: () => void;
  doing: Doing | undefined;
  begin: (what: Doing | undefined) => void;
  done: () => void;
}) {
  return (
    <>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents lint/a11y/noStaticElementInteractions: the arrows choose, and the row's buttons do */}
      <div className={current ? "case chosen" : "case"} onClick={choose} data-row={r.student.id}>
        <div className="look-two">
          <StudentName student={r.student} form={false} />
          <span className="look-small look-muted">
            {r.student.form}
            {r.inStage && <span title="years in this stage of school">{` · year ${r.inStage} here`}</span>}
          </span>
        </div>
        <div className="look-small">
          {r.chance && (
            <>
              <b className="rate">
                {r.chance.text}
                {r.chance.moved && <span className="look-muted"> {r.chance.moved === "up" ? "↑" : "↓"}</span>}
              </b>
              <ChanceBar of={r.chance} />
            </>
          )}
          {r.rate && r.chance && <span className="look-muted">missed {r.rate} %</span>}
          {r.rate && !r.chance && (
            <>
              <b className="rate">{r.rate} %</b>
              <span className="look-muted">
                {r.absent} of {r.possible} days
              </span>
            </>
          )}
        </div>
        <Why r={r} />
        <div className="drives">
          {r.chance ? (
            <>
              <Course of={r.chance.course} what="chance at the last reviews, and now, moves within noise left out" />
              <ChanceStrip of={r.chance} />
            </>
          ) : (
            <>
              <Course of={r.course} />
              <Strip areas={r.areas} />
            </>
          )}
        </div>
        <Hand r={r} p={p} current={current} doing={doing} begin={begin} />
      </div>
      {doing === "call" && (
        <LogContact r={r} outcomes={p.outcomes} done={() => begin(undefined)} close={() => begin(undefined)} />
      )}
      {doing === "tell" && <Tell r={r} close={() => begin(undefined)} />}
      {(doing === "case" || doing === "wait" || doing === "none") && (
        <Decision r={r} p={p} kind={doing} close={() => begin(undefined)} done={done} />
      )}
    </>
  );
}

function Why({ r }: { r: Concern }) {
  const besides = r.concerns.filter((c) => c.why === c.figure).map((c) => c.figure.toLowerCase());
  return (
    <div className="why look-small">
      <span>
        {telling(r.concerns).map((c, i) => (
          <span key={c.kind} title={`${c.figure}, since ${c.since}`}>
            {i > 0 && "; "}
            {c.fresh ? <b>{c.why}</b> : c.why}
          </span>
        ))}
        {r.concerns.length === 0 && r.before > 0 && "No rule finds them any more"}
      </span>
      {r.words.map((w) => (
        <span key={w.on + w.by}>
          <q>{w.text}</q>{" "}
          <span className="look-muted">
            {w.by}, {w.on}
          </span>
        </span>
      ))}
      {r.concerns.length > 0 && (
        <span className="look-muted">
          {[...besides, `since ${r.since}`, weighs(r)].filter(Boolean).join(" · ")}
          {r.late && " · came after the review had begun"}
          {r.gone && " · not any more"}
        </span>
      )}
    </div>
  );
}

/** The areas that weigh on the chance as much as the school calls a concern. */
function weighs(r: Concern): string {
  const areas = r.chance?.shares.filter((s) => s.concern).map((s) => s.area) ?? [];
  return areas.length > 0 ? `${areas.join(", ")} ${areas.length > 1 ? "weigh" : "weighs"} on the chance` : "";
}

/** In whose hands the student is, or what is to be decided. */
function Hand({
  r,
  p,
  current,
  doing,
  begin,
}: {
  r: Concern;
  p: Page;
  current: boolean;
  doing: Doing | undefined;
  begin: (what: Doing | undefined) => void;
}) {
  const act = (what: Doing, words: string, key: string, primary = false) => (
    <Button
      size="small"
      type={primary ? "primary" : "default"}
      aria-expanded={doing === what}
      onClick={() => begin(doing === what ? undefined : what)}
    >
      {words} {current && <kbd>{key}</kbd>}
    </Button>
  );
  return (
    <div className="hand look-small">
      <InHand r={r} />
      <span className="look-actions no-print">
        {p.mayDecide && r.due && (
          <>
            {act("case", r.case ? "Keep" : "Open", "O", true)}
            {!r.case && act("wait", "Wait", "W")}
            {!r.case && act("none", "No action", "N")}
          </>
        )}
        {p.mayDecide && !r.due && (
          <button type="button" className="link" onClick={() => begin(doing === "case" ? undefined : "case")}>
            decide anew
          </button>
        )}
        {p.mayDecide && (
          <button type="button" className="link" onClick={() => begin(doing === "call" ? undefined : "call")}>
            log a call
          </button>
        )}
        {p.mayTell && !p.mayDecide && act("tell", "Tell those who decide", "T")}
      </span>
    </div>
  );
}

function InHand({ r }: { r: Concern }) {
  if (r.case)
    return (
      <span>
        Case: {r.case.mine ? "yours" : r.case.owner}
        {r.case.next && <span className={r.case.overdue ? "look-overdue" : undefined}> · {r.case.next}</span>}
      </span>
    );
  const said = r.last && (
    <span className={r.last.overdue ? "look-overdue" : "look-muted"}>
      {r.last.outcome} {r.last.date}
      {r.last.next && `, again ${r.last.next}`}
    </span>
  );
  if (r.decision && (r.decision.holds || r.decision.here))
    return (
      <>
        <span title={`${r.decision.by}, ${r.decision.on}`}>
          {r.decision.words[0]?.toUpperCase()}
          {r.decision.words.slice(1)}
          {r.decision.text && <span className="look-muted">: {r.decision.text}</span>}
        </span>
        {said}
      </>
    );
  return said || null;
}

/** Days from a date on, as a date. */
const later = (date: string, days: number) =>
  new Date(Date.parse(`${date}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

function Decision({
  r,
  p,
  kind,
  close,
  done,
}: {
  r: Concern;
  p: Page;
  kind: "case" | "wait" | "none";
  close: () => void;
  done: () => void;
}) {
  const [owner, setOwner] = useState(r.case?.ownerId ?? p.owners.find((o) => o.mine)?.id);
  const [until, setUntil] = useState(kind === "case" ? later(p.today, 7) : "");
  const [text, setText] = useState("");
  const seen = useSeen();
  useEffect(seen.begin, []);
  const write = useWrite({
    done: (receipt) => {
      tell.receipt(receipt);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const submit = () => {
    const body = { student: r.student.id, kind, until: kind === "none" ? undefined : until, text, seen: seen.entry() };
    write.mutate(
      { path: "/api/concerns/decide", body: kind === "case" ? { ...body, owner } : body },
      { onError: seen.told },
    );
  };
  const words = { case: r.case ? "Keep the case" : "Open a case", wait: "Wait", none: "No action" }[kind];
  return (
    <Under label={`${words}: ${r.student.name}`} submit={submit} close={close}>
      <b>{words}</b>
      {kind === "case" && (
        <Choice
          label="In whose hands"
          value={owner}
          onChange={setOwner}
          options={p.owners.map((o) => ({ value: o.id, label: o.mine ? `${o.name} (you)` : o.name }))}
        />
      )}
      {kind === "case" && (
        <label>
          next <DateField label="Looked at next" value={until} onChange={setUntil} />
        </label>
      )}
      {kind === "wait" && (
        <label>
          until <DateField label="Wait until" value={until} onChange={setUntil} autoFocus />
        </label>
      )}
      <Input
        className="said"
        autoFocus={kind !== "wait"}
        aria-label="Why"
        placeholder={kind === "none" ? "why nothing is done" : "why, in a few words"}
        maxLength={400}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Button type="primary" htmlType="submit" loading={write.isPending}>
        Save <kbd>Enter</kbd>
      </Button>
      <Button onClick={close}>
        Leave <kbd>Esc</kbd>
      </Button>
    </Under>
  );
}

/** What a teacher has to say about a student, for those who hold the review. */
function Tell({ r, close }: { r: Concern; close: () => void }) {
  const [text, setText] = useState("");
  const write = useWrite({
    done: (receipt) => {
      tell.receipt(receipt);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <Under
      label={`For the review: ${r.student.name}`}
      submit={() => write.mutate({ path: "/api/concerns/tell", body: { student: r.student.id, text } })}
      close={close}
    >
      <Input
        className="said"
        autoFocus
        aria-label="What they should know"
        placeholder="what those who decide should know"
        maxLength={400}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Button type="primary" htmlType="submit" loading={write.isPending} disabled={text.trim() === ""}>
        Tell <kbd>Enter</kbd>
      </Button>
      <Button onClick={close}>
        Leave <kbd>Esc</kbd>
      </Button>
    </Under>
  );
}
