import { Button, Input, Select } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

type Point = Schemas["MeetingPoint"] & { key: number };

/** Where everybody goes when the building is left. Without any, each form is a meeting point of its own. */
export function MeetingPoints({ school, refresh }: { school: Schemas["SchoolView"]; refresh: () => void }) {
  const [changed, setChanged] = useState<Point[]>();
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      setChanged(undefined);
      refresh();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const points = changed ?? school.points.map((p, key) => ({ ...p, key }));
  const who = ["Staff", "Visitors", ...school.formNames];
  const taken = new Set(points.flatMap((p) => p.who));
  const put = (key: number, change: Partial<Point>) =>
    setChanged(points.map((p) => (p.key === key ? { ...p, ...change } : p)));
  const none = who.filter((w) => !taken.has(w));
  return (
    <Panel title="Meeting points" extra={points.length || undefined}>
      {points.length === 0 && <p className="empty">None: in a roll call each form is a list of its own.</p>}
      {points.map((p, i) => (
        <div className="look-line look-wrap meeting-point" key={p.key}>
          <Input
            size="small"
            aria-label={`Meeting point ${i + 1}: name`}
            placeholder="name"
            value={p.name}
            onChange={(e) => put(p.key, { name: e.target.value })}
          />
          <Select
            size="small"
            mode="multiple"
            className="look-wide"
            aria-label={`Who goes to ${p.name || `meeting point ${i + 1}`}`}
            placeholder="forms, staff, visitors"
            value={p.who}
            onChange={(list) => put(p.key, { who: list })}
            options={who.filter((w) => !taken.has(w) || p.who.includes(w)).map((w) => ({ value: w, label: w }))}
          />
          <Button size="small" onClick={() => setChanged(points.filter((o) => o.key !== p.key))}>
            Take off
          </Button>
        </div>
      ))}
      {points.length > 0 && none.length > 0 && (
        <p className="look-small look-muted">
          At none of them, so a list of their own: {none.slice(0, 8).join(", ")}
          {none.length > 8 && ` and ${none.length - 8} more`}.
        </p>
      )}
      <div className="look-line">
        <Button
          size="small"
          onClick={() =>
            setChanged([...points, { name: "", who: [], key: Math.max(-1, ...points.map((p) => p.key)) + 1 }])
          }
        >
          Add a meeting point
        </Button>
        <Button
          size="small"
          type="primary"
          disabled={!changed}
          loading={store.isPending}
          onClick={() =>
            store.mutate({
              path: "/api/school/meeting-points",
              body: { points: points.map(({ name, who }) => ({ name, who })), was: school.points },
            })
          }
        >
          Save
        </Button>
      </div>
    </Panel>
  );
}
