import { Button } from "antd";
import { useMemo, useSyncExternalStore } from "react";
import { useOutletContext } from "react-router";
import type { Schemas } from "../../api/client";
import { outboxOf } from "../../api/outbox";
import { codeWord } from "./taking";

/** Marks made here that came too late: the register was sent without them. Nothing is dropped unseen. */
export function LeftOver({ view }: { view: Schemas["RegisterView"] }) {
  const who = useOutletContext<Schemas["Who"]>();
  const { date } = view;
  const { class: group, slot, sentAt, sentBy } = view.register;
  const box = useMemo(() => outboxOf(who.account, { date, class: group, slot }), [who.account, date, group, slot]);
  const kept = useSyncExternalStore(box.subscribe, box.snapshot);
  const mine = [...kept.waiting.values(), ...[...kept.clashes.values()].map((c) => c.mine)];
  const differing = view.rows.flatMap((r) => {
    const mark = mine.find((m) => m.student === r.student.id);
    return mark && mark.code !== r.versions.at(-1)?.code ? [{ r, mark }] : [];
  });
  if (mine.length === 0 || kept.line === "storing") return null;
  return (
    <p className="notice" role="alert">
      {differing.length === 0 ? (
        <>What you marked here is the same as what was sent at {sentAt}. </>
      ) : (
        <>
          Sent at {sentAt} by {sentBy} without these marks of yours:{" "}
          {differing
            .map(({ r, mark }) =>
              [r.student.name, codeWord(view, mark.code) || "mark taken off", mark.time].filter(Boolean).join(" "),
            )
            .join("; ")}
          . Correct what is right, with a reason.{" "}
        </>
      )}
      <Button size="small" onClick={() => box.discard()}>
        Put them away
      </Button>
    </p>
  );
}
