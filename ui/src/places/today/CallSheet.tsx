import "./today.css";

import { useState } from "react";
import { useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Scrolls, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { plural } from "../../parts/words";
import { Filter, fits } from "./Filter";
import { attemptText } from "./LogCall";

/** The list of calls to take along: every home with every number, and room to write. */
export default function CallSheet() {
  const { at } = useAddress();
  const section = useScope();
  const sheet = useRead("/api/today/calls", { at, section });
  const [filter, setFilter] = useState<string[]>([]);
  if (!sheet.data) return <Waiting error={sheet.error} />;
  const s = sheet.data;
  const homes = s.homes.filter((h) => fits(h, filter));
  const file = (format: string) =>
    `/api/today/calls/file?${new URLSearchParams({ format, ...(at ? { at } : {}), ...(section ? { section: String(section) } : {}) })}`;
  return (
    <main className="page today-place call-sheet">
      <header>
        <h1>
          {[s.school, s.scope].filter(Boolean).join(", ")}: homes to ring, {s.day}
        </h1>
        <span className="look-muted">
          as at {s.asAt.slice(11)} · {plural(homes.length, "home")}
        </span>
        <span className="look-actions no-print">
          <Filter t={{ households: s.homes }} value={filter} onChange={setFilter} />
          <TakeAlong file={file} />
        </span>
      </header>
      {s.homes.length === 0 && <p>{s.calm}</p>}
      {filter.length > 0 && (
        <p className="look-small">
          {homes.length} of {s.homes.length} homes are shown.
        </p>
      )}
      <Scrolls>
        <table className="rows">
          <thead>
            <tr>
              <th>Student</th>
              <th>Call in this order</th>
              <th>Not in</th>
              <th>Tried</th>
              <th className="room">What they say</th>
            </tr>
          </thead>
          <tbody>
            {homes.map((h) => (
              <tr key={h.key}>
                <td>
                  {h.students.map((one) => (
                    <div key={one.student.id}>
                      <b>{one.student.name}</b> {one.student.form}{" "}
                      <span className="look-muted">{one.student.number}</span>
                      {one.warnings.map((w) => (
                        <span key={w} className="look-warn">
                          {w}
                        </span>
                      ))}
                    </div>
                  ))}
                </td>
                <td>
                  {h.contacts.map((c) => (
                    <div key={c.id}>
                      {c.order} {c.name}, {c.relation} <b className="phone">{c.phone}</b>
                    </div>
                  ))}
                  {h.contacts.length === 0 && <b>no contact on file</b>}
                  {h.notCalled.map((n) => (
                    <div key={n} className="look-overdue">
                      do not call {n}
                    </div>
                  ))}
                </td>
                <td>
                  {h.students.map((one) => (
                    <div key={one.student.id}>{[one.text, one.lately].filter(Boolean).join(" · ")}</div>
                  ))}
                </td>
                <td>
                  {h.attempts.map((a) => (
                    <div key={`${a.at} ${a.contact}`}>
                      {[a.contact, attemptText(a), a.said, a.note].filter(Boolean).join(" · ")}
                    </div>
                  ))}
                  {h.held && `held until ${h.again}: ${h.held}`}
                </td>
                <td className="room" />
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
      <p className="look-small look-muted">This page holds data about students and their homes.</p>
    </main>
  );
}
