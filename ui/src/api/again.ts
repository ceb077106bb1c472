import type { QueryClient } from "@tanstack/react-query";

const patience = 3_000; // ms after which a slow answer no longer holds up the next round

/** A round, the one that is to follow it, and one that was begun while it was going. */
type Round = { done: Promise<void>; next?: Promise<void>; since?: Promise<void> };
const rounds = new WeakMap<QueryClient, Round>();

/**
 * Looks again at everything that is shown, one round after the other: what changes while a round is on its
 * way is looked at in the next. A new look drops the answers of the one before it, so on a busy morning, when
 * changes come faster than answers, a page that looked at each at once would never show any. Resolves when a
 * round that was begun after the call has ended.
 */
export function lookAgain(queries: QueryClient): Promise<void> {
  const going = rounds.get(queries);
  if (!going) return begin(queries);
  going.next ??= going.done.then(() => going.since ?? begin(queries));
  return going.next;
}

/** Begins a round at once, for whoever has just written something and waits for it. */
export function lookNow(queries: QueryClient): Promise<void> {
  const going = rounds.get(queries);
  const done = begin(queries);
  if (going) going.since = done;
  return done;
}

function begin(queries: QueryClient): Promise<void> {
  let timer: ReturnType<typeof setTimeout>;
  const late = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, patience);
  });
  const round: Round = {
    done: Promise.race([lookAtAll(queries), late]).finally(() => {
      clearTimeout(timer);
      if (!round.next && rounds.get(queries) === round) rounds.delete(queries);
    }),
  };
  rounds.set(queries, round);
  return round.done;
}

/** A first answer that is on its way is not dropped, and may be of before the change: it is asked for twice. */
async function lookAtAll(queries: QueryClient): Promise<void> {
  const first = queries
    .getQueryCache()
    .findAll({ fetchStatus: "fetching", predicate: (query) => query.state.data === undefined });
  await queries.invalidateQueries();
  if (first.length > 0) await queries.invalidateQueries({ predicate: (query) => first.includes(query) });
}
