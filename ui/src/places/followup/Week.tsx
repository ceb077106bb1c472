import { keepPreviousData } from "@tanstack/react-query";
import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel, Scrolls, Waiting } from "../../parts/Panel";
import { throughout } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { asQuery, useAsked } from "./asked";
import { Filters } from "./Filters";
import { OneSession } from "./OneSession";
import { SessionDialog } from "./SessionDialog";
import { SupportWords } from "./SupportWords";
import { WeekTable } from "./WeekTable";

/** Support by school week: whom nobody met, the sessions, and who leads how much. */
export function Week() {
  const { params, set } = useAddress();
  const asked = { ...useAsked(), overdue: undefined, week: params.get("week") ?? undefined };
  const page = useRead("/api/support/week", asked, { placeholderData: keepPreviousData });
  const [dialog, setDialog] = useState<"session" | "words">();
  const [why, setWhy] = useState<Schemas["WeekRow"]>();
  const v = page.data;
  const go = (week: string | undefined) => week && set({ week });
  useKeys(
    {
      l: () => v?.may && setDialog("session"),
      ArrowLeft: () => go(v?.before),
      ArrowRight: () => go(v?.after),
    },
    !dialog && !why,
  );
  if (!v) return <Waiting error={page.error} />;
  return (
    <main className="page followup-place">
      <h1 className="visually-hidden">Support by week</h1>
      <div className="asked">
        <Filters groups={v.groups} owners={v.owners} />
        <span className="look-actions look-here no-print">
          <Button size="small" disabled={!v.before} onClick={() => go(v.before)} aria-label="← The week before">
            ←
          </Button>
          <b>{v.title}</b>
          <Button size="small" disabled={!v.after} onClick={() => go(v.after)} aria-label="→ The week after">
            →
          </Button>
          {!v.now && (
            <Button size="small" onClick={() => set({ week: undefined })}>
              This week
            </Button>
          )}
        </span>
        <span className="look-actions no-print look-push">
          <TakeAlong small file={(format) => `/api/support/week/file?${asQuery(asked)}&format=${format}`} />
          <Button size="small" href="/api/support/files?which=sessions">
            All sessions, CSV
          </Button>
          {v.maySet && (
            <Button size="small" onClick={() => setDialog("words")}>
              Kinds …
            </Button>
          )}
          {v.may && (
            <Button size="small" type="primary" onClick={() => setDialog("session")}>
              Session … <kbd>L</kbd>
            </Button>
          )}
        </span>
      </div>
      <div className="columns week">
        <div className="stack">
          <Panel title={`${plural(v.rows.length, "student")}${throughout(v.scope)}`} extra={v.title}>
            <Scrolls>
              <WeekTable v={v} choose={setWhy} />
            </Scrolls>
          </Panel>
          <Panel title="Who leads" extra="in the weeks shown">
            {v.leaders.length === 0 && <p className="empty">Nobody has led a session in these weeks.</p>}
            {v.leaders.map((l) => (
              <div className="look-line" key={l.name}>
                <b>{l.name}</b>
                <span className="look-push look-small">
                  {plural(l.sessions, "session")}, {l.minutes}, {plural(l.students, "student")}
                </span>
              </div>
            ))}
          </Panel>
        </div>
        <Panel
          title={plural(v.sessions.length, "session")}
          extra={v.byKind.map((k) => `${k.name} ${k.sessions}, ${k.minutes}`).join(" · ") || v.title}
        >
          {v.sessions.length === 0 && (
            <p className="empty">No session in the {v.title.replace("Week", "week")}. L writes one down.</p>
          )}
          {v.sessions.map((s) => (
            <OneSession key={s.group} s={s} v={v} />
          ))}
        </Panel>
      </div>
      {dialog === "session" && <SessionDialog v={v} close={() => setDialog(undefined)} />}
      {dialog === "words" && <SupportWords close={() => setDialog(undefined)} />}
      {why && <WhyNone row={why} week={v.week} title={v.title} close={() => setWhy(undefined)} />}
    </main>
  );
}

/** Why somebody was in no session of a week. */
function WhyNone({
  row,
  week,
  title,
  close,
}: {
  row: Schemas["WeekRow"];
  week: string;
  title: string;
  close: () => void;
}) {
  const [text, setText] = useState(row.cells.at(-1)?.reason ?? "");
  const save = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const submit = () => save.mutate({ path: "/api/support/none", body: { student: row.student.id, week, text } });
  return (
    <Modal
      open
      title={`${row.student.name}, ${title.replace("Week", "week")}: no session`}
      okText="Save"
      onOk={submit}
      confirmLoading={save.isPending}
      onCancel={close}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <Input
          autoFocus
          aria-label="Why there was none"
          placeholder="why there was none; empty takes it off"
          maxLength={200}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </form>
    </Modal>
  );
}
