import "./outlook.css";
import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { HowFar, useLong } from "../../parts/HowFar";
import { Panel, Scrolls, Waiting } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type View = Schemas["OutlookView"];
type Group = Schemas["CalibrationGroup"];

/** What the school's outlook was fitted on, how well it predicts, and when not to trust it. */
export function Outlook() {
  const page = useRead("/api/outlook");
  const queries = useQueryClient();
  const [fitted, setFitted] = useState<View>();
  const long = useLong();
  if (!page.data) return <Waiting error={page.error} />;
  const v = fitted?.history === page.data.history ? fitted : page.data;
  const refit = async (ridge: string) => {
    try {
      const next = await long.run((name) => ({ path: "/api/outlook/fit", body: { ridge, name } }));
      if (next) setFitted(next);
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  return (
    <main className="page outlook-part">
      <h1 className="visually-hidden">Outlook</h1>
      <p className="look-muted intro">
        How likely a student is to leave without finishing, learned from the school’s own past students. It decides
        nothing and never stands alone: beside each chance stands why, and how far it can be trusted. Teachers and the
        desk never see it, and it goes on nothing that goes home.
      </p>
      {v.problem ? (
        <Panel title="There is no outlook">
          <p className="empty">{v.problem[0]?.toUpperCase() + v.problem.slice(1)}.</p>
          {v.any || <Known v={v} />}
          <Fit v={v} long={long} refit={refit} />
        </Panel>
      ) : (
        <>
          <Use v={v} done={() => void queries.invalidateQueries({ queryKey: ["/api/outlook"] })} />
          <div className="columns two">
            <div className="stack">
              <Panel title="How well it predicts">
                <div className="text">
                  <p>{v.pairs}</p>
                  <p>
                    {v.better}{" "}
                    <span className="look-muted">
                      (Area under the curve {v.auc}; Brier score {v.brier}, always the average {v.always}; each past
                      student predicted by the others.)
                    </span>
                  </p>
                </div>
                <Calibration groups={v.calibration} />
              </Panel>
              {v.byYear.length > 0 && <Years groups={v.byYear} />}
            </div>
            <div className="stack">
              <Panel title="When not to trust it">
                <ul className="warnings">
                  {v.warnings.map((w) => (
                    <li key={w}>{w}</li>
                  ))}
                </ul>
              </Panel>
              <Panel title="What it was fitted on" extra={v.brought}>
                <div className="text">
                  <p>
                    {plural(v.n, "past student")}, of whom {v.came} left without finishing
                    {v.leftOut > 0 && `; ${v.leftOut} more are left out, since something is missing`}.
                  </p>
                </div>
                <Inputs v={v} />
                <Fit v={v} long={long} refit={refit} />
              </Panel>
              <Coefficients v={v} />
            </div>
          </div>
        </>
      )}
    </main>
  );
}

type Long = ReturnType<typeof useLong>;

/** Fits it again, with a ridge or without. */
function Fit({ v, long, refit }: { v: View; long: Long; refit: (ridge: string) => Promise<void> }) {
  const [ridge, setRidge] = useState(v.rule.ridge);
  return (
    <div className="look-line look-wrap no-print">
      <label className="look-small">
        Ridge{" "}
        <Input size="small" className="ridge" value={ridge} maxLength={20} onChange={(e) => setRidge(e.target.value)} />
      </label>
      <Button size="small" loading={long.busy} onClick={() => void refit(ridge)}>
        Fit it again
      </Button>
      <HowFar of={long} what="How far the fit is" />
      <span className="look-small look-muted">
        0 for none; a ridge holds the weights back where past students are few.
      </span>
      <span className="look-actions">
        <Button size="small" href="/api/outlook/inputs?format=csv">
          Today’s inputs, CSV
        </Button>
        <Button size="small" href="/api/outlook/inputs?format=xlsx">
          Spreadsheet
        </Button>
      </span>
    </div>
  );
}

/** Whether it is used, and from which share an area is called a concern. */
function Use({ v, done }: { v: View; done: () => void }) {
  const [from, setFrom] = useState(v.rule.from);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const set = (on: boolean) =>
    write.mutate({ path: "/api/outlook/rule", body: { on, ridge: v.rule.ridge, from, history: v.history } });
  const current = v.rule.on && v.rule.history === v.history;
  return (
    <Panel title={current ? "The outlook is on" : "The outlook is off"} className="use">
      <div className="look-line look-wrap">
        <span>
          {current
            ? "Chances are shown on the review, to the office, the pastoral leads and the leaders."
            : v.rule.on
              ? "Past students were brought since it was switched on: it rests until it is switched on again."
              : "Nobody sees a chance. Read this page first."}
        </span>
        {v.maySet && (
          <span className="look-actions look-wrap no-print">
            <label className="look-small">
              an area is a concern from odds ×{" "}
              <Input
                size="small"
                className="ridge"
                value={from}
                maxLength={20}
                onChange={(e) => setFrom(e.target.value)}
              />
            </label>
            {current && (
              <Button size="small" loading={write.isPending} onClick={() => set(true)}>
                Save
              </Button>
            )}
            <Button type={current ? "default" : "primary"} loading={write.isPending} onClick={() => set(!current)}>
              {current ? "Switch it off" : "I have read this: switch it on"}
            </Button>
          </span>
        )}
      </div>
    </Panel>
  );
}

const side = 260; // px
const edge = 30; // px

/** What was predicted and what came, by tenths of the past students: on the line it was right. */
function Calibration({ groups }: { groups: Group[] }) {
  const most = Math.min(1, Math.max(0.1, ...groups.flatMap((g) => [g.predicted, g.observed])) * 1.1);
  const at = (x: number) => edge + (x / most) * (side - edge - 8);
  const up = (x: number) => side - at(x);
  const percent = (x: number) => `${Math.round(100 * x)} %`;
  return (
    <div className="calibration">
      <svg viewBox={`0 0 ${side} ${side}`} width={side} height={side} role="img" aria-label="Predicted and observed">
        <title>Predicted and observed, by tenths of the past students</title>
        <line className="axis" x1={at(0)} y1={up(0)} x2={at(most)} y2={up(0)} />
        <line className="axis" x1={at(0)} y1={up(0)} x2={at(0)} y2={up(most)} />
        <line className="right" x1={at(0)} y1={up(0)} x2={at(most)} y2={up(most)} />
        {groups.map((g) => (
          <circle key={g.predicted} cx={at(g.predicted)} cy={up(g.observed)} r={4}>
            <title>{`predicted ${percent(g.predicted)}, came ${g.came} of ${g.n}`}</title>
          </circle>
        ))}
        <text x={at(most)} y={side - 8} textAnchor="end">
          predicted, up to {percent(most)}
        </text>
        <text x={10} y={up(most)} transform={`rotate(-90 10 ${up(most)})`} textAnchor="end">
          came
        </text>
      </svg>
      <Counts groups={groups} name="Chance" of={(g) => percent(g.predicted)} />
    </div>
  );
}

function Counts({ groups, name, of }: { groups: Group[]; name: string; of: (g: Group) => string }) {
  return (
    <Scrolls>
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">{name}</th>
            {name !== "Chance" && (
              <th scope="col" className="number">
                Predicted
              </th>
            )}
            <th scope="col" className="number">
              Left
            </th>
            <th scope="col" className="number">
              of
            </th>
          </tr>
        </thead>
        <tbody>
          {groups.map((g) => (
            <tr key={g.name + g.predicted}>
              <td>{of(g)}</td>
              {name !== "Chance" && <td className="number">{(g.predicted * g.n).toFixed(1)}</td>}
              <td className="number">{g.came}</td>
              <td className="number">{g.n}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolls>
  );
}

function Years({ groups }: { groups: Group[] }) {
  return (
    <Panel title="By year group" extra="how many it had predicted, and how many left">
      <Counts groups={groups} name="Year" of={(g) => g.name} />
    </Panel>
  );
}

function Inputs({ v }: { v: View }) {
  return (
    <Scrolls>
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">Input</th>
            <th scope="col">Area</th>
            <th scope="col">Of today’s students from</th>
            <th scope="col" className="number">
              Not known
            </th>
          </tr>
        </thead>
        <tbody>
          {v.inputs.map((i) => (
            <tr key={i.name}>
              <td>{i.name}</td>
              <td>{i.area}</td>
              <td>{i.source || <span className="look-overdue">nowhere: missing for everybody</span>}</td>
              <td className="number">
                {i.missing} of {v.students}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scrolls>
  );
}

function Known({ v }: { v: View }) {
  return (
    <p className="empty look-small">
      The program fills in: {v.known.join(", ")}. Any other input comes from an own field of its name.
    </p>
  );
}

function Coefficients({ v }: { v: View }) {
  const [open, setOpen] = useState(false);
  return (
    <Panel
      title={
        <button type="button" className="link look-strong" aria-expanded={open} onClick={() => setOpen(!open)}>
          Its coefficients
        </button>
      }
      extra="logistic regression, in log-odds"
    >
      {open && (
        <Scrolls>
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Term</th>
                <th scope="col" className="number">
                  Estimate
                </th>
                <th scope="col" className="number">
                  Standard error
                </th>
                <th scope="col" className="number">
                  p
                </th>
              </tr>
            </thead>
            <tbody>
              {v.terms.map((t) => (
                <tr key={t.term}>
                  <td>{t.term}</td>
                  {t.out ? (
                    <td colSpan={3} className="look-muted">
                      left out: it says nothing that those before it have not said
                    </td>
                  ) : (
                    <>
                      <td className="number">{t.estimate}</td>
                      <td className="number">{t.stdError}</td>
                      <td className="number">{t.p}</td>
                    </>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolls>
      )}
    </Panel>
  );
}
