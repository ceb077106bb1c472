import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas, Writing } from "../../api/client";
import { useKeys } from "../../parts/keys";

/** Safe arrival: closed with name and time, opened again with a reason, and its record. */
export function Closing({ t, may, write }: { t: Schemas["TodayView"]; may: boolean; write: Writing }) {
  const s = t.safe;
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const close = () => write.mutate({ path: "/api/safe-arrival/close" });
  const reopen = () => {
    if (!reason.trim()) return;
    write.mutate({ path: "/api/safe-arrival/reopen", body: { reason } });
    setAsking(false);
    setReason("");
  };
  useKeys({ c: close }, may && s.state === "ready");
  if (s.state === "none") return null;
  const missing = [
    s.registers - s.registersIn > 0 && `${s.registers - s.registersIn} of ${s.registers} registers are out`,
    s.unaccounted > 0 && `${s.unaccounted} students are unaccounted for or not yet known`,
  ].filter(Boolean);
  return (
    <div className={`closing ${s.state}`} role="status" data-testid="safe-arrival" data-state={s.state}>
      {s.state === "closed" ? (
        <b>{s.text}</b>
      ) : (
        <span>
          Safe arrival is{" "}
          <b className={s.state === "ready" ? "" : "overdue"}>{s.state === "ready" ? "ready to close" : s.state}</b>.{" "}
          {s.text} {missing.length > 0 && <span className="muted">{missing.join("; ")}.</span>}
        </span>
      )}
      {s.state === "ready" && may && (
        <Button type="primary" onClick={close}>
          Close safe arrival <kbd>C</kbd>
        </Button>
      )}
      {s.state === "closed" && may && !asking && (
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
            aria-label="Why it is opened again"
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
      <Link className="small nowrap" to="/protocol">
        Record of the morning
      </Link>
    </div>
  );
}
