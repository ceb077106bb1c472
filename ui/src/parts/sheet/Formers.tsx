import { Button, Modal } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead, useWrite, write } from "../../api/client";
import { FileField } from "../controls/FileField";
import { Tick } from "../controls/Tick";
import { useFocusBack } from "../focus";
import { tell } from "../told";
import { contentOf } from "../upload";
import { plural } from "../words";

type Look = Schemas["FormerLook"];

/** What earlier schools have handed on about a student, to read and to bring in. */
export function Formers({ student, mayBring }: { student: Schemas["StudentRef"]; mayBring: boolean }) {
  const list = useRead("/api/students/{id}/former", { id: student.id });
  const [bringing, setBringing] = useState(false);
  if (!list.data || (list.data.length === 0 && !mayBring)) return null;
  return (
    <section aria-label="Earlier schools" className="formers">
      {list.data.map((f) => (
        <p key={f.id} className="look-small">
          <Link to={`/former/${student.id}/${f.id}`}>Record of {f.school}</Link> {f.figure && <span>{f.figure} </span>}
          <span className="look-muted">
            · made {f.made} · brought in by {f.by}
          </span>
        </p>
      ))}
      {mayBring && (
        <Button size="small" onClick={() => setBringing(true)}>
          Record of an earlier school …
        </Button>
      )}
      {bringing && <BringRecord student={student} close={() => setBringing(false)} />}
    </section>
  );
}

/** A record is looked at first: whose it is, what it holds, and what of it can be taken over here. */
function BringRecord({ student, close }: { student: Schemas["StudentRef"]; close: () => void }) {
  useFocusBack();
  const [file, setFile] = useState<Schemas["ImportFile"]>();
  const [look, setLook] = useState<Look>();
  const [busy, setBusy] = useState(false);
  const [take, setTake] = useState<ReadonlySet<string>>(new Set());
  const [same, setSame] = useState(false);
  const bring = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const chosen = async ([one]: File[]) => {
    if (!one) return;
    setBusy(true);
    setLook(undefined);
    setSame(false);
    try {
      const content = await contentOf(one);
      const found = await write({ path: "/api/former/look", body: { student: student.id, file: content } });
      setFile(content);
      setLook(found);
      setTake(new Set(found.parts.filter((p) => p.usual).map((p) => p.id)));
    } catch (e) {
      tell.wrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const ready = look && look.wrong.length === 0 && !look.there && (look.others.length === 0 || same);
  return (
    <Modal
      open
      width={620}
      title={`Record of an earlier school: ${student.name}`}
      okText="Bring it in"
      okButtonProps={{ disabled: !ready }}
      confirmLoading={bring.isPending}
      onOk={() =>
        file &&
        bring.mutate({
          path: "/api/former",
          body: { student: student.id, file, take: [...take], same: same || undefined },
        })
      }
      onCancel={close}
    >
      <p className="look-small look-muted">
        The zip file that the earlier school has handed out. The record is kept whole, to be read here; its marks are
        not counted in this school’s figures.
      </p>
      <FileField accept=".zip" chosen={(list) => void chosen(list)} disabled={busy}>
        {look ? "Choose another file" : "Choose the file"}
      </FileField>
      {busy && <p role="status">Reading the file …</p>}
      {look && <Found look={look} take={take} setTake={setTake} same={same} setSame={setSame} />}
    </Modal>
  );
}

const heads: Record<Schemas["FormerPart"]["kind"], string> = {
  contact: "Contacts to take over",
  warning: "Warnings to take over",
  photo: "Photo to take over",
};

function Found({
  look,
  take,
  setTake,
  same,
  setSame,
}: {
  look: Look;
  take: ReadonlySet<string>;
  setTake: (next: ReadonlySet<string>) => void;
  same: boolean;
  setSame: (same: boolean) => void;
}) {
  if (look.wrong.length > 0)
    return (
      <div role="alert">
        <p>
          <b className="look-overdue">Nothing of this file can be brought in.</b>
        </p>
        {look.wrong.map((w) => (
          <p key={w} className="look-small">
            {w}
          </p>
        ))}
      </div>
    );
  const kinds = [...new Set(look.parts.map((p) => p.kind))];
  return (
    <>
      <p>
        <b>{look.school}</b>, made {look.made}: {look.of}
      </p>
      {look.there && (
        <p role="alert" className="look-overdue">
          That record is here already: {look.there}
        </p>
      )}
      {look.others.length > 0 && (
        <div role="alert">
          {look.others.map((o) => (
            <p key={o} className="look-overdue">
              {o}
            </p>
          ))}
          <Tick checked={same} onChange={setSame}>
            It is the same student all the same
          </Tick>
        </div>
      )}
      <ul className="former-tables look-small">
        {look.tables.map((t) => (
          <li key={t.name}>
            {t.name}: {plural(t.rows, "row")}
            {t.span && ", "}
            {t.span && <span className="look-muted look-nowrap">{t.span}</span>}
          </li>
        ))}
      </ul>
      {kinds.map((kind) => (
        <fieldset key={kind} className="former-parts">
          <legend>{heads[kind]}</legend>
          {look.parts
            .filter((p) => p.kind === kind)
            .map((p) => (
              <Tick
                key={p.id}
                checked={take.has(p.id)}
                disabled={!p.may}
                onChange={(on) => setTake(new Set(on ? [...take, p.id] : [...take].filter((x) => x !== p.id)))}
              >
                {p.text}
                {p.note && <span className="look-small look-muted"> · {p.note}</span>}
              </Tick>
            ))}
        </fieldset>
      ))}
    </>
  );
}
