import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { lookAgain } from "../api/again";
import { useRead } from "../api/client";
import { followOutboxes, type Outbox, outboxesOf } from "../api/outbox";
import { tell } from "./told";
import { plural } from "./words";

/** A register that does not go out by itself: its teacher has to look at it, and is told on whatever page. */
export function Stuck({ box }: { box: Outbox }) {
  const { pathname } = useLocation();
  const { date, class: group, slot } = box.register;
  const today = useRead("/api/rail", {}).data?.date === date;
  const view = useRead("/api/registers/{class}/{slot}", { class: group, slot, at: today ? undefined : date });
  const address = `/registers/${group}/${slot}`;
  const open = pathname === address;
  useEffect(() => {
    if (open) box.lookedAt();
  }, [open, box]);
  if (open) return null;
  const { clashes, words } = box.snapshot();
  const why = clashes.size > 0 ? `${plural(clashes.size, "student")} marked differently by someone else` : words;
  return (
    <p className="told" role="alert">
      {view.data ? `${view.data.register.title} ${slot}, ${view.data.label}` : `A register of ${date}, ${slot}`}, is not
      sent: {why}. Your marks are kept.{" "}
      <Link className="look-strong" to={today ? address : `${address}?at=${date}`}>
        Open it
      </Link>
    </p>
  );
}

type Unsent = { waiting: number; stuck: Outbox[] };

/** Sends what this machine still keeps of a person's registers; returns how many wait for the line, and which will not go by themselves. */
export function useUnsent(account: number): Unsent {
  const queries = useQueryClient();
  const [unsent, setUnsent] = useState<Unsent>({ waiting: 0, stuck: [] });
  useEffect(() => {
    const look = () => {
      const boxes = outboxesOf(account);
      setUnsent({
        waiting: boxes.filter((box) => box.waits()).length,
        stuck: boxes.filter((box) => box.stuck()),
      });
    };
    return followOutboxes(account, look, (words, ok) => {
      if (ok) tell.done(words);
      else tell.wrong(words);
      void lookAgain(queries);
    });
  }, [account, queries]);
  return unsent;
}
