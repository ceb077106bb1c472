import "./absence.css";
import { keepPreviousData } from "@tanstack/react-query";
import { Button } from "antd";
import { Fragment, useState } from "react";
import { useNavigate, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { ofStudent } from "../../parts/in-list";
import { KeepList } from "../../parts/KeepList";
import { Long, type Place } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { SavedViews } from "../../parts/SavedViews";
import { StudentName } from "../../parts/StudentName";
import { throughout, useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { fileAt, useAsked } from "./asked";
import { Distribution } from "./Distribution";
import { Due } from "./Due";
import { Filters } from "./Filters";
import { amount, nearnessWords, shareOf } from "./figures";
import { Trend } from "./Trend";
import { Why } from "./Why";

const rowHeight = 30; // px

const sortedWords: Record<Schemas["AbsenceView"]["sort"], string> = {
  near: "nearest to the line first",
  rate: "by share missed",
  missed: "by what was missed",
  excused: "by what was excused",
  unexcused: "by what was unexcused",
  unexplained: "by marks without a reason",
  lates: "by lates",
  "on-site": "by lessons missed while on site",
  time: "by time missed",
  name: "by name",
};

/** Absence against policy: who is how near to a line, and why. */
export default function Absence() {
  const { params, set } = useAddress();
  const go = useNavigate();
  const [all, setAll] = useState(false);
  const asked = useAsked();
  const band = params.get("band");
  const chosen = params.get("why") ?? undefined;
  const who = useOutletContext<Schemas["Who"]>();
  const section = useScope();
  const wanted = {
    ...asked,
    section,
    line: params.get("line") ?? undefined,
    // A leader looks for the worst; the office for whoever is about to cross a line.
    sort: params.get("sort") ?? (who.role === "leader" ? "rate" : undefined),
    up: params.get("up") ? true : undefined,
  };
  const page = useRead("/api/absence", wanted, { placeholderData: keepPreviousData }); // the filters stay where they are; the figures hide meanwhile
  const file = (path: string) => (format: string) => fileAt(`/api/absence/${path}`, wanted, format);
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  const rows = p.rows.filter((r) => band === null || String(r.figures.bandPlace) === band);
  const shown = all ? rows : rows.slice(0, 40);
  const why = chosen ?? (rows[0] && String(rows[0].student.id));
  const choose = (student: number) => set({ why: String(student) });
  return (
    <main className="page absence-place">
      <h1 className="visually-hidden">Absence</h1>
      <Filters p={p}>
        <span className="look-actions no-print">
          <Button size="small" onClick={() => go({ pathname: "/absence/beside", search: `?${params}` })}>
            Side by side …
          </Button>
          <KeepList students={rows.map((r) => r.student)} />
          <TakeAlong small file={file("file")} />
          <Button
            size="small"
            href={file("days-file")("xlsx")}
            title="What each student missed and was charged on each day"
          >
            Each day
          </Button>
        </span>
      </Filters>
      <SavedViews place="absence" />
      {page.error && <p role="alert">{page.error.message}</p>}
      {p.apart && <p className="look-muted">{p.apart}</p>}
      {p.lessons && (
        <p className="look-muted">
          {p.group}: only its own lessons count here. Lines and room left are about all of a student’s lessons.
        </p>
      )}
      <div className="columns absence" aria-busy={page.isPlaceholderData}>
        <div className="stack">
          <Panel
            title={`${p.students} students${throughout(p.scope)} by share of ${shareOf(p.unit)} missed`}
            extra={<span className="look-small">choose a band on the scale</span>}
          >
            {p.bands.length > 0 && (
              <Distribution
                bins={p.bins}
                bands={p.bands}
                chosen={band}
                choose={(b) => set({ band: b === band ? undefined : (b ?? undefined) })}
              />
            )}
            <Summary p={p} />
            <Trend t={p.trend} />
          </Panel>
          <section className="panel" aria-label={`Students, ${sortedWords[p.sort]}`}>
            <table className="rows" aria-rowcount={rows.length + 1}>
              <thead>
                <tr>
                  <Head p={p} by="name">
                    Student
                  </Head>
                  <th>Form</th>
                  <Head p={p} by="missed">
                    {p.unit === "minute" ? "Time" : p.unit === "day" ? "Days" : "Sessions"} missed
                  </Head>
                  <Head p={p} by="rate" wide>
                    Share, %
                  </Head>
                  {p.unit !== "minute" && <th>{p.whole ? "12 weeks" : "Weeks"}</th>}
                  {hasRoom(p) && (
                    <Head p={p} by="near">
                      To {p.line} %
                    </Head>
                  )}
                  <Head p={p} by="excused">
                    Excused
                  </Head>
                  <Head p={p} by="unexcused">
                    Unexcused
                  </Head>
                  <Head p={p} by="unexplained">
                    No reason
                  </Head>
                  <Head p={p} by="lates">
                    Lates
                  </Head>
                  <Head p={p} by="on-site">
                    On site
                  </Head>
                  {p.unit === "minute" ? <th>Charged</th> : <th className="mostly">Mostly</th>}
                </tr>
              </thead>
              <tbody>
                <Long rows={shown} height={rowHeight} keyOf={ofStudent} student={ofStudent} as="tr">
                  {(r, place) => (
                    <Row
                      r={r}
                      p={p}
                      place={place}
                      chosen={why === String(r.student.id)}
                      choose={() => choose(r.student.id)}
                    />
                  )}
                </Long>
              </tbody>
            </table>
            {rows.length === 0 && <p className="empty">Nobody here is in this band.</p>}
            {rows.length > shown.length && (
              <div className="look-line">
                <button type="button" className="link look-muted" onClick={() => setAll(true)}>
                  {rows.length - shown.length} more students
                </button>
              </div>
            )}
          </section>
        </div>
        <div className="stack">
          {why && <Why student={Number(why)} bands={p.bands} />}
          {!p.lessons && <Due p={p} choose={choose} />}
        </div>
      </div>
    </main>
  );
}

/** Room left and way back have a meaning for the year so far, in whole units. */
const hasRoom = (p: Schemas["AbsenceView"]) => p.whole && p.unit !== "minute" && !p.lessons;

/** Columns of plain counts. */
const counts: string[] = ["excused", "unexcused", "unexplained", "lates", "on-site"];

/** A heading by which the rows can be sorted: the most first, and the least with another click. */
function Head({
  p,
  by,
  wide = false,
  children,
}: {
  p: Schemas["AbsenceView"];
  by: Schemas["AbsenceView"]["sort"];
  wide?: boolean;
  children: React.ReactNode;
}) {
  const { set } = useAddress();
  const sorted = p.sort === by;
  return (
    <th
      colSpan={wide ? 2 : undefined}
      className={counts.includes(by) ? "number count" : undefined}
      aria-sort={sorted ? (p.up || by === "name" || by === "near" ? "ascending" : "descending") : undefined}
    >
      <button
        type="button"
        className={sorted ? "link look-strong" : "link"}
        onClick={() => set({ sort: by, up: sorted && !p.up && by !== "near" ? "1" : undefined })}
      >
        {children}
        {sorted && (p.up ? " ↑" : " ↓")}
      </button>
    </th>
  );
}

/** The group as a whole, and the reasons by which its time was missed. */
function Summary({ p }: { p: Schemas["AbsenceView"] }) {
  const group = p.group || "School";
  return (
    <div className="summary look-small">
      <p>
        {p.label}, {p.days} {p.days === 1 ? "day" : "days"}. {group}: <b>{p.school ? `${p.school} %` : "–"}</b> absent
        {p.middle && (
          <>
            , median <b>{p.middle} %</b>, one in ten missed more than <b>{p.nineInTen} %</b>
          </>
        )}
        {p.attendance && (
          <>
            ; on an average day <b>{p.attendance}</b> of <b>{p.membership}</b> attended
          </>
        )}
        {p.before && (
          <>
            ; the year before, {p.before.label}, <b>{p.before.school ? `${p.before.school} %` : "–"}</b> of{" "}
            {p.before.students} students
          </>
        )}
        .{p.unbanded > 0 && ` ${p.unbanded} have too few ${shareOf(p.unit)} for a band.`}
        {p.otherCodes && " The school's own codes count."}
      </p>
      {p.reasons.length > 0 && (
        <p>
          Time missed:{" "}
          {p.reasons.map((r, i) => (
            <Fragment key={r.code}>
              {i > 0 && " · "}
              <span className="look-nowrap" title={r.time}>
                <Shape state={r.state} silent /> {r.word} <b>{r.share} %</b>
              </span>
            </Fragment>
          ))}
        </p>
      )}
    </div>
  );
}

function Row({
  r,
  p,
  place,
  chosen,
  choose,
}: {
  r: Schemas["AbsenceRow"];
  p: Schemas["AbsenceView"];
  place: Place;
  chosen: boolean;
  choose: () => void;
}) {
  const f = r.figures;
  const scale = 30;
  return (
    <tr {...place} className={chosen ? "chosen" : ""} onClick={choose} aria-selected={chosen}>
      <td>
        <StudentName student={r.student} form={false} />
      </td>
      <td className="look-nowrap">{r.student.form}</td>
      <td className="look-nowrap">
        <b>{amount(f.absent, f.unit)}</b> <span className="look-muted">of {amount(f.possible, f.unit)}</span>
      </td>
      <td className="share-cell">
        <div className="share look-fills" aria-hidden="true">
          <i
            style={{
              width: `${Math.min((Number(f.rate) / scale) * 100, 100)}%`,
              background: `var(--band-${Math.max(f.bandPlace, 0)})`,
            }}
          />
          {p.bands.slice(1).map((b) => (
            <u key={b.name} style={{ left: `${Math.min((Number(b.from) / scale) * 100, 100)}%` }} />
          ))}
        </div>
      </td>
      <td className="number look-strong">{f.rate || "–"}</td>
      {p.unit !== "minute" && (
        <td>
          <span className="weeks look-fills" role="img" aria-label={`days missed by week: ${r.weeks.join(", ")}`}>
            {r.weeks.map((n, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: weeks have no other name
              <i key={i} className={n > 2 ? "many" : ""} style={{ height: Math.max(n * 3, n > 0 ? 3 : 0) }} />
            ))}
          </span>
        </td>
      )}
      {hasRoom(p) && <td className="look-nowrap">{nearnessWords(f)}</td>}
      <td className="number">{amount(f.excused, f.unit)}</td>
      <td className="number">{amount(f.unexcused, f.unit)}</td>
      <td className="number">{f.unexplained}</td>
      <td className="number">{f.lates}</td>
      <td className="number" title="lessons missed while on site">
        {r.onSite}
      </td>
      {p.unit === "minute" ? (
        <td className="look-nowrap">{f.charged}</td>
      ) : (
        <td className="look-small look-muted mostly" title={r.mostly}>
          {r.mostly}
        </td>
      )}
    </tr>
  );
}
