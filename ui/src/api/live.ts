import type { QueryClient } from "@tanstack/react-query";
import { lookAgain } from "./again";

const channelName = "meldung-live";

/** What the server says has changed; a scope is all that the change concerns. */
type Changed = { seq: number; kind: string; scope?: string };

/** Looks again at what an event concerns: one register where it names one, else everything. */
export function refresh(queries: QueryClient, event: Partial<Changed>): void {
  if (!event.scope) {
    void lookAgain(queries);
    return;
  }
  const [date, group, ...words] = event.scope.split(" ");
  const slot = words.join(" ");
  void queries.invalidateQueries({
    predicate: ({ queryKey: [path, params] }) => {
      const asked = (params ?? {}) as { class?: number; slot?: string; at?: string };
      return (
        path === "/api/registers/{class}/{slot}" &&
        asked.class === Number(group) &&
        asked.slot === slot &&
        (!asked.at || asked.at.startsWith(date ?? ""))
      );
    },
  });
}

/**
 * Follows what changes on the server. One tab of a browser holds the stream and
 * tells the others; when it closes, another takes over. Where the browser has no
 * locks (an insecure address), each tab has its own stream.
 */
export function followLive(
  queries: QueryClient,
  onLine: (connected: boolean) => void,
  heard: (kind: string) => void,
): () => void {
  const channel = new BroadcastChannel(channelName);
  const end = new AbortController();
  const changed = (text: string) => {
    const event = (text ? JSON.parse(text) : {}) as Partial<Changed>;
    if (event.kind) heard(event.kind);
    refresh(queries, event);
  };
  channel.onmessage = (event: MessageEvent<string>) => changed(event.data);
  const listen = () =>
    new Promise<void>((resolve) => {
      const stream = new EventSource("/api/live");
      let broken = false;
      stream.onopen = () => {
        onLine(true);
        if (broken) changed(""); // something may have been missed
        broken = false;
      };
      stream.onerror = () => {
        broken = true;
        onLine(false);
      };
      stream.onmessage = (event: MessageEvent<string>) => {
        channel.postMessage(event.data);
        changed(event.data);
      };
      end.signal.addEventListener("abort", () => {
        stream.close();
        resolve();
      });
    });
  if (navigator.locks) {
    navigator.locks.request(channelName, { signal: end.signal }, listen).catch(() => undefined);
  } else {
    void listen();
  }
  return () => {
    end.abort();
    channel.close();
  };
}
