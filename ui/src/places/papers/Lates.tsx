import { Button } from "antd";
import type { Schemas } from "../../api/client";
import { Shape } from "../../look/Shape";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { TakeAlong } from "../../parts/TakeAlong";
import { plural } from "../../parts/words";
import { type Asked, queryOf } from "./asked";

/** Late arrivals and early departures of a span, to filter, keep and print. */
export function Lates({
  l,
  asked,
  mayKeep,
  busy,
}: {
  l: Schemas["LatesView"];
  asked: Asked;
  mayKeep: boolean;
  busy: boolean; // other dates or students are on their way
}) {
  const address = useAddress();
  const lists = useListGroups();
  const set = (to: Record<string, string | undefined>) => address.set({ page: undefined, ...to });
  const span = `${l.from}..${l.to}`;
  return (
    <div className="stack" aria-busy={busy}>
      <Panel title="Late arrivals and early departures" extra={`${l.label}${l.group && ` · ${l.group}`} · ${l.school}`}>
        <div className="look-line filters no-print">
          <Choice
            label="Dates"
            value={l.spans.some((s) => s.value === span) ? span : ""}
            onChange={(v) => {
              const [from, to] = v.split("..");
              if (from) set({ from, to });
            }}
            options={[{ value: "", label: "other dates" }, ...l.spans.map((s) => ({ value: s.value, label: s.label }))]}
          />
          <DateField label="First date" back value={l.from} onChange={(from) => set({ from })} />
          <DateField label="Last date" back value={l.to} onChange={(to) => set({ to })} />
          <Choice
            label="Who"
            value={asked.group ?? ""}
            onChange={(group) => set({ group })}
            options={[
              { value: "", label: "everyone" },
              ...[...l.groups, ...lists].map((g) => ({ value: g.value, label: g.label })),
            ]}
          />
          <Choice
            label="Kind"
            value={asked.kind ?? ""}
            onChange={(kind) => set({ kind })}
            options={[{ value: "", label: "every kind" }, ...l.kinds.map((k) => ({ value: k, label: k }))]}
          />
          {mayKeep && (
            <span className="look-actions">
              <TakeAlong small file={(format) => `/api/lates/file?${queryOf({ ...asked, format })}`} />
            </span>
          )}
        </div>
        {l.all === 0 ? (
          <p className="empty">
            Nobody came late or left early: {l.group || "everyone"} at {[l.school, l.scope].filter(Boolean).join(", ")},{" "}
            {l.label}.
          </p>
        ) : (
          <div className="counts">
            <Counts title="By reason" kinds={l.kinds} counts={l.reasons} />
            <Counts title="By weekday" kinds={l.kinds} counts={l.weekdays} />
            <table className="rows">
              <caption>Most often</caption>
              <thead className="visually-hidden">
                <tr>
                  <th>Student</th>
                  <th>Times</th>
                  <th>Missed</th>
                </tr>
              </thead>
              <tbody>
                {l.students.slice(0, 8).map((s) => (
                  <tr key={s.student.id}>
                    <td>
                      <StudentName student={s.student} />
                    </td>
                    <td className="number">{s.all}</td>
                    <td className="number look-muted look-nowrap">{s.missed}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </Panel>
      {l.all > 0 && (
        <Panel
          title={plural(l.all, "entry", "entries")}
          extra={l.pages > 1 ? `page ${l.page} of ${l.pages}, newest first; all of them in the files` : undefined}
        >
          <table className="rows">
            <thead>
              <tr>
                <th>Date</th>
                <th>At</th>
                <th>Student</th>
                <th>Kind</th>
                <th>Slot</th>
                <th>Reason</th>
                <th className="number">Missed</th>
              </tr>
            </thead>
            <tbody>
              {l.rows.map((r) => (
                <tr key={`${r.date} ${r.student.id} ${r.kind} ${r.slot} ${r.at}`}>
                  <td className="look-nowrap">{r.day}</td>
                  <td>{r.at || <span className="look-muted">–</span>}</td>
                  <td>
                    <StudentName student={r.student} />
                  </td>
                  <td className="look-nowrap">
                    <Shape state={r.state} /> {r.kind}
                  </td>
                  <td className="look-nowrap">{r.slot}</td>
                  <td>{r.reason}</td>
                  <td className="number look-nowrap">{r.missed}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {l.pages > 1 && (
            <div className="look-line no-print">
              <span className="look-push" />
              <Button size="small" disabled={l.page <= 1} onClick={() => set({ page: String(l.page - 1) })}>
                Later
              </Button>
              <Button size="small" disabled={l.page >= l.pages} onClick={() => set({ page: String(l.page + 1) })}>
                Earlier
              </Button>
            </div>
          )}
        </Panel>
      )}
    </div>
  );
}

function Counts({ title, kinds, counts }: { title: string; kinds: string[]; counts: Schemas["LateCount"][] }) {
  return (
    <table className="rows">
      <caption>{title}</caption>
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">{title}</span>
          </th>
          {kinds.map((k) => (
            <th key={k} className="number">
              {k}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {counts.map((c) => (
          <tr key={c.label}>
            <td>{c.label}</td>
            {c.of.map((n, i) => (
              <td key={kinds[i]} className={n === 0 ? "number look-muted" : "number"}>
                {n}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
