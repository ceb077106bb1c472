import { Button, Select } from "antd";
import { useState } from "react";
import { useRead, useWrite } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

/** Who takes whose registers on the day looked at; named and ended here. */
export function StandIns({ at }: { at: string | undefined }) {
  const list = useRead("/api/stand-ins", { at });
  const [adding, setAdding] = useState(false);
  const [absent, setAbsent] = useState<number>();
  const [takes, setTakes] = useState<number>();
  const [slots, setSlots] = useState<string[]>([]);
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      setAdding(false);
      setAbsent(undefined);
      setTakes(undefined);
      setSlots([]);
    },
    failed: (e) => tell.wrong(e.message),
  });
  if (!list.data) return null;
  const { standIns, staff, date, label: words } = list.data;
  const people = staff.map((s) => ({ value: s.id, label: s.name }));
  const search = { optionFilterProp: "label" };
  return (
    <Panel
      className="standins"
      title="Cover"
      extra={
        <>
          {standIns.length === 0 && `Every teacher takes their own registers on ${words}. `}
          <Button size="small" type="link" onClick={() => setAdding(!adding)} aria-expanded={adding}>
            {adding ? "Close" : "Name a cover"}
          </Button>
        </>
      }
      bare={standIns.length === 0 && !adding}
    >
      {standIns.length > 0 && (
        <table className="rows">
          <tbody>
            {standIns.map((s) => (
              <tr key={s.id}>
                <td>
                  <b>{s.takes}</b> for {s.absent}
                </td>
                <td>{s.slots}</td>
                <td className="look-muted">
                  {s.at} {s.by}
                </td>
                <td>
                  <Button
                    size="small"
                    type="link"
                    aria-label={`End: ${s.takes} for ${s.absent}`}
                    onClick={() => store.mutate({ path: "/api/stand-ins/{id}/end", params: { id: s.id } })}
                  >
                    End
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {adding && (
        <div className="look-line standin">
          <Select
            showSearch={search}
            autoFocus
            aria-label="Who is away"
            placeholder="who is away"
            options={people}
            value={absent}
            onChange={setAbsent}
          />
          <Select
            showSearch={search}
            aria-label="Who takes the registers"
            placeholder="who takes the registers"
            options={people}
            value={takes}
            onChange={setTakes}
          />
          <Select
            mode="multiple"
            aria-label="In which slots"
            placeholder="the whole day"
            options={list.data.slots.map((s) => ({ value: s.name, label: s.label }))}
            value={slots}
            onChange={setSlots}
          />
          <Button
            type="primary"
            disabled={!absent || !takes}
            loading={store.isPending}
            onClick={() =>
              absent && takes && store.mutate({ path: "/api/stand-ins", body: { date, absent, takes, slots } })
            }
          >
            Name for {words}
          </Button>
        </div>
      )}
    </Panel>
  );
}
