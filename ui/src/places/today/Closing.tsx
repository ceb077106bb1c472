import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas, Writing } from "../../api/client";
import { useKeys } from "../../parts/keys";
import { plural } from "../../parts/words";

/** Safe arrival of each section in sight; a key closes the first that can be closed. */
export function Closing({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const first = t.safe.find((s) => s.state === "ready");
  useKeys({ c: () => first && close(write, first, t) }, may && first !== undefined);
  return (
    <>
      {t.safe.map((s) => (
        <SafeArrival key={s.section} s={s} t={t} may={may} write={write} byKey={s === first} />
      ))}
    </>
  );
}

const close = (write: Writing, s: Schemas["SafeArrival"], t: Schemas["TodayView"]) =>
  write.mutate({
    path: "/api/safe-arrival/close",
    body: { section: s.section, ...(t.past ? { date: t.date } : {}) },
  });

/** Safe arrival: closed with name and time, opened again with a reason, and its record. */
function SafeArrival({
  s,
  t,
  may,
  write,
  byKey,
}: {
  s: Schemas["SafeArrival"];
  t: Schemas["TodayView"];
  may: boolean;
  write: Writing;
  byKey: boolean;
}) {
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const reopen = () => {
    if (!reason.trim()) return;
    write.mutate({ path: "/api/safe-arrival/reopen", body: { section: s.section, reason } });
    setAsking(false);
    setReason("");
  };
  if (s.state === "none") return null;
  const missing = [
    s.registers - s.registersIn > 0 && `${s.registersIn} of ${s.registers} registers of ${s.slot} are in`,
    s.unaccounted > 0 && `${plural(s.unaccounted, "student")} unaccounted for or not yet known`,
  ].filter(Boolean);
  return (
    <div className={`closing ${s.state}`} role="status" data-testid="safe-arrival" data-state={s.state}>
      {s.state === "closed" ? (
        <b>
          {s.name && `${s.name}: `}
          {s.text}
        </b>
      ) : (
        <span>
          {s.name ? `${s.name}: safe arrival is` : "Safe arrival is"}{" "}
          <b className={s.state === "ready" ? "" : "look-overdue"}>
            {s.state === "ready" ? "ready to close" : s.state}
          </b>
          {missing.length > 0 ? `: ${missing.join(", ")}.` : "."} {s.state !== "open" && s.text}
        </span>
      )}
      {s.state === "ready" && may && (
        <Button type="primary" onClick={() => close(write, s, t)}>
          Close safe arrival {byKey && <kbd>C</kbd>}
        </Button>
      )}
      {s.state === "closed" && may && !t.past && !asking && (
        <Button size="small" onClick={() => setAsking(true)}>
          Open it again
        </Button>
      )}
      {asking && s.state === "closed" && (
        <form
          className="reopen"
          onSubmit={(e) => {
            e.preventDefault();
            reopen();
          }}
        >
          <input
            className="plain"
            aria-label={s.name ? `Why ${s.name} is opened again` : "Why it is opened again"}
            placeholder="why"
            // biome-ignore lint/a11y/noAutofocus: it was asked for
            autoFocus
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            onKeyDown={(e) => e.key === "Escape" && setAsking(false)}
          />
          <Button size="small" htmlType="submit" disabled={!reason.trim()}>
            Open safe arrival again
          </Button>
        </form>
      )}
      <Link className="look-small look-nowrap" to={t.past ? `/protocol?at=${t.date}` : "/protocol"}>
        Record of the morning
      </Link>
    </div>
  );
}
