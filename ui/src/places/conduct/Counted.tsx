import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { useFocusBack } from "../../parts/focus";
import { KeepList } from "../../parts/KeepList";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type View = Schemas["ConductView"];

/** How many there were of each, with as many school days beside them. */
export function Bars({
  title,
  bars,
  v,
  choose,
}: {
  title: string;
  bars: Schemas["ConductBar"][];
  v: View;
  choose: (id: number) => void;
}) {
  const most = Math.max(1, ...bars.flatMap((b) => [b.count, b.before, b.lastYear ?? 0]));
  const year = v.lastYear !== undefined && bars.some((b) => b.lastYear !== undefined);
  return (
    <Panel title={title} extra={v.before.days ? `this span · beside${year ? " · last year" : ""}` : ""}>
      {bars.length === 0 && <p className="empty">None.</p>}
      {bars.map((b) => (
        <div className="bar look-fills" key={b.id}>
          <button type="button" className="link" onClick={() => choose(b.id)}>
            {b.name}
          </button>
          <span className="track" aria-hidden="true">
            <span className="now" style={{ width: `${(b.count / most) * 100}%` }} />
            <span className="before" style={{ left: `${(b.before / most) * 100}%` }} />
          </span>
          <b>{b.count}</b>
          <span className="look-muted">{b.before}</span>
          {year && <span className="look-muted">{b.lastYear}</span>}
        </div>
      ))}
    </Panel>
  );
}

/** Both spans as rates, and whether the difference could be chance. */
export function Spans({ v }: { v: View }) {
  const { set } = useAddress();
  const row = (r: Schemas["ConductRate"], words: string) => (
    <tr>
      <th scope="row">{words}</th>
      <td>{r.label}</td>
      <td>{r.days}</td>
      <td>
        <b>{r.incidents}</b>
      </td>
      <td>{r.perHundred || "–"}</td>
    </tr>
  );
  return (
    <Panel title="Beside another span" extra={v.ratio.known ? v.ratio.verdict : undefined}>
      <table className="rows spans">
        <thead>
          <tr>
            <td />
            <th scope="col">Dates</th>
            <th scope="col">Days</th>
            <th scope="col">Incidents</th>
            <th scope="col">Per 100 student-days</th>
          </tr>
        </thead>
        <tbody>
          {row(v.rate, "this span")}
          {v.before.days > 0 && row(v.before, "beside it")}
          {v.lastYear && row(v.lastYear, "last year")}
        </tbody>
      </table>
      <p className="empty">
        {v.ratio.known && `${v.ratio.words} (95 %). `}
        <span className="no-print next-to">
          Beside as many days from{" "}
          <DateField
            label="First date of the span beside"
            size="small"
            back
            optional
            value={v.before.from}
            onChange={(d) => d !== v.before.from && set({ beside: d })}
          />
        </span>
      </p>
    </Panel>
  );
}

/** The trend by school week. */
export function Weeks({ weeks }: { weeks: Schemas["ConductWeek"][] }) {
  const most = Math.max(0, ...weeks.map((w) => w.count));
  return (
    <Panel title="By week" extra={most > 0 ? `${most} at most` : undefined}>
      <ol className="weeks look-fills">
        {weeks.map((w) => (
          <li key={w.monday} title={`week of ${w.label}: ${w.count} on ${plural(w.days, "school day")}`}>
            <span className="visually-hidden">{`${w.label}: ${w.count}`}</span>
            <span aria-hidden="true" style={{ height: `${(w.count / Math.max(1, most)) * 64}px` }} />
            {weeks.length <= 16 && <i aria-hidden="true">{w.count}</i>}
          </li>
        ))}
      </ol>
      {weeks.length > 0 && (
        <p className="empty ends">
          <span>{weeks[0]?.label}</span>
          <span>{weeks.at(-1)?.label}</span>
        </p>
      )}
    </Panel>
  );
}

