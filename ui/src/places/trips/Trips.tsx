import "./trips.css";
import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { plural } from "../../parts/words";
import { TripForm } from "./TripForm";

/** Trips and visits: those of today and to come, and planning one. */
export default function Trips() {
  const who = useOutletContext<Schemas["Who"]>();
  const navigate = useNavigate();
  const trips = useRead("/api/trips");
  const [planning, setPlanning] = useState(false);
  if (!trips.data) return <Waiting error={trips.error} />;
  const { trips: list } = trips.data;
  return (
    <main className="page trips-place">
      <div className="head">
        <h1>Trips and visits</h1>
        {who.inOffice && !planning && (
          <Button type="primary" onClick={() => setPlanning(true)}>
            Plan a trip
          </Button>
        )}
      </div>
      {planning && (
        <Panel title="A new trip">
          <TripForm
            view={trips.data}
            done={(id) => {
              setPlanning(false);
              navigate(`/trips/${id}`);
            }}
            leave={() => setPlanning(false)}
          />
        </Panel>
      )}
      <Panel title="Today and to come" extra={list.length || undefined}>
        {list.length === 0 && (
          <p className="empty">{who.inOffice ? "No trip is planned." : "No trip is planned that you lead."}</p>
        )}
        {list.length > 0 && (
          <table className="rows">
            <thead>
              <tr>
                <th>Trip</th>
                <th>Day</th>
                <th>From, to</th>
                <th>Leader</th>
                <th className="number">Students</th>
                <th>State</th>
              </tr>
            </thead>
            <tbody>
              {list.map((t) => (
                <tr key={t.id}>
                  <td>
                    <Link className="look-strong" to={`/trips/${t.id}`}>
                      {t.title}
                    </Link>{" "}
                    <span className="look-muted">{t.place}</span>
                  </td>
                  <td>{t.day}</td>
                  <td className="look-nowrap">
                    {t.from} to {t.to}
                  </td>
                  <td>
                    {t.leader} <span className="look-nowrap look-muted">{t.phone}</span>
                  </td>
                  <td className="number">{t.students}</td>
                  <td className={t.state === "not back" ? "look-overdue look-strong" : undefined}>
                    {t.text}
                    {t.missing.length > 0 && <span className="look-overdue"> · missing: {t.missing.join(", ")}</span>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Panel>
      <p className="look-muted look-small">
        {plural(list.filter((t) => t.state === "out").length, "trip")} out now. Whoever is on one is elsewhere, on every
        page.
      </p>
    </main>
  );
}
