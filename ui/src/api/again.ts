import type { Query, QueryClient } from "@tanstack/react-query";
import { concerns, coveredBy, type Topic } from "./topics";

const patience = 3_000; // ms after which a slow answer no longer holds up the next round
const pace = 250; // ms between the beginnings of rounds, however many changes come
const slowPace = 10_000; // ms between the answers to what is long and sums up

/** Something that has changed: which entry of the server's journal, about what, in which register only. */
export type Change = { seq?: number; about?: readonly Topic[]; scope?: string };

/** A round, what is to be looked at in the next, and one that was begun while it was going. */
type Round = { done: Promise<void>; next?: Promise<void>; since?: Promise<void> };

type State = {
  round?: Round | undefined;
  begun: number; // when the last round began, ms
  changes: Change[]; // to be looked at in the next round
  holds: number; // writes of this page that are on their way
  freed?: (() => void) | undefined;
  later?: ReturnType<typeof setTimeout> | undefined;
};
const states = new WeakMap<QueryClient, State>();

function stateOf(queries: QueryClient): State {
  const state = states.get(queries) ?? { begun: Number.NEGATIVE_INFINITY, changes: [], holds: 0 };
  states.set(queries, state);
  return state;
}

/**
 * Looks again at what a change concerns, one round after the other: what changes while a round is on its way is
 * looked at in the next. A new look drops the answers of the one before it, so on a busy morning, when changes
 * come faster than answers, a page that looked at each at once would never show any. Resolves when a round that
 * was begun after the call has ended.
 */
export function lookAgain(queries: QueryClient, change: Change = {}): Promise<void> {
  const state = stateOf(queries);
  state.changes.push(change);
  const going = state.round;
  if (!going) return begin(queries, ready(state));
  going.next ??= going.done.then(() => going.since ?? begin(queries, ready(state)));
  return going.next;
}

/** Begins a round at once, for whoever has just written something and waits for it. */
export function lookNow(queries: QueryClient): Promise<void> {
  const state = stateOf(queries);
  const going = state.round;
  state.changes = [{}];
  const done = begin(queries, Promise.resolve());
  if (going) going.since = done;
  return done;
}

/** Does something that writes; what the server tells meanwhile is looked at afterwards, unless it was then. */
export async function whileWriting<T>(queries: QueryClient, write: () => Promise<T>): Promise<T> {
  const state = stateOf(queries);
  state.holds++;
  try {
    return await write();
  } finally {
    state.holds--;
    if (state.holds === 0) {
      state.freed?.();
      state.freed = undefined;
    }
  }
}

/** Resolves when the next round may begin. */
async function ready(state: State): Promise<void> {
  const wait = state.begun + pace - performance.now();
  if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
  if (state.holds > 0)
    await new Promise<void>((resolve) => {
      const before = state.freed;
      state.freed = () => {
        before?.();
        resolve();
      };
    });
}

function begin(queries: QueryClient, may: Promise<void>): Promise<void> {
  const state = stateOf(queries);
  let timer: ReturnType<typeof setTimeout>;
  const looked = may.then(() => {
    const changes = state.changes;
    state.changes = [];
    state.begun = performance.now();
    const late = new Promise<void>((resolve) => {
      timer = setTimeout(resolve, patience);
    });
    return Promise.race([lookAt(queries, changes), late]);
  });
  const round: Round = {
    done: looked.finally(() => {
      clearTimeout(timer);
      if (!round.next && state.round === round) state.round = undefined;
    }),
  };
  state.round = round;
  return round.done;
}

/** A first answer that is on its way is not dropped, and may be of before the change: it is asked for twice. */
async function lookAt(queries: QueryClient, changes: Change[]): Promise<void> {
  const waiting: Change[] = [];
  const predicate = (query: Query) => {
    const news = changes.filter((change) => isNews(query, change));
    if (news.length === 0) return false;
    if (!dueAgain(query) && news.every((change) => change.seq)) {
      waiting.push(...news);
      return false;
    }
    return true;
  };
  const first = queries
    .getQueryCache()
    .findAll({ fetchStatus: "fetching", predicate: (query) => query.state.data === undefined });
  await queries.invalidateQueries({ predicate });
  if (first.length > 0) await queries.invalidateQueries({ predicate: (query) => first.includes(query) });
  if (waiting.length > 0) lookLater(queries, waiting);
}

/** Whether a query may show something else since a change. */
function isNews(query: Query, { seq, about, scope }: Change): boolean {
  const [path, params] = query.queryKey as [string, unknown];
  if (seq && coveredBy(query.queryKey) >= seq) return false;
  if (scope) return path === "/api/registers/{class}/{slot}" && inScope(params, scope);
  return !about || concerns(path, about);
}

function inScope(params: unknown, scope: string): boolean {
  const [date, group, ...words] = scope.split(" ");
  const asked = (params ?? {}) as { class?: number; slot?: string; at?: string };
  return (
    asked.class === Number(group) && asked.slot === words.join(" ") && (!asked.at || asked.at.startsWith(date ?? ""))
  );
}

/** What is long and sums up does not follow every change of a morning at once. */
const long = ["/api/absence", "/api/absence/grid", "/api/steps", "/api/concerns", "/api/lates", "/api/unexplained"];

function dueAgain(query: Query): boolean {
  return !long.includes(query.queryKey[0] as string) || Date.now() - query.state.dataUpdatedAt >= slowPace;
}

function lookLater(queries: QueryClient, changes: Change[]) {
  const state = stateOf(queries);
  const seqs = changes.map((change) => change.seq ?? 0);
  const all: Change = { seq: Math.max(...seqs), about: [...new Set(changes.flatMap((change) => change.about ?? []))] };
  clearTimeout(state.later);
  state.later = setTimeout(
    () => void lookAgain(queries, all.about?.length ? all : { seq: all.seq ?? 0 }),
    slowPace / 2,
  );
}