/** Who had a part, the most first. */
export function Who({ v }: { v: View }) {
  const most = 10;
  return (
    <Panel
      title="Who"
      extra={
        <span className="no-print">
          {v.people.length} <KeepList students={v.people.map((p) => p.student)}>Put on a list …</KeepList>
        </span>
      }
    >
      {v.people.slice(0, most).map((p) => (
        <div className="look-line" key={p.student.id}>
          <StudentName student={p.student} />
          <span className="look-push look-small look-muted">last {p.last}</span>
          <b>{p.count}</b>
        </div>
      ))}
    </Panel>
  );
}

/** What the school has changed, with what was found in as many school days before and after. */
export function Changes({ v, mayMark }: { v: View; mayMark: boolean }) {
  const [marking, setMarking] = useState(false);
  const off = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  return (
    <>
      {v.changes.map((c) => (
        <Panel key={c.id} title={c.name} extra={`from ${c.label}`}>
          <div className="change">
            <span>
              <b className="figure">{c.before.incidents}</b>
              <span className="look-small look-muted">{plural(c.before.days, "day")} before</span>
            </span>
            <span>
              <b className="figure">{c.after.incidents}</b>
              <span className="look-small look-muted">{plural(c.after.days, "day")} after</span>
            </span>
            <span className="verdict">
              <b>{c.ratio.verdict}</b>
              <span className="look-small look-muted">{c.ratio.words}</span>
            </span>
          </div>
          {c.ratio.known && <Interval r={c.ratio} />}
          <p className="empty look-small">
            Counts what the search shows, on as many school days either side.{" "}
            {mayMark && (
              <button
                type="button"
                className="link look-muted no-print"
                onClick={() =>
                  off.mutate({ path: "/api/conduct/changes/{change}/back", params: { change: c.id }, body: {} })
                }
              >
                take off
              </button>
            )}
          </p>
        </Panel>
      ))}
      {mayMark && (
        <p className="mark no-print">
          <Button size="small" onClick={() => setMarking(true)}>
            Mark a change …
          </Button>
        </p>
      )}
      {marking && <Mark close={() => setMarking(false)} />}
    </>
  );
}

/** The ratio with its interval, and where it would stand if nothing had changed. */
function Interval({ r }: { r: Schemas["ConductRatio"] }) {
  const end = Math.max(1.5, Math.min(4, Math.ceil((r.high || r.value || 1) * 2) / 2));
  const at = (x: number) => `${Math.min(100, (x / end) * 100)}%`;
  return (
    <div className="interval look-fills" aria-hidden="true">
      <div>
        <span className="range" style={{ left: at(r.low), right: `calc(100% - ${r.high ? at(r.high) : "100%"})` }} />
        <span className="same" style={{ left: at(1) }} />
        {r.value > 0 && <span className="value" style={{ left: at(r.value) }} />}
      </div>
      <span>0</span>
      <span className="as-before" style={{ left: at(1) }}>
        as before
      </span>
      <span>{end}</span>
    </div>
  );
}

function Mark({ close }: { close: () => void }) {
  useFocusBack();
  const [name, setName] = useState("");
  const [date, setDate] = useState("");
  const mark = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <Modal open title="Mark a change" onCancel={close} footer={null}>
      <form
        className="mark-change"
        onSubmit={(e) => {
          e.preventDefault();
          mark.mutate({ path: "/api/conduct/changes", body: { name: name.trim(), date } });
        }}
      >
        <label>
          What changed
          <Input value={name} maxLength={60} autoFocus onChange={(e) => setName(e.target.value)} />
        </label>
        <span>
          <span aria-hidden="true">From</span>
          <DateField label="From" back value={date} onChange={setDate} />
        </span>
        <span>
          <Button type="primary" htmlType="submit" disabled={!name.trim() || !date} loading={mark.isPending}>
            Mark it
          </Button>{" "}
          <Button onClick={close}>Cancel</Button>
        </span>
      </form>
    </Modal>
  );
}
