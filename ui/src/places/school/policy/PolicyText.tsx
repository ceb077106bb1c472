import "./file.css";

/** A policy's file with its lines numbered; the wrong one is marked. */
export function PolicyText({
  text,
  wrong,
  change,
}: {
  text: string;
  wrong: number; // line; 0 for none
  change: (text: string) => void;
}) {
  const lines = text.split("\n").length;
  return (
    <div className="numbered-file">
      <div className="numbers" aria-hidden="true">
        {Array.from({ length: lines }, (_, i) => i + 1).map((n) => (
          <span key={n} className={n === wrong ? "wrong-line" : undefined}>
            {n}
          </span>
        ))}
      </div>
      <textarea
        aria-label="The policy as its file"
        aria-invalid={wrong > 0}
        wrap="off"
        spellCheck={false}
        autoCapitalize="off"
        rows={lines}
        maxLength={100_000}
        value={text}
        onChange={(e) => change(e.target.value)}
      />
    </div>
  );
}
