import { Button } from "antd";
import { useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { covering, useCovered, useScope } from "../../parts/scope";
import { tell } from "../../parts/told";

const ways: Record<Schemas["MessageView"]["channel"], string> = {
  text: "text",
  "e-mail": "e-mail",
  page: "on their page",
};

/** Which messages leave the house, in words. */
function leaving(lines: Schemas["Lines"]): string {
  if (lines.text === "simulated") return "simulated: nothing leaves this machine";
  const none = [lines.text === "none" && "texts", lines.eMail === "none" && "e-mails"].filter(Boolean);
  return none.length > 0 ? `no carrier for ${none.join(" and ")} is set up: they wait here` : "";
}

/** What went out on a day, or waits, and what became of it. */
export default function Outbox() {
  const { at } = useAddress();
  const who = useOutletContext<Schemas["Who"]>();
  const covered = useCovered();
  const outbox = useRead("/api/outbox", { at, section: useScope() });
  const again = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  if (!outbox.data) return <Waiting error={outbox.error} />;
  const failed = outbox.data.filter((m) => m.state === "failed").length;
  return (
    <main className="page today-place">
      <h1 className="visually-hidden">Outbox</h1>
      <Panel
        title={["Outbox", covered].filter(Boolean).join(", ")}
        extra={[`${outbox.data.length} messages${failed > 0 ? `, ${failed} not delivered` : ""}`, leaving(who.lines)]
          .filter(Boolean)
          .join(" · ")}
      >
        {outbox.data.length === 0 ? (
          <p className="empty">No message{covering(covered)} went out on this day.</p>
        ) : (
          <table className="rows outbox">
            <thead>
              <tr>
                <th>At</th>
                <th>To</th>
                <th>Way</th>
                <th>Message</th>
                <th>What became of it</th>
                <th>By</th>
              </tr>
            </thead>
            <tbody>
              {outbox.data.map((m) => (
                <tr key={m.id}>
                  <td>{m.at}</td>
                  <td>{m.to}</td>
                  <td>
                    {ways[m.channel]}
                    {m.address && <div className="look-small look-muted">{m.address}</div>}
                  </td>
                  <td>{m.text}</td>
                  <td>
                    {m.steps.length === 0 && <span className="look-muted">{m.trying || m.state}</span>}
                    {m.steps.map((s) => (
                      <div key={`${s.at} ${s.state}`} className={s.state === "failed" ? "failed" : undefined}>
                        {s.at} {s.state}
                        {s.text && `: ${s.text}`}
                      </div>
                    ))}
                    {m.state === "failed" && who.inOffice && (
                      <Button
                        size="small"
                        onClick={() => again.mutate({ path: "/api/messages/{id}/again", params: { id: m.id } })}
                      >
                        Send again{m.channel === "text" && m.kind !== "home" && " by e-mail"}
                      </Button>
                    )}
                  </td>
                  <td className="look-nowrap">{m.by || "automatic"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Panel>
    </main>
  );
}
