import { Button, Input, Popconfirm } from "antd";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead, useWrite, write } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { FileField } from "../../parts/controls/FileField";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { contentOf } from "../../parts/upload";
import { plural } from "../../parts/words";

type Role = Schemas["NewAccount"]["role"];
const roles: Role[] = ["teacher", "officer", "pastoral", "desk", "leader", "administrator"];
const roleOptions = roles.map((r) => ({ value: r, label: r }));

/** Who can sign in, and who is; a new account and one reset get a one-time password, shown once. */
export function Accounts({ s, refresh }: { s: Schemas["SchoolView"]; refresh: () => void }) {
  const [made, setMade] = useState<Schemas["MadeAccount"][]>([]);
  const [ended, setEnded] = useState(false);
  const sessions = useRead("/api/school/sessions");
  const again = () => {
    refresh();
    void sessions.refetch();
  };
  const failed = (e: Error) => tell.wrong(e.message);
  const change = useWrite({
    done: (r) => {
      tell.receipt(r);
      again();
    },
    failed,
  });
  const reset = async (id: number) => {
    try {
      setMade([await write({ path: "/api/school/accounts/{id}/reset", params: { id } })]);
      again();
    } catch (e) {
      failed(e as Error);
    }
  };
  const shown = s.accounts.filter((a) => ended || !a.ended);
  const over = s.accounts.length - s.accounts.filter((a) => !a.ended).length;
  return (
    <Panel title="Accounts" extra={s.accounts.length - over}>
      <NewAccount
        s={s}
        failed={failed}
        made={(list) => {
          setMade(list);
          again();
        }}
      />
      {made.length > 0 && <Passwords made={made} close={() => setMade([])} />}
      <table className="rows">
        <thead>
          <tr>
            <th>User name</th>
            <th>Name</th>
            <th>Role</th>
            <th>Signed in</th>
            <th>
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((a) => {
            const open = (sessions.data ?? []).filter((one) => one.account === a.id);
            return (
              <tr key={a.id}>
                <td>{a.username}</td>
                <td>{a.name}</td>
                <td>
                  {a.ended ? (
                    <span className="look-muted">{a.role}, ended</span>
                  ) : (
                    <Choice
                      size="small"
                      label={`Role of ${a.username}`}
                      value={a.role as Role}
                      onChange={(role) =>
                        change.mutate({
                          path: "/api/school/accounts/{id}",
                          params: { id: a.id },
                          body: { role, staff: a.staff },
                        })
                      }
                      options={roleOptions}
                    />
                  )}
                </td>
                <td className="look-small">
                  {open.map((one) => (
                    <div key={one.handle}>
                      <span title={one.device}>
                        since {one.begun.slice(5)} from {one.from}
                      </span>
                      {one.own ? (
                        <span className="look-muted"> this one</span>
                      ) : (
                        <>
                          {" "}
                          <button
                            type="button"
                            className="link"
                            onClick={() =>
                              change.mutate({
                                path: "/api/school/sessions/{handle}/end",
                                params: { handle: one.handle },
                              })
                            }
                          >
                            sign out
                          </button>
                        </>
                      )}
                    </div>
                  ))}
                  {open.length === 0 && a.oneTime && !a.ended && <span className="look-muted">not yet</span>}
                </td>
                <td className="number">
                  <Popconfirm
                    title={
                      a.ended
                        ? `${a.name} can sign in again, with a new one-time password.`
                        : `${a.name} gets a new one-time password and is signed out everywhere.`
                    }
                    okText={a.ended ? "Open it again" : "New password"}
                    onConfirm={() => void reset(a.id)}
                  >
                    <Button size="small">{a.ended ? "Open again" : "Reset"}</Button>
                  </Popconfirm>{" "}
                  {!a.ended && (
                    <Popconfirm
                      title={`${a.name} can no longer sign in, from now on. What they did stays on record.`}
                      okText="End the account"
                      onConfirm={() => change.mutate({ path: "/api/school/accounts/{id}/end", params: { id: a.id } })}
                    >
                      <Button size="small">End</Button>
                    </Popconfirm>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <div className="look-line look-small">
        {over > 0 && (
          <button type="button" className="link" aria-pressed={ended} onClick={() => setEnded(!ended)}>
            {ended ? "Without those that have ended" : `${plural(over, "account")} ended`}
          </button>
        )}
        <Link className="look-push" to="/school/record">
          Who looked at what, who did what
        </Link>
      </div>
    </Panel>
  );
}

/** One new account, or a list of them from a file. */
function NewAccount({
  s,
  made,
  failed,
}: {
  s: Schemas["SchoolView"];
  made: (list: Schemas["MadeAccount"][]) => void;
  failed: (e: Error) => void;
}) {
  const [username, setUsername] = useState("");
  const [role, setRole] = useState<Role>("teacher");
  const [staff, setStaff] = useState(0);
  const [name, setName] = useState("");
  const add = async (e: FormEvent) => {
    e.preventDefault();
    try {
      made([await write({ path: "/api/school/accounts", body: { username, role, staff, name } })]);
      setUsername("");
      setName("");
    } catch (error) {
      failed(error as Error);
    }
  };
  const list = async (file?: File) => {
    if (!file) return;
    try {
      made(await write({ path: "/api/school/accounts/list", body: await contentOf(file) }));
    } catch (error) {
      failed(error as Error);
    }
  };
  return (
    <form className="look-line look-wrap" onSubmit={(e) => void add(e)} aria-label="New account">
      <Input
        className="name"
        aria-label="User name"
        placeholder="user name"
        value={username}
        onChange={(e) => setUsername(e.target.value)}
      />
      <Choice label="Role" value={role} onChange={setRole} options={roleOptions} />
      <Choice
        label="Staff"
        value={staff}
        onChange={setStaff}
        options={[
          { value: 0, label: "not linked to staff" },
          ...s.people.map((p) => ({ value: p.id as number, label: p.name })),
        ]}
      />
      {staff === 0 && (
        <Input
          className="name"
          aria-label="Name"
          placeholder="name"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      )}
      <Button htmlType="submit" disabled={!username.trim()}>
        Make the account
      </Button>
      <FileField accept=".csv" chosen={([file]) => void list(file)}>
        A list of accounts, as CSV …
      </FileField>
      <span className="look-small look-muted">with columns for user name, role, name and staff</span>
    </form>
  );
}

/** One-time passwords, shown this once, to hand out or to keep as a file. */
function Passwords({ made, close }: { made: Schemas["MadeAccount"][]; close: () => void }) {
  const file = [
    "username,name,password",
    ...made.map((m) => `${m.username},"${m.name.replaceAll('"', '""')}",${m.password}`),
  ];
  return (
    <div className="look-line look-wrap" role="status">
      {made.length === 1 ? (
        <span>
          <b>{made[0]?.username}</b> signs in once with <b>{made[0]?.password}</b>; it is not shown again.
        </span>
      ) : (
        <>
          <span>{made.length} accounts are made. Their one-time passwords are not shown again.</span>
          <Button
            size="small"
            href={`data:text/csv;charset=utf-8,${encodeURIComponent(file.join("\r\n"))}`}
            download="one-time-passwords.csv"
          >
            Keep them as a file
          </Button>
        </>
      )}
      <Button size="small" className="look-push" onClick={close}>
        Done with it
      </Button>
    </div>
  );
}
