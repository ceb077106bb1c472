import { Button, Select } from "antd";
import { type FormEvent, useState } from "react";
import { useRead, useWrite } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";

const nobody = { name: "", firm: "", host: "", badge: "" };

/** Visitors and staff who sign in at the desk: they are on the roll call until they have left. */
export function Visitors() {
  const visits = useRead("/api/visits");
  const [kind, setKind] = useState<"visitor" | "staff">();
  const [typed, setTyped] = useState(nobody);
  const [staff, setStaff] = useState<number>();
  const [all, setAll] = useState(false);
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      setTyped(nobody);
      setStaff(undefined);
      setKind(undefined);
    },
    failed: (e) => tell.wrong(e.message),
  });
  if (!visits.data) return null;
  const { in: inside, left } = visits.data;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (kind === "staff" && staff) store.mutate({ path: "/api/visits", body: { staff } });
    if (kind === "visitor") store.mutate({ path: "/api/visits", body: typed });
  };
  const field = (name: keyof typeof nobody, words: string) => (
    <input
      className={`plain ${name}`}
      aria-label={`Visitor: ${words}`}
      placeholder={words}
      autoComplete="off"
      // biome-ignore lint/a11y/noAutofocus: the form was asked for
      autoFocus={name === "name"}
      value={typed[name]}
      onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
    />
  );
  return (
    <Panel title="Visitors and staff" extra={`${inside.length} in`}>
      {inside.length === 0 && <p className="empty">Nobody has signed in who is still here.</p>}
      {inside.map((v) => (
        <div className="look-line" key={v.id}>
          <span>
            <b>{v.name}</b>{" "}
            <span className="look-muted look-small">
              {[
                v.kind === "staff" ? "staff" : v.firm,
                v.host && `host ${v.host}`,
                v.badge && `badge ${v.badge}`,
                `in ${v.from}`,
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </span>
          <span className="look-actions">
            <Button
              size="small"
              onClick={() => store.mutate({ path: "/api/visits/{id}/end", params: { id: v.id } })}
              aria-label={`${v.name} leaves`}
            >
              leaves
            </Button>
          </span>
        </div>
      ))}
      {left.length > 0 && (
        <div className="look-line">
          <button type="button" className="link look-muted look-small" aria-expanded={all} onClick={() => setAll(!all)}>
            {left.length} left today
          </button>
        </div>
      )}
      {all &&
        left.map((v) => (
          <div className="look-line look-small look-muted" key={v.id}>
            {v.name}, {v.from} to {v.to}
            <span className="look-actions">
              <Button
                size="small"
                onClick={() => store.mutate({ path: "/api/visits/{id}/back", params: { id: v.id } })}
              >
                is in after all
              </Button>
            </span>
          </div>
        ))}
      {!kind && (
        <div className="look-line">
          <Button size="small" onClick={() => setKind("visitor")}>
            Sign a visitor in
          </Button>
          <Button size="small" onClick={() => setKind("staff")}>
            Sign staff in
          </Button>
        </div>
      )}
      {kind && (
        <form
          className="look-line look-wrap visitor"
          aria-label={`Sign ${kind === "staff" ? "staff" : "a visitor"} in`}
          onSubmit={submit}
        >
          {kind === "visitor" && (
            <>
              {field("name", "name")}
              {field("firm", "firm")}
              {field("host", "whom they visit")}
              {field("badge", "badge: the next free")}
            </>
          )}
          {kind === "staff" && (
            <Select
              aria-label="Who of the staff"
              placeholder="who"
              className="look-wide"
              autoFocus
              showSearch={{ optionFilterProp: "label" }}
              value={staff}
              onChange={setStaff}
              options={visits.data.staff.map((s) => ({ value: s.id, label: s.name }))}
            />
          )}
          <Button
            size="small"
            type="primary"
            htmlType="submit"
            loading={store.isPending}
            disabled={kind === "staff" ? !staff : !typed.name.trim()}
          >
            Sign in
          </Button>
          <Button size="small" onClick={() => setKind(undefined)}>
            Cancel
          </Button>
        </form>
      )}
    </Panel>
  );
}
