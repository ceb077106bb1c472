import { App } from "antd";
import { useWrite } from "../../api/client";
import { FileField } from "../../parts/controls/FileField";
import { Panel } from "../../parts/Panel";
import { contentOf } from "../../parts/upload";

/** The school's emblem, as it stands on passes. */
export function Emblem() {
  const { message } = App.useApp();
  const store = useWrite({ done: (r) => message.success(r.text), failed: (e) => message.error(e.message, 8) });
  const choose = async (file?: File) => {
    if (file) store.mutate({ path: "/api/school/mark", body: { picture: (await contentOf(file)).content } });
  };
  return (
    <Panel title="School logo">
      <div className="line">
        <FileField accept="image/png,image/jpeg" label="The school’s logo" chosen={([file]) => void choose(file)}>
          Choose a picture …
        </FileField>
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
