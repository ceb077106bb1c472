import { type FormEvent, useState } from "react";
import { newKey, type Schemas, write } from "../../api/client";

/** A visitor at a station: signing in gives a badge, leaving asks for it and the name. */
export function Visitor({
  asking,
  thanks,
  leave,
}: {
  asking: <T>(ask: () => Promise<T>) => Promise<T | undefined>;
  thanks: (words: string, more: string) => void;
  leave: () => void;
}) {
  const [leaving, setLeaving] = useState(false);
  const [typed, setTyped] = useState({ name: "", firm: "", host: "", badge: "" });
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    const key = newKey();
    const body = leaving ? { name: typed.name, badge: typed.badge, leave: true } : { ...typed, badge: "" };
    const done: Schemas["VisitorReceipt"] | undefined = await asking(() =>
      write({ path: "/api/station/visits", body }, key),
    );
    if (!done) return;
    if (leaving) thanks(`Thank you, ${done.name}. You are signed out.`, done.at);
    else
      thanks(
        `Thank you, ${done.name}. Your badge is ${done.badge}.`,
        `You are signed in since ${done.at}. Keep the number for leaving.`,
      );
  };
  const field = (name: keyof typeof typed, words: string, needed = false) => (
    <label>
      {words}
      <input
        autoComplete="off"
        maxLength={name === "badge" ? 20 : 100}
        required={needed}
        value={typed[name]}
        onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
      />
    </label>
  );
  return (
    <section className="visitor" aria-label="Visitors">
      <h1>{leaving ? "You are leaving" : "You are visiting"}</h1>
      <form onSubmit={(e) => void submit(e)}>
        {field("name", leaving ? "Your family name" : "Your name", true)}
        {leaving && field("badge", "The number of your badge", true)}
        {!leaving && field("firm", "Firm")}
        {!leaving && field("host", "Whom you visit")}
        <button type="submit" className="go wide">
          {leaving ? "Sign out" : "Sign in"}
        </button>
      </form>
      <button type="button" className="leave" onClick={() => setLeaving(!leaving)}>
        {leaving ? "I am arriving" : "I am leaving"}
      </button>
      <button type="button" className="leave" onClick={leave}>
        Cancel
      </button>
    </section>
  );
}
