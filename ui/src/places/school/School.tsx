import { App, Button, Input, InputNumber, Segmented } from "antd";
import { type ChangeEvent, type FormEvent, useRef, useState } from "react";
import { newKey, type Schemas, useRead, useWrite, write } from "../../api/client";
import { useSettings } from "../../api/settings";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { contentOf } from "../../parts/upload";

type Kind = "oneroster" | "timetable";

/** The school's people, and importing them: upload, look, apply. */
export default function School() {
  const page = useRead("/api/school");
  if (!page.data) return <Waiting error={page.error} />;
  const s = page.data;
  return (
    <main className="page">
      <h1 className="visually-hidden">School</h1>
      <div className="columns" style={{ gridTemplateColumns: "minmax(0, 1fr) 380px" }}>
        <div className="stack">
          <ImportFiles refresh={() => void page.refetch()} />
          <Accounts s={s} refresh={() => void page.refetch()} />
        </div>
        <div className="stack">
          <Panel title={s.name}>
            <dl
              style={{
                display: "grid",
                gridTemplateColumns: "auto 1fr",
                gap: "4px 14px",
                margin: 0,
                padding: "10px 14px",
              }}
            >
              {(
                [
                  [s.students, "students on the roll"],
                  [s.forms, "forms"],
                  [s.classes, "other classes"],
                  [s.staff, "staff"],
                  [s.contacts, "contacts"],
                ] as const
              ).map(([n, w]) => (
                <div key={w} style={{ display: "contents" }}>
                  <dt style={{ textAlign: "right" }}>
                    <b>{n}</b>
                  </dt>
                  <dd style={{ margin: 0 }}>{w}</dd>
                </div>
              ))}
            </dl>
            <p className="empty" style={{ margin: 0 }}>
              {s.calendar || "No calendar yet: import a timetable."}
            </p>
          </Panel>
          <RegisterRules />
          <Stations />
          <Mark />
          <Panel title="Students without a contact" aside={s.noContact.length || undefined}>
            {s.noContact.length === 0 && <p className="empty">Every student has a contact.</p>}
            {s.noContact.map((st) => (
              <div className="line" key={st.id}>
                <StudentName student={st} /> <span className="push quiet">{st.number}</span>
              </div>
            ))}
          </Panel>
          <Panel title="Contacts of nobody" aside={s.ofNobody.length || undefined}>
            {s.ofNobody.length === 0 && <p className="empty">Every contact belongs to a student.</p>}
            {s.ofNobody.map((c) => (
              <div className="line" key={c}>
                {c}
              </div>
            ))}
          </Panel>
        </div>
      </div>
    </main>
  );
}

/** Devices that students sign in and out on. */
function Stations() {
  const { message } = App.useApp();
  const stations = useRead("/api/stations");
  const [name, setName] = useState("");
  const [made, setMade] = useState<Schemas["StationCode"]>();
  const end = useWrite({ done: (r) => message.success(r.words), failed: (e) => message.error(e.message, 8) });
  const add = async (e: FormEvent) => {
    e.preventDefault();
    try {
      setMade(await write<Schemas["StationCode"]>("/api/stations", { name }));
      setName("");
      await stations.refetch();
    } catch (fault) {
      message.error((fault as Error).message, 8);
    }
  };
  return (
    <Panel title="Stations" aside={stations.data?.length || undefined}>
      {made && (
        <div className="line" role="status">
          <span>
            Open <b>/station</b> on the device at {made.name} and type{" "}
            <b className="nowrap" data-testid="station-code">
              {made.code.slice(0, 4)} {made.code.slice(4)}
            </b>{" "}
            <span className="quiet">once, before {made.until}. It is not shown again.</span>
          </span>
        </div>
      )}
      {stations.data?.length === 0 && !made && <p className="empty">Students sign in at the desk alone.</p>}
      {stations.data?.map((s) => (
        <div className="line" key={s.id}>
          <b>{s.name}</b>
          <span className="small quiet">
            {s.state} {s.state === "in use" ? "since" : "until"} {s.since}
            {s.wrong > 0 && ` · ${s.wrong} wrong numbers`}
          </span>
          <button
            type="button"
            className="link small quiet push"
            aria-label={`Take the station ${s.name} out of use`}
            onClick={() => end.mutate({ path: `/api/stations/${s.id}/end`, body: {} })}
          >
            out of use
          </button>
        </div>
      ))}
      <form className="line" onSubmit={(e) => void add(e)}>
        <Input
          size="small"
          aria-label="Where the station stands"
          placeholder="where it stands"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button size="small" htmlType="submit" disabled={!name.trim()}>
          New station
        </Button>
      </form>
    </Panel>
  );
}

