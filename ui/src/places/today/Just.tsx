import { Button } from "antd";
import type { Schemas, Writing } from "../../api/client";
import { useKeys } from "../../parts/keys";

const told = (j: Schemas["Just"]) =>
  `${j.text}${j.before === j.after ? "" : `, unaccounted for ${j.before} → ${j.after}`}`;

/**
 * What has just happened, in one line. Undo takes back the newest of one's own, never what somebody
 * else has done: who presses it without looking takes back what they remember.
 */
export function JustNow({
  t,
  name,
  may,
  write,
  last,
  texts,
  takenBack,
}: {
  t: Schemas["TodayView"];
  name: string;
  may: boolean;
  write: Writing;
  last: Schemas["Receipt"] | undefined; // what this window has stored last
  texts: Schemas["Receipt"] | undefined; // texts that have not left yet
  takenBack: () => void; // those texts
}) {
  const own = t.just.find((j) => j.undo && j.by === name);
  const first = own ?? t.just[0];
  // What changes nobody's place is no line of its own, and is told once.
  const plain = last && !t.just.some((j) => j.entry === last.seq) && last.seq > (first?.entry ?? 0) ? last.text : "";
  const entry = texts?.seq ?? (plain ? undefined : own?.entry);
  const undo = () =>
    entry &&
    write.mutate({ path: "/api/entries/{id}/back", params: { id: entry } }, { onSuccess: () => texts && takenBack() });
  useKeys({ z: undo }, may && entry !== undefined);
  if (!first && !plain && !texts) return null;
  const others = t.just.filter((j) => plain !== "" || j !== first).slice(0, 2);
  return (
    <section className="panel just" aria-label="What has just happened">
      <span role="status">
        {texts && <b>{texts.text}. They leave in ten seconds. </b>}
        {!texts &&
          (plain || (
            <>
              <b>{first?.at}</b> {first && told(first)}
            </>
          ))}
      </span>
      {may && entry !== undefined && (
        <Button size="small" loading={write.isPending} onClick={undo}>
          {texts ? "Take the texts back" : "Undo"} <kbd>Z</kbd>
        </Button>
      )}
      <span className="look-small look-muted look-push">{others.map((j) => `${j.at} ${told(j)}`).join(" · ")}</span>
    </section>
  );
}
