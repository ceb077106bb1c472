import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { lookAgain } from "../../api/again";
import { Refusal, write } from "../../api/client";
import { tell } from "../../parts/told";

const retry = 3_000; // ms before the server is tried again

/** What a leader said of a student, and when: ms, by this machine's clock. */
type Said = { here: boolean; made: number };
type Kept = Record<string, Said>; // by student

function parse(text: string | null): Kept {
  try {
    return text ? (JSON.parse(text) as Kept) : {};
  } catch {
    return {};
  }
}

/**
 * What a leader says of the students of a trip. It is written into the browser's storage before anything else
 * happens and leaves it when the server has it: on a boat the line is down for an hour.
 */
export function useSaid(account: number, trip: number) {
  const queries = useQueryClient();
  const name = `meldung trip|${account}|${trip}`; // nobody sends what another said
  const [kept, setKept] = useState<Kept>(() => parse(localStorage.getItem(name)));
  const [down, setDown] = useState(false);
  const busy = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  const keep = useCallback(
    (next: Kept) => {
      if (Object.keys(next).length > 0) localStorage.setItem(name, JSON.stringify(next));
      else localStorage.removeItem(name);
      setKept(next);
    },
    [name],
  );
  const flush = useCallback(async () => {
    clearTimeout(timer.current);
    timer.current = undefined;
    // What was said in one go goes out together, the oldest first: each with its own time.
    const all = Object.entries(parse(localStorage.getItem(name)));
    const first = Math.min(...all.map(([, s]) => s.made));
    const out = all.filter(([, s]) => s.made === first);
    if (busy.current || out.length === 0) return;
    busy.current = true;
    const those = (here: boolean) => out.filter(([, s]) => s.here === here).map(([id]) => Number(id));
    const ago = Math.max(0, Math.round((Date.now() - first) / 1000));
    /** Takes off what went out, where nothing else was said of the student meanwhile. */
    const gone = () => {
      const sent = new Map(out.map(([id, s]) => [id, s.made]));
      keep(
        Object.fromEntries(
          Object.entries(parse(localStorage.getItem(name))).filter(([id, s]) => sent.get(id) !== s.made),
        ),
      );
    };
    try {
      await write({
        path: "/api/trips/{trip}/marks",
        params: { trip },
        body: { here: those(true), missing: those(false), ago },
      });
      gone();
      setDown(false);
      void lookAgain(queries);
    } catch (e) {
      if (e instanceof Refusal && e.status < 500 && e.status !== 401) {
        gone();
        tell.wrong(e.message);
      } else {
        setDown(true);
        timer.current = setTimeout(() => void flush(), retry);
      }
    } finally {
      busy.current = false;
    }
    if (Object.keys(parse(localStorage.getItem(name))).length > 0 && !timer.current) void flush();
  }, [keep, name, queries, trip]);
  useEffect(() => {
    void flush();
    const back = () => void flush();
    window.addEventListener("online", back);
    return () => {
      window.removeEventListener("online", back);
      clearTimeout(timer.current);
    };
  }, [flush]);

  const say = (students: number[], here: boolean) => {
    const made = Date.now();
    keep({ ...parse(localStorage.getItem(name)), ...Object.fromEntries(students.map((id) => [id, { here, made }])) });
    void flush();
  };
  return { kept, down, say };
}
