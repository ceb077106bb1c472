import type { QueryClient } from "@tanstack/react-query";
import { type Change, lookAgain } from "./again";

const channelName = "meldung-live";
const pauses = [1_000, 2_000, 5_000, 10_000, 30_000]; // ms before the line is opened again

/** What the server says has changed. */
type Changed = Change & { kind?: string };

/** What the tabs of a browser tell each other. */
type Told = { event: string } | { line: boolean } | { ask: true };

/**
 * Follows what changes on the server. One tab of a browser holds the stream and tells the others, also that it is
 * down; when it closes, another takes over. Where the browser has no locks (an insecure address), each tab has its
 * own stream. A stream that was refused is opened again after a pause.
 */
export function followLive(
  queries: QueryClient,
  onLine: (connected: boolean) => void,
  heard: (kind: string) => void,
): () => void {
  const channel = new BroadcastChannel(channelName);
  const end = new AbortController();
  let holding = false;
  let connected = true;
  const changed = (text: string) => {
    const event = (text ? JSON.parse(text) : {}) as Changed;
    if (event.kind) heard(event.kind);
    void lookAgain(queries, event);
  };
  const line = (on: boolean) => {
    connected = on;
    onLine(on);
    channel.postMessage({ line: on } satisfies Told);
  };
  channel.onmessage = ({ data }: MessageEvent<Told>) => {
    if ("event" in data) changed(data.event);
    else if ("line" in data) onLine(data.line);
    else if (holding) channel.postMessage({ line: connected } satisfies Told);
  };
  channel.postMessage({ ask: true } satisfies Told);
  const listen = () =>
    new Promise<void>((resolve) => {
      holding = true;
      let stream: EventSource;
      let timer: ReturnType<typeof setTimeout>;
      let failures = 0;
      let broken = false;
      const open = () => {
        stream = new EventSource("/api/live");
        stream.onopen = () => {
          failures = 0;
          line(true);
          if (broken) {
            changed(""); // something may have been missed
            channel.postMessage({ event: "" } satisfies Told);
          }
          broken = false;
        };
        stream.onerror = () => {
          broken = true;
          line(false);
          if (stream.readyState !== EventSource.CLOSED) return; // the browser tries again by itself
          void queries.invalidateQueries({ queryKey: ["/api/session"] }); // it may have ended
          timer = setTimeout(open, pauses[Math.min(failures++, pauses.length - 1)]);
        };
        stream.onmessage = (event: MessageEvent<string>) => {
          channel.postMessage({ event: event.data } satisfies Told);
          changed(event.data);
        };
      };
      open();
      end.signal.addEventListener("abort", () => {
        clearTimeout(timer);
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
