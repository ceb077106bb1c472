import { Button, Input, type InputRef, Segmented } from "antd";
import { type FormEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Shape } from "../../look/Shape";
import { TimeField } from "../../parts/controls/TimeField";
import { MustBeFetched } from "../../parts/home/Fetch";
import { WarningTags } from "../../parts/home/WarningForm";
import { Portrait } from "../../parts/Portrait";
import { Reasons } from "../../parts/Reasons";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { usePass } from "./passes";

type Kind = "arrived" | "departed";

/** Arriving or leaving is chosen from where the student is. */
export function likelyKind(place: Schemas["Place"]): Kind {
  return place.state === "in" || place.state === "late" ? "departed" : "arrived";
}

/** One student arriving or leaving: when, why, back by when, and with whom. */
export function Move({
  found,
  reasons,
  fetching,
  leave,
}: {
  found: Schemas["FoundStudent"];
  reasons: Schemas["Reason"][];
  /** Where the student is to be collected: the departure is prepared. */
  fetching?: Schemas["FetchView"];
  leave: () => void;
}) {
  const rail = useRead("/api/rail", {});
  const sheet = useRead("/api/students/{id}", { id: found.student.id });
  const about = sheet.data?.student.id === found.student.id ? sheet.data : undefined;
  const pass = usePass();
  const withPass = useRef(false);
  const [kind, setKind] = useState<Kind>(fetching ? "departed" : likelyKind(found.place));
  const [time, setTime] = useState("");
  const [reason, setReason] = useState(fetching?.reason ?? "");
  const [note, setNote] = useState(fetching?.note ?? "");
  const [returns, setReturns] = useState("");
  const [collector, setCollector] = useState(fetching?.collector ?? 0);
  const [collects, setCollects] = useState(fetching && !fetching.collector ? fetching.comes : "");
  const [whyNot, setWhyNot] = useState(""); // what has to be said first
  const timeField = useRef<InputRef>(null);
  const form = useRef<HTMLFormElement>(null);
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      if (withPass.current && r.ids[0]) void pass(r.ids[0]);
      leave();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const s = found.student;
  const inSchool = found.place.state === "in" || found.place.state === "late";
  const offered = reasons.filter((r) => (kind === "arrived" ? r.arrive : r.leave && !(inSchool && r.unknown)));
  useEffect(() => timeField.current?.focus(), []);
  const submit = (e?: FormEvent, print = false) => {
    e?.preventDefault();
    withPass.current = print;
    const leaving = kind === "departed";
    // Enter and Enter again would sign out a child who sits in class.
    if (leaving && inSchool && !reason) {
      setWhyNot(`Say why ${s.given} leaves: ${found.place.text}.`);
      form.current?.querySelector<HTMLElement>(".because button")?.focus();
      return;
    }
    store.mutate({
      path: "/api/movements",
      body: {
        students: [found.student.id],
        kind,
        time,
        reason,
        note,
        returns: leaving ? returns : "",
        collector: leaving && !collects.trim() ? collector : 0,
        collects: leaving ? collects : "",
      },
    });
  };
  const onKey = (e: KeyboardEvent) => {
    if (e.key === "Escape") leave();
    if (e.key === "Enter" && e.ctrlKey) submit(e, true);
    if (!e.altKey) return;
    const n = Number(e.code.replace("Digit", ""));
    if (n >= 1 && offered[n - 1]) {
      e.preventDefault();
      setReason(offered[n - 1]?.word ?? "");
      setWhyNot("");
    } else if (e.code === "KeyA" || e.code === "KeyL") {
      e.preventDefault();
      setKind(e.code === "KeyA" ? "arrived" : "departed");
      setReason("");
    }
  };
  const verb = kind === "arrived" ? "is in" : "leaves";
  return (
    <form ref={form} className="panel" aria-label={`${s.name} arriving or leaving`} onSubmit={submit} onKeyDown={onKey}>
      <div className="person">
        <Portrait student={s} photo={about?.photo ?? false} />
        <div className="heading">
          <h2 className="big">
            <StudentName student={s} form={false} />
          </h2>
          <span className="look-muted">
            {s.form} · {s.number}
          </span>
          <span className="look-push">
            <Segmented<Kind>
              value={kind}
              aria-label="Arriving or leaving"
              onChange={(k) => {
                setKind(k);
                setReason("");
              }}
              options={[
                { value: "arrived", label: "Arriving" },
                { value: "departed", label: "Leaving" },
              ]}
            />
          </span>
        </div>
        <div className="look-small">
          <Shape state={found.place.state} /> {found.place.text}{" "}
          <WarningTags student={s} words={found.warnings} now={about?.warningsNow ?? []} />
        </div>
      </div>
      <dl>
        <dt>
          <label htmlFor="desk-time">at</label>
        </dt>
        <dd>
          <TimeField
            id="desk-time"
            ref={timeField}
            label="at"
            value={time}
            placeholder={rail.data?.now.slice(11)}
            onChange={setTime}
          />
          <span className="look-small look-muted">now · type 931 for 09:31</span>
        </dd>
        <dt>because</dt>
        <dd className="because">
          <Reasons
            offered={offered}
            value={reason}
            use={kind === "arrived" ? "arrive" : "leave"}
            keyOf={(_, i) => (i < 9 ? `Alt ${i + 1}` : "")}
            onChange={(r) => {
              setReason(r.word);
              setWhyNot("");
            }}
            onAdded={setReason}
          />
          {whyNot && (
            <span className="look-overdue look-small" role="alert">
              {whyNot}
            </span>
          )}
        </dd>
        {kind === "departed" && (
          <>
            <dt>
              <label htmlFor="desk-back">back by</label>
            </dt>
            <dd>
              <TimeField id="desk-back" label="back by" value={returns} onChange={setReturns} placeholder="–" />
              <span className="look-small look-muted">empty when not today</span>
            </dd>
            <dt>collected by</dt>
            <dd>
              {about?.contacts
                .filter((c) => c.mayCollect)
                .map((c) => (
                  <Button
                    key={c.id}
                    size="small"
                    type={collector === c.id && !collects ? "primary" : "default"}
                    aria-pressed={collector === c.id && !collects}
                    onClick={() => {
                      setCollector(collector === c.id ? 0 : c.id);
                      setCollects("");
                    }}
                  >
                    {c.name} <span className="look-small">{c.relation}</span>
                  </Button>
                ))}
              <Input
                className="someone"
                aria-label="Collected by someone else"
                placeholder="someone else, with a note"
                value={collects}
                onChange={(e) => setCollects(e.target.value)}
              />
              {!collector && !collects && <span className="look-small look-muted">leaves alone</span>}
            </dd>
          </>
        )}
        <dt>
          <label htmlFor="desk-note">note</label>
        </dt>
        <dd>
          <Input id="desk-note" className="remark" value={note} onChange={(e) => setNote(e.target.value)} />
        </dd>
        <dt />
        <dd>
          <Button type="primary" size="large" htmlType="submit" loading={store.isPending}>
            {s.given} {verb} <kbd>Enter</kbd>
          </Button>
          <Button size="large" onClick={(e) => submit(e, true)}>
            With a pass <kbd>Ctrl Enter</kbd>
          </Button>
          <Button size="large" onClick={leave}>
            Cancel <kbd>Esc</kbd>
          </Button>
          <span className="look-small look-muted">
            Leaving or arriving: <kbd>Alt L</kbd> <kbd>Alt A</kbd>
          </span>
        </dd>
      </dl>
      {about?.mayFetch && !fetching && (
        <div className="look-line">
          <MustBeFetched student={s} done={leave} />
        </div>
      )}
    </form>
  );
}
