import { Button, Modal } from "antd";
import { useState } from "react";
import { type Schemas, useWrite } from "../../../api/client";
import { Tick } from "../../../parts/controls/Tick";
import { useFocusBack } from "../../../parts/focus";
import { tell } from "../../../parts/told";
import type { Setup } from "./shape";

/** With which colleagues a list is shared. They run it; each gets the columns that they may see. */
export function SharePaper({
  paper,
  colleagues,
  close,
}: {
  paper: Schemas["PaperView"];
  colleagues: Schemas["AccountRef"][];
  close: () => void;
}) {
  useFocusBack();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set(paper.readers));
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <Modal
      open
      title={`Share ${paper.name}`}
      okText="Save"
      confirmLoading={write.isPending}
      onOk={() => write.mutate({ path: "/api/papers/share", body: { list: paper.id, with: [...chosen] } })}
      onCancel={close}
    >
      <fieldset className="share-paper">
        <legend className="look-small look-muted">
          They find it among their lists, make it on the data of the day, and get the columns that they may see. What
          you save afterwards they have too.
        </legend>
        {colleagues.map((c) => (
          <Tick
            key={c.id}
            checked={chosen.has(c.id)}
            onChange={(on) => {
              const next = new Set(chosen);
              if (on) next.add(c.id);
              else next.delete(c.id);
              setChosen(next);
            }}
          >
            {c.name}
          </Tick>
        ))}
      </fieldset>
    </Modal>
  );
}

/** How a list was shaped before; one is taken up again and saved. */
export function Past({
  paper,
  take,
  close,
}: {
  paper: Schemas["PaperView"];
  take: (before: Setup) => void;
  close: () => void;
}) {
  useFocusBack();
  return (
    <Modal open title={`${paper.name}: versions before`} footer={null} onCancel={close}>
      {paper.past.map((v) => (
        <div className="look-line" key={v.by + JSON.stringify(v.setup)}>
          <span className="look-two">
            <b>{v.setup.title}</b>
            <span className="look-small look-muted">
              {v.by} ·{" "}
              {v.setup.columns
                .map((c) => c.heading)
                .filter(Boolean)
                .join(", ")}
            </span>
          </span>
          <Button size="small" className="look-push" onClick={() => take(v.setup)}>
            Take up again
          </Button>
        </div>
      ))}
    </Modal>
  );
}
