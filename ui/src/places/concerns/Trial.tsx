import { Button } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { grouped } from "../../parts/grouped";
import { HowFar, useLong } from "../../parts/HowFar";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import type { Form } from "./rule";

type Tried = Schemas["RuleTrial"];
type Sums = Schemas["TrialSums"];

/** How a rule would have done over a term, and the version that holds beside it. */
export function Trial({ form, ready, v }: { form: Form; ready: boolean; v: Schemas["RulesView"] }) {
  const { at } = useAddress();
  const section = useScope();
  const [span, setSpan] = useState("");
  const [against, setAgainst] = useState("");
  const [tried, setTried] = useState<{ of: string; trial: Tried }>();
  const long = useLong();
  const asked = JSON.stringify({ form, span, against });
  const run = async () => {
    try {
      const trial = await long.run((name) => ({
        path: "/api/rules/try",
        body: { rule: form, span, against, at, section, name },
      }));
      if (trial) setTried({ of: asked, trial });
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  const t = tried?.trial;
  return (
    <Panel title="Tried on the past" extra={t && !t.problem ? t.label : undefined}>
      <div className="look-line look-wrap no-print">
        <Choice
          label="Over which days"
          size="small"
          value={span}
          onChange={setSpan}
          options={[{ value: "", label: "the term before this one" }, ...v.choices.terms]}
        />
        <span className="look-small">against</span>
        <Choice
          label="Against what"
          size="small"
          value={against}
          onChange={setAgainst}
          options={[
            { label: "usual", options: [{ value: "", label: "chronic absence at the end" }] },
            ...grouped(v.choices.against),
          ]}
        />
        <Button size="small" disabled={!ready} loading={long.busy} onClick={run}>
          Try it
        </Button>
        <HowFar of={long} what="How far the trial is" />
        {t && tried?.of !== asked && (
          <span className="look-small look-muted">the rule has changed since it was tried</span>
        )}
      </div>
      {t?.problem && <p className="empty look-overdue">{t.problem}</p>}
      {t && !t.problem && <Result t={t} />}
    </Panel>
  );
}

function Result({ t }: { t: Tried }) {
  const row = (words: string, of: (s: Sums) => Schemas["TrialStudent"][], n: (s: Sums) => string, note?: string) => (
    <tr>
      <th scope="row">{words}</th>
      <td>
        <Whom list={of(t.rule)} n={n(t.rule)} words={words} />
      </td>
      {t.before && (
        <td>
          <Whom list={of(t.before)} n={n(t.before)} words={`${words}, the version that holds`} />
        </td>
      )}
      <td className="look-small">{note}</td>
    </tr>
  );
  return (
    <>
      <Line days={t.days} />
      <table className="rows trial">
        <thead>
          <tr>
            <th scope="col">against: {t.against}</th>
            <th scope="col">{t.before ? "this" : "students"}</th>
            {t.before && <th scope="col">the version that holds</th>}
            <td />
          </tr>
        </thead>
        <tbody>
          {row(
            "came to it, and were found before",
            (s) => s.found,
            (s) => `${s.found.length} of ${s.outcome}`,
            t.rule.leads,
          )}
          {row(
            "came to it, and were not found before",
            (s) => s.missed,
            (s) => `${s.missed.length}`,
          )}
          {row(
            "found, and never came to it",
            (s) => s.alarms,
            (s) => `${s.alarms.length} of ${s.matched}`,
          )}
          {row(
            "found, and came back without help",
            (s) => s.back,
            (s) => `${s.back.length}`,
            "ten school days in a row without a match, and no follow-up in between",
          )}
        </tbody>
      </table>
    </>
  );
}

/** A number that opens into its students. */
function Whom({ list, n, words }: { list: Schemas["TrialStudent"][]; n: string; words: string }) {
  if (list.length === 0) return <>{n}</>;
  return (
    <details>
      <summary aria-label={`${n} ${words}`}>
        <b>{n}</b>
      </summary>
      <ul className="look-small">
        {list.map((s) => (
          <li key={s.student.id}>
            <StudentName student={s.student} /> <span className="look-muted">{s.words}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}

const width = 640;
const height = 96;

/** How many were matched on each day, as a line; the version that holds as a dashed one. */
function Line({ days }: { days: Schemas["TrialDay"][] }) {
  const most = Math.max(1, ...days.flatMap((d) => [d.n, d.before ?? 0]));
  const points = (of: (d: Schemas["TrialDay"]) => number) =>
    days
      .map((d, i) => `${(i / Math.max(1, days.length - 1)) * width},${height - (of(d) / most) * (height - 6) - 3}`)
      .join(" ");
  const last = days.at(-1);
  if (!last) return <p className="empty">No school day of it is over yet.</p>;
  return (
    <figure className="line">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Matches day by day, ${most} at most, ${last.n} on the last`}
      >
        {last.before !== undefined && <polyline className="before" points={points((d) => d.before ?? 0)} />}
        <polyline points={points((d) => d.n)} />
      </svg>
      <figcaption className="look-small look-muted">
        <span>{days[0]?.label}</span>
        <span>
          {most} at most · {last.n} on the last day
          {last.before !== undefined && `, ${last.before} by the version that holds`}
        </span>
        <span>{last.label}</span>
      </figcaption>
    </figure>
  );
}
