import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { type Schemas, useRead, useWrite, write } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

/** Devices that students sign in and out on. */
export function Stations() {
  const stations = useRead("/api/stations");
  const [name, setName] = useState("");
  const [made, setMade] = useState<Schemas["StationCode"]>();
  const end = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const add = async (e: FormEvent) => {
    e.preventDefault();
    try {
      setMade(await write({ path: "/api/stations", body: { name } }));
      setName("");
      await stations.refetch();
    } catch (fault) {
      tell.wrong((fault as Error).message);
    }
  };
  return (
    <Panel title="Stations" extra={stations.data?.length || undefined}>
      {made && (
        <div className="look-line" role="status">
          <span>
            Open <b>/station</b> on the device at {made.name} and type{" "}
            <b className="look-nowrap" data-testid="station-code">
              {made.code.slice(0, 4)} {made.code.slice(4)}
            </b>{" "}
            <span className="look-muted">once, before {made.until}. It is not shown again.</span>
          </span>
        </div>
      )}
      {stations.data?.length === 0 && !made && <p className="empty">No station: students sign in only at the desk.</p>}
      {stations.data?.map((s) => (
        <div className="look-line" key={s.id}>
          <b>{s.name}</b>
          <span className="look-small look-muted">
            {s.state} {s.state === "in use" ? "since" : "until"} {s.since}
            {s.wrong > 0 && ` · ${s.wrong} wrong numbers`}
          </span>
          <button
            type="button"
            className="link look-small look-muted look-push"
            aria-label={`Take the station ${s.name} out of use`}
            onClick={() => end.mutate({ path: "/api/stations/{id}/end", params: { id: s.id } })}
          >
            out of use
          </button>
        </div>
      ))}
      <form className="look-line" onSubmit={(e) => void add(e)}>
        <Input
          size="small"
          aria-label="Where the station stands"
          placeholder="where it stands"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" htmlType="submit" disabled={!name.trim()}>
          New station
        </Button>
      </form>
    </Panel>
  );
}
