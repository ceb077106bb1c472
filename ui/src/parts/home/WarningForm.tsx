import { Input } from "antd";
import { type ReactNode, useState } from "react";
import { type Schemas, useRead } from "../../api/client";
import { FileField } from "../controls/FileField";
import { Tick } from "../controls/Tick";
import { contentOf } from "../upload";
import { KeptForm } from "./KeptForm";

type Warning = Schemas["WarningNow"];

/** The largest document that is kept, in bytes: what is larger is refused before it is sent. */
const largest = 5 << 20;

/** A warning of a student, added or changed, with the document that it goes by. */
export function WarningForm({
  student,
  warning,
  done,
}: {
  student: Schemas["StudentRef"];
  warning?: Warning | undefined; // nothing for one that is added
  done: () => void;
}) {
  const [text, setText] = useState(warning?.text ?? "");
  const [careFirst, setCareFirst] = useState(warning?.careFirst ?? false);
  const [document, setDocument] = useState<Schemas["Document"]>();
  const [noDocument, setNoDocument] = useState(false);
  const [wrong, setWrong] = useState("");
  const choose = async (file: File) => {
    setNoDocument(false);
    if (file.size > largest) {
      setDocument(undefined);
      setWrong(`${file.name} has ${(file.size / (1 << 20)).toFixed(1)} MB; at most 5 MB are kept.`);
      return;
    }
    setWrong("");
    setDocument(await contentOf(file));
  };
  const there = document?.name ?? (noDocument ? "" : warning?.document);
  return (
    <KeptForm
      label={warning ? `Change the warning ${warning.text}` : `A warning of ${student.name}`}
      ready={text.trim() !== ""}
      keep={(seen) => ({
        path: "/api/warnings",
        body: {
          student: student.id,
          warning: warning?.id ?? 0,
          text,
          careFirst,
          noDocument,
          seen,
          ...(document && { document }),
        },
      })}
      end={
        warning !== undefined && {
          offer: "Holds no longer …",
          ask: `why “${warning.text}” holds no longer`,
          verb: "End it",
          write: (why) => ({ path: "/api/warnings/end", body: { student: student.id, warning: warning.id, why } }),
        }
      }
      done={done}
    >
      <Input
        size="small"
        className="look-wide"
        autoFocus
        aria-label="What there is to know"
        placeholder="what there is to know, in a few words"
        maxLength={120}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <span className="ticks look-wide">
        <Tick checked={careFirst} onChange={setCareFirst}>
          ring about first
        </Tick>
        <FileField accept="application/pdf,image/png,image/jpeg" chosen={([file]) => file && void choose(file)}>
          {there ? "Another document" : "Add a document (PDF, PNG or JPEG)"}
        </FileField>
        {there && <span className="look-small">{there}</span>}
        {there && (
          <button
            type="button"
            className="link look-small"
            onClick={() => {
              setDocument(undefined);
              setNoDocument(warning !== undefined && warning.document !== "");
            }}
          >
            no document
          </button>
        )}
      </span>
      {wrong && (
        <p className="look-small look-overdue" role="alert">
          {wrong}
        </p>
      )}
    </KeptForm>
  );
}

/** What to know when dealing with a student, each with its document for those who may see it. */
export function WarningTags({
  student,
  words,
  now,
  change,
}: {
  student: Schemas["StudentRef"];
  words: string[];
  now: Warning[]; // empty for those who may not change them
  change?: ((id: number) => void) | undefined;
}) {
  return words.map((words) => {
    const w = now.find((x) => x.text === words);
    return (
      <span key={words} className="look-warn" title={w?.changed || undefined}>
        {words}
        {w?.document && (
          <>
            {" · "}
            <a
              href={`/api/students/${student.id}/warnings/${w.id}/document`}
              target="_blank"
              rel="noreferrer"
              title={w.document}
            >
              document
            </a>
          </>
        )}
        {w && change && (
          <>
            {" · "}
            <button
              type="button"
              className="link"
              aria-label={`Change the warning ${words}`}
              onClick={() => change(w.id)}
            >
              change
            </button>
          </>
        )}
      </span>
    );
  });
}

/** Warnings where those who may can change them and add others. */
export function Warnings({
  student,
  words,
  now,
  mayChange,
  before,
  children,
}: {
  student: Schemas["StudentRef"];
  words: string[];
  now: Warning[];
  mayChange: boolean;
  before?: ReactNode;
  children?: ReactNode;
}) {
  const [changing, setChanging] = useState<number>(); // 0 for one that is added
  const warning = now.find((w) => w.id === changing);
  return (
    <>
      <div className="tags">
        {before}
        <WarningTags student={student} words={words} now={now} change={mayChange ? setChanging : undefined} />
        {children}
        {mayChange && changing === undefined && (
          <button type="button" className="link look-small" onClick={() => setChanging(0)}>
            Add a warning
          </button>
        )}
      </div>
      {changing !== undefined && (warning || changing === 0) && (
        <WarningForm key={changing} student={student} warning={warning} done={() => setChanging(undefined)} />
      )}
    </>
  );
}

/** The same where only the student is known: on a call. */
export function WarningsOf({
  student,
  words,
  named,
}: {
  student: Schemas["StudentRef"];
  words: string[];
  named: boolean;
}) {
  const sheet = useRead("/api/students/{id}", { id: student.id });
  return (
    <div className="warnings">
      <Warnings
        student={student}
        words={words}
        now={sheet.data?.warningsNow ?? []}
        mayChange={sheet.data?.inOffice ?? false}
        before={named && <span className="look-small look-muted">{student.name}</span>}
      >
        {sheet.data?.inOffice === false && <span className="look-small look-muted">The office changes warnings.</span>}
      </Warnings>
    </div>
  );
}
