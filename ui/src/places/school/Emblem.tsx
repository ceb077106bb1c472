import { App } from "antd";
import type { ChangeEvent } from "react";
import { useWrite } from "../../api/client";
import { Panel } from "../../parts/Panel";
import { contentOf } from "../../parts/upload";

/** The school's emblem, as it stands on passes. */
export function Emblem() {
  const { message } = App.useApp();
  const store = useWrite({ done: (r) => message.success(r.text), failed: (e) => message.error(e.message, 8) });
  const choose = async (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    if (file) store.mutate({ path: "/api/school/mark", body: { picture: (await contentOf(file)).content } });
    e.target.value = "";
  };
  return (
    <Panel title="Emblem on passes">
      <div className="line">
        <input
          type="file"
          accept="image/png,image/jpeg"
          aria-label="The school’s emblem"
          onChange={(e) => void choose(e)}
        />
        <button
          type="button"
          className="link small muted push nowrap"
          onClick={() => store.mutate({ path: "/api/school/mark", body: { picture: "" } })}
        >
          none
        </button>
      </div>
    </Panel>
  );
}
