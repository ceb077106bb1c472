import { Modal } from "antd";
import { type Schemas, useRead } from "../../api/client";

type Window = Schemas["CheckInView"];

/** The code for the whole class to see; it changes every 20 seconds. */
export function ShowCode({ window: w, title, close }: { window: Window; title: string; close: () => void }) {
  const code = useRead(
    "/api/check-ins/{id}/code",
    { id: w.id },
    { staleTime: 0, refetchInterval: (q) => ((q.state.data?.changesIn ?? 2) + 0.1) * 1000 },
  );
  return (
    <Modal open onCancel={close} footer={null} width={760} title={`Check in to ${title}, until ${w.closes}`} centered>
      {code.data ? (
        <div className="showcode">
          <img src={`data:image/png;base64,${code.data.picture}`} alt={`QR code of ${code.data.address}`} />
          <div>
            <p>Scan, or open</p>
            <p className="address">{code.data.address}</p>
            <p>and enter</p>
            <p className="digits" data-testid="code">
              {code.data.code.slice(0, 3)} {code.data.code.slice(3)}
            </p>
            <p className="look-muted">It changes every 20 seconds.</p>
            <p>
              <b>{w.entries.length}</b> of {code.data.of} are in
            </p>
          </div>
        </div>
      ) : (
        <p role="status">{code.error ? code.error.message : "Fetching …"}</p>
      )}
    </Modal>
  );
}
