import { useWrite } from "../../api/client";
import { FileField } from "../../parts/controls/FileField";
import { Panel } from "../../parts/Panel";
import { tell } from "../../parts/told";
import { contentOf } from "../../parts/upload";

/** The school's emblem, as it stands on passes. */
export function Emblem() {
  const store = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const choose = async (file?: File) => {
    if (file) store.mutate({ path: "/api/school/mark", body: { picture: (await contentOf(file)).content } });
  };
  return (
    <Panel title="School logo">
      <div className="look-line">
        <FileField accept="image/png,image/jpeg" chosen={([file]) => void choose(file)}>
          Choose a logo …
        </FileField>
        <button
          type="button"
          className="link look-small look-muted look-push look-nowrap"
          onClick={() => store.mutate({ path: "/api/school/mark", body: { picture: "" } })}
        >
          none
        </button>
      </div>
    </Panel>
  );
}
