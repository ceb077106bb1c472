import "./write-to-many.css";
import { Button, Input, Modal } from "antd";
import { useEffect, useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useWrite, write } from "../api/client";
import { Choice } from "./controls/Choice";
import { OneOf } from "./controls/OneOf";
import { Tick } from "./controls/Tick";
import { useFocusBack } from "./focus";
import { tell } from "./told";
import { plural } from "./words";

type Named = Pick<Schemas["StudentRef"], "id" | "name" | "form">;
type Look = Schemas["ManyView"];

const pause = 350; // ms without a key until what is written is looked at

/** Writes to students of a list, or to their homes, after a look at who gets it. */
export function WriteToMany({ students }: { students: Named[] }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" disabled={students.length === 0} onClick={() => setOpen(true)}>
        Write to them …
      </Button>
      {open && <Write students={students} close={() => setOpen(false)} />}
    </>
  );
}

function Write({ students, close }: { students: Named[]; close: () => void }) {
  useFocusBack();
  const who = useOutletContext<Schemas["Who"]>();
  const noMail = who.lines.eMail === "none";
  const [homes, setHomes] = useState(true);
  const [paper, setPaper] = useState(noMail);
  const [letter, setLetter] = useState(0); // one of the school's; 0 for words of one's own
  const [subject, setSubject] = useState("");
  const [text, setText] = useState("");
  const [out, setOut] = useState<ReadonlySet<number>>(new Set());
  const [look, setLook] = useState<Look>();
  const kept = students.filter((s) => !out.has(s.id)).map((s) => s.id);
  const words = letter > 0 ? { letter } : { subject, text };
  const asked = JSON.stringify({ students: students.map((s) => s.id), homes, paper, ...words });
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(async () => {
      try {
        const next = await write({ path: "/api/letters/many/look", body: JSON.parse(asked) });
        if (!gone) setLook(next);
      } catch (e) {
        if (!gone) tell.wrong((e as Error).message);
      }
    }, pause);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [asked]);
  const send = useWrite({
    done: (r) => {
      tell.receipt(r);
      if (r.ids.length > 0) window.open(`/api/letters/sheet?letters=${r.ids.join(",")}`, "_blank");
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const going = (look?.rows ?? []).filter((r) => !out.has(r.student.id)).flatMap((r) => r.to);
  const mails = going.filter((t) => t.eMail).length;
  const said = letter > 0 || (subject.trim() !== "" && text.trim() !== "");
  const ready = kept.length > 0 && going.length > 0 && said && !look?.problem;
  const take = (id: number) => {
    const next = new Set(out);
    if (!next.delete(id)) next.add(id);
    setOut(next);
  };
  return (
    <Modal open width={860} title={`Write to ${plural(kept.length, "student")}`} onCancel={close} footer={null}>
      <form
        className="write-to-many"
        onSubmit={(e) => {
          e.preventDefault();
          if (ready) send.mutate({ path: "/api/letters/many", body: { students: kept, homes, paper, ...words } });
        }}
      >
        <div className="words">
          <OneOf
            label="To whom"
            value={homes ? "homes" : "students"}
            onChange={(to) => setHomes(to === "homes")}
            options={[
              { value: "homes", label: "to their homes" },
              { value: "students", label: "to the students" },
            ]}
          />
          <Tick checked={paper} disabled={noMail} onChange={setPaper}>
            all on paper
          </Tick>
          {noMail && <p className="look-small look-muted">No carrier of e-mails is set up.</p>}
          {(look?.letters ?? []).length > 0 && (
            <Choice
              label="In which words"
              value={letter}
              onChange={setLetter}
              options={[
                { value: 0, label: "in your own words" },
                ...(look?.letters ?? []).map((l) => ({ value: l.id, label: l.name })),
              ]}
            />
          )}
          {letter > 0 ? (
            <p className="look-small look-muted">
              One of the school’s letters; each home gets it in its own language where the letter has it.{" "}
              <button
                type="button"
                className="link"
                onClick={() => {
                  const from = look?.letters.find((l) => l.id === letter);
                  setSubject(from?.subject ?? "");
                  setText(from?.text ?? "");
                  setLetter(0);
                }}
              >
                Change its words for this time
              </button>
            </p>
          ) : (
            <>
              <label>
                Subject
                <Input value={subject} maxLength={200} autoFocus onChange={(e) => setSubject(e.target.value)} />
              </label>
              <label>
                Text
                <Input.TextArea rows={9} value={text} maxLength={10_000} onChange={(e) => setText(e.target.value)} />
              </label>
              <p className="look-small look-muted">
                In braces: {(look?.fields ?? []).map((f) => `{${f}}`).join(", ")}. An empty line begins a paragraph.
              </p>
            </>
          )}
          {look?.problem && (
            <p role="alert" className="look-overdue">
              {look.problem}
            </p>
          )}
          {look && !look.problem && look.text && (
            <blockquote aria-label="As the first of them gets it">
              <b>{look.subject}</b>
              {"\n\n"}
              {look.text}
            </blockquote>
          )}
        </div>
        <fieldset className="names">
          <legend>Who gets it</legend>
          {look?.rows.map((r) => (
            <Tick key={r.student.id} checked={!out.has(r.student.id)} onChange={() => take(r.student.id)}>
              {r.student.name}{" "}
              <span className="look-small look-muted">
                {r.to.map((t) => `${t.names}${t.eMail ? "" : ", to print"}`).join("; ") || "nobody is on file"}
              </span>
            </Tick>
          ))}
        </fieldset>
        <span className="send">
          <Button type="primary" htmlType="submit" disabled={!ready} loading={send.isPending}>
            {[mails > 0 && `Send ${plural(mails, "e-mail")}`, going.length > mails && `print ${going.length - mails}`]
              .filter(Boolean)
              .join(", ")
              .replace(/^p/, "P") || "Send"}
          </Button>{" "}
          <Button onClick={close}>Cancel</Button>{" "}
          <span className="look-small look-muted">Each stays on its student’s record.</span>
        </span>
      </form>
    </Modal>
  );
}
