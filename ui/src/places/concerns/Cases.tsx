import "./cases.css";
import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { throughout, useScope } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";
import { whys } from "./whys";

type Case = Schemas["CaseView"];
type Kind = Schemas["CaseChange"]["kind"];

/** Students who are in somebody's hands, by their next date; what became of each. */
export function Cases() {
  const { at, params, set } = useAddress();
  const scope = useScope();
  const owner = Number(params.get("owner")) || undefined;
  const page = useRead("/api/cases", { at, section: scope, owner });
  const [changing, setChanging] = useState<{ c: Case; kind: Kind }>();
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  const closed = params.has("closed");
  const list = v.cases.filter((c) => c.open || closed);
  const query = new URLSearchParams({
    ...(at && { at }),
    ...(scope && { section: scope.join(",") }),
    ...(owner && { owner: String(owner) }),
  });
  return (
    <main className="page cases-part">
      <h1 className="visually-hidden">Cases</h1>
      <div className="asked no-print">
        <Choice
          label="Whose cases"
          value={owner ?? 0}
          onChange={(next) => set({ owner: next ? String(next) : undefined })}
          options={[
            { value: 0, label: "In anybody’s hands" },
            ...v.owners.map((o) => ({ value: o.id, label: o.mine ? "In mine" : o.name })),
          ]}
        />
        <Tick checked={closed} onChange={(on) => set({ closed: on ? "1" : undefined })}>
          closed ones too
        </Tick>
        <span className="look-actions look-push">
          <TakeAlong small file={(format) => `/api/cases/file?${query}&format=${format}`} />
        </span>
      </div>
      <Panel
        title={`${plural(v.open, "open case")}${throughout(v.scope)}`}
        extra={v.overdue > 0 ? <span className="look-overdue">{v.overdue} overdue</span> : undefined}
      >
        {list.length === 0 && (
          <p className="empty">Nobody is in anybody’s hands. A case is opened from the review: O on a student’s row.</p>
        )}
        {list.map((c) => (
          <One key={c.id} c={c} may={v.mayChange} change={(kind) => setChanging({ c, kind })} />
        ))}
      </Panel>
      {changing && <Change {...changing} owners={v.owners} close={() => setChanging(undefined)} />}
    </main>
  );
}

function One({ c, may, change }: { c: Case; may: boolean; change: (kind: Kind) => void }) {
  const [open, setOpen] = useState(false);
  const last = c.steps[0];
  return (
    <article className="one">
      <div className="look-two">
        <StudentName student={c.student} form={false} />
        <span className="look-small look-muted">{c.student.form}</span>
      </div>
      <div className="look-two">
        <span>{c.mine ? "yours" : c.owner}</span>
        <span className="look-small look-muted">
          {c.open ? `${plural(c.days, "day")}, since ${c.opened}` : `closed after ${plural(c.days, "day")}`}
        </span>
      </div>
      <div className="look-small">
        <span>
          {whys(c.found) || "no rule found them"}
          {c.rate && <span className="look-muted"> · {c.rate} % missed then</span>}
        </span>
        <span className="look-muted">
          Now: {whys(c.now) || "no rule finds them"}
          {c.rateNow && ` · ${c.rateNow} % missed`}
        </span>
        {last?.text && (
          <span>
            <q>{last.text}</q>{" "}
            <span className="look-muted">
              {last.by}, {last.on}
            </span>
          </span>
        )}
      </div>
      <div className="side look-small">
        {c.open && <span className={c.overdue ? "look-overdue" : undefined}>{c.next || "no next date"}</span>}
        <span className="look-actions look-wrap no-print">
          {may && c.open && (
            <>
              <Button size="small" onClick={() => change("changed")}>
                Note …
              </Button>
              <Button size="small" onClick={() => change("closed")}>
                Close …
              </Button>
            </>
          )}
          {may && !c.open && (
            <Button size="small" onClick={() => change("reopened")}>
              Open again …
            </Button>
          )}
          <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
            {plural(c.steps.length, "entry", "entries")}
          </button>
        </span>
      </div>
      {open && (
        <ol className="steps look-small">
          {c.steps.map((s) => (
            <li key={s.on + s.kind + s.text}>
              {s.on}, {s.by}: {s.kind}, with {s.owner}
              {s.next && `, next ${s.next}`}
              {s.text && (
                <>
                  {" "}
                  <q>{s.text}</q>
                </>
              )}
            </li>
          ))}
        </ol>
      )}
    </article>
  );
}

const titles: Record<Kind, string> = {
  opened: "Open a case",
  changed: "Note on the case",
  closed: "Close the case",
  reopened: "Open the case again",
};

/** What became of a case: in whose hands, when next, what was said, how it ended. */
function Change({ c, kind, owners, close }: { c: Case; kind: Kind; owners: Schemas["OwnerRef"][]; close: () => void }) {
  const [owner, setOwner] = useState(c.ownerId);
  const [next, setNext] = useState(kind === "reopened" ? "" : c.nextDay);
  const [text, setText] = useState("");
  const [seen, setSeen] = useState<number | undefined>(c.seen);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const save = () =>
    write.mutate(
      { path: "/api/cases", body: { case: c.id, kind, owner, next: kind === "closed" ? undefined : next, text, seen } },
      { onError: () => setSeen(undefined) },
    );
  return (
    <Modal
      open
      title={`${titles[kind]}: ${c.student.name}`}
      okText="Save"
      onOk={save}
      confirmLoading={write.isPending}
      onCancel={close}
    >
      <form
        className="change-case"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        {kind !== "closed" && (
          <Choice
            label="In whose hands"
            value={owner}
            onChange={setOwner}
            options={owners.map((o) => ({ value: o.id, label: o.mine ? `${o.name} (you)` : o.name }))}
          />
        )}
        {kind !== "closed" && (
          <label>
            next <DateField label="Looked at next" value={next} onChange={setNext} />
          </label>
        )}
        <Input.TextArea
          autoFocus
          rows={3}
          maxLength={1000}
          aria-label={kind === "closed" ? "What came of it" : "What was said or done"}
          placeholder={kind === "closed" ? "what came of it" : "what was said or done"}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </form>
    </Modal>
  );
}
