import { Button, Modal } from "antd";
import { useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useWrite } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { OneOf } from "../../parts/controls/OneOf";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { useFocusBack } from "../../parts/focus";
import { useCovered, useScope } from "../../parts/scope";
import { tell } from "../../parts/told";

const weekdays = [
  { value: 1, label: "Monday" },
  { value: 2, label: "Tuesday" },
  { value: 3, label: "Wednesday" },
  { value: 4, label: "Thursday" },
  { value: 5, label: "Friday" },
  { value: 6, label: "Saturday" },
  { value: 0, label: "Sunday" },
];

type Way = Schemas["Planned"]["way"];
type Format = Schemas["Planned"]["format"];

const formats: { value: Format; label: string }[] = [
  { value: "pdf", label: "PDF" },
  { value: "csv", label: "CSV" },
  { value: "xlsx", label: "Spreadsheet" },
];

/** When a list is made without being asked for: on its way to the printer, or by e-mail to those who have it. */
export function EveryMorning({
  list,
  page,
  close,
}: {
  list: Schemas["PaperRef"];
  page: Schemas["PapersView"];
  close: () => void;
}) {
  useFocusBack();
  const end = useWrite({ done: tell.receipt, failed: (e) => tell.wrong(e.message) });
  return (
    <Modal open title={`When it is made: ${list.name}`} footer={null} onCancel={close}>
      {list.plans.length === 0 && <p className="look-muted">It is made when somebody asks for it.</p>}
      {list.plans.map((p) => (
        <div className="look-line" key={p.id}>
          <span className="look-two">
            <b>{p.when}</b>
            <span className="look-small look-muted">{where(p)}</span>
          </span>
          <Button
            size="small"
            className="look-push"
            aria-label={`No more, ${p.when}`}
            onClick={() => end.mutate({ path: "/api/papers/plans/{plan}/end", params: { plan: p.id } })}
          >
            No more
          </Button>
        </div>
      ))}
      <NewPlan list={list} page={page} />
    </Modal>
  );
}

/** How a plan sends, and of whom. */
export function where(p: Schemas["PaperPlan"]) {
  const format = formats.find((f) => f.value === p.format)?.label;
  return [
    p.way === "printer" ? "to the printer" : `by e-mail to ${p.to.join(", ") || "nobody any more"} as ${format}`,
    p.scope,
  ]
    .filter(Boolean)
    .join(" · ");
}

function NewPlan({ list, page }: { list: Schemas["PaperRef"]; page: Schemas["PapersView"] }) {
  const { lines } = useOutletContext<Schemas["Who"]>();
  const section = useScope();
  const covered = useCovered();
  const [at, setAt] = useState("07:40");
  const [days, setDays] = useState<ReadonlySet<number>>(new Set());
  const [every, setEvery] = useState(true);
  const [way, setWay] = useState<Way>(lines.printer === "none" ? "e-mail" : "printer");
  const [format, setFormat] = useState<Format>("pdf");
  const [to, setTo] = useState<ReadonlySet<number>>(new Set([page.self.id]));
  const write = useWrite({ done: tell.receipt, failed: (e) => tell.wrong(e.message) });
  const readers = [page.self, ...page.colleagues.filter((c) => list.readers.includes(c.id))];
  const ways: { value: Way; label: string }[] = [
    { value: "printer", label: "To the printer" },
    { value: "e-mail", label: "By e-mail" },
  ];
  const set = ways.filter((w) => (w.value === "printer" ? lines.printer : lines.eMail) !== "none");
  if (set.length === 0)
    return (
      <p className="look-muted">
        Neither a printer nor a carrier of e-mails is set up here, so that there is no way for it to go.
      </p>
    );
  const flip = (all: ReadonlySet<number>, one: number, on: boolean) =>
    new Set(on ? [...all, one] : [...all].filter((x) => x !== one));
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        write.mutate({
          path: "/api/papers/plans",
          body: {
            list: list.id,
            at,
            weekdays: every ? [] : [...days],
            way,
            format,
            with: way === "e-mail" ? [...to] : [],
            section: section ?? [],
          },
        });
      }}
    >
      <div className="look-line look-wrap">
        <label>
          At <TimeField label="At" value={at} onChange={setAt} />
        </label>
        <OneOf
          label="On which days"
          value={every ? "every" : "some"}
          onChange={(v) => setEvery(v === "every")}
          options={[
            { value: "every", label: "every school day" },
            { value: "some", label: "some days" },
          ]}
        />
      </div>
      {!every && (
        <fieldset className="new-plan-days">
          <legend className="visually-hidden">Days</legend>
          {weekdays.map((d) => (
            <Tick key={d.value} checked={days.has(d.value)} onChange={(on) => setDays(flip(days, d.value, on))}>
              {d.label}
            </Tick>
          ))}
        </fieldset>
      )}
      <div className="look-line look-wrap">
        <OneOf label="How it goes" value={way} onChange={setWay} options={set} />
        {way === "e-mail" && (
          <Choice label="As" value={format} onChange={(v) => setFormat(v as Format)} options={formats} />
        )}
      </div>
      {way === "e-mail" && (
        <fieldset className="new-plan-days">
          <legend className="look-small look-muted">
            To you and to those with whom the list is shared; each gets the columns that they may see.
          </legend>
          {readers.map((r) => (
            <Tick key={r.id} checked={to.has(r.id)} onChange={(on) => setTo(flip(to, r.id, on))}>
              {r.name}
            </Tick>
          ))}
        </fieldset>
      )}
      <div className="look-line">
        {covered && <span className="look-small look-muted">Of {covered}</span>}
        <Button
          className="look-push"
          type="primary"
          htmlType="submit"
          loading={write.isPending}
          disabled={(!every && days.size === 0) || (way === "e-mail" && to.size === 0)}
        >
          Make it then
        </Button>
      </div>
    </form>
  );
}
