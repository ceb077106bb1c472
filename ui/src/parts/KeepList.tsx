import "./keep-list.css";
import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { useNavigate, useOutletContext } from "react-router";
import { type Schemas, useRead, useWrite } from "../api/client";
import { Choice } from "./controls/Choice";
import { Tick } from "./controls/Tick";
import { useFocusBack } from "./focus";
import { tell } from "./told";
import { plural } from "./words";

type Named = Pick<Schemas["StudentRef"], "id" | "name" | "form">;

const many = 150; // students from which on they are not asked about one by one

/** Keeps students under a name: on a new list, or on one of one's own. */
export function KeepList({ students, children = "Keep as a list …" }: { students: Named[]; children?: string }) {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const who = useOutletContext<Schemas["Who"] | undefined>();
  return (
    <>
      {students.length > 1 && who?.places.includes("papers") && (
        <Button
          size="small"
          onClick={() => {
            const name = `chosen under ${document.title.split(" · ")[0]}`;
            navigate("/papers/list/new", { state: { students: students.map((s) => s.id), name } });
          }}
        >
          On paper …
        </Button>
      )}
      <Button size="small" disabled={students.length === 0} onClick={() => setOpen(true)}>
        {children}
      </Button>
      {open && <Keep students={students} close={() => setOpen(false)} />}
    </>
  );
}

function Keep({ students, close }: { students: Named[]; close: () => void }) {
  useFocusBack();
  const own = (useRead("/api/lists").data ?? []).filter((l) => l.own);
  const [list, setList] = useState(0);
  const [name, setName] = useState("");
  const [shared, setShared] = useState(false);
  const [out, setOut] = useState<ReadonlySet<number>>(new Set());
  const kept = students.filter((s) => !out.has(s.id)).map((s) => s.id);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const ready = kept.length > 0 && (list !== 0 || name.trim() !== "");
  return (
    <Modal open title={`Keep ${plural(kept.length, "student")} as a list`} onCancel={close} footer={null}>
      <form
        className="keep-list"
        onSubmit={(e) => {
          e.preventDefault();
          if (!ready) return;
          const body = list ? { list, add: kept } : { name: name.trim(), shared, add: kept };
          write.mutate({ path: "/api/lists", body });
        }}
      >
        {own.length > 0 && (
          <Choice
            label="On which list"
            value={list}
            onChange={setList}
            options={[{ value: 0, label: "a new list" }, ...own.map((l) => ({ value: l.id, label: l.name }))]}
          />
        )}
        {list === 0 && (
          <>
            <label>
              Name
              <Input value={name} maxLength={60} autoFocus onChange={(e) => setName(e.target.value)} />
            </label>
            <Tick checked={shared} onChange={setShared}>
              others may use it too
            </Tick>
          </>
        )}
        {students.length > many && (
          <p className="look-small look-muted">All of them are put on it. Under Lists, each can be taken off.</p>
        )}
        {students.length > 1 && students.length <= many && (
          <fieldset className="names">
            <legend>Who is on it</legend>
            {students.map((s) => (
              <Tick
                key={s.id}
                checked={!out.has(s.id)}
                onChange={(on) => {
                  const next = new Set(out);
                  if (on) next.delete(s.id);
                  else next.add(s.id);
                  setOut(next);
                }}
              >
                {s.name} <span className="look-muted">{s.form}</span>
              </Tick>
            ))}
          </fieldset>
        )}
        <span>
          <Button type="primary" htmlType="submit" disabled={!ready} loading={write.isPending}>
            Save
          </Button>{" "}
          <Button onClick={close}>Cancel</Button>
        </span>
      </form>
    </Modal>
  );
}
