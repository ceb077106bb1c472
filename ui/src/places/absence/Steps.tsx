import "./steps.css";
import { Button } from "antd";
import { useMemo, useRef, useState } from "react";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { CaseOf } from "../../parts/case/CaseOf";
import { Tick } from "../../parts/controls/Tick";
import { KeepList } from "../../parts/KeepList";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { PolicyLink } from "../../parts/PolicyLink";
import { StudentName } from "../../parts/StudentName";
import { covering, useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { ActOn, type Doing } from "./ActOn";
import { LetterOf } from "./LetterOf";

type Step = Schemas["StepView"];

/** By what a step is told from the others on the page. */
export const stepKey = ({ ref }: Step) =>
  [ref.student, ref.policy, ref.rule, ref.do, ref.scope, ref.number, ref.reached].join("|");

/** Opens letters that were printed; the browser prints them. */
export function openLetters(ids: readonly number[]) {
  window.open(`/api/letters/sheet?letters=${ids.join(",")}`, "_blank");
}

/** What policies say is due now, by action; the chosen one beside it with what can be done. */
export function Steps() {
  const { at, params, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const scope = useScope();
  const page = useRead("/api/steps", { at, section: scope });
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [doing, setDoing] = useState<Doing>();
  const list = useRef<HTMLDivElement>(null);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      setTicked(new Set());
      setDoing(undefined);
    },
    failed: (e) => tell.wrong(e.message),
  });
  const due = useMemo(() => page.data?.groups.flatMap((g) => g.steps) ?? [], [page.data]);
  const at_ = due.findIndex((s) => stepKey(s) === params.get("step"));
  const chosen = due[Math.max(at_, 0)];
  const some = due.filter((s) => ticked.has(stepKey(s)));
  const which = some.length > 0 ? some : chosen ? [chosen] : [];
  const letters = which.filter((s) => s.kind === "letter");
  const live = !at;

  const choose = (s: Step | undefined) => s && set({ step: stepKey(s) });
  const move = (by: number) => {
    const next = due[Math.min(Math.max(Math.max(at_, 0) + by, 0), due.length - 1)];
    choose(next);
    if (next)
      list.current?.querySelector(`[data-step="${CSS.escape(stepKey(next))}"]`)?.scrollIntoView?.({ block: "nearest" });
  };
  const tick = (s: Step) => {
    const next = new Set(ticked);
    if (!next.delete(stepKey(s))) next.add(stepKey(s));
    setTicked(next);
  };
  const print = () => {
    if (letters.length === 0 || write.isPending) return;
    write.mutate(
      { path: "/api/letters/print", body: { steps: letters.map((s) => s.ref) } },
      { onSuccess: (r) => openLetters(r.ids) },
    );
  };
  const send = () =>
    write.mutate({ path: "/api/letters/print", body: { steps: letters.map((s) => s.ref), email: true } });
  const act = (kind: Doing["kind"]) => which.length > 0 && setDoing({ kind, steps: which });
  useKeys(
    {
      ArrowDown: () => move(1),
      ArrowUp: () => move(-1),
      " ": () => chosen && tick(chosen),
      d: () => act("done"),
      o: () => act("put off"),
      h: () => act("handed"),
      p: print,
    },
    live,
  );
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  const query = new URLSearchParams({ ...(at && { at }), ...(scope && { section: scope.join(",") }) });
  return (
    <main className="page absence-place steps-part">
      <h1 className="visually-hidden">Steps due</h1>
      {p.follows.length === 0 && p.all && (
        <p className="empty">
          The school does not act on any policy yet, so nothing falls due.{" "}
          {who.role === "administrator" ? (
            <Link to="/school/policies">Choose on School, Policies what is followed and from when</Link>
          ) : (
            "An administrator chooses on School, Policies what is followed and from when"
          )}
          .
        </p>
      )}
      {p.gone.length > 0 && (
        <p role="alert">
          Followed, but measured by no more: {p.gone.join(", ")}. What they ask for is not on this list.
        </p>
      )}
      <div className="columns due-columns">
        <div className="stack" ref={list}>
          <div className="look-line heads">
            <span className="look-two">
              <b>
                {p.all ? `${plural(p.due, "step")} due${covering(p.scope)}` : `${plural(p.due, "step")} handed to you`}
                {p.label && `, up to ${p.label}`}
              </b>
              <span className="look-small look-muted">
                {p.follows.map((f) => `${f.title}, since ${f.since}`).join(" · ")}
              </span>
            </span>
            {p.all && (
              <span className="look-actions no-print">
                <TakeAlong small file={(format) => `/api/steps/file?${query}&format=${format}`} />
              </span>
            )}
          </div>
          {p.due === 0 && (p.follows.length > 0 || !p.all) && (
            <p className="empty">{p.all ? "Nothing is due." : "Nothing was handed to you."}</p>
          )}
          {p.groups.map((g) => (
            <Panel
              key={`${g.kind} ${g.action}`}
              title={g.action}
              extra={
                <>
                  {g.steps.length}
                  {g.fresh > 0 && ` · new ${g.fresh}`}
                  {live && " · "}
                  {live && (
                    <button
                      type="button"
                      className="link look-small no-print"
                      onClick={() => setTicked(new Set([...ticked, ...g.steps.map(stepKey)]))}
                    >
                      tick all
                    </button>
                  )}
                </>
              }
            >
              <ul className="lines" aria-label={g.action}>
                {g.steps.map((s) => (
                  <Line
                    key={stepKey(s)}
                    s={s}
                    chosen={s === chosen}
                    choose={() => choose(s)}
                    ticked={ticked.has(stepKey(s))}
                    tick={live ? () => tick(s) : undefined}
                  />
                ))}
              </ul>
            </Panel>
          ))}
          <Apart
            p={p}
            live={live}
            act={(steps, kind) => setDoing({ kind, steps })}
            noted={(s) =>
              write.mutate({
                path: "/api/steps",
                body: { steps: [s.ref], kind: "noted" },
              })
            }
          />
        </div>
        <div className="stack chosen-step">
          {live && which.length > 0 && (p.mayAny || which.every((s) => s.mine)) && (
            <div className="look-line look-wrap bar no-print" role="toolbar" aria-label="What is done about them">
              {letters.length > 0 && p.mayAny && (
                <Button type="primary" loading={write.isPending} onClick={print}>
                  Print {plural(letters.length, "letter")} <kbd>P</kbd>
                </Button>
              )}
              {letters.length > 0 && p.mayAny && (
                <Button
                  disabled={write.isPending || who.lines.eMail === "none"}
                  title={who.lines.eMail === "none" ? "No carrier of e-mails is set up" : undefined}
                  onClick={send}
                >
                  {letters.length === 1 ? "E-mail it" : `E-mail all ${letters.length}`}
                </Button>
              )}
              <Button onClick={() => act("done")}>
                Done … <kbd>D</kbd>
              </Button>
              <Button onClick={() => act("put off")}>
                Put off … <kbd>O</kbd>
              </Button>
              <Button onClick={() => act("handed")}>
                Hand to … <kbd>H</kbd>
              </Button>
              {p.mayAny && <KeepList students={which.map((s) => s.student)} />}
              {some.length > 0 && (
                <button type="button" className="link look-small" onClick={() => setTicked(new Set())}>
                  {some.length} ticked: none
                </button>
              )}
            </div>
          )}
          {chosen && <Chosen s={chosen} live={live} mayPrint={p.mayAny} mayFollow={who.places.includes("follow-up")} />}
        </div>
      </div>
      {doing && <ActOn doing={doing} people={p.people} write={write} close={() => setDoing(undefined)} />}
    </main>
  );
}

