import { Button } from "antd";
import { useState } from "react";
import type { Schemas, Writing } from "../../api/client";
import { useSettings } from "../../api/settings";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { useKeys } from "../../parts/keys";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

type Answer = Schemas["AnswerView"];

/** What homes answered to texts: accepted as a notice, or read and left at that. */
export function Answers({ rows, may, write }: { rows: Answer[]; may: boolean; write: Writing }) {
  const [all, setAll] = useState(false);
  if (rows.length === 0) return null;
  const shown = all ? rows : rows.slice(0, few);
  return (
    <Panel title="Homes have answered" extra={rows.length} className="answers">
      {shown.map((a, i) => (
        <OneAnswer key={a.message} a={a} may={may} first={i === 0} write={write} />
      ))}
      {rows.length > few && (
        <div className="look-line look-small look-muted">
          <button type="button" className="link" onClick={() => setAll(!all)}>
            {all ? "Fewer" : `${rows.length - few} more answers`}
          </button>
        </div>
      )}
    </Panel>
  );
}

/** How many answers stand over the call list at first. */
const few = 4;

function OneAnswer({ a, may, first, write }: { a: Answer; may: boolean; first: boolean; write: Writing }) {
  const settings = useSettings();
  const { set } = useAddress();
  const [reason, setReason] = useState(a.reason);
  const [until, setUntil] = useState(a.until);
  const [about, setAbout] = useState(() => a.students.map((s) => s.id));
  const accept = () =>
    write.mutate({
      path: "/api/notices",
      body: { students: about, reason, toTime: until, message: a.message },
    });
  const able = reason !== "" && about.length > 0;
  useKeys({ e: accept }, may && first && able);
  return (
    <div className="look-line" data-answer={a.message}>
      <div className="look-two">
        <span>
          “{a.text}”{" "}
          <span className="look-small look-muted">
            {a.contact} · <span className="phone">{a.phone}</span> · {a.at}
          </span>
        </span>
        <span className="look-small">
          about{" "}
          {a.students.map((s, i) => (
            <span key={s.id} className="look-nowrap">
              {a.students.length > 1 && may && (
                <Tick
                  label={`About ${s.name}`}
                  checked={about.includes(s.id)}
                  onChange={() =>
                    setAbout((old) => (old.includes(s.id) ? old.filter((o) => o !== s.id) : [...old, s.id]))
                  }
                />
              )}{" "}
              <StudentName student={s} />
              {i < a.students.length - 1 && ", "}
            </span>
          ))}
        </span>
      </div>
      {may && (
        <div className="look-actions">
          <Choice
            size="small"
            label="Reason"
            value={reason}
            onChange={setReason}
            options={[
              { value: "", label: "which reason?" },
              ...(settings.data?.reasons ?? []).filter((r) => r.home).map((r) => ({ value: r.word, label: r.word })),
            ]}
          />
          <TimeField size="small" label="Expected at" placeholder="until" value={until} onChange={setUntil} />
          <Button size="small" type="primary" disabled={!able} onClick={accept}>
            Accept {first && <kbd>E</kbd>}
          </Button>
          <Button
            size="small"
            onClick={() =>
              set({ notice: a.students.map((s) => s.id).join(","), noticeMessage: String(a.message) }, false)
            }
            title="For other days, or with more to say"
          >
            More …
          </Button>
          <Button
            size="small"
            onClick={() => write.mutate({ path: "/api/messages/{id}/read", params: { id: a.message } })}
            title="The students stay on the list"
          >
            No reason
          </Button>
        </div>
      )}
    </div>
  );
}
