import { Button } from "antd";
import { type FormEvent, useState } from "react";
import type { Writing } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";

/** Says where students are, or were on an earlier day, and how one knows. */
export function Settle({
  students,
  date,
  write,
  done,
  back = false,
}: {
  students: number[];
  date?: string | undefined; // of an earlier day
  write: Writing;
  done: () => void;
  back?: boolean; // they have been seen since: what is missing is the reason
}) {
  const [how, setHow] = useState("");
  const [unexcused, setUnexcused] = useState(false);
  const store = (e: FormEvent) => {
    e.preventDefault();
    if (!how.trim()) return;
    write.mutate(
      { path: "/api/students/settled", body: { students, how, unexcused, ...(date ? { date } : {}) } },
      { onSuccess: done },
    );
  };
  return (
    <form className="say" aria-label="Settle" onSubmit={store} onKeyDown={(e) => e.key === "Escape" && done()}>
      <input
        className="plain"
        aria-label={back ? "Why they were away, and how you know" : "Where they are, and how you know"}
        placeholder={
          back
            ? "why they were away, and how you know"
            : date
              ? "where they were, and how you know"
              : "where they are, and how you know"
        }
        maxLength={300}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        value={how}
        onChange={(e) => setHow(e.target.value)}
      />
      <Tick checked={unexcused} onChange={setUnexcused}>
        unexcused
      </Tick>
      <Button size="small" type="primary" htmlType="submit" disabled={!how.trim()} loading={write.isPending}>
        {students.length > 1 ? `Settle ${students.length}` : "Settle"} <kbd>Enter</kbd>
      </Button>
    </form>
  );
}
