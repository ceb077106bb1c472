import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";
import { Reasons } from "../../parts/Reasons";
import { tell } from "../../parts/told";

/** Adds to a movement what was forgotten, and puts right when it was: of a whole ferry at once. */
export function Amend({
  m,
  reasons,
  done,
}: {
  m: Schemas["MovementView"];
  reasons: Schemas["Reason"][];
  done: () => void;
}) {
  const leaving = m.kind === "departed";
  const sheet = useRead("/api/students/{id}", { id: m.student.id }, { enabled: leaving });
  const [at, setAt] = useState(m.at);
  const [together, setTogether] = useState(false);
  const [reason, setReason] = useState(m.reason);
  const [note, setNote] = useState(m.note);
  const [returns, setReturns] = useState(m.returns);
  const [collector, setCollector] = useState(0);
  const [collects, setCollects] = useState("");
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      done();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const store = (e: FormEvent) => {
    e.preventDefault();
    const of = leaving ? { returns, collector: collects.trim() ? 0 : collector, collects } : {};
    write.mutate({
      path: "/api/movements/{id}/amend",
      params: { id: m.id },
      body: { at, together, reason, note, ...of },
    });
  };
  const may = sheet.data?.student.id === m.student.id ? sheet.data.contacts.filter((c) => c.mayCollect) : [];
  return (
    <form
      className="amend"
      aria-label={`Change ${m.student.name} ${m.at}`}
      onSubmit={store}
      onKeyDown={(e) => e.key === "Escape" && done()}
    >
      <Input
        size="small"
        className="back-by"
        aria-label={leaving ? "Left at" : "In at"}
        value={at}
        onChange={(e) => setAt(e.target.value)}
      />
      {m.with > 0 && (
        <Tick checked={together} onChange={setTogether}>
          all {m.with + 1} who {leaving ? "left" : "came"} together
        </Tick>
      )}
      <Reasons
        offered={reasons.filter((r) => (leaving ? r.leave : r.arrive))}
        value={reason}
        use={leaving ? "leave" : "arrive"}
        keyOf={() => ""}
        onChange={(r) => setReason(r.word)}
        onAdded={setReason}
      />
      {leaving &&
        may.map((c) => (
          <Button
            key={c.id}
            size="small"
            type={collector === c.id && !collects ? "primary" : "default"}
            aria-pressed={collector === c.id && !collects}
            onClick={() => setCollector(collector === c.id ? 0 : c.id)}
          >
            {c.name} <span className="look-small">{c.relation}</span>
          </Button>
        ))}
      {leaving && (
        <>
          <Input
            size="small"
            className="someone"
            aria-label="Collected by someone else"
            placeholder="someone else, with a note"
            maxLength={100}
            value={collects}
            onChange={(e) => setCollects(e.target.value)}
          />
          <Input
            size="small"
            className="back-by"
            aria-label="Back by"
            placeholder="back by"
            value={returns}
            onChange={(e) => setReturns(e.target.value)}
          />
        </>
      )}
      <Input
        size="small"
        className="remark"
        aria-label="Note"
        placeholder="note"
        maxLength={500}
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <Button size="small" type="primary" htmlType="submit" loading={write.isPending}>
        Save <kbd>Enter</kbd>
      </Button>
      <Button size="small" onClick={done}>
        Cancel
      </Button>
    </form>
  );
}
