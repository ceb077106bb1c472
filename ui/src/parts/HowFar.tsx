import { Button } from "antd";
import { useEffect, useRef, useState } from "react";
import { read, type WritePath, type WriteTo, type Written, write } from "../api/client";

const soon = 1000; // ms after which it is shown how far something is
const every = 400; // ms

type Far = { done: number; of: number };

/** Something that may take long: how far it is past a second, and a way to end it. */
export function useLong() {
  const [name] = useState(() => `long ${Math.random().toString(36).slice(2)}`);
  const [busy, setBusy] = useState(false);
  const [far, setFar] = useState<Far>();
  const ends = useRef<AbortController>(undefined);
  useEffect(() => () => ends.current?.abort(), []);
  useEffect(() => {
    if (!busy) return;
    let timer = setTimeout(look, soon);
    async function look() {
      const next = await read("/api/progress", { name }).catch(() => undefined);
      if (next?.of) setFar(next);
      timer = setTimeout(look, every);
    }
    return () => {
      clearTimeout(timer);
      setFar(undefined);
    };
  }, [busy, name]);
  const run = async <P extends WritePath>(one: (name: string) => WriteTo<P>): Promise<Written<P> | undefined> => {
    const mine = new AbortController();
    ends.current = mine;
    setBusy(true);
    try {
      return await write(one(name), undefined, mine.signal);
    } catch (e) {
      if (mine.signal.aborted) return undefined;
      throw e;
    } finally {
      setBusy(false);
    }
  };
  return { run, busy, far, cancel: () => ends.current?.abort() };
}

/** How far something is, and a way to end it. */
export function HowFar({
  of,
  what,
}: {
  of: { busy: boolean; far: Far | undefined; cancel: () => void };
  what: string;
}) {
  if (!of.busy || !of.far) return null;
  return (
    <span className="look-small look-nowrap" role="status">
      <progress aria-label={what} value={of.far.done} max={of.far.of} /> {of.far.done} of {of.far.of}{" "}
      <Button size="small" onClick={of.cancel}>
        Cancel
      </Button>
    </span>
  );
}