/** The school's mark, as it stands on passes. */
function Mark() {
  const { message } = App.useApp();
  const store = useWrite({ done: (r) => message.success(r.words), failed: (e) => message.error(e.message, 8) });
  const choose = async (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    if (file) store.mutate({ path: "/api/school/mark", body: { picture: (await contentOf(file)).content } });
    e.target.value = "";
  };
  return (
    <Panel title="Mark on passes">
      <div className="line">
        <input
          type="file"
          accept="image/png,image/jpeg"
          aria-label="The school’s mark"
          onChange={(e) => void choose(e)}
        />
        <button
          type="button"
          className="link small quiet push nowrap"
          onClick={() => store.mutate({ path: "/api/school/mark", body: { picture: "" } })}
        >
          none
        </button>
      </div>
    </Panel>
  );
}

const ruleWords = [
  ["within", "minutes after its start a register is to be in"],
  ["lateGrace", "minutes after the start one is still on time"],
  ["remindAfter", "minutes overdue, its teacher is reminded; 0 for never"],
] as const;

/** What the school has decided about registers. */
function RegisterRules() {
  const { message } = App.useApp();
  const settings = useSettings();
  const [changed, setChanged] = useState<Partial<Schemas["RegisterRules"]>>({});
  const store = useWrite({
    done: (r) => {
      message.success(r.words);
      setChanged({});
    },
    failed: (e) => message.error(e.message, 8),
  });
  if (!settings.data) return null;
  const { registerWithin: within, lateGrace, remindAfter } = settings.data;
  const rules = { within, lateGrace, remindAfter, ...changed };
  return (
    <Panel title="Registers">
      {ruleWords.map(([name, words]) => (
        <div className="line" key={name}>
          <InputNumber
            size="small"
            min={name === "within" ? 1 : 0}
            max={120}
            style={{ width: 64, flex: "none" }}
            aria-label={words}
            value={rules[name]}
            onChange={(n) => setChanged({ ...changed, [name]: n ?? rules[name] })}
          />
          <span className="small">{words}</span>
        </div>
      ))}
      <div className="line">
        <Button
          size="small"
          disabled={Object.keys(changed).length === 0}
          loading={store.isPending}
          onClick={() => store.mutate({ path: "/api/school/register-rules", body: rules })}
        >
          Keep these rules
        </Button>
      </div>
    </Panel>
  );
}

const roles = ["teacher", "officer", "pastoral", "desk", "leader", "administrator"];

