import { Button, Input } from "antd";
import { useEffect, useRef, useState } from "react";
import { type Schemas, write } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { PolicyText } from "./policy/PolicyText";

type Code = Schemas["CodeForm"];

const counts = ["attended", "activity", "excused", "unexcused", "void"].map((value) => ({ value, label: value }));
const flags: [keyof Code, string][] = [
  ["onSite", "on site"],
  ["late", "late"],
  ["medical", "medical"],
  ["unexplained", "no reason yet"],
];
const halves = [
  { value: "", label: "all day" },
  { value: "morning", label: "morning" },
  { value: "afternoon", label: "afternoon" },
];
const pause = 350; // ms without a key until what is written is looked at

/** A code set edited as a copy of one there is, filled in or as its file, under a name of its own. */
export function CodesEditor({
  copy,
  done,
  close,
}: {
  copy: string;
  done: (name: string, text: string) => void;
  close: () => void;
}) {
  const [name, setName] = useState(`${copy}-own`);
  const [text, setText] = useState("");
  const [codes, setCodes] = useState<Code[]>([]);
  const [drafted, setDrafted] = useState<Schemas["CodesDrafted"]>();
  const [written, setWritten] = useState<Schemas["CodesDraft"]>({ copy });
  const first = useRef(true);
  useEffect(() => {
    let over = false;
    const look = async () => {
      try {
        const d = await write({ path: "/api/school/codes/draft", body: written });
        if (over) return;
        setDrafted(d);
        if (!written.text) setText(d.text);
        if (!written.codes && d.codes.length > 0) setCodes(d.codes);
      } catch (e) {
        if (!over) tell.wrong((e as Error).message);
      }
    };
    const timer = setTimeout(() => void look(), first.current ? 0 : pause);
    first.current = false;
    return () => {
      over = true;
      clearTimeout(timer);
    };
  }, [written]);
  if (!drafted) return null;
  const change = (next: Code[]) => {
    setCodes(next);
    setWritten({ codes: next });
  };
  const set = (at: number, next: Partial<Code>) => change(codes.map((c, i) => (i === at ? { ...c, ...next } : c)));
  const taken = drafted.taken.includes(name);
  const wrong = drafted.problem
    ? drafted.line
      ? `Line ${drafted.line}: ${drafted.problem}`
      : drafted.problem
    : taken
      ? `There is a set called ${name}: a set is never changed, give yours another name.`
      : "";
  return (
    <Panel title={`A copy of ${copy} to edit`} className="codes-editor">
      <div className="look-line look-wrap">
        <label>
          Name{" "}
          <Input
            size="small"
            className="name"
            value={name}
            maxLength={60}
            onChange={(e) => setName(e.target.value.trim())}
          />
        </label>
        <Button
          type="primary"
          size="small"
          disabled={Boolean(wrong) || !name || !written.text === !written.codes}
          onClick={() => done(name, text)}
        >
          See what it would mean
        </Button>
        <Button size="small" onClick={close}>
          Cancel
        </Button>
        <span role="status" className={wrong ? "look-overdue" : "look-muted"}>
          {wrong ||
            (drafted.lacks.length > 0 ? `It reads right. With it ${drafted.lacks.join("; ")}.` : "It reads right.")}
        </span>
      </div>
      <table className="rows">
        <thead>
          <tr>
            <th>Code</th>
            <th>Word</th>
            <th>Counts as</th>
            <th>Is</th>
            <th>Minutes missed are</th>
            <th>Used for</th>
            <th>When</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {codes.map((c, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a code that is being written is told by its place
            <tr key={i}>
              <td>
                <Input
                  size="small"
                  className="code"
                  aria-label={`Code ${i + 1}`}
                  value={c.code}
                  maxLength={20}
                  onChange={(e) => set(i, { code: e.target.value })}
                />
              </td>
              <td>
                <Input
                  size="small"
                  aria-label={`${c.code}: word`}
                  value={c.word}
                  maxLength={100}
                  onChange={(e) => set(i, { word: e.target.value })}
                />
              </td>
              <td>
                <Choice
                  label={`${c.code}: counts as`}
                  size="small"
                  value={c.counts}
                  onChange={(v) => set(i, { counts: v })}
                  options={counts}
                />
              </td>
              <td>
                {flags.map(([key, words]) => (
                  <Tick
                    key={key}
                    checked={c[key] === true}
                    onChange={(on) => set(i, { [key]: on })}
                    label={`${c.code}: ${words}`}
                  >
                    {words}
                  </Tick>
                ))}
              </td>
              <td>
                <Choice
                  label={`${c.code}: minutes missed are`}
                  size="small"
                  value={c.minutesAs}
                  onChange={(v) => set(i, { minutesAs: v })}
                  options={[
                    { value: "", label: "unexcused" },
                    { value: "excused", label: "excused" },
                  ]}
                />
              </td>
              <td>
                {c.uses.map((u) => (
                  <button
                    key={u}
                    type="button"
                    className="link look-small"
                    aria-label={`${u.replaceAll("_", " ")} ×: ${c.code} is not used for it`}
                    onClick={() => set(i, { uses: c.uses.filter((x) => x !== u) })}
                  >
                    {u.replaceAll("_", " ")} ×
                  </button>
                ))}
                <Choice
                  label={`${c.code}: used for`}
                  size="small"
                  value=""
                  onChange={(u) => u && set(i, { uses: [...c.uses, u] })}
                  options={[
                    { value: "", label: "…" },
                    ...drafted.uses
                      .filter((u) => !c.uses.includes(u))
                      .map((u) => ({ value: u, label: u.replaceAll("_", " ") })),
                  ]}
                />
              </td>
              <td>
                <Choice
                  label={`${c.code}: when`}
                  size="small"
                  value={c.half}
                  onChange={(v) => set(i, { half: v })}
                  options={halves}
                />
              </td>
              <td>
                <button
                  type="button"
                  className="link look-small"
                  aria-label={`take out: ${c.code}`}
                  onClick={() => change(codes.filter((_, x) => x !== i))}
                >
                  take out
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="look-line">
        <Button
          size="small"
          onClick={() =>
            change([
              ...codes,
              {
                code: "",
                word: "",
                counts: "excused",
                late: false,
                medical: false,
                onSite: false,
                unexplained: false,
                minutesAs: "",
                uses: [],
                half: "",
              },
            ])
          }
        >
          Add a code
        </Button>
      </div>
      <details>
        <summary>As its file</summary>
        <PolicyText
          text={text}
          wrong={drafted.problem ? drafted.line : 0}
          change={(next) => {
            setText(next);
            setWritten({ text: next });
          }}
        />
      </details>
    </Panel>
  );
}
