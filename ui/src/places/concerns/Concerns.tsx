import "./concerns.css";
import { Button, Input } from "antd";
import { type FormEvent, useEffect, useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { OneOf } from "../../parts/controls/OneOf";
import { ofStudent } from "../../parts/in-list";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { covering, throughout, useScope } from "../../parts/scope";
import { useSeen } from "../../parts/seen";
import { tell } from "../../parts/told";

const colours: Record<string, string | undefined> = {
  absence: "var(--area-absence)",
  punctuality: "var(--area-unexcused)",
  conduct: "var(--area-conduct)",
  courses: "var(--area-course)",
};

const caseHeight = 62; // px

/** Students who need a look, the new ones first, with the figures behind each. */
export default function Concerns() {
  const { at, params, set } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const page = useRead("/api/concerns", { at, section: useScope() });
  const [open, setOpen] = useState<number>();
  const kind = params.get("kind") ?? undefined;
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  const may = !at && ["officer", "pastoral", "administrator"].includes(who.role);
  const rows = p.rows.filter((r) => !kind || r.concerns.some((s) => s.kind === kind));
  const groups = [
    { title: "New in the last seven days", rows: rows.filter((r) => r.new) },
    { title: "Standing", rows: rows.filter((r) => !r.new) },
  ];
  return (
    <main className="page concerns-place">
      <h1 className="visually-hidden">Concerns</h1>
      <div className="columns concerns">
        <div className="stack">
          <Panel title="Concerns" extra={`of ${p.students}${throughout(p.scope)}`}>
            <Kind title="Any concern" n={p.any} pressed={!kind} choose={() => set({ kind: undefined })} />
            {p.kinds.map((k) => (
              <Kind
                key={k.kind}
                title={k.title}
                n={k.n}
                colour={colours[k.area]}
                pressed={kind === k.kind}
                choose={() => set({ kind: k.kind })}
              />
            ))}
          </Panel>
          {who.role !== "teacher" && (
            <Panel title="Calls due" extra={p.due.length || undefined}>
              {p.due.length === 0 && <p className="empty">No call is due{covering(p.scope)} in the next seven days.</p>}
              {p.due.map((d) => (
                <div className="look-line" key={d.student.id}>
                  <div className="look-two">
                    <StudentName student={d.student} />
                    <span className="look-small look-muted">
                      {d.last.outcome} {d.last.date}
                    </span>
                  </div>
                  <span className={`look-push look-small look-nowrap${d.last.overdue ? " look-overdue" : ""}`}>
                    {d.last.next}
                  </span>
                </div>
              ))}
            </Panel>
          )}
        </div>
        <Panel title={`${rows.length} students`} extra={`as at ${p.label}`}>
          {rows.length === 0 && (
            <p className="empty">
              Nobody of {p.students}
              {throughout(p.scope)} has this concern.
            </p>
          )}
          {groups.map(
            (g) =>
              g.rows.length > 0 && (
                <div key={g.title}>
                  <div className="group">
                    <span>{g.title}</span>
                    <span>{g.rows.length}</span>
                  </div>
                  <Long rows={g.rows} height={caseHeight} keyOf={ofStudent} student={ofStudent} as="div">
                    {(r, place) => (
                      <div {...place}>
                        <Case
                          r={r}
                          may={may}
                          outcomes={p.outcomes}
                          open={open === r.student.id}
                          toggle={() => setOpen(open === r.student.id ? undefined : r.student.id)}
                        />
                      </div>
                    )}
                  </Long>
                </div>
              ),
          )}
        </Panel>
      </div>
    </main>
  );
}

function Kind({
  title,
  n,
  colour,
  pressed,
  choose,
}: {
  title: string;
  n: number;
  colour?: string;
  pressed: boolean;
  choose: () => void;
}) {
  return (
    <button type="button" className="kind" aria-pressed={pressed} onClick={choose}>
      <span>
        {colour && <i className="mark" style={{ background: colour }} />}
        {title}
      </span>
      <b>{n}</b>
    </button>
  );
}

function Case({
  r,
  may,
  outcomes,
  open,
  toggle,
}: {
  r: Schemas["ConcernRow"];
  may: boolean;
  outcomes: string[];
  open: boolean;
  toggle: () => void;
}) {
  return (
    <>
      <div className="case">
        <div className="look-two">
          <StudentName student={r.student} form={false} />
          <span className="look-small look-muted">{r.student.form}</span>
        </div>
        <ul className="look-small">
          {r.concerns.map((s) => (
            <li key={s.kind}>
              <i className="mark" title={s.figure} style={{ background: colours[s.area] ?? "var(--ink-2)" }} />
              {s.why} <span className="look-muted">· since {s.since}</span>
            </li>
          ))}
        </ul>
        <div className="look-small">
          {r.figures.rate && (
            <span>
              <b>{r.figures.rate} %</b> of days missed · {r.figures.unexcused} unexcused
            </span>
          )}
          <br />
          <span className={r.last?.overdue ? "look-overdue" : "look-muted"}>
            {r.last
              ? `${r.last.outcome} ${r.last.date}${r.last.next ? `, again ${r.last.next}` : ""}`
              : "no follow-up yet"}
          </span>
        </div>
        {may && (
          <Button size="small" aria-expanded={open} onClick={toggle}>
            {open ? "Cancel" : "Log a call"}
          </Button>
        )}
      </div>
      {open && <LogCall r={r} outcomes={outcomes} done={toggle} />}
    </>
  );
}

function LogCall({ r, outcomes, done }: { r: Schemas["ConcernRow"]; outcomes: string[]; done: () => void }) {
  const callable = r.contacts.filter((c) => !c.doNotCall);
  const [contact, setContact] = useState(callable[0]?.id ?? 0);
  const [outcome, setOutcome] = useState(outcomes[0] ?? "");
  const [note, setNote] = useState("");
  const [next, setNext] = useState("");
  const log = useWrite({
    done: (receipt) => {
      tell.receipt(receipt);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const seen = useSeen();
  useEffect(seen.begin, []);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    const body = { student: r.student.id, contact, outcome, note, next, seen: seen.entry() };
    log.mutate({ path: "/api/followups", body }, { onError: seen.told });
  };
  return (
    <form className="followup" onSubmit={submit} aria-label={`Follow-up for ${r.student.name}`}>
      {callable.length === 0 && <b className="look-overdue">no contact on file</b>}
      <OneOf
        label="Who was called"
        value={contact}
        onChange={setContact}
        options={callable.map((c) => ({
          value: c.id,
          label: (
            <>
              {c.name}{" "}
              <span className="look-muted">
                {c.relation} · {c.phone}
              </span>
            </>
          ),
        }))}
      />
      <span className="break" />
      <OneOf
        label="What came of it"
        value={outcome}
        onChange={setOutcome}
        options={outcomes.map((o) => ({ value: o, label: o }))}
      />
      <Input
        className="said"
        autoFocus
        placeholder="what was said"
        aria-label="What was said"
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <label className="look-small">
        again on <DateField label="again on" optional value={next} onChange={setNext} />
      </label>
      <Button type="primary" htmlType="submit" loading={log.isPending}>
        Save <kbd>Enter</kbd>
      </Button>
    </form>
  );
}
