import "./signin.css";
import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { useRead, write } from "../../api/client";

/**
 * Signing in; or choosing a password of one's own: in place of the one-time one, or of the present one, which is
 * asked for then.
 */
export function SignIn({ replace, asks, done }: { replace?: string; asks?: boolean; done?: () => void }) {
  const queries = useQueryClient();
  const page = useRead("/api/sign-in");
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [old, setOld] = useState("");
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      if (replace) await write({ path: "/api/session/password", body: { password, ...(asks && { old }) } });
      else await write({ path: "/api/session", body: { username, password } });
      setError("");
      if (done) done();
      else await queries.resetQueries();
    } catch (e) {
      setError((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className="signin">
      <form className="panel" onSubmit={submit}>
        <h1>
          <img src="/mark.svg" alt="" width="26" height="26" /> Meldung
        </h1>
        <p className="look-muted">
          {replace
            ? `${replace}: choose a password of your own, at least 10 characters.${asks ? " It signs you out everywhere else." : ""}`
            : page.data?.school}
        </p>
        {!replace && (
          <label htmlFor="username">
            Name
            <Input
              id="username"
              autoFocus
              autoComplete="username"
              value={username}
              onChange={(e) => setUsername(e.target.value)}
            />
          </label>
        )}
        {asks && (
          <label htmlFor="old">
            Present password
            <Input.Password
              id="old"
              autoFocus
              autoComplete="current-password"
              value={old}
              onChange={(e) => setOld(e.target.value)}
            />
          </label>
        )}
        <label htmlFor="password">
          {asks ? "New password" : "Password"}
          <Input.Password
            id="password"
            autoComplete={replace ? "new-password" : "current-password"}
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </label>
        {error && (
          <p role="alert" className="error">
            {error}
          </p>
        )}
        <Button type="primary" htmlType="submit" loading={busy} block>
          {replace ? "Keep this password" : "Sign in"}
        </Button>
        {done && (
          <Button block onClick={done}>
            Keep the present password
          </Button>
        )}
      </form>
      {!replace && (page.data?.hints.length ?? 0) > 0 && (
        <section className="panel hints" aria-label="Accounts of the demonstration">
          <p className="look-muted">This is a demonstration; everyone in it is invented. Sign in as</p>
          {page.data?.hints.map((h) => (
            <button
              type="button"
              key={h.username}
              onClick={() => {
                setUsername(h.username);
                setPassword(h.password);
              }}
            >
              <b>{h.username}</b> {h.who}
            </button>
          ))}
        </section>
      )}
    </main>
  );
}
