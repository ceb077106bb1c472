import type { Schemas } from "../api/client";

/** What a policy says, in sentences by matter. */
export function PolicyWords({ parts }: { parts: Schemas["Matter"][] }) {
  return (
    <>
      {parts.map((part) => (
        <section key={part.about} className="look-two" aria-label={part.about}>
          <h3>{part.about}</h3>
          <ul className="under">
            {part.lines.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </section>
      ))}
    </>
  );
}