/** A step in its list. */
function Line({
  s,
  chosen = false,
  choose,
  ticked,
  tick,
}: {
  s: Step;
  chosen?: boolean;
  choose?: () => void;
  ticked?: boolean;
  tick?: (() => void) | undefined;
}) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the arrows choose, and the line's button does
    <li className={chosen ? "chosen" : undefined} data-step={stepKey(s)} onClick={choose}>
      {tick && (
        <span className="no-print">
          <Tick checked={ticked ?? false} onChange={tick} label={`${s.student.name}, ${s.title}`} />
        </span>
      )}
      <Who s={s} />
      <span className="what">
        {choose ? (
          <button type="button" className="link" aria-current={chosen || undefined} onClick={choose}>
            <b>{s.title}</b>
          </button>
        ) : (
          <b>{s.title}</b>
        )}
        {s.dates && <span className="look-small look-muted">{s.dates}</span>}
        {(s.letters || s.said) && <span className="look-small">{[s.letters, s.said].filter(Boolean).join(" · ")}</span>}
      </span>
      <span className="look-small look-muted look-nowrap">{s.when}</span>
      <span className="look-small side">
        {s.fresh && <b>new</b>}
        {s.partTime && <span>part-time</span>}
        {s.blocked && <span className="look-overdue">{s.blocked}</span>}
        {s.owner && <span className={s.mine ? "look-strong" : "look-muted"}>{s.mine ? "yours" : s.owner}</span>}
      </span>
    </li>
  );
}

