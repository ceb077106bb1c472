import "./sheet.css";
import { App, Button, Drawer } from "antd";
import type { ReactNode } from "react";
import { type Schemas, useRead, useWrite } from "../api/client";
import { Shape } from "../look/Shape";
import { Bases } from "./Bases";
import { Fetching, MustBeFetched } from "./home/Fetch";
import { useAddress } from "./look-at";
import { Portrait } from "./Portrait";
import { StudentName } from "./StudentName";
import { contentOf } from "./upload";
import { plural } from "./words";

type Sheet = Schemas["StudentSheet"];

/** All about one student, over whatever page is open. */
export default function StudentSheet({
  id,
  mayCall,
  mayWrite,
  mayKeepPhoto,
  onClose,
}: {
  id: string;
  mayCall: boolean;
  mayWrite: boolean;
  mayKeepPhoto: boolean;
  onClose: () => void;
}) {
  const { at, set } = useAddress();
  const sheet = useRead("/api/students/{id}", { id, at });
  const s = sheet.data && String(sheet.data.student.id) === id ? sheet.data : undefined;
  return (
    <Drawer
      open
      size={760}
      onClose={onClose}
      title={s ? s.student.name : "Student"}
      styles={{ body: { padding: "16px 22px" }, mask: { background: "rgb(246 243 236 / 72%)" } }}
    >
      {sheet.error && <p role="alert">{sheet.error.message}</p>}
      {s && (
        <div className="sheet">
          <Head s={s} />
          {s.fetch && (
            <section aria-label="To be fetched" style={{ padding: 0 }}>
              <h3 className="overdue">
                To be fetched: {[s.fetch.reason, s.fetch.place].filter(Boolean).join(", ")} · since {s.fetch.since}
              </h3>
              <Fetching f={s.fetch} may={mayWrite && !at} named={false} />
            </section>
          )}
          {mayWrite && !at && (
            <div className="do">
              <Button size="small" onClick={() => set({ student: undefined, notice: String(s.student.id) }, false)}>
                Note what home says
              </Button>
              {s.mayFetch && <MustBeFetched student={s.student} />}
              {mayKeepPhoto && <PhotoOf student={s.student} photo={s.photo} />}
            </div>
          )}
          <Figures s={s} />
          <section aria-label="Day by day">
            <h3>Day by day</h3>
            <DayBars days={s.days} />
            <p className="small quiet" style={{ margin: 0 }}>
              <Shape state="unexcused" silent /> unexcused · <Shape state="explained" silent /> excused ·{" "}
              <Shape state="late" silent /> late · a bar is a day, morning at the top
            </p>
          </section>
          {mayCall && <Contacts s={s} />}
          <section aria-label="Conduct and courses" className="small">
            <p style={{ margin: 0 }}>
              <b>Conduct</b>{" "}
              {s.incidents === 0 ? "no incident on record" : `${plural(s.incidents, "incident")} on record`}
            </p>
            <p style={{ margin: "4px 0 0" }}>
              <b>Courses</b> {s.courses.length === 0 && "no grades yet"}
              {s.courses.map((c, i) => (
                <span key={c.course} className={c.failing ? "overdue" : ""}>
                  {i > 0 && " · "}
                  {c.course} {c.grades.join(" → ")}
                </span>
              ))}
            </p>
          </section>
          <section aria-label="What happened">
            <h3>What happened</h3>
            <table className="small">
              <thead className="visually-hidden">
                <tr>
                  <th>When</th>
                  <th>Kind</th>
                  <th>What</th>
                  <th>By</th>
                </tr>
              </thead>
              <tbody>
                {s.happened.map((h, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: entries have no other name
                  <tr key={i}>
                    <td className="nowrap quiet">{h.when}</td>
                    <td>{h.state ? <Shape state={h.state} /> : <span className="quiet">{h.kind}</span>}</td>
                    <td style={{ width: "70%" }}>{h.words}</td>
                    <td className="nowrap quiet">{h.by}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            {s.happened.length === 0 && <p className="quiet">Nothing but presence so far.</p>}
          </section>
        </div>
      )}
    </Drawer>
  );
}

function Head({ s }: { s: Sheet }) {
  const facts: ReactNode[] = [
    s.student.number,
    s.student.form,
    s.born && `born ${s.born}`,
    s.travels && `comes by the ${s.travels}`,
  ].filter(Boolean);
  return (
    <div className="head">
      <Portrait student={s.student} photo={s.photo} />
      <div>
        <div>{facts.join(" · ")}</div>
        <div style={{ display: "flex", flexWrap: "wrap", gap: 5, marginTop: 4 }}>
          {s.warnings.map((w) => (
            <span key={w} className="warn">
              {w}
            </span>
          ))}
          {s.siblings.map((sib) => (
            <span key={sib.id} className="warn">
              same home: <StudentName student={sib} />
            </span>
          ))}
        </div>
      </div>
      <div className="strong">
        <Shape state={s.place.state} /> {s.place.words}
      </div>
    </div>
  );
}

/** Keeps the student's photo, which stands on passes, or takes it away. */
function PhotoOf({ student, photo }: { student: Schemas["StudentRef"]; photo: boolean }) {
  const { message } = App.useApp();
  const store = useWrite({ done: (r) => message.success(r.words), failed: (e) => message.error(e.message, 8) });
  const keep = (picture: string) => store.mutate({ path: `/api/students/${student.id}/photo`, body: { picture } });
  return (
    <span className="small quiet push">
      <label className="file">
        {photo ? "Another photo" : "Add a photo"}
        <input
          className="visually-hidden"
          type="file"
          accept="image/png,image/jpeg"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) void contentOf(file).then((f) => keep(f.content));
          }}
        />
      </label>
      {photo && (
        <>
          {" · "}
          <button type="button" className="link" onClick={() => keep("")}>
            no photo
          </button>
        </>
      )}
    </span>
  );
}

