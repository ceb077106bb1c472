import { Button } from "antd";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { Schemas, Writing } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";
import { Settle } from "./Settle";

type Day = Schemas["UnsettledDay"];

const mostDays = 4; // that are shown at once

/** What earlier days have left open stands here until each is settled, with a word of how. */
export function Unsettled({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const [all, setAll] = useState(false);
  const days = t.unsettled.filter((d) => d.students.length > 0 || d.registers.length > 0);
  const shown = all ? days : days.slice(0, mostDays);
  const more = days.slice(shown.length);
  return (
    <>
      {shown.map((d) => (
        <Left key={d.date} d={d} may={may} write={write} />
      ))}
      {more.length > 0 && (
        <section className="panel left-open" aria-label="Earlier days that are unsettled">
          <div className="look-line">
            <button type="button" className="link" onClick={() => setAll(true)}>
              {plural(more.length, "earlier day")} with{" "}
              {more.reduce((n, d) => n + d.students.length + d.registers.length, 0)} unsettled
            </button>
          </div>
        </section>
      )}
    </>
  );
}

const most = 4; // students who are shown at once

function Left({ d, may, write }: { d: Day; may: boolean; write: Writing }) {
  const [settling, setSettling] = useState<number | "back">();
  const [register, setRegister] = useState<string>();
  const [all, setAll] = useState(false);
  const gone = d.students.filter((s) => !s.back);
  const back = d.students.filter((s) => s.back);
  const shown = all ? d.students : d.students.slice(0, Math.max(gone.length, most));
  const done = () => setSettling(undefined);
  return (
    <Panel
      title={`From ${d.label}`}
      extra={<Link to={`/today?at=${d.date}`}>{d.text}</Link>}
      className={gone.length > 0 || d.registers.length > 0 ? "left-open" : "left-open calm"}
    >
      {d.registers.map((r) => (
        <div className="look-line look-wrap" key={`${r.class} ${r.slot}`}>
          <span className="look-wide">
            <Link className="look-strong" to={`/registers/${r.class}/${r.slot}?at=${d.date}`}>
              {r.title}
            </Link>{" "}
            <span className="look-small">
              {r.label} never sent · {r.teacher} · {r.n} not known
            </span>
          </span>
          {may && (
            <Button size="small" onClick={() => setRegister(`${r.class} ${r.slot}`)}>
              Settle
            </Button>
          )}
          {register === `${r.class} ${r.slot}` && (
            <NeverSent r={r} date={d.date} write={write} done={() => setRegister(undefined)} />
          )}
        </div>
      ))}
      {shown.map((s) => (
        <div className="look-line look-wrap" key={s.student.id} data-unsettled={s.student.id}>
          <div className="look-two look-wide">
            <StudentName student={s.student} />
            <span className="look-small">
              {s.text}
              {s.searched && ` · ${s.searched}`}
              {s.now && <span className="look-muted"> · {s.now}</span>}
            </span>
          </div>
          {may && (
            <Button size="small" onClick={() => setSettling(s.student.id)}>
              Settle
            </Button>
          )}
          {settling === s.student.id && (
            <Settle students={[s.student.id]} date={d.date} back={s.back} write={write} done={done} />
          )}
        </div>
      ))}
      {(shown.length < d.students.length || (may && back.length > 1)) && (
        <div className="look-line look-wrap look-small">
          {shown.length < d.students.length && (
            <button type="button" className="link look-muted" onClick={() => setAll(true)}>
              {d.students.length - shown.length} more
            </button>
          )}
          {may && back.length > 1 && (
            <button type="button" className="link look-push" onClick={() => setSettling("back")}>
              Settle the {back.length} who are back …
            </button>
          )}
          {settling === "back" && (
            <Settle students={back.map((s) => s.student.id)} date={d.date} back write={write} done={done} />
          )}
        </div>
      )}
    </Panel>
  );
}

/** Why a register was never sent, and where its students were. */
function NeverSent({
  r,
  date,
  write,
  done,
}: {
  r: Schemas["UnsettledRegister"];
  date: string;
  write: Writing;
  done: () => void;
}) {
  const [how, setHow] = useState("");
  const store = (e: FormEvent) => {
    e.preventDefault();
    write.mutate(
      { path: "/api/registers/settled", body: { date, class: r.class, slot: r.slot, how } },
      { onSuccess: done },
    );
  };
  return (
    <form className="say" onSubmit={store} onKeyDown={(e) => e.key === "Escape" && done()}>
      <input
        className="plain"
        aria-label="Why it was not sent, and where they were"
        placeholder="why it was not sent, and where they were"
        maxLength={300}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        value={how}
        onChange={(e) => setHow(e.target.value)}
      />
      <Button size="small" type="primary" htmlType="submit" disabled={!how.trim()}>
        Settle <kbd>Enter</kbd>
      </Button>
    </form>
  );
}

/** What of earlier days does not keep anybody from being found: below today's own. */
export function Earlier({ t }: { t: Schemas["TodayView"] }) {
  const days = t.unsettled.filter((d) => d.differing > 0 || d.unclosed.length > 0);
  if (days.length === 0) return null;
  return (
    <Panel title="Earlier days" extra={days.length}>
      {days.map((d) => (
        <div className="look-line" key={d.date}>
          <Link className="look-nowrap" to={`/today?at=${d.date}`}>
            {d.label}
          </Link>
          <span className="look-small look-muted">
            {[
              d.unclosed.length > 0 && `safe arrival was not closed (${d.unclosed.join(", ")})`,
              d.differing > 0 && `${d.differing} ${d.differing === 1 ? "student does" : "students do"} not add up`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </span>
        </div>
      ))}
    </Panel>
  );
}