/** What is not due now: taken back, put off, done this week, and from before the school began. */
function Apart({
  p,
  live,
  act,
  noted,
}: {
  p: Schemas["StepsView"];
  live: boolean;
  noted: (step: Step) => void;
  act: (steps: Step[], kind: Doing["kind"]) => void;
}) {
  const again = (s: Step, words: string) =>
    live &&
    (p.mayAny || s.mine) && (
      <Button size="small" className="no-print" onClick={() => act([s], "reopened")}>
        {words}
      </Button>
    );
  return (
    <>
      {p.takenBack.length > 0 && (
        <Panel title="Taken back" extra={p.takenBack.length}>
          <ul className="lines">
            {p.takenBack.map((s) => (
              <Told
                key={stepKey(s)}
                s={s}
                action={
                  live &&
                  p.mayAny &&
                  s.by && (
                    <Button size="small" className="no-print" onClick={() => noted(s)}>
                      Noted
                    </Button>
                  )
                }
              >
                {s.by
                  ? `a correction took its cause away; it was done already: ${[s.said, s.by].filter(Boolean).join(", ")}`
                  : s.said}
              </Told>
            ))}
          </ul>
        </Panel>
      )}
      {p.waiting.length > 0 && (
        <Folded title="Put off" extra={plural(p.waiting.length, "step")}>
          {p.waiting.map((s) => (
            <Told key={stepKey(s)} s={s} action={again(s, "Due now")}>
              until {s.until}: {s.said}, {s.by}
            </Told>
          ))}
        </Folded>
      )}
      {p.closed.length > 0 && (
        <Folded title="Done in the last seven days" extra={plural(p.closed.length, "step")}>
          {p.closed.map((s) => (
            <Told key={stepKey(s)} s={s} action={again(s, "Not done")}>
              {[s.said, s.by].filter(Boolean).join(", ")}
            </Told>
          ))}
        </Folded>
      )}
      {p.early.length > 0 && (
        <Folded title="From before the school began" extra={`${plural(p.early.length, "step")}, ${p.earlyText}`}>
          {live && p.mayAny && (
            <li className="no-print">
              <Button onClick={() => act(p.early, "set aside")}>Set all {p.early.length} aside …</Button>
              <span className="look-small look-muted">They stay on each student’s record, with the reason.</span>
            </li>
          )}
          {p.early.map((s) => (
            <Line key={stepKey(s)} s={s} />
          ))}
        </Folded>
      )}
    </>
  );
}

/** A step about which something was said, with what can be done about that. */
function Told({ s, action, children }: { s: Step; action?: React.ReactNode; children: React.ReactNode }) {
  return (
    <li>
      <Who s={s} />
      <span className="what">
        <span>
          {s.action}, {s.title}
        </span>
        <span className="look-small look-muted">{children}</span>
      </span>
      {action}
    </li>
  );
}

function Who({ s }: { s: Step }) {
  return (
    <span className="who">
      <StudentName student={s.student} form={false} />
      <span className="look-small look-muted">{s.student.form}</span>
    </span>
  );
}

/** A list that is closed until somebody opens it. */
function Folded({ title, extra, children }: { title: string; extra: string; children: React.ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <Panel
      title={
        <button type="button" className="link look-strong" aria-expanded={open} onClick={() => setOpen(!open)}>
          {title}
        </button>
      }
      extra={extra}
    >
      {open && <ul className="lines">{children}</ul>}
    </Panel>
  );
}

/** The chosen step: why it is due, whom to call, the letter that would go. */
function Chosen({ s, live, mayPrint, mayFollow }: { s: Step; live: boolean; mayPrint: boolean; mayFollow: boolean }) {
  return (
    <Panel title={`${s.action}, ${s.title}`} extra={<StudentName student={s.student} />}>
      <div className="reasons">
        <p>
          {s.count && (
            <>
              <b>{s.count}</b> on {s.dates}.{" "}
            </>
          )}
          Fell due {s.when}, by <PolicyLink id={s.ref.policy}>{s.policy}</PolicyLink>.{" "}
          <Link to={`/absence?why=${s.student.id}&policy=${s.ref.policy}`} className="no-print">
            Why these figures
          </Link>
        </p>
        {s.said && (
          <p className="look-muted">
            {s.said}, {s.by}
          </p>
        )}
        {mayFollow && <CaseOf key={stepKey(s)} student={s.student} from="step" why={`${s.action}, ${s.title}`} />}
        {s.contacts.map((c) => (
          <p key={c.id}>
            {c.order} <b>{c.name}</b> <span className="look-muted">{c.relation}</span>{" "}
            {c.doNotCall ? (
              <span className="look-overdue">must not be called</span>
            ) : (
              <span className="look-nowrap">{c.phone}</span>
            )}
          </p>
        ))}
      </div>
      {s.kind === "letter" && live && mayPrint && <LetterOf s={s} />}
    </Panel>
  );
}
