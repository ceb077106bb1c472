import { useEffect } from "react";
import { Refusal, type Schemas } from "./client";

const prefix = "meldung kept|";
const session = "session";
const keeps = 24 * 3_600_000; // ms for which an answer is of use

/** An answer that this browser keeps for when the line is down, and when it was had: ms. */
type Kept<A> = { had: number; answer: A };

function keep(name: string, answer: unknown) {
  localStorage.setItem(prefix + name, JSON.stringify({ had: Date.now(), answer }));
}

/** What was kept under a name; undefined for nothing, or for what is too old. */
export function kept<A>(name: string): A | undefined {
  try {
    const one = JSON.parse(localStorage.getItem(prefix + name) ?? "null") as Kept<A> | null;
    if (one && Date.now() - one.had < keeps) return one.answer;
  } catch {
    // nobody wrote that: it goes
  }
  localStorage.removeItem(prefix + name);
  return undefined;
}

/**
 * Keeps what a page was answered, and for whom, as long as `wanted` says; what a page was refused, or no longer
 * wants, is removed. Without a line what was kept stays.
 */
export function useKeeping<A>(
  name: string,
  who: Schemas["Who"],
  query: { data?: A; error: Error | null },
  wanted: (answer: A) => boolean,
) {
  const { data, error } = query;
  const refused = error instanceof Refusal && error.status < 500;
  const want = data !== undefined && !refused && wanted(data);
  useEffect(() => {
    if (refused || (data !== undefined && !want)) localStorage.removeItem(prefix + name);
    else if (want && !error) {
      keep(name, data);
      keep(session, who);
    }
  }, [data, error, name, refused, want, who]);
}

/** Who was signed in when something was kept. */
export const keptSession = () => kept<Schemas["Who"]>(session);

/** Nobody is signed in: nothing is kept. */
export function forgetKept() {
  for (const name of Object.keys(localStorage)) if (name.startsWith(prefix)) localStorage.removeItem(name);
}

/** Has the browser keep the pages that open with the line down; only a secure address may. */
export async function keepPages() {
  if (!("serviceWorker" in navigator) || import.meta.env.DEV) return;
  await navigator.serviceWorker.register("/offline-worker.js").catch(() => undefined);
}
