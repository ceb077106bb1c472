import { Button, Input, Modal, Popover } from "antd";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { type Schemas, useWrite } from "../../api/client";
import { isState, Shape } from "../../look/Shape";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { type Rows, rowOf, tally } from "./draft";
import { LeftOver } from "./LeftOver";
import { Recent } from "./Recent";
import { RollHead } from "./RollHead";
import { Tally } from "./Tally";

type View = Schemas["RegisterView"];

/** A register that is in: every version of every mark, and corrections with a reason. */
export function Sent({ view }: { view: View }) {
  const { search } = useLocation();
  const { at } = useAddress();
  const [correcting, setCorrecting] = useState<Schemas["RegisterRow"]>();
  const correct = useWrite({
    done: (r) => {
      tell.receipt(r);
      setCorrecting(undefined);
    },
    failed: (e) => tell.wrong(e.message),
  });
  const rows: Rows = Object.fromEntries(
    view.rows.map((r) => [r.student.id, { ...rowOf({}, r.student.id), code: r.versions.at(-1)?.code ?? "" }]),
  );
  return (
    <main className="page registers-place">
      <h1 className="visually-hidden">
        Register of {view.register.title}, {view.register.label}
      </h1>
      <LeftOver view={view} />
      <div className="columns taking">
        <Panel
          title={`${view.register.title} · ${view.register.label}`}
          extra={
            <span className="look-small">
              {view.label} ·{" "}
              {view.register.takenBy
                ? `taken on paper by ${view.register.takenBy}, entered ${view.register.sentAt} by ${view.register.sentBy}`
                : `sent ${view.register.sentAt} by ${view.register.sentBy}`}
              {at?.length === 10 && " · with what was corrected since"}
            </span>
          }
        >
          <table className="roll sent">
            <RollHead />
            <tbody>
              {view.rows.map((r, i) => {
                const last = r.versions.at(-1);
                const code = view.codes.find((c) => c.code === last?.code);
                return (
                  <tr key={r.student.id} className={last ? "" : "blank"}>
                    <td className="n">{i + 1}</td>
                    <td>
                      <StudentName student={{ ...r.student, name: r.student.sorted }} form={false} />
                    </td>
                    <td className="recentcell">
                      <Recent marks={r.recent} />
                    </td>
                    <td>
                      {code && isState(code.state) && <Shape state={code.state} silent />} <b>{last?.code ?? "–"}</b>{" "}
                      {code?.word}
                      {last?.to ? `, came ${last.to}` : ""}
                      {last?.from ? ` at ${last.from}` : ""}
                    </td>
                    <td className="words">
                      {r.versions.length > 1 && <History versions={r.versions} name={r.student.name} />}
                      {r.versions.length === 1 && last?.note ? `${last.note} ` : ""}
                      {r.versions.length === 0 && "joined after the register was sent "}
                      {r.versions.length > 0 && (
                        <Button
                          size="small"
                          type="link"
                          aria-label={`Correct ${r.student.name}`}
                          onClick={() => setCorrecting(r)}
                        >
                          correct
                        </Button>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </Panel>
        <section className="panel" aria-label="Counts">
          <Tally counts={tally(view, rows)} />
          <div className="side">
            <p className="look-small look-muted">A change is a correction with a reason; both marks stay visible.</p>
            <Link to={`/registers${search}`}>All registers</Link>
          </div>
        </section>
      </div>
      {correcting && (
        <Correct
          view={view}
          row={correcting}
          busy={correct.isPending}
          close={() => setCorrecting(undefined)}
          store={(code, time, reason) =>
            correct.mutate({
              path: "/api/corrections",
              body: { date: view.date, slot: view.register.slot, student: correcting.student.id, code, time, reason },
            })
          }
        />
      )}
    </main>
  );
}

/** Every version of a mark: what it was and until when, who changed it, when and why. */
function History({ versions, name }: { versions: Schemas["VersionView"][]; name: string }) {
  const last = versions.at(-1);
  const table = (
    <table className="rows history">
      <thead>
        <tr>
          <th>Mark</th>
          <th>Known</th>
          <th>By</th>
          <th>From</th>
          <th>Why</th>
        </tr>
      </thead>
      <tbody>
        {versions.map((v, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: versions are only ever added at the end
          <tr key={i}>
            <td>
              <b>{v.code}</b> {v.to && `came ${v.to}`} {v.from && `left ${v.from}`}
            </td>
            <td className="look-nowrap">{v.at}</td>
            <td className="look-nowrap">{v.by}</td>
            <td>{v.source}</td>
            <td>{[v.reason, v.note].filter(Boolean).join(" · ")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
  return (
    <span>
      {versions
        .slice(0, -1)
        .map((v) => v.code)
        .join(", ")}{" "}
      until {last?.at} · {last?.reason} · {last?.by}{" "}
      <Popover trigger="click" placement="left" title={`${name}, every version`} content={table}>
        <Button size="small" type="link" aria-label={`history of ${name}’s mark`}>
          history
        </Button>
      </Popover>
    </span>
  );
}

function Correct({
  view,
  row,
  busy,
  close,
  store,
}: {
  view: View;
  row: Schemas["RegisterRow"];
  busy: boolean;
  close: () => void;
  store: (code: string, time: string, reason: string) => void;
}) {
  const [code, setCode] = useState("");
  const [time, setTime] = useState("");
  const [reason, setReason] = useState("");
  const chosen = view.codes.find((c) => c.code === code);
  const timed = chosen?.timed ?? false;
  return (
    <Modal
      open
      title={`Correct ${row.student.name}, now ${row.versions.at(-1)?.code}`}
      onCancel={close}
      okText="Save the correction"
      okButtonProps={{ disabled: !code || !reason.trim(), loading: busy }}
      onOk={() => store(code, timed ? time : "", reason)}
    >
      <div className="stack">
        <div className="correction-codes">
          {view.codes.map((c) => (
            <Button
              key={c.code}
              size="small"
              type={c.code === code ? "primary" : "default"}
              aria-pressed={c.code === code}
              onClick={() => setCode(c.code)}
            >
              <b>{c.code}</b> {c.word}
            </Button>
          ))}
        </div>
        {timed && (
          <label htmlFor="correct-time">
            {chosen?.late ? "Minutes late, or the time of arriving" : "The time of leaving"}
            <Input id="correct-time" value={time} onChange={(e) => setTime(e.target.value)} placeholder="5 or 850" />
          </label>
        )}
        <label htmlFor="correct-why">
          Why
          <Input
            id="correct-why"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            onPressEnter={() => code && reason.trim() && store(code, timed ? time : "", reason)}
          />
        </label>
      </div>
    </Modal>
  );
}
