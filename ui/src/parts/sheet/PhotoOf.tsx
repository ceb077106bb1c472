import { type Schemas, useWrite } from "../../api/client";
import { FileField } from "../controls/FileField";
import { tell } from "../told";
import { contentOf } from "../upload";

/** Keeps the student's photo, which stands on passes, or takes it away. */
export function PhotoOf({ student, photo }: { student: Schemas["StudentRef"]; photo: boolean }) {
  const store = useWrite({ done: (r) => tell.receipt(r), failed: (e) => tell.wrong(e.message) });
  const keep = (picture: string) =>
    store.mutate({ path: "/api/students/{id}/photo", params: { id: student.id }, body: { picture } });
  return (
    <span className="look-small look-muted look-push">
      <FileField
        accept="image/png,image/jpeg"
        chosen={([file]) => file && void contentOf(file).then((f) => keep(f.content))}
      >
        {photo ? "Another photo" : "Add a photo"}
      </FileField>
      {photo && (
        <>
          {" · "}
          <button type="button" className="link" onClick={() => keep("")}>
            no photo
          </button>
        </>
      )}
    </span>
  );
}
