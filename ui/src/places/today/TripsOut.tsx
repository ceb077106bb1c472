import { Button } from "antd";
import { Link } from "react-router";
import type { Schemas, Writing } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { plural } from "../../parts/words";

/** Trips that are out; one that should be back stands first and loud, with the leader's phone. */
export function TripsOut({ trips, may, write }: { trips: Schemas["TripLine"][]; may: boolean; write: Writing }) {
  if (trips.length === 0) return null;
  const late = trips.some((t) => t.state === "not back" || t.missing.length > 0);
  return (
    <Panel title="Trips" extra={trips.length} className={late ? "alarm" : ""}>
      {trips.map((t) => (
        <div className="look-line look-wrap" key={t.id}>
          <Link className="look-strong" to={`/trips/${t.id}`}>
            {t.title}
          </Link>
          <span className="look-small look-muted">
            {plural(t.students, "student")}
            {t.there > 0 && `, ${t.there} there`}
            {t.leader && ` · ${t.leader} ${t.phone}`}
          </span>
          {t.missing.length > 0 && (
            <span className="look-overdue look-strong look-small">missing: {t.missing.join(", ")}</span>
          )}
          <span className={`look-push${t.state === "not back" ? " look-overdue look-strong" : ""}`}>{t.text}</span>
          {may && t.state === "not back" && (
            <div className="look-actions">
              <Button
                size="small"
                onClick={() => write.mutate({ path: "/api/trips/{trip}/back", params: { trip: t.id }, body: {} })}
              >
                All are back
              </Button>
            </div>
          )}
        </div>
      ))}
    </Panel>
  );
}
