import "./home.css";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Modal, Segmented } from "antd";
import { useEffect, useRef, useState } from "react";
import { type Schemas, useRead, useWrite, write } from "../../api/client";
import { useSettings } from "../../api/settings";
import { Shape } from "../../look/Shape";
import { DateField } from "../controls/DateField";
import { Tick } from "../controls/Tick";
import { TimeField } from "../controls/TimeField";
import { useFocusBack } from "../focus";
import { isTyping } from "../keys";
import { Reasons } from "../Reasons";
import { useSeen } from "../seen";
import { tell } from "../told";
import { plural } from "../words";
import { WhoField } from "./WhoField";

type How = NonNullable<Schemas["Notice"]["toldHow"]>;
const ways: How[] = ["phone", "e-mail", "letter", "in person"];

/** What is asked for in the address: students, dates where they are known, the text that it answers. */
export type Asked = { students: number[]; from: string; to: string; message: number };

/** Home says something: about whom, why, when, and who told it. */
export default function NoticeDialog({ asked, onClose }: { asked: Asked; onClose: () => void }) {
  useFocusBack();
  const settings = useSettings();
  const rail = useRead("/api/rail", {});
  const [students, setStudents] = useState(asked.students);
  const first = students[0] ?? 0;
  const sheet = useRead("/api/students/{id}", { id: first }, { enabled: first > 0 });
  const s = sheet.data?.student.id === first ? sheet.data : undefined;
  const [reason, setReason] = useState("");
  const [from, setFrom] = useState(asked.from);
  const [to, setTo] = useState(asked.to);
  const [fromTime, setFromTime] = useState("");
  const [toTime, setToTime] = useState("");
  const [told, setTold] = useState("");
  const [how, setHow] = useState<How>("phone");
  const today = rail.data?.now.slice(0, 10) ?? "";
  const notice: Schemas["Notice"] = {
    students,
    reason,
    from: from || today,
    to: to || from || today,
    fromTime,
    toTime,
    toldBy: told,
    toldHow: how,
    ...(asked.message > 0 ? { message: asked.message } : {}),
  };
  const ready = students.length > 0 && reason !== "" && today !== "";
  const preview = useQuery<Schemas["NoticePreview"], Error>({
    queryKey: ["notice", notice],
    enabled: ready,
    placeholderData: keepPreviousData, // the dialog does not jump at every letter
    queryFn: () => write({ path: "/api/notices/read", body: notice }),
  });
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      onClose();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const seen = useSeen();
  useEffect(seen.begin, []);
  const someoneElse = () => {
    seen.end();
    seen.begin();
    setStudents([]);
  };
  const submit = () => {
    if (!ready || store.isPending) return;
    store.mutate({ path: "/api/notices", body: { ...notice, seen: seen.entry() } }, { onError: seen.told });
  };
  const offered = settings.data?.reasons.filter((r) => r.home) ?? [];
  const onKey = (e: KeyboardEvent) => {
    const target = e.target instanceof HTMLElement ? e.target : document.body;
    if (target.closest(".new-reason, .who-field, .ant-picker, .ant-select") || e.ctrlKey || e.altKey || e.metaKey)
      return;
    const act = () => {
      e.preventDefault();
      e.stopImmediatePropagation();
    };
    if (e.key === "Enter" && !(target instanceof HTMLButtonElement)) {
      act();
      submit();
    }
    if (isTyping(target)) return;
    const r = offered.find((o) => o.key && o.key === e.key.toLowerCase());
    if (r) {
      act();
      setReason(r.word);
    } else if (e.key === "b" && s) {
      act();
      setStudents([first, ...s.siblings.map((sib) => sib.id)]);
    } else if (e.key.length === 1 && e.key !== " ") e.stopImmediatePropagation();
  };
  const latest = useRef(onKey);
  latest.current = onKey;
  useEffect(() => {
    // The dialogue has the keys wherever its focus is; the page below has none of them.
    const listen = (e: KeyboardEvent) => latest.current(e);
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, []);
  const toggle = (id: number) => setStudents((old) => (old.includes(id) ? old.filter((o) => o !== id) : [...old, id]));
  const p = ready ? preview.data : undefined;
  return (
    <Modal
      open
      width={690}
      footer={null}
      onCancel={onClose}
      title={asked.message > 0 ? "Message from home" : "Call from home"}
      destroyOnHidden
    >
      <form
        className="says"
        aria-label="Message from home"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <dl>
          <dt>about</dt>
          <dd>
            {s ? (
              <>
                <span className="look-strong look-nowrap">
                  <Shape state={s.place.state} /> {s.student.name}
                </span>
                <span className="look-muted">
                  {s.student.form} · {s.place.text}
                </span>
                {s.siblings.map((sib) => (
                  <Tick key={sib.id} checked={students.includes(sib.id)} onChange={() => toggle(sib.id)}>
                    {sib.name} <span className="look-muted">{sib.form}</span>
                  </Tick>
                ))}
                {s.siblings.length > 0 && (
                  <span className="look-small look-muted">
                    <kbd>b</kbd> all of this home
                  </span>
                )}
                <button type="button" className="link look-small look-muted look-push" onClick={someoneElse}>
                  someone else
                </button>
              </>
            ) : (
              <WhoField autoFocus onChoose={(hit) => setStudents([hit.student.id])} label="Student or parent" />
            )}
          </dd>
          <dt>because</dt>
          <dd>
            <Reasons
              offered={offered}
              value={reason}
              use="home"
              keyOf={(r) => r.key}
              onChange={(r) => setReason(r.word)}
              onAdded={setReason}
            />
          </dd>
          <dt>days</dt>
          <dd>
            <label>
              from <DateField label="from" value={from || today} onChange={setFrom} />
            </label>
            <label>
              to <DateField label="to" value={to || from || today} min={from || today} onChange={setTo} />
            </label>
          </dd>
          <dt>times</dt>
          <dd>
            <label>
              leaving at <TimeField label="leaving at" value={fromTime} placeholder="–" onChange={setFromTime} />
            </label>
            <label>
              expected at <TimeField label="expected at" value={toTime} placeholder="–" onChange={setToTime} />
            </label>
          </dd>
          <dt>told by</dt>
          <dd>
            {asked.message > 0 ? (
              <span className="look-muted">whoever answered the text</span>
            ) : (
              <ToldBy contacts={s?.contacts ?? []} told={told} setTold={setTold} how={how} setHow={setHow} />
            )}
          </dd>
        </dl>
        <p className={`will${p?.error ? " error" : ""}`} role="status">
          {p ? p.error || <Does p={p} /> : "Say who it is about and why."}
        </p>
        <div className="act">
          <Button type="primary" htmlType="submit" disabled={!ready || Boolean(p?.error)} loading={store.isPending}>
            Save the message <kbd>Enter</kbd>
          </Button>
          <Button onClick={onClose}>
            Cancel <kbd>Esc</kbd>
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** Who told it, one of the contacts or someone else, and how. */
function ToldBy({
  contacts,
  told,
  setTold,
  how,
  setHow,
}: {
  contacts: Schemas["ContactRef"][];
  told: string;
  setTold: (name: string) => void;
  how: How;
  setHow: (how: How) => void;
}) {
  return (
    <>
      {contacts.map((c) => (
        <Button
          key={c.id}
          size="small"
          type={told === c.name ? "primary" : "default"}
          aria-pressed={told === c.name}
          onClick={() => setTold(told === c.name ? "" : c.name)}
        >
          {c.name} <span className="look-small">{c.relation}</span>
        </Button>
      ))}
      <input
        className="plain"
        aria-label="Told by someone else"
        placeholder="someone else"
        value={contacts.some((c) => c.name === told) ? "" : told}
        onChange={(e) => setTold(e.target.value)}
      />
      <Segmented<How> size="small" aria-label="How" value={how} onChange={setHow} options={ways} />
    </>
  );
}

/** What a notice does, as the server reads it. */
function Does({ p }: { p: Schemas["NoticePreview"] }) {
  return (
    <>
      <b>{p.text}</b> · {p.codeWord} ({p.code})
      {p.explains > 0 && ` · explains ${plural(p.explains, "mark")} without a reason`}
      {p.stand > 0 && ` · ${plural(p.stand, "mark")} of that time ${p.stand === 1 ? "stays" : "stay"} as marked`}
    </>
  );
}
