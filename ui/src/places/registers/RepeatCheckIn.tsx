import { Button, Checkbox, Popover } from "antd";
import { useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import type { Taking } from "./taking";

type Window = Schemas["CheckInView"];

/** The same window on later days of the class, chosen here, opened by itself. */
export function RepeatCheckIn({
  view,
  window: w,
  store,
}: {
  view: Taking["view"];
  window: Window;
  store: Writing["mutate"];
}) {
  const [dates, setDates] = useState<string[]>([]);
  const [open, setOpen] = useState(false);
  const days = (
    <div className="check-in-days">
      <Checkbox.Group
        value={dates}
        onChange={setDates}
        options={view.checkInDays.map((d) => ({
          value: d.date,
          label: d.planned ? `${d.label}, planned` : d.label,
          disabled: d.planned,
        }))}
      />
      <Button
        size="small"
        type="primary"
        disabled={dates.length === 0}
        onClick={() => {
          store({ path: "/api/check-ins/{id}/repeat", params: { id: w.id }, body: { dates } });
          setOpen(false);
          setDates([]);
        }}
      >
        Open it on these days too
      </Button>
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomRight" open={open} onOpenChange={setOpen} content={days}>
      <Button size="small">Repeat</Button>
    </Popover>
  );
}
