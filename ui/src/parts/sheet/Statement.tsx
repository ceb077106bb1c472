import { Button, Input } from "antd";
import { useState } from "react";
import { useWrite } from "../../api/client";
import { DateField } from "../controls/DateField";
import { tell } from "../told";

/** What a student missed, day by day with the codes and what they mean, to print or to send: over which dates, without which codes. */
export function Statement({ student, maySend }: { student: number; maySend: boolean }) {
  const send = useWrite({
    done: (r) => {
      tell.receipt(r);
      setOpen(false);
    },
    failed: (e) => tell.wrong(e.message),
  });
  const [open, setOpen] = useState(false);
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [without, setWithout] = useState("");
  const codes = without.split(/[\s,]+/).filter(Boolean);
  const query = new URLSearchParams({
    ...(from && { from }),
    ...(to && { to }),
    ...(codes.length > 0 && { without: codes.join(",") }),
  });
  if (!open)
    return (
      <Button size="small" onClick={() => setOpen(true)}>
        Statement …
      </Button>
    );
  return (
    <span className="statement">
      <DateField label="Statement from" size="small" back optional value={from} onChange={setFrom} placeholder="from" />
      <DateField label="Statement to" size="small" back optional value={to} onChange={setTo} placeholder="to" />
      <Input
        size="small"
        aria-label="Codes that are left out"
        placeholder="without: L LX"
        value={without}
        onChange={(e) => setWithout(e.target.value)}
      />
      <Button size="small" type="primary" href={`/api/students/${student}/statement?${query}`} target="_blank">
        Print
      </Button>
      {maySend && (
        <Button
          size="small"
          loading={send.isPending}
          onClick={() =>
            send.mutate({
              path: "/api/students/{id}/statement",
              params: { id: student },
              body: { from: from || undefined, to: to || undefined, without: codes.length > 0 ? codes : undefined },
            })
          }
        >
          Send home by e-mail
        </Button>
      )}
      <Button size="small" onClick={() => setOpen(false)}>
        Cancel
      </Button>
    </span>
  );
}
