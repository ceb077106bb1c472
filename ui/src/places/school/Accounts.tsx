import { App, Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { type Schemas, write } from "../../api/client";
import { Panel } from "../../parts/Panel";

type Role = Schemas["NewAccount"]["role"];
const roles: Role[] = ["teacher", "officer", "pastoral", "desk", "leader", "administrator"];

/** Who can sign in; a new account gets a one-time password, shown once. */
export function Accounts({ s, refresh }: { s: Schemas["SchoolView"]; refresh: () => void }) {
  const { message } = App.useApp();
  const [username, setUsername] = useState("");
  const [role, setRole] = useState<Role>("teacher");
  const [staff, setStaff] = useState(0);
  const [name, setName] = useState("");
  const [made, setMade] = useState<Schemas["MadeAccount"]>();
  const add = async (e: FormEvent) => {
    e.preventDefault();
    try {
      setMade(await write({ path: "/api/school/accounts", body: { username, role, staff, name } }));
      setUsername("");
      setName("");
      refresh();
    } catch (error) {
      message.error((error as Error).message, 8);
    }
  };
  return (
    <Panel title="Accounts" extra={s.accounts.length}>
      <form className="line wrap" onSubmit={(e) => void add(e)} aria-label="New account">
        <Input
          className="name"
          aria-label="Username"
          placeholder="username"
          value={username}
          onChange={(e) => setUsername(e.target.value)}
        />
        <select className="plain" aria-label="Role" value={role} onChange={(e) => setRole(e.target.value as Role)}>
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
      </form>
      {made && (
        <p className="empty" role="status">
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
