import "./editor.css";
import { Button, Input } from "antd";
import { useCallback, useEffect, useState } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";
import { type Schemas, takeAlong, useRead, useWrite, write } from "../../../api/client";
import { useKeys } from "../../../parts/keys";
import { useListGroups } from "../../../parts/lists";
import { useAddress } from "../../../parts/look-at";
import { Waiting } from "../../../parts/Panel";
import { useScope } from "../../../parts/scope";
import { tell } from "../../../parts/told";
import { Columns, Orders } from "./Columns";
import { PaperPage } from "./PaperPage";
import { Past, SharePaper } from "./SharePaper";
import { Sheet } from "./Sheet";
import { alike, blank, groupOf, type Setup } from "./shape";
import { WhoIsOn } from "./WhoIsOn";

/** Whom another page has sent here, to be put on a list. */
export type Sent = { students: number[]; name: string };

/** A list that is shaped on the page as it is printed. */
export function PaperEditor() {
  const { list } = useParams();
  const { at, params } = useAddress();
  const { state, key } = useLocation();
  const section = useScope();
  const page = useRead("/api/papers", { at, section });
  const saved = useRead("/api/papers/{list}", { list: Number(list) }, { enabled: list !== undefined });
  if (!page.data) return <Waiting error={page.error} />;
  if (list !== undefined && !saved.data) return <Waiting error={saved.error} />;
  const ready = page.data.ready.find((r) => r.id === params.get("from"));
  const sent = (state ?? undefined) as Sent | undefined;
  const begin: Setup = saved.data?.setup ?? {
    ...(ready?.setup ?? blank()),
    ...(sent?.students && { who: groupOf(sent.students, sent.name) }),
  };
  return (
    <Editor
      key={list ?? "new"}
      page={page.data}
      saved={saved.data}
      draft={`list on its way ${list ?? key}`}
      begin={begin}
      name={saved.data?.name ?? ready?.name ?? ""}
    />
  );
}

const pause = 250; // ms without a change until the page is set again

/** What was changed and not saved, kept in the tab over a reload. */
function kept(draft: string): { name: string; setup: Setup; seen?: number } | undefined {
  try {
    return JSON.parse(sessionStorage.getItem(draft) ?? "null") ?? undefined;
  } catch {
    return undefined;
  }
}

