import type { QueryClient } from "@tanstack/react-query";

const channelName = "meldung-live";

/**
 * Follows what changes on the server. One tab of a browser holds the stream and
 * tells the others; when it closes, another takes over. Where the browser has no
 * locks (an insecure address), each tab has its own stream.
 */
export function followLive(queries: QueryClient, onLine: (connected: boolean) => void): () => void {
  const channel = new BroadcastChannel(channelName);
  const end = new AbortController();
  const changed = () => void queries.invalidateQueries();
  channel.onmessage = changed;
  const listen = () =>
    new Promise<void>((resolve) => {
      const stream = new EventSource("/api/live");
      let broken = false;
      stream.onopen = () => {
        onLine(true);
        if (broken) changed(); // something may have been missed
        broken = false;
      };
      stream.onerror = () => {
        broken = true;
        onLine(false);
      };
      stream.onmessage = () => {
        channel.postMessage("changed");
        changed();
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
