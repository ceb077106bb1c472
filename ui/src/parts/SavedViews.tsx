import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { type Schemas, useRead, useWrite } from "../api/client";
import { Tick } from "./controls/Tick";
import { useFocusBack } from "./focus";
import { lasting } from "./pins";
import { tell } from "./told";

/** Views of a place under names, one's own and those that others share: opened with one click, saved, taken off. */
export function SavedViews({ place }: { place: Schemas["View"]["place"] }) {
  const { pathname, search } = useLocation();
  const go = useNavigate();
  const views = useRead("/api/views", { place }).data ?? [];
  const [saving, setSaving] = useState(false);
  const address = lasting(pathname, search);
  const here = views.find((v) => v.address === address);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      setSaving(false);
    },
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <nav className="saved-views no-print" aria-label="Saved views">
      {views.map((v) => (
        <button
          key={v.id}
          type="button"
          className={v === here ? "link look-strong" : "link"}
          aria-current={v === here || undefined}
          title={v.own ? undefined : `shared by ${v.by}`}
          onClick={() => go(v.address)}
        >
          {v.name}
        </button>
      ))}
      {here?.own ? (
        <button
          type="button"
          className="link look-muted"
          onClick={() => write.mutate({ path: "/api/views/{view}/end", params: { view: here.id } })}
        >
          take off
        </button>
      ) : (
        !here && (
          <button type="button" className="link look-muted" onClick={() => setSaving(true)}>
            Save this view …
          </button>
        )
      )}
      {saving && (
        <Save
          close={() => setSaving(false)}
          save={(name, shared) => write.mutate({ path: "/api/views", body: { place, name, address, shared } })}
        />
      )}
    </nav>
  );
}

function Save({ close, save }: { close: () => void; save: (name: string, shared: boolean) => void }) {
  const [name, setName] = useState("");
  const [shared, setShared] = useState(false);
  useFocusBack();
  return (
    <Modal open title="Save this view" onCancel={close} footer={null}>
      <form
        className="save-view"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) save(name.trim(), shared);
        }}
      >
        <label>
          Name
          <Input value={name} maxLength={60} autoFocus onChange={(e) => setName(e.target.value)} />
        </label>
        <Tick checked={shared} onChange={setShared}>
          others are offered it too
        </Tick>
        <span>
          <Button type="primary" htmlType="submit" disabled={!name.trim()}>
            Save
          </Button>{" "}
          <Button onClick={close}>Cancel</Button>
        </span>
      </form>
    </Modal>
  );
}
