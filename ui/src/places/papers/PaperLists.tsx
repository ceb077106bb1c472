import "./papers.css";
import { Button } from "antd";
import { Link } from "react-router";
import { type Schemas, takeAlong, useRead, useWrite } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { queryOf } from "./asked";

/** The lists that somebody has, each run again with one click, and those to start from. */
export function PaperLists() {
  const { at } = useAddress();
  const section = useScope();
  const page = useRead("/api/papers", { at, section });
  if (!page.data) return <Waiting error={page.error} />;
  const { lists, ready } = page.data;
  const editor = (list: string | number, more = {}) => {
    const search = new URLSearchParams({ ...more, ...(at && { at }) }).toString();
    return `/papers/list/${list}${search && `?${search}`}`;
  };
  return (
    <main className="page papers-place">
      <h1 className="visually-hidden">Lists</h1>
      <div className="columns lists">
        <Panel title="Your lists" extra={lists.length || undefined}>
          {lists.length === 0 && (
            <p className="empty">
              None yet. Start from one of those beside, shape it on the page as it is printed, and save it under a name:
              then it is made again on the data of the day with one click.
            </p>
          )}
          {lists.map((l) => (
            <Line key={l.id} l={l} query={(format) => queryOf({ at, section, format })} to={editor(l.id)} />
          ))}
        </Panel>
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
        </Panel>
      </div>
    </main>
  );
}

function Line({ l, query, to }: { l: Schemas["PaperRef"]; query: (format: string) => string; to: string }) {
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
        {l.own && (
          <Button
            size="small"
            type="text"
            aria-label={`Take ${l.name} away`}
            onClick={() => end.mutate({ path: "/api/papers/{list}/end", params: { list: l.id } })}
          >
            Take away
          </Button>
        )}
      </span>
    </div>
  );
}
