import "./registers.css";
import { Input, Segmented } from "antd";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { TakeAlong } from "../../parts/TakeAlong";
import { plural } from "../../parts/words";

import { RemoteLink } from "./RemoteLink";

type All = Schemas["CheckInSessions"];
type Session = Schemas["CheckInSession"];

/** All check-ins of a class: when they were, who came, and what was answered, by question and by student. */
export function Sessions() {
  const { class: group } = useParams();
  const all = useRead("/api/classes/{class}/check-ins", { class: Number(group) });
  const [chosen, setTerm] = useState<string>();
  const [by, setBy] = useState<"question" | "student">("question");
  const [words, setWords] = useState("");
  if (!all.data) return <Waiting error={all.error} />;
  const a = all.data;
  const term = chosen ?? a.term;
  const sessions = a.sessions.filter((s) => a.terms.length < 2 || s.term === term);

  return (
    <main className="page registers-place">
      <div className="sessions">
        <header>
          <h1>Check-ins of {a.title}</h1>
          <span className="look-muted">{a.teachers}</span>
          <span className="look-actions no-print">
            <Link to={`/registers/check-ins/${group}/hand-out`}>Hand-out</Link>
            <TakeAlong file={(format) => `/api/classes/${group}/check-ins/file?format=${format}`} />
          </span>
        </header>
        {a.terms.length > 1 && (
          <Segmented value={term} aria-label="Term" onChange={(t) => setTerm(String(t))} options={a.terms} />
        )}
        {sessions.length === 0 ? (
          <p>No check-in yet. A register opens one: “Let the class check in”.</p>
        ) : (
          <div className="look-two">
            <Held sessions={sessions} />
            <Panel
              title="Answers"
              extra={
                <span className="no-print look-actions">
                  <Input
                    size="small"
                    allowClear
                    aria-label="Find in questions, names and answers"
                    placeholder="find a word or a name"
                    value={words}
                    onChange={(e) => setWords(e.target.value)}
                  />
                  <Segmented
                    size="small"
                    aria-label="Answers by"
                    value={by}
                    onChange={setBy}
                    options={[
                      { value: "question", label: "by question" },
                      { value: "student", label: "by student" },
                    ]}
                  />
                </span>
              }
            >
              <Answers a={a} sessions={sessions} by={by} words={words.trim().toLowerCase()} />
            </Panel>
          </div>
        )}
      </div>
    </main>
  );
}

function Held({ sessions }: { sessions: Session[] }) {
  return (
    <Panel title="Check-ins" extra={<span className="look-small look-muted">{sessions.length}</span>}>
      <table className="rows look-small">
        <thead>
          <tr>
            <th>Day</th>
            <th>Slot</th>
            <th>Open</th>
            <th>In</th>
          </tr>
        </thead>
        <tbody>
          {sessions.map((s) => (
            <tr key={s.id}>
              <td className="look-nowrap">{s.label}</td>
              <td>{s.slot}</td>
              <td className="look-nowrap">
                {s.state === "held" || s.state === "open" ? `${s.from} to ${s.to}` : `${s.state}, ${s.from}`}
                {s.state === "open" && ", open now"}
              </td>
              <td className="look-nowrap">
                {s.state === "held" || s.state === "open" ? (
                  <>
                    <b>{s.in}</b> of {s.of}
                    {s.far > 0 && <span className="look-muted">, {s.far} at a distance</span>}
                  </>
                ) : s.link ? (
                  <RemoteLink path={s.link} />
                ) : (
                  "–"
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Panel>
  );
}

/** One question or one student, with what belongs to it. */
interface Group {
  key: string | number;
  head: React.ReactNode;
  name: string;
  lines: { key: string; who: React.ReactNode; text: string; names: string }[];
}

function Answers({
  a,
  sessions,
  by,
  words,
}: {
  a: All;
  sessions: Session[];
  by: "question" | "student";
  words: string;
}) {
  const asked = sessions.filter((s) => s.question);
  const session = new Map(asked.map((s) => [s.id, s]));
  const student = new Map(a.students.map((s) => [s.id, s]));
  const given = a.answers.filter((x) => x.answer && session.has(x.checkIn));
  const groups: Group[] =
    by === "question"
      ? asked.map((s) => ({
          key: s.id,
          name: s.question,
          head: (
            <>
              {s.question} <span className="look-small look-muted">{s.label}</span>
            </>
          ),
          lines: given
            .filter((x) => x.checkIn === s.id)
            .map((x) => {
              const who = student.get(x.student);
              return {
                key: `${x.student}`,
                who: who && <StudentName student={who} form={false} />,
                names: who?.name ?? "",
                text: x.answer,
              };
            }),
        }))
      : a.students.map((s) => ({
          key: s.id,
          name: s.name,
          head: <StudentName student={s} form={false} />,
          lines: given
            .filter((x) => x.student === s.id)
            .map((x) => {
              const q = session.get(x.checkIn);
              return {
                key: `${x.checkIn}`,
                who: (
                  <span className="look-muted">
                    {q?.question} · {q?.label}
                  </span>
                ),
                names: q?.question ?? "",
                text: x.answer,
              };
            }),
        }));
  const has = (text: string) => text.toLowerCase().includes(words);
  const shown = groups
    .map((g) => ({
      ...g,
      lines: !words || has(g.name) ? g.lines : g.lines.filter((l) => has(l.text) || has(l.names)),
    }))
    .filter((g) => (words ? g.lines.length > 0 || has(g.name) : true));
  if (asked.length === 0) return <p>No question was asked.</p>;
  if (shown.length === 0) return <p>Nothing with “{words}”.</p>;
  return shown.map((g) => (
    <section key={g.key} className="asked">
      <h3>
        {g.head} <span className="look-small look-muted">· {plural(g.lines.length, "answer")}</span>
      </h3>
      {g.lines.map((l) => (
        <p key={l.key} className="look-small">
          {l.who}: {l.text}
        </p>
      ))}
    </section>
  ));
}
