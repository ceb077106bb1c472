import { type Schemas, useRead } from "../../api/client";

/** The letters that a step asks for, by the figures as they stand now. */
export function LetterOf({ s }: { s: Schemas["StepView"] }) {
  const { student, ...named } = s.ref;
  const letters = useRead("/api/letters/preview", { of: student, ...named });
  if (letters.error)
    return (
      <p className="empty" role="alert">
        {letters.error.message}
      </p>
    );
  if (!letters.data) return null;
  return letters.data.map((l) => (
    <div key={l.recipient.join()}>
      <Sheet l={l} />
      <p className="look-small look-muted from">
        {l.letter}, version {l.version}
        {l.language && `, ${l.language} for this home`}. The figures hold now; they are looked at again when it is
        printed.
      </p>
    </div>
  ));
}

/** A letter as it will be on paper. */
export function Sheet({ l }: { l: Schemas["LetterView"] }) {
  return (
    <article className="letter" aria-label={`Letter to ${l.recipient[0]}`}>
      <div className="ends">
        <address>
          {l.recipient.map((line) => (
            <div key={line}>{line}</div>
          ))}
          {l.noAddress && <div className="look-overdue">no address on file</div>}
        </address>
        <div className="from-school">
          {l.sender.map((line, i) => (
            <div key={line} className={i === 0 ? "look-strong" : undefined}>
              {line}
            </div>
          ))}
          <div>{l.date}</div>
        </div>
      </div>
      <h3>{l.subject}</h3>
      {l.paragraphs.map((p) => (
        <p key={p}>{p}</p>
      ))}
    </article>
  );
}
