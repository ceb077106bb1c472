import "./policy-words.css";
import { Link, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { PolicyWords } from "../../parts/PolicyWords";
import { useScope } from "../../parts/scope";

/** By what is measured: a policy in plain words and as its file, as it holds on a date. */
export function Policy() {
  const who = useOutletContext<Schemas["Who"]>();
  const { params, set } = useAddress();
  const id = params.get("policy") ?? "ten-percent";
  const page = useRead("/api/policy", { policy: id, on: params.get("on") ?? undefined, section: useScope() });
  if (!page.data) return <Waiting error={page.error} />;
  const p = page.data;
  return (
    <main className="page absence-place policy-words">
      <h1>
        {p.title}
        {p.section && <span className="look-muted">, {p.section}</span>}
      </h1>
      <p className="look-muted">
        As it holds on {p.on} · version {p.version}
        {p.source && ` · ${p.source}`}
      </p>
      <div className="columns">
        <Panel title="In plain words">
          <div className="plain">
            <PolicyWords parts={p.plain} />
          </div>
        </Panel>
        <div className="stack">
          <Panel title="Versions" extra={p.versions.length}>
            {p.versions.map((v) => (
              <div className="look-line" key={v.from}>
                <button
                  type="button"
                  className="link"
                  aria-current={v.now || undefined}
                  disabled={!v.version}
                  onClick={() => set({ on: v.date || undefined })}
                >
                  {v.now ? <b>{v.from}</b> : v.from}
                </button>
                <span className="look-muted look-small look-push">{v.version || "taken away"}</span>
              </div>
            ))}
            {who.role === "administrator" && (
              <div className="look-line">
                <Link to={`/school/policies/edit?policy=${encodeURIComponent(p.id)}`}>Edit a copy</Link>
              </div>
            )}
          </Panel>
          <Panel title="As its file">
            {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is scrolled by keys as well */}
            <pre tabIndex={0}>{p.text}</pre>
          </Panel>
        </div>
      </div>
    </main>
  );
}
