import "./lists.css";
import { Button, Input } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Tick } from "../../parts/controls/Tick";
import { WhoField } from "../../parts/home/WhoField";
import { ofStudent, WholeList } from "../../parts/in-list";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

type List = Schemas["ListView"];

/** Students under a name: made from any list of figures or steps, or here; used wherever a group is chosen. */
export function Lists() {
  const { params, set } = useAddress();
  const page = useRead("/api/lists");
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      if (r.ids[0]) set({ list: String(r.ids[0]) });
    },
    failed: (e) => tell.wrong(e.message),
  });
  if (!page.data) return <Waiting error={page.error} />;
  const chosen = page.data.find((l) => String(l.id) === params.get("list")) ?? page.data[0];
  return (
    <main className="page absence-place lists-part">
      <h1 className="visually-hidden">Lists</h1>
      <div className="columns">
        <Panel title="Lists" extra={page.data.length}>
          {page.data.map((l) => (
            <div key={l.id} className="look-line">
              <span className="look-two">
                <button
                  type="button"
                  className="link"
                  aria-current={l === chosen || undefined}
                  onClick={() => set({ list: String(l.id) })}
                >
                  <b>{l.name}</b>
                </button>
                <span className="look-small look-muted">
                  {plural(l.students.length, "student")}
                  {l.own ? l.shared && " · others may use it" : ` · ${l.by}’s`}
                </span>
              </span>
            </div>
          ))}
          <NewList make={(name) => write.mutate({ path: "/api/lists", body: { name } })} />
        </Panel>
        {chosen ? (
          <One key={chosen.id} list={chosen} />
        ) : (
          <Panel title="No list yet">
            <p className="empty">
              A list is made here by its name, or from the students of Figures, the grid and Steps by “Keep as a list”.
              It can then be chosen wherever a group is.
            </p>
          </Panel>
        )}
      </div>
    </main>
  );
}

function NewList({ make }: { make: (name: string) => void }) {
  const [name, setName] = useState("");
  return (
    <form
      className="look-line"
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim()) make(name.trim());
        setName("");
      }}
    >
      <Input
        size="small"
        aria-label="Name of a new list"
        placeholder="name of a new list"
        value={name}
        maxLength={60}
        onChange={(e) => setName(e.target.value)}
      />
      <Button size="small" htmlType="submit" disabled={!name.trim()}>
        New list
      </Button>
    </form>
  );
}

const many = 150; // students that are shown at first

/** One list with who is on it: put on and taken off, named anew, shared, taken away. */
function One({ list }: { list: List }) {
  const [name, setName] = useState(list.name);
  const [all, setAll] = useState(false);
  const write = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const change = (next: Omit<Schemas["ListChange"], "list">) =>
    write.mutate({ path: "/api/lists", body: { list: list.id, ...next } });
  const group = encodeURIComponent(`list:${list.id}`);
  return (
    <Panel title={list.name} extra={plural(list.students.length, "student")}>
      <div className="look-line look-wrap">
        <Link to={`/absence?group=${group}`}>Figures</Link>
        <Link to={`/absence/grid?group=${group}`}>Grid</Link>
        <Link to={`/papers?group=${group}`}>Lates</Link>
        <a href={`/api/absence/file?group=${group}&format=csv`}>CSV</a>
        <a href={`/api/absence/file?group=${group}&format=xlsx`}>Spreadsheet</a>
        {list.own && (
          <button
            type="button"
            className="link look-push"
            onClick={() => write.mutate({ path: "/api/lists/{list}/end", params: { list: list.id } })}
          >
            take the list away
          </button>
        )}
      </div>
      {list.own && (
        <div className="look-line look-wrap">
          <form
            className="named"
            onSubmit={(e) => {
              e.preventDefault();
              if (name.trim() && name.trim() !== list.name) change({ name: name.trim() });
            }}
          >
            <Input
              size="small"
              aria-label="Name of the list"
              value={name}
              maxLength={60}
              onChange={(e) => setName(e.target.value)}
            />
            <Button size="small" htmlType="submit" disabled={!name.trim() || name.trim() === list.name}>
              Rename
            </Button>
          </form>
          <Tick checked={list.shared} onChange={(shared) => change({ shared })}>
            others may use it too
          </Tick>
        </div>
      )}
      {list.own && (
        <div className="look-line">
          <WhoField
            key={list.students.length}
            label="Put a student on"
            onChoose={(hit) => change({ add: [hit.student.id] })}
          />
        </div>
      )}
      {list.students.length === 0 && <p className="empty">Nobody is on it yet.</p>}
      <WholeList value={list.students.map((s) => ofStudent({ student: s }))}>
        <ul className="members">
          {list.students.slice(0, all ? undefined : many).map((s) => (
            <li key={s.id}>
              <StudentName student={s} />
              {list.own && <Off name={s.name} done={() => change({ remove: [s.id] })} />}
            </li>
          ))}
        </ul>
      </WholeList>
      {!all && list.students.length > many && (
        <div className="look-line">
          <button type="button" className="link look-muted" onClick={() => setAll(true)}>
            {list.students.length - many} more
          </button>
        </div>
      )}
      {list.gone.length > 0 && (
        <p className="empty">
          On it, but not on the roll today:{" "}
          {list.gone.map((s) => (
            <span key={s.id} className="look-nowrap">
              {s.name} {list.own && <Off name={s.name} done={() => change({ remove: [s.id] })} />}{" "}
            </span>
          ))}
        </p>
      )}
    </Panel>
  );
}

function Off({ name, done }: { name: string; done: () => void }) {
  return (
    <button type="button" className="link look-small look-muted" aria-label={`take off: ${name}`} onClick={done}>
      take off
    </button>
  );
}
