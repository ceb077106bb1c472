import "./reviews.css";
import { type Schemas, useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Scrolls, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { whys } from "../../parts/whys";
import { plural } from "../../parts/words";
import { OneLine } from "./OneLine";

const turnWords = { new: "New", rising: "Rising", holding: "Holding", easing: "Easing" };
const kindWords = {
  case: "In a case",
  wait: "Waiting",
  none: "No action",
  before: "In hand from before",
  undecided: "Not decided",
};

/** The reviews there were, and one of them as it was. */
export function Reviews() {
  const { at, params, set } = useAddress();
  const page = useRead("/api/reviews", { at, section: useScope() });
  if (!page.data) return <Waiting error={page.error} />;
  const list = page.data.reviews;
  const chosen = list.find((r) => r.id === Number(params.get("review"))) ?? list[0];
  return (
    <main className="page reviews-part">
      <h1 className="visually-hidden">Reviews</h1>
      <div className="columns">
        <div className="no-print">
          <Panel title="Reviews" extra={list.length}>
            {list.length === 0 && (
              <p className="empty">There was no review yet. The first begins with the first decision, under Review.</p>
            )}
            {list.map((r) => (
              <OneLine key={r.id} pressed={r.id === chosen?.id} choose={() => set({ review: String(r.id) })}>
                <span className="look-two">
                  <b>{r.date}</b>
                  <span className="look-small look-muted">
                    {[r.section, r.finished ? "finished" : "not finished"].filter(Boolean).join(" · ")}
                  </span>
                </span>
                <span className="look-small look-push">
                  {plural(r.students, "student")}
                  <br />
                  <span className="look-muted">{r.decided} decided</span>
                </span>
              </OneLine>
            ))}
          </Panel>
        </div>
        {chosen && <OneReview id={chosen.id} />}
      </div>
    </main>
  );
}

function OneReview({ id }: { id: number }) {
  const page = useRead("/api/reviews/{review}", { review: id });
  if (!page.data) return <Waiting inside error={page.error} />;
  const v = page.data;
  return (
    <div className="stack">
      <Panel
        title={`Review of ${v.review.date}${v.review.section && `, ${v.review.section}`}`}
        extra={
          <span className="look-actions no-print">
            <TakeAlong small file={(format) => `/api/reviews/${id}/file?format=${format}`} />
          </span>
        }
      >
        <p className="about look-small">
          Begun {v.begun}, on figures as at {v.asAt}.{" "}
          {v.review.finished ? `Finished ${v.review.finished}.` : "Nobody has finished it."} It stays as it was then.
        </p>
        <Beside v={v} />
      </Panel>
      <Panel title={plural(v.rows.length, "student")} extra="as they were then">
        {v.rows.length === 0 && <p className="empty">No rule found anybody.</p>}
        <Scrolls>
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Student</th>
                <th scope="col">Turn</th>
                <th scope="col">Why</th>
                <th scope="col" className="number">
                  Missed
                </th>
                <th scope="col">Decision</th>
              </tr>
            </thead>
            <tbody>
              {v.rows.map((r) => (
                <tr key={r.student.id}>
                  <td>
                    <StudentName student={r.student} />
                  </td>
                  <td>{turnWords[r.turn]}</td>
                  <td className="look-small">{whys(r.concerns) || "no rule"}</td>
                  <td className="number">{r.rate && `${r.rate} %`}</td>
                  <td className="look-small">
                    {r.decision || <span className="look-muted">not decided</span>}
                    {r.text && `: ${r.text}`}
                    {r.by && <span className="look-muted"> · {r.by}</span>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolls>
      </Panel>
    </div>
  );
}

/** The review in numbers, beside the one before. */
function Beside({ v }: { v: Schemas["ReviewRecord"] }) {
  return (
    <>
      <Scrolls>
        <table className="rows beside">
          <thead>
            <tr>
              <th scope="col">Students</th>
              <th scope="col" className="number">
                {v.review.date}
              </th>
              {v.before && (
                <th scope="col" className="number">
                  {v.before.date}
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            <Numbers name="A rule found" now={v.students} before={v.before && v.earlier} strong />
            {v.turns.map((t) => (
              <Numbers key={t.turn} name={turnWords[t.turn]} now={t.now} before={v.before && t.before} />
            ))}
            {v.decided.map((d) => (
              <Numbers key={d.kind} name={kindWords[d.kind]} now={d.now} before={v.before && d.before} />
            ))}
          </tbody>
        </table>
      </Scrolls>
      {v.gone.length > 0 && (
        <p className="about look-small">
          Found at the review before, and not at this one:{" "}
          {v.gone.map((s, i) => (
            <span key={s.id}>
              {i > 0 && ", "}
              <StudentName student={s} form={false} />
            </span>
          ))}
          .
        </p>
      )}
    </>
  );
}

function Numbers({
  name,
  now,
  before,
  strong,
}: {
  name: string;
  now: number;
  before: number | undefined;
  strong?: boolean;
}) {
  return (
    <tr className={strong ? "look-strong" : undefined}>
      <th scope="row">{name}</th>
      <td className="number">{now}</td>
      {before !== undefined && <td className="number">{before}</td>}
    </tr>
  );
}