/** Who can sign in; a new account gets a one-time password, shown once. */
function Accounts({ s, refresh }: { s: Schemas["SchoolView"]; refresh: () => void }) {
  const { message } = App.useApp();
  const [username, setUsername] = useState("");
  const [role, setRole] = useState("teacher");
  const [staff, setStaff] = useState(0);
  const [name, setName] = useState("");
  const [made, setMade] = useState<Schemas["MadeAccount"]>();
  const add = async (e: FormEvent) => {
    e.preventDefault();
    try {
      setMade(await write<Schemas["MadeAccount"]>("/api/school/accounts", { username, role, staff, name }));
      setUsername("");
      setName("");
      refresh();
    } catch (error) {
      message.error((error as Error).message, 8);
    }
  };
  return (
    <Panel title="Accounts" aside={s.accounts.length}>
      <form className="line" style={{ flexWrap: "wrap" }} onSubmit={(e) => void add(e)} aria-label="New account">
        <Input
          style={{ width: 150 }}
          aria-label="Username"
          placeholder="username"
          value={username}
          onChange={(e) => setUsername(e.target.value)}
        />
        <select className="plain" aria-label="Role" value={role} onChange={(e) => setRole(e.target.value)}>
          {roles.map((r) => (
            <option key={r}>{r}</option>
          ))}
        </select>
        <select className="plain" aria-label="Staff" value={staff} onChange={(e) => setStaff(Number(e.target.value))}>
          <option value={0}>nobody of the staff</option>
          {s.people.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
        {staff === 0 && (
          <Input
            style={{ width: 150 }}
            aria-label="Name"
            placeholder="name"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        )}
        <Button htmlType="submit" disabled={!username.trim()}>
          Make the account
        </Button>
      </form>
      {made && (
        <p className="empty" role="status" style={{ margin: 0 }}>
          <b>{made.username}</b> signs in once with <b>{made.password}</b>; it is not shown again.
        </p>
      )}
      <table className="rows">
        <thead>
          <tr>
            <th>Username</th>
            <th>Name</th>
            <th>Role</th>
          </tr>
        </thead>
        <tbody>
          {s.accounts.map((a) => (
            <tr key={a.username}>
              <td>{a.username}</td>
              <td>{a.name}</td>
              <td>{a.role}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Panel>
  );
}

function ImportFiles({ refresh }: { refresh: () => void }) {
  const { message } = App.useApp();
  const [kind, setKind] = useState<Kind>("oneroster");
  const [files, setFiles] = useState<Schemas["ImportFile"][]>([]);
  const [plan, setPlan] = useState<Schemas["Plan"]>();
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const run = async (list: Schemas["ImportFile"][], apply: boolean) => {
    setBusy(true);
    try {
      const p = await write<Schemas["Plan"]>("/api/school/import", { kind, apply, files: list }, newKey());
      setPlan(p);
      if (p.applied) {
        message.success("The files are applied.");
        refresh();
      }
    } catch (e) {
      message.error((e as Error).message, 8);
    } finally {
      setBusy(false);
    }
  };
  const chosen = async (e: ChangeEvent<HTMLInputElement>) => {
    const list = await Promise.all([...(e.target.files ?? [])].map(contentOf));
    setFiles(list);
    setPlan(undefined);
    if (list.length) await run(list, false);
  };
  const changes = plan?.parts.reduce((n, p) => n + p.added + p.changed + p.ended, 0) ?? 0;
  return (
    <Panel title="Import" aside="upload, look, apply">
      <div className="line" style={{ flexWrap: "wrap" }}>
        <Segmented<Kind>
          value={kind}
          aria-label="What to import"
          onChange={(k) => {
            setKind(k);
            setFiles([]);
            setPlan(undefined);
            if (input.current) input.current.value = "";
          }}
          options={[
            { value: "oneroster", label: "People and classes" },
            { value: "timetable", label: "Calendar and timetable" },
          ]}
        />
        <input
          ref={input}
          type="file"
          multiple
          accept=".csv,.zip"
          aria-label="Files"
          onChange={(e) => void chosen(e)}
          disabled={busy}
        />
      </div>
      <p className="empty small" style={{ margin: 0 }}>
        {kind === "oneroster"
          ? "All CSV files of a OneRoster 1.1 export at once, or the zip. Nothing changes before you apply it; then all of it does, or nothing."
          : "calendar.csv, slots.csv and timetable.csv at once, or a zip. Nothing changes before you apply it; then all of it does, or nothing."}
      </p>
      {busy && (
        <p className="empty" role="status">
          Reading the files …
        </p>
      )}
      {plan && !busy && (
        <>
          {plan.problems.length > 0 && (
            <div role="alert" style={{ padding: "10px 14px", borderTop: "1px solid var(--line)" }}>
              <b className="overdue">
                {plan.problems.length} {plan.problems.length === 1 ? "line is" : "lines are"} wrong; nothing was
                changed.
              </b>
              <ul className="small">
                {plan.problems.slice(0, 100).map((p) => (
                  <li key={p}>{p}</li>
                ))}
              </ul>
            </div>
          )}
          <table className="rows">
            <thead>
              <tr>
                <th>What</th>
                <th className="number">Added</th>
                <th className="number">Changed</th>
                <th className="number">Ended</th>
                <th className="number">The same</th>
              </tr>
            </thead>
            <tbody>
              {plan.parts.map((p) => (
                <tr key={p.what}>
                  <td>{p.what}</td>
                  <td className="number">{p.added}</td>
                  <td className="number">{p.changed}</td>
                  <td className="number">{p.ended}</td>
                  <td className="number quiet">{p.same}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className="line">
            {plan.applied ? (
              <b>{changes === 0 ? "Nothing to change." : "Applied."}</b>
            ) : (
              <Button
                type="primary"
                disabled={plan.problems.length > 0 || changes === 0}
                onClick={() => void run(files, true)}
              >
                {changes === 0 ? "Nothing to change" : `Apply these ${changes} changes`}
              </Button>
            )}
          </div>
          {plan.notes.length + plan.details.length > 0 && (
            <details style={{ padding: "8px 14px" }} open={plan.notes.length > 0}>
              <summary>Notes and changes, line by line</summary>
              <ul className="small">
                {[...plan.notes, ...plan.details].map((n) => (
                  <li key={n}>{n}</li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </Panel>
  );
}
