import { Button, Modal } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";
import { Long } from "../../parts/Long";
import { Panel, Waiting } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

const rowHeight = 34; // px

/** Those who have left: for how long their data are kept, what is stored of each, and erasing it. */
export function Leavers() {
  const list = useRead("/api/school/leavers");
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [asking, setAsking] = useState(false);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      setAsking(false);
      setChosen(new Set());
    },
    failed: (e) => tell.wrong(e.message),
  });
  if (!list.data) return <Waiting inside error={list.error} />;
  const { rows, rule, due } = list.data;
  const toggle = (id: number) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const erase = () => write.mutate({ path: "/api/school/leavers/erase", body: { students: [...chosen] } });
  return (
    <>
      <Panel
        title="Students who have left"
        extra={rows.length > 0 ? `${rows.length}, ${due} due to be erased` : undefined}
      >
        <Keeping
          key={rule.years}
          rule={rule}
          set={(years) => write.mutate({ path: "/api/school/leavers/rule", body: { years } })}
        />
        {rows.length === 0 && <p className="empty">Nobody has left whose data are still here.</p>}
        {rows.length > 0 && (
          <table className="rows" aria-rowcount={rows.length + 1}>
            <thead>
              <tr>
                <th>
                  <span className="visually-hidden">Chosen</span>
                </th>
                <th>Student</th>
                <th>Number</th>
                <th>Form</th>
                <th>Last day</th>
                <th>Kept until</th>
                <th>
                  <span className="visually-hidden">What is kept</span>
                </th>
              </tr>
            </thead>
            <tbody>
              <Long rows={rows} height={rowHeight} keyOf={(r) => r.student.id} as="tr">
                {(r, place) => (
                  <tr {...place}>
                    <td>
                      <Tick
                        label={`Erase the data of ${r.student.name}`}
                        disabled={!r.due}
                        checked={chosen.has(r.student.id)}
                        onChange={() => toggle(r.student.id)}
                      />
                    </td>
                    <td>{r.student.name}</td>
                    <td>{r.student.number}</td>
                    <td>{r.student.form}</td>
                    <td>{r.left}</td>
                    <td className={r.due ? "look-overdue" : undefined}>{r.until || "as long as nobody decides"}</td>
                    <td className="number">
                      <a className="look-small" href={`/api/students/${r.student.id}/everything`}>
                        everything as files
                      </a>
                    </td>
                  </tr>
                )}
              </Long>
            </tbody>
          </table>
        )}
        <div className="look-line">
          <Link to="/school/people">Back to People</Link>
          <span className="look-push" />
          {due > 0 && (
            <Button size="small" onClick={() => setChosen(new Set(rows.filter((r) => r.due).map((r) => r.student.id)))}>
              Choose all {due} due
            </Button>
          )}
          {rows.length > 0 && (
            <Button size="small" danger disabled={chosen.size === 0} onClick={() => setAsking(true)}>
              Erase the data of {plural(chosen.size, "leaver")} …
            </Button>
          )}
        </div>
      </Panel>
      <Modal
        open={asking}
        title={`Erase the data of ${plural(chosen.size, "leaver")}?`}
        okText="Erase for good"
        okButtonProps={{ danger: true }}
        cancelText="Cancel"
        confirmLoading={write.isPending}
        onOk={erase}
        onCancel={() => setAsking(false)}
      >
        <p>
          Names, numbers, contacts, warnings, photos, notes, messages and grades go, and nobody can bring them back.
          Marks stay without a name, so that the figures of forms, years and the school do not change.
        </p>
        <p>Backups that were made before still hold them: let those go as well.</p>
      </Modal>
    </>
  );
}

function Keeping({ rule, set }: { rule: Schemas["Rule"]; set: (years: number) => void }) {
  const [years, setYears] = useState(String(rule.years || ""));
  return (
    <form
      className="look-line"
      onSubmit={(e) => {
        e.preventDefault();
        set(Number(years) || 0);
      }}
    >
      <label>
        Keep their data for{" "}
        <input
          className="plain years"
          inputMode="numeric"
          aria-label="Years for which data are kept"
          placeholder="–"
          value={years}
          onChange={(e) => setYears(e.target.value.replace(/\D/g, "").slice(0, 2))}
        />{" "}
        years after the last day
      </label>
      <span className="look-small look-muted">
        {rule.years ? "Nothing is erased automatically." : "Without a number they are kept for good."}
      </span>
      <Button size="small" className="look-push" htmlType="submit" disabled={Number(years) === rule.years}>
        Save the time
      </Button>
    </form>
  );
}