function Figures({ s }: { s: Sheet }) {
  const f = s.figures;
  return (
    <>
      <div className="figures">
        <div>
          <b>{f.rate ? `${f.rate} %` : "–"}</b>
          <div className="small quiet">
            {f.absent} of {f.possible} days{f.band && ` · ${f.band}`}
          </div>
        </div>
        <div>
          <b>{f.unexcused}</b>
          <div className="small quiet">days unexcused, {f.excused} excused</div>
        </div>
        <div>
          {f.wayBack.units > 0 ? (
            <>
              <b>{f.wayBack.units}</b>
              <div className="small quiet">
                {f.wayBack.units > f.toCome ? "days in a row: not this year" : "days in a row to be under 10 %"}
              </div>
            </>
          ) : (
            <>
              <b>{f.headroom.known ? (f.headroom.none ? "none" : f.headroom.units) : "–"}</b>
              <div className="small quiet">days of room left this year</div>
            </>
          )}
        </div>
        <div>
          <b>{s.lates}</b>
          <div className="small quiet">
            lates this year, {s.latesNow} in {s.period || "this period"}
          </div>
        </div>
      </div>
      {s.bases && <Bases b={s.bases} fullDay={false} />}
      {s.due.length > 0 && (
        <section aria-label="Reached and due" className="small">
          <h3>Reached and due</h3>
          {s.due.slice(0, 8).map((d) => (
            <div key={`${d.title} ${d.words} ${d.date}`}>
              <b>{d.title}</b>{" "}
              <span className="quiet">
                · {d.when} · {d.words}
              </span>
            </div>
          ))}
          {s.due.length > 8 && <div className="quiet">{s.due.length - 8} earlier this year</div>}
        </section>
      )}
    </>
  );
}

function DayBars({ days }: { days: Schemas["DayBar"][] }) {
  const terms = [...new Set(days.map((d) => d.term))];
  return (
    <div className="bars">
      {terms.map((t) => {
        const inTerm = days.filter((d) => d.term === t);
        const weeks = [...new Set(inTerm.map((d) => d.week))];
        return (
          <div key={t} style={{ display: "contents" }}>
            <span className="small quiet">{t}</span>
            <div className="term">
              {weeks.map((w) => (
                <div key={w} className="week">
                  {inTerm
                    .filter((d) => d.week === w)
                    .map((d) => (
                      <div
                        key={d.date}
                        className={`bar ${d.state}`}
                        title={`${d.words}${d.missed ? `: ${d.missed} missed` : ""}`}
                      >
                        {d.bars.map((b) => (
                          <i
                            key={b.from}
                            className={b.state}
                            style={{ top: `${b.from / 10}%`, height: `${(b.to - b.from) / 10}%`, minHeight: 3 }}
                          />
                        ))}
                      </div>
                    ))}
                </div>
              ))}
            </div>
          </div>
        );
      })}
    </div>
  );
}

function Contacts({ s }: { s: Sheet }) {
  return (
    <section aria-label="Call order">
      <h3>Call order</h3>
      {s.contacts.length === 0 && <b className="overdue">No contact on file. Ask {s.student.form || "the office"}.</b>}
      <table>
        <thead className="visually-hidden">
          <tr>
            <th>Order</th>
            <th>Name</th>
            <th>Phone</th>
            <th>More</th>
          </tr>
        </thead>
        <tbody>
          {s.contacts.map((c) => (
            <tr key={c.id}>
              <td className="quiet">{c.order}</td>
              <td className="strong">{c.name}</td>
              <td className="nowrap">{c.doNotCall ? "–" : c.phone}</td>
              <td className={c.doNotCall ? "overdue" : "quiet"}>
                {[
                  c.relation,
                  c.doNotCall && "must not be called",
                  c.livesWith && "lives with",
                  c.mayCollect && "may collect",
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
