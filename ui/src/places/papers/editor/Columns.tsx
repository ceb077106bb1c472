import { Button } from "antd";
import type { Schemas } from "../../../api/client";
import { Choice } from "../../../parts/controls/Choice";
import { Tick } from "../../../parts/controls/Tick";
import { Panel } from "../../../parts/Panel";
import { columnOf, moved, type Setup } from "./shape";

type Field = Schemas["FieldRef"];
type Changing = { setup: Setup; change: (next: Partial<Setup>) => void; fields: Field[] };

/** Fields to choose from, under what they are of. */
const offered = (fields: Field[]) =>
  [...new Set(fields.map((f) => f.of))].map((of) => ({
    label: of,
    options: fields.filter((f) => f.of === of).map((f) => ({ value: f.id, label: f.label })),
  }));

/** What the columns hold, in their order; another is found by typing. */
export function Columns({ setup, change, fields }: Changing) {
  const label = (id: string) => fields.find((f) => f.id === id)?.label ?? "not for you to see";
  return (
    <Panel title="Columns" extra={setup.columns.length}>
      {setup.columns.map((c, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a field may stand in several columns
        <div className="look-line" key={`${i} ${c.field}`}>
          <span className="look-two">
            <span>{label(c.field)}</span>
          </span>
          <span className="look-actions">
            <Button
              size="small"
              type="text"
              aria-label={`${label(c.field)} to the left`}
              disabled={i === 0}
              onClick={() => change({ columns: moved(setup.columns, i, -1) })}
            >
              ←
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`${label(c.field)} to the right`}
              disabled={i === setup.columns.length - 1}
              onClick={() => change({ columns: moved(setup.columns, i, 1) })}
            >
              →
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`Take the column ${label(c.field)} off`}
              onClick={() => change({ columns: setup.columns.filter((_, x) => x !== i) })}
            >
              off
            </Button>
          </span>
        </div>
      ))}
      <div className="look-line">
        <Choice
          label="Add a column"
          placeholder="add a column: type what it holds"
          className="look-wide"
          search
          value={undefined as string | undefined}
          onChange={(id) => {
            const f = fields.find((x) => x.id === id);
            if (f && setup.columns.length < 40) change({ columns: [...setup.columns, columnOf(f)] });
          }}
          options={offered(fields)}
        />
      </div>
    </Panel>
  );
}

/** In which order rows stand, and in which groups. */
export function Orders({ setup, change, fields }: Changing) {
  const free = fields.filter((f) => !["write", "tick", "photo"].includes(f.kind));
  const none = { value: "", label: "not grouped" };
  return (
    <Panel title="Order and groups">
      {setup.order.map((o, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: an order is told by its place
        <div className="look-line" key={i}>
          <Choice
            label={`Order ${i + 1}`}
            className="order-of"
            search
            value={o.field}
            onChange={(field) => change({ order: setup.order.map((x, k) => (k === i ? { ...x, field } : x)) })}
            options={offered(free)}
          />
          <Tick
            checked={o.down ?? false}
            onChange={(down) => change({ order: setup.order.map((x, k) => (k === i ? { ...x, down } : x)) })}
          >
            last first
          </Tick>
          <Button
            size="small"
            type="text"
            aria-label={`Take order ${i + 1} off`}
            onClick={() => change({ order: setup.order.filter((_, k) => k !== i) })}
          >
            off
          </Button>
        </div>
      ))}
      {setup.order.length < 6 && (
        <div className="look-line">
          <Choice
            label="Order by"
            placeholder={setup.order.length ? "then by …" : "order by …"}
            search
            value={undefined as string | undefined}
            onChange={(field) => change({ order: [...setup.order, { field }] })}
            options={offered(free)}
          />
        </div>
      )}
      <div className="look-line look-wrap">
        <Choice
          label="Groups"
          search
          value={setup.group ?? ""}
          onChange={(group) => change({ group })}
          options={[{ label: "", options: [none] }, ...offered(free)]}
        />
        {setup.group && (
          <Tick checked={setup.newPage ?? false} onChange={(newPage) => change({ newPage })}>
            each on its own page
          </Tick>
        )}
      </div>
    </Panel>
  );
}
