import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { FileField } from "../../parts/controls/FileField";
import { TimeField } from "../../parts/controls/TimeField";
import { useFocusBack } from "../../parts/focus";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { contentOf } from "../../parts/upload";
import { WriteToMany } from "../../parts/WriteToMany";
import { whys } from "../../parts/whys";
import { plural } from "../../parts/words";
import { ChangeCase, type Kind } from "./ChangeCase";
import { Confidential } from "./Confidential";

type Page = Schemas["CasePage"];

const fromWords = {
  review: "at a review",
  concern: "from a concern",
  step: "from a step of a policy",
  hand: "by hand",
};

/** One case with all that there is of it; it prints as one side. */
export function CasePage() {
  const { student, case: id } = useParams();
  const { at } = useAddress();
  const page = useRead("/api/students/{id}/cases/{case}", { id: Number(student), case: Number(id), at });
  const [changing, setChanging] = useState<Kind>();
  const [meeting, setMeeting] = useState(false);
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  const c = p.case;
  return (
    <main className="page case-page">
      <div className="asked">
        <h1>
          <StudentName student={c.student} />
        </h1>
        <span>
          {c.open ? (c.waits ? "waits" : "open") : `closed: ${c.end}`} ·{" "}
          {c.mine ? "yours" : `in the hands of ${c.owner}`}
          {c.open && (
            <>
              {" · next "}
              <b className={c.overdue ? "look-overdue" : undefined}>{c.next || "no date"}</b>
            </>
          )}
          {c.weekly && " · a session each week"}
          {c.keptFor && <b> · kept to {c.keptFor}</b>}
        </span>
        <span className="look-actions no-print look-push">
          <Link to="/follow-up/cases">All cases</Link>
          <Button size="small" onClick={() => window.print()}>
            Print
          </Button>
          {p.mayWrite && <WriteToMany students={[c.student]} />}
          {p.mayChange && (
            <Button size="small" onClick={() => setMeeting(true)}>
              Meeting …
            </Button>
          )}
          {p.mayChange && c.open && (
            <>
              <Button size="small" type="primary" onClick={() => setChanging("changed")}>
                Note, hand over …
              </Button>
              <Button size="small" onClick={() => setChanging("closed")}>
                Close …
              </Button>
            </>
          )}
          {p.mayChange && !c.open && (
            <Button size="small" onClick={() => setChanging("reopened")}>
              Open again …
            </Button>
          )}
        </span>
      </div>
      <div className="columns case-columns">
        <div className="stack">
          <Panel title="Why" extra={`opened ${c.opened} ${fromWords[c.from]}, ${plural(c.days, "day")}`}>
            <table className="figures">
              <thead>
                <tr>
                  <th>Figure</th>
                  <th>Then</th>
                  <th>Now</th>
                </tr>
              </thead>
              <tbody>
                {c.figures.map((f) => (
                  <tr key={f.name}>
                    <th scope="row">{f.name}</th>
                    <td>{f.was || "–"}</td>
                    <td>{f.now || "–"}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="words look-small">
              {whys(c.found) || "no rule found them then"}
              <br />
              <span className="look-muted">Now: {whys(c.now) || "no rule finds them"}</span>
            </p>
          </Panel>
          <Plan p={p} />
          <Papers p={p} />
          <Meetings p={p} />
        </div>
        <div className="stack">
          <Panel title="What became of it" extra={plural(p.steps.length, "entry", "entries")}>
            <ol className="entries">
              {p.steps.map((s) => (
                <li key={s.on + s.kind + s.text}>
                  <span className="look-small look-muted">
                    {s.on}, {s.by}: {s.kind}, with {s.owner}
                    {s.next && `, ${s.waits ? "waits until" : "next"} ${s.next}`}
                    {s.end && `, ${s.end}`}
                  </span>
                  {s.text && <span>{s.text}</span>}
                </li>
              ))}
            </ol>
          </Panel>
          <Panel
            title="Contacts and support"
            extra={[p.sessions, p.earlier > 0 && `${p.earlier} before it was opened`].filter(Boolean).join(" · ")}
          >
            {p.contacts.length === 0 && <p className="empty">Nothing since the case was opened.</p>}
            <ol className="entries">
              {p.contacts.map((l) => (
                <li key={l.on + l.what + l.text}>
                  <span>
                    <b>{l.what}</b>{" "}
                    <span className="look-small look-muted">
                      {l.on}, {l.by}
                    </span>
                  </span>
                  {l.note > 0 || l.session > 0 ? (
                    <Confidential
                      student={c.student.id}
                      {...(l.note > 0 ? { note: l.note } : { session: l.session })}
                    />
                  ) : (
                    l.text && <span>{l.text}</span>
                  )}
                </li>
              ))}
            </ol>
          </Panel>
        </div>
      </div>
      {changing && (
        <ChangeCase c={c} kind={changing} owners={p.owners} ends={p.ends} close={() => setChanging(undefined)} />
      )}
      {meeting && <MeetingDialog p={p} close={() => setMeeting(false)} />}
    </main>
  );
}

/** A write of the page, told as all are. */
function useTold(done?: () => void) {
  return useWrite({
    done: (r) => {
      tell.receipt(r);
      done?.();
    },
    failed: (e) => tell.wrong(e.message),
  });
}

function Plan({ p }: { p: Page }) {
  const [text, setText] = useState("");
  const [due, setDue] = useState("");
  const [owner, setOwner] = useState(p.case.ownerId);
  const [dropping, setDropping] = useState<{ id: number; why: string }>();
  const add = useTold(() => {
    setText("");
    setDue("");
  });
  const end = useTold(() => setDropping(undefined));
  const may = p.mayChange && p.case.open;
  return (
    <Panel title="Plan" extra={p.case.planned > 0 ? `${p.case.planned} to do` : undefined}>
      {p.plan.length === 0 && <p className="empty">Nothing is planned.</p>}
      {p.plan.map((s) => (
        <div className="look-line look-wrap" key={s.id}>
          <span className={s.ended && !s.done ? "dropped" : undefined}>{s.text}</span>
          <span className="look-small look-muted">{s.owner}</span>
          {s.ended ? (
            <span className="look-small look-muted">
              {s.done ? "done" : "dropped"}: {s.ended}
              {s.came && (
                <>
                  {" "}
                  <q>{s.came}</q>
                </>
              )}
            </span>
          ) : (
            <span className={`look-small${s.overdue ? " look-overdue" : ""}`}>{s.due}</span>
          )}
          {may && !s.ended && (
            <span className="look-actions no-print">
              <Button
                size="small"
                onClick={() =>
                  end.mutate({ path: "/api/cases/planned", body: { case: p.case.id, step: s.id, done: true } })
                }
              >
                Done
              </Button>
              <Button size="small" onClick={() => setDropping({ id: s.id, why: "" })}>
                Drop …
              </Button>
            </span>
          )}
          {dropping?.id === s.id && (
            <form
              className="line"
              onSubmit={(e) => {
                e.preventDefault();
                end.mutate({
                  path: "/api/cases/planned",
                  body: { case: p.case.id, step: s.id, done: false, text: dropping.why },
                });
              }}
            >
              <Input
                autoFocus
                aria-label="Why it is dropped"
                placeholder="why it is dropped"
                value={dropping.why}
                onChange={(e) => setDropping({ id: s.id, why: e.target.value })}
              />
              <Button htmlType="submit">
                Drop <kbd>Enter</kbd>
              </Button>
            </form>
          )}
        </div>
      ))}
      {may && (
        <form
          className="line no-print"
          aria-label="Plan something"
          onSubmit={(e) => {
            e.preventDefault();
            if (text.trim())
              add.mutate({ path: "/api/cases/plan", body: { case: p.case.id, text, due: due || undefined, owner } });
          }}
        >
          <Input
            className="look-wide"
            aria-label="What is to be done"
            placeholder="what is to be done"
            maxLength={200}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <DateField label="By when" optional value={due} onChange={setDue} />
          <Choice
            label="Who does it"
            value={owner}
            onChange={setOwner}
            options={p.owners.map((o) => ({ value: o.id, label: o.mine ? `${o.name} (you)` : o.name }))}
          />
          <Button htmlType="submit" loading={add.isPending} disabled={!text.trim()}>
            Plan it
          </Button>
        </form>
      )}
    </Panel>
  );
}

function Papers({ p }: { p: Page }) {
  const write = useTold();
  const may = p.mayChange && p.case.open;
  const put = async (files: File[]) => {
    for (const f of files)
      write.mutate({ path: "/api/cases/papers", body: { case: p.case.id, document: await contentOf(f) } });
  };
  return (
    <Panel title="Papers" extra={p.papers.length || undefined}>
      {p.papers.length === 0 && <p className="empty">No paper is with the case.</p>}
      {p.papers.map((d) => (
        <div className="look-line" key={d.id}>
          <a href={`/api/students/${p.case.student.id}/cases/${p.case.id}/papers/${d.id}`}>{d.name}</a>
          <span className="look-small look-muted">
            {d.size}, {d.by}
          </span>
          {may && (
            <Button
              size="small"
              className="look-push no-print"
              aria-label={`Take off ${d.name}`}
              onClick={() =>
                write.mutate({
                  path: "/api/cases/{case}/papers/{paper}/off",
                  params: { case: p.case.id, paper: d.id },
                })
              }
            >
              Take off
            </Button>
          )}
        </div>
      ))}
      {may && (
        <div className="line no-print">
          <FileField accept="application/pdf,image/png,image/jpeg" chosen={(files) => void put(files)}>
            Put a paper here …
          </FileField>
          <span className="look-small look-muted">PDF, PNG or JPEG, at most 5 MB</span>
        </div>
      )}
    </Panel>
  );
}

function Meetings({ p }: { p: Page }) {
  const off = useTold();
  if (p.meetings.length === 0) return null;
  return (
    <Panel title="Meetings" extra={p.meetings.length}>
      {p.meetings.map((m) => (
        <div className="look-line look-wrap" key={m.id}>
          <b>{m.title}</b>
          <span className="look-small">
            {m.on}
            {m.room && `, ${m.room}`}
          </span>
          <span className="look-small look-muted">{m.people}</span>
          <span className="look-actions no-print">
            <Button size="small" href={`/api/students/${p.case.student.id}/meetings/${m.id}/file`}>
              Calendar file
            </Button>
            {p.mayChange && m.ahead && (
              <Button size="small" onClick={() => off.mutate({ path: "/api/meetings/{id}/off", params: { id: m.id } })}>
                Call it off
              </Button>
            )}
          </span>
        </div>
      ))}
    </Panel>
  );
}

function MeetingDialog({ p, close }: { p: Page; close: () => void }) {
  useFocusBack();
  const [title, setTitle] = useState("");
  const [date, setDate] = useState("");
  const [from, setFrom] = useState("15:30");
  const [until, setUntil] = useState("16:00");
  const [room, setRoom] = useState("");
  const [people, setPeople] = useState("");
  const [wrong, setWrong] = useState("");
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => setWrong(e.message),
  });
  const save = () =>
    write.mutate({
      path: "/api/meetings",
      body: { student: p.case.student.id, date, from, until, title, room, people: people.split(/[,\n]/) },
    });
  return (
    <Modal
      open
      title={`Meeting about ${p.case.student.name}`}
      okText="Save"
      onOk={save}
      confirmLoading={write.isPending}
      onCancel={close}
    >
      <form
        className="case-form"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        <label>
          on <DateField label="On which day" autoFocus value={date} onChange={setDate} />
        </label>
        <label>
          from <TimeField label="From" value={from} onChange={setFrom} />
        </label>
        <label>
          until <TimeField label="Until" value={until} onChange={setUntil} />
        </label>
        <Input
          aria-label="What it is"
          placeholder="what it is"
          maxLength={120}
          value={title}
          onChange={(e) => setTitle(e.target.value)}
        />
        <Input
          aria-label="Where"
          placeholder="where"
          maxLength={80}
          value={room}
          onChange={(e) => setRoom(e.target.value)}
        />
        <Input.TextArea
          aria-label="Who comes, with commas between"
          placeholder="who comes, with commas between"
          rows={2}
          value={people}
          onChange={(e) => setPeople(e.target.value)}
        />
        {wrong && (
          <p role="alert" className="look-overdue">
            {wrong}
          </p>
        )}
      </form>
    </Modal>
  );
}
