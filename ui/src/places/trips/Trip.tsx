import "./trips.css";
import { Button, Popconfirm } from "antd";
import { useEffect, useState } from "react";
import { Link, useOutletContext, useParams } from "react-router";
import { Refusal, type Schemas, useRead, useWrite } from "../../api/client";
import { keepPages, kept, useKeeping } from "../../api/kept";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { useSaid } from "./said";
import { TripForm } from "./TripForm";

type View = Schemas["TripView"];

/** One trip: its register, for the leader's phone; changing it on the day; that it is back. */
export default function Trip() {
  const params = useParams();
  const who = useOutletContext<Schemas["Who"]>();
  const id = Number(params.trip);
  const name = `trip ${who.account} ${id}`;
  const trip = useRead(
    "/api/trips/{trip}",
    { trip: id },
    { initialData: () => kept<View>(name), initialDataUpdatedAt: 0 },
  );
  useKeeping(name, who, trip, (t) => t.mine && (t.state === "to come" || t.state === "out" || t.state === "not back"));
  const [changing, setChanging] = useState(false);
  const trips = useRead("/api/trips", {}, { enabled: changing });
  useEffect(() => void keepPages(), []);
  const refused = trip.error instanceof Refusal && trip.error.status < 500;
  if (!trip.data || refused) return <Waiting error={trip.error} />;
  const t = trip.data;
  return (
    <main className="page trips-place">
      <div className="head">
        <h1>
          {t.title} <span className="look-muted">{t.place}</span>
        </h1>
        {t.mayEdit && !changing && <Button onClick={() => setChanging(true)}>Change</Button>}
        <Button className="no-print" onClick={() => window.print()}>
          Print
        </Button>
        <Link className="no-print" to="/trips">
          All trips
        </Link>
      </div>
      <p className={t.state === "not back" ? "look-overdue look-strong" : undefined} role="status">
        {t.day}, {t.from} to {t.to}
        {t.home && ", they go home from there"}. {t.text.charAt(0).toUpperCase() + t.text.slice(1)}.
        {t.leader && (
          <>
            {" "}
            Led by <b>{t.leader}</b>
            {t.phone && (
              <>
                , <a href={`tel:${t.phone.replace(/\s/g, "")}`}>{t.phone}</a>
              </>
            )}
            .
          </>
        )}
      </p>
      {trip.error && (
        <p className="told no-print" role="status">
          No line to the server: this is how the trip was when it last answered. What you say of students is kept here.
        </p>
      )}
      {changing && (
        <Panel title="Change the trip">
          {!trips.data && <Waiting inside error={trips.error} />}
          {trips.data && (
            <TripForm view={trips.data} trip={t} done={() => setChanging(false)} leave={() => setChanging(false)} />
          )}
        </Panel>
      )}
      <Doing t={t} who={who} />
      <Register t={t} account={who.account} />
    </main>
  );
}

/** That it is back, or does not take place. */
function Doing({ t, who }: { t: View; who: Schemas["Who"] }) {
  const [at, setAt] = useState("");
  const [home, setHome] = useState(t.home);
  const store = useWrite({
    done: (r) => tell.receipt(r),
    failed: (e) => tell.wrong(e.message),
  });
  const trip = { trip: t.id };
  if (t.state === "back" && who.inOffice)
    return (
      <p className="no-print">
        <Button size="small" onClick={() => store.mutate({ path: "/api/trips/{trip}/on", params: trip })}>
          It is not back yet
        </Button>
      </p>
    );
  if (t.state === "cancelled" || t.state === "back") return null;
  return (
    <div className="doing no-print">
      {t.state !== "to come" && (
        <>
          <TimeField className="short" label="Back at" placeholder="back at: now" value={at} onChange={setAt} />
          <Tick checked={home} onChange={setHome}>
            gone home from there
          </Tick>
          <Button
            type="primary"
            loading={store.isPending}
            onClick={() => store.mutate({ path: "/api/trips/{trip}/back", params: trip, body: { at, home } })}
          >
            {home ? "All have gone home" : `All ${t.students - t.missing.length} are back`}
          </Button>
        </>
      )}
      {t.mayEdit && (
        <Popconfirm
          title="It does not take place?"
          description="Those who are on it are in their lessons again."
          okText="It does not take place"
          cancelText="Cancel"
          onConfirm={() => store.mutate({ path: "/api/trips/{trip}/cancel", params: trip })}
        >
          <Button danger>Cancel the trip</Button>
        </Popconfirm>
      )}
    </div>
  );
}

/** Who is with the others: one touch for each, or for all of whom nothing is said. */
function Register({ t, account }: { t: View; account: number }) {
  const { kept, down, say } = useSaid(account, t.id);
  const members = t.members.map((m) => {
    const mine = kept[String(m.student.id)];
    return mine
      ? { ...m, said: mine.here ? ("here" as const) : ("missing" as const), waits: true }
      : { ...m, waits: false };
  });
  const unsaid = members.filter((m) => m.said === "");
  return (
    <Panel
      title="Who is with the others"
      extra={`${t.there} of ${plural(t.students, "student")}${t.missing.length ? `, ${t.missing.length} missing` : ""}`}
    >
      {t.marking && unsaid.length > 0 && (
        <div className="look-line no-print">
          <Button
            onClick={() =>
              say(
                unsaid.map((m) => m.student.id),
                true,
              )
            }
          >
            {unsaid.length === t.students
              ? `All ${t.students} are there`
              : unsaid.length === 1
                ? "The other one is there"
                : `The other ${unsaid.length} are there`}
          </Button>
        </div>
      )}
      {down && (
        <p className="told" role="status">
          No line: what you say is kept here and goes out automatically.
        </p>
      )}
      {members.map((m) => {
        const home = t.phones.find((p) => p.student === m.student.id);
        return (
          <div key={m.student.id} className={`member ${m.said}`}>
            <div className="who">
              <b>
                <StudentName student={m.student} />
              </b>
              <p>
                {m.waits && (m.said === "here" ? "there · kept here" : "not there · kept here")}
                {!m.waits && m.said === "here" && `there ${m.at}, ${m.by}`}
                {!m.waits && m.said === "missing" && `not there ${m.at}, ${m.by} · ${m.place.text}`}
                {m.said === "" && m.place.text}
                {m.warnings.map((w) => ` · ${w}`).join("")}
                {home && (
                  <>
                    {" "}
                    · {home.name}{" "}
                    <a className="look-nowrap" href={`tel:${home.phone.replace(/\s/g, "")}`}>
                      {home.phone}
                    </a>
                  </>
                )}
              </p>
            </div>
            {t.marking && (
              <div className="say no-print">
                <button
                  type="button"
                  aria-pressed={m.said === "here"}
                  aria-label={`${m.student.name} is there`}
                  onClick={() => say([m.student.id], true)}
                >
                  there
                </button>
                <button
                  type="button"
                  aria-pressed={m.said === "missing"}
                  aria-label={`${m.student.name} is missing`}
                  onClick={() => say([m.student.id], false)}
                >
                  missing
                </button>
              </div>
            )}
          </div>
        );
      })}
    </Panel>
  );
}