function Editor({
  page,
  saved,
  draft,
  begin,
  name: first,
}: {
  page: Schemas["PapersView"];
  saved: Schemas["PaperView"] | undefined;
  draft: string;
  begin: Setup;
  name: string;
}) {
  const navigate = useNavigate();
  const { at } = useAddress();
  const section = useScope();
  const lists = useListGroups();
  const [was] = useState(() => kept(draft));
  const [setup, setSetup] = useState(was?.setup ?? begin);
  const [name, setName] = useState(was?.name ?? first);
  const [seen, setSeen] = useState(was?.seen ?? saved?.seen);
  const [number, setNumber] = useState(1);
  const [names, setNames] = useState(false);
  const [look, setLook] = useState<Schemas["PaperLook"]>();
  const [dialog, setDialog] = useState<"share" | "past">();
  const own = saved?.own ?? false;
  const changed = name !== (saved?.name ?? first) || !alike(setup, saved?.setup ?? begin);
  const change = useCallback((next: Partial<Setup>) => setSetup((before) => ({ ...before, ...next })), []);
  const asked = JSON.stringify({ at, section, of: { setup, page: number, names } });
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      write({ path: "/api/papers/look", body: JSON.parse(asked) }).then(
        (next) => {
          if (gone) return;
          setLook(next);
        },
        (e: Error) => !gone && tell.wrong(e.message),
      );
    }, pause);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [asked]);
  useEffect(() => {
    if (changed) sessionStorage.setItem(draft, JSON.stringify({ name, setup, seen }));
    else sessionStorage.removeItem(draft);
  }, [draft, changed, name, setup, seen]);
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      sessionStorage.removeItem(draft);
      setSeen(r.seq);
      const id = r.ids[0];
      if (id !== undefined && id !== saved?.id)
        navigate(`/papers/list/${id}${at ? `?at=${at}` : ""}`, { replace: true });
    },
    failed: (e) => tell.wrong(e.message),
  });
  const save = (again: boolean) =>
    store.mutate({
      path: "/api/papers",
      body: { name, setup, ...(again && saved && { list: saved.id, ...(seen && { seen }) }) },
    });
  const [making, setMaking] = useState(false);
  const file = (format: "pdf" | "csv" | "xlsx") => {
    if (making) return;
    setMaking(true);
    takeAlong("/api/papers/file", { at, section, of: { setup, format } }, format)
      .catch((e: Error) => tell.wrong(e.message))
      .finally(() => setMaking(false));
  };
  useKeys({ p: () => file("pdf") });
  const pages = look?.pages ?? 0;
  return (
    <main className="page paper-editor">
      <h1 className="visually-hidden">{name || "A new list"}</h1>
      <div className="asked no-print">
        <Link to="/papers">All lists</Link>
        <Input
          aria-label="Name of the list"
          placeholder="a name, to save it under"
          maxLength={60}
          value={name}
          onChange={(e) => setName(e.target.value)}
          onPressEnter={() => name.trim() && save(own)}
        />
        {(own || !saved) && (
          <Button
            type={changed || !saved ? "primary" : "default"}
            disabled={!name.trim() || (saved !== undefined && !changed)}
            loading={store.isPending}
            onClick={() => save(own)}
          >
            Save
          </Button>
        )}
        {saved && (
          <Button disabled={!name.trim() || name === saved.name} onClick={() => save(false)}>
            {own ? "Save as another" : "Save as your own"}
          </Button>
        )}
        {own && (
          <Button onClick={() => setDialog("share")} disabled={changed}>
            Share …
          </Button>
        )}
        {saved && saved.past.length > 0 && <Button onClick={() => setDialog("past")}>Versions before …</Button>}
        <span className="look-small look-muted">
          {saved
            ? changed
              ? "changed, not saved yet"
              : [saved.by, saved.with.length > 0 && `shared with ${saved.with.join(", ")}`].filter(Boolean).join(" · ")
            : "not saved yet"}
        </span>
        <span className="look-actions">
          <Button type="primary" loading={making} onClick={() => file("pdf")}>
            Print <kbd>P</kbd>
          </Button>
          <Button onClick={() => file("csv")}>CSV</Button>
          <Button onClick={() => file("xlsx")}>Spreadsheet</Button>
        </span>
      </div>
      <div className="columns editor">
        <div className="paper">
          {look?.problem && (
            <p role="alert" className="look-overdue">
              {look.problem}
            </p>
          )}
          {look && look.left.length > 0 && (
            <p className="look-small" role="status">
              Left out: {look.left.join("; ")}
            </p>
          )}
          {look && !look.problem && <PaperPage look={look} setup={setup} change={change} />}
          {pages > 1 && (
            <nav className="turning" aria-label="Pages">
              <Button size="small" disabled={number <= 1} onClick={() => setNumber(number - 1)}>
                Page before
              </Button>
              {look?.number} of {pages}
              <Button size="small" disabled={number >= pages} onClick={() => setNumber(number + 1)}>
                Next page
              </Button>
            </nav>
          )}
        </div>
        <div className="stack no-print">
          <WhoIsOn
            setup={setup}
            change={change}
            look={look}
            groups={[...page.groups, ...lists]}
            names={names}
            askNames={setNames}
          />
          <Columns setup={setup} change={change} fields={page.fields} />
          <Orders setup={setup} change={change} fields={page.fields} />
          <Sheet
            setup={setup}
            change={change}
            labels={page.labels}
            belowOnPage={look?.page.parts.some((p) => p.name === "below") ?? false}
          />
          <p className="look-small">
            In a heading on the page, <kbd>Alt</kbd> <kbd>←</kbd> <kbd>→</kbd> moves the column, with <kbd>Shift</kbd>{" "}
            it is made wider or narrower, <kbd>Alt</kbd> <kbd>Delete</kbd> takes it off.
          </p>
        </div>
      </div>
      {dialog === "share" && saved && (
        <SharePaper paper={saved} colleagues={page.colleagues} close={() => setDialog(undefined)} />
      )}
      {dialog === "past" && saved && (
        <Past
          paper={saved}
          take={(before) => {
            setSetup(before);
            setDialog(undefined);
          }}
          close={() => setDialog(undefined)}
        />
      )}
    </main>
  );
}
