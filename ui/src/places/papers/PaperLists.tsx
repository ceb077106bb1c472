import "./papers.css";
import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate, useOutletContext } from "react-router";
import { type Schemas, takeAlong, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { queryOf } from "./asked";
import { EveryMorning, where } from "./EveryMorning";

/** The lists that somebody has, each run again with one click, and those to start from. */
export function PaperLists() {
  const { at } = useAddress();
  const section = useScope();
  const page = useRead("/api/papers", { at, section });
  if (!page.data) return <Waiting error={page.error} />;
  const { lists, ready, jobs } = page.data;
  const editor = (list: string | number, more = {}) => {
    const search = new URLSearchParams({ ...more, ...(at && { at }) }).toString();
    return `/papers/list/${list}${search && `?${search}`}`;
  };
  return (
    <main className="page papers-place">
      <h1 className="visually-hidden">Lists</h1>
      <div className="columns lists">
        <div className="stack">
          <Panel title="Your lists" extra={lists.length || undefined}>
            {lists.length === 0 && (
              <p className="empty">
                None yet. Start from one of those beside, shape it on the page as it is printed, and save it under a
                name: then it is made again on the data of the day with one click.
              </p>
            )}
            {lists.map((l) => (
              <Line
                key={l.id}
                l={l}
                page={page.data}
                query={(format) => queryOf({ at, section, format })}
                to={editor(l.id)}
              />
            ))}
          </Panel>
          {jobs.length > 0 && <Jobs jobs={jobs} />}
        </div>
        <Panel title="Start from">
          {ready.map((r) => (
            <div className="look-line" key={r.id}>
              <span className="look-two">
                <Link to={editor("new", { from: r.id })}>{r.name}</Link>
                <span className="look-small look-muted">{r.about}</span>
              </span>
              <span className="look-actions">
                <Button
                  size="small"
                  aria-label={`Print ${r.name}`}
                  onClick={() =>
                    takeAlong("/api/papers/file", { at, section, of: { setup: r.setup, format: "pdf" } }, "pdf").catch(
                      (e: Error) => tell.wrong(e.message),
                    )
                  }
                >
                  Print
                </Button>
              </span>
            </div>
          ))}
          {page.data.handOut && <HandOutLine groups={page.data.groups} />}
        </Panel>
      </div>
    </main>
  );
}

/** The sheet that tells a class how to check in is made of the class, and is shaped on its own page. */
function HandOutLine({ groups }: { groups: Schemas["Choice"][] }) {
  const go = useNavigate();
  const classes = groups.filter((g) => g.value.startsWith("class:"));
  return (
    <div className="look-line">
      <span className="look-two">
        Check-in hand-out
        <span className="look-small look-muted">How a class checks in: the code, its own dates, a text of yours</span>
      </span>
      <span className="look-actions">
        <Choice
          label="Hand-out of which class"
          size="small"
          search
          value={undefined}
          placeholder="of a class"
          options={classes}
          onChange={(value: string) => go(`/registers/check-ins/${value.slice("class:".length)}/hand-out`)}
        />
      </span>
    </div>
  );
}

const states: Record<Schemas["PaperJobView"]["state"], string> = {
  waiting: "waits",
  printed: "printed",
  sent: "sent",
  delivered: "arrived",
  failed: "not made",
};

/** What was put on its way to the printer or by e-mail lately, and what became of it. */
function Jobs({ jobs }: { jobs: Schemas["PaperJobView"][] }) {
  const { lines } = useOutletContext<Schemas["Who"]>();
  const failed = jobs.filter((j) => j.state === "failed").length;
  return (
    <Panel
      title="Printed and sent"
      extra={[
        failed > 0 && `${failed} not made`,
        lines.printer === "simulated" && "the printer is simulated: a folder of pages, to be looked at here",
      ]
        .filter(Boolean)
        .join(" · ")}
    >
      {jobs.map((j) => (
        <div className="look-line" key={j.id}>
          <span className="look-two">
            {j.name}
            <span className="look-small look-muted">
              {[
                j.at,
                j.way === "printer" ? "to the printer" : `by e-mail to ${j.for}`,
                !j.byPlan && "asked for",
                j.words,
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </span>
          <span className="look-actions">
            {j.there && (
              <Button
                size="small"
                target="_blank"
                aria-label={`Look at ${j.name}, ${j.at}`}
                href={`/api/papers/printed/${j.id}`}
              >
                Look at
              </Button>
            )}
            {j.way === "e-mail" && j.state === "failed" && <Link to="/outbox">Outbox</Link>}
            <b className={j.state === "failed" ? "look-overdue" : "look-muted"}>{states[j.state]}</b>
          </span>
        </div>
      ))}
    </Panel>
  );
}

function Line({
  l,
  page,
  query,
  to,
}: {
  l: Schemas["PaperRef"];
  page: Schemas["PapersView"];
  query: (format: string) => string;
  to: string;
}) {
  const { lines } = useOutletContext<Schemas["Who"]>();
  const section = useScope();
  const { at } = useAddress();
  const [planning, setPlanning] = useState(false);
  const print = useWrite({ done: tell.receipt, failed: (e) => tell.wrong(e.message) });
  const end = useWrite({ done: tell.receipt, failed: (e) => tell.wrong(e.message) });
  return (
    <div className="look-line look-wrap">
      <span className="look-two">
        <Link to={to}>{l.name}</Link>
        <span className="look-small look-muted">
          {[
            l.by,
            l.versions > 1 && plural(l.versions, "version"),
            l.own ? l.with.length > 0 && `shared with ${l.with.join(", ")}` : "shared with you",
          ]
            .filter(Boolean)
            .join(" · ")}
        </span>
        {l.plans.map((p) => (
          <span key={p.id} className="look-small">
            {p.when} {where(p)}
          </span>
        ))}
      </span>
      <span className="look-actions">
        <Button
          size="small"
          type="primary"
          aria-label={`Print ${l.name}`}
          target="_blank"
          href={`/api/papers/${l.id}/file?${query("pdf")}`}
        >
          Print
        </Button>
        <Button size="small" aria-label={`CSV of ${l.name}`} href={`/api/papers/${l.id}/file?${query("csv")}`}>
          CSV
        </Button>
        <Button size="small" aria-label={`Spreadsheet of ${l.name}`} href={`/api/papers/${l.id}/file?${query("xlsx")}`}>
          Spreadsheet
        </Button>
        {lines.printer !== "none" && !at && (
          <Button
            size="small"
            aria-label={`To the printer, ${l.name}`}
            loading={print.isPending}
            onClick={() =>
              print.mutate({ path: "/api/papers/{list}/print", params: { list: l.id }, body: { section } })
            }
          >
            To the printer
          </Button>
        )}
        {l.own && (
          <Button size="small" aria-label={`At a time …, ${l.name}`} onClick={() => setPlanning(true)}>
            At a time …
          </Button>
        )}
        {planning && <EveryMorning list={l} page={page} close={() => setPlanning(false)} />}
        {l.own && (
          <Button
            size="small"
            type="text"
            aria-label={`Take away ${l.name}`}
            onClick={() => end.mutate({ path: "/api/papers/{list}/end", params: { list: l.id } })}
          >
            Take away
          </Button>
        )}
      </span>
    </div>
  );
}
