import "./pass.css";
import { useState } from "react";
import { Refusal, read, type Schemas } from "../../api/client";

/** In the corridor, on a phone: what a pass is worth, by its number. */
export default function PassCheck() {
  const [typed, setTyped] = useState(() => decodeURIComponent(window.location.pathname.split("/")[2] ?? ""));
  const [pass, setPass] = useState<Schemas["PassCheck"]>();
  const [fault, setFault] = useState("");
  const check = async () => {
    setPass(undefined);
    setFault("");
    if (!typed.trim()) return;
    try {
      setPass(await read("/api/passes/{number}", { number: typed.trim() }));
    } catch (e) {
      setFault(e instanceof Refusal ? e.message : "The line to the school is down: nothing is known of this pass now.");
    }
  };
  return (
    <main className="pass-check">
      <h1>Check a pass</h1>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void check();
        }}
      >
        <input
          className="plain"
          inputMode="numeric"
          aria-label="Pass number"
          placeholder="number on the pass"
          autoComplete="off"
          // biome-ignore lint/a11y/noAutofocus: the one thing to do
          autoFocus
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <button type="submit">Check</button>
      </form>
      <div role="status">
        {fault && <p className="verdict bad">{fault}</p>}
        {pass && (
          <>
            <p className={`verdict ${pass.state === "good" ? "good" : "bad"}`}>
              {pass.state === "good" ? "Good" : "Not good"}
              <span>{pass.text}</span>
            </p>
            {pass.name && (
              <>
                <h2>{pass.name}</h2>
                <p className="look-muted">{pass.form}</p>
                <dl>
                  <dt>{pass.kind === "departed" ? "left at" : "in at"}</dt>
                  <dd>{pass.at}</dd>
                  {pass.returns && (
                    <>
                      <dt>back by</dt>
                      <dd>{pass.returns}</dd>
                    </>
                  )}
                  {pass.due && (
                    <>
                      <dt>due in</dt>
                      <dd>{pass.due}</dd>
                    </>
                  )}
                </dl>
              </>
            )}
          </>
        )}
      </div>
      <p className="look-small">
        <a href="/">Back to Meldung</a>
      </p>
    </main>
  );
}
