import { useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";

/** What went out today, or would have: nothing leaves this machine in a demonstration. */
export default function Outbox() {
  const { at } = useAddress();
  const outbox = useRead("/api/outbox", { at });
  if (!outbox.data) return <Waiting error={outbox.error} />;
  return (
    <main className="page">
      <h1 className="visually-hidden">Outbox</h1>
      <Panel title="Outbox" aside={`${outbox.data.length} messages`}>
        {outbox.data.length === 0 ? (
          <p className="empty">No message went out on this day.</p>
        ) : (
          <table className="rows outbox">
            <thead>
              <tr>
                <th>At</th>
                <th>To</th>
                <th>Address</th>
                <th>Message</th>
                <th>State</th>
                <th>By</th>
              </tr>
            </thead>
            <tbody>
              {outbox.data.map((m) => (
                <tr key={`${m.at} ${m.to} ${m.words}`}>
                  <td>{m.at}</td>
                  <td>{m.to}</td>
                  <td>{m.address}</td>
                  <td>{m.words}</td>
                  <td>{m.state}</td>
                  <td>{m.by}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Panel>
    </main>
  );
}
