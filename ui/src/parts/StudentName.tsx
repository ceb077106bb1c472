import { useContext } from "react";
import type { Schemas } from "../api/client";
import { rememberList, WholeList } from "./in-list";
import { useAddress } from "./look-at";
import { OwnMarks } from "./OwnMarks";

type Named = Pick<Schemas["StudentRef"], "id" | "name" | "form">;

/** A student's name; it opens the student's sheet over the page. */
export function StudentName({ student, form = true }: { student: Named; form?: boolean }) {
  const { set } = useAddress();
  const whole = useContext(WholeList);
  return (
    <span className="look-nowrap">
      <button
        type="button"
        className="link look-strong"
        data-student={student.id}
        onClick={(e) => {
          rememberList(e.currentTarget, whole);
          set({ student: String(student.id) }, false);
        }}
      >
        {student.name}
      </button>
      {form && <span className="look-muted"> {student.form}</span>}
      <OwnMarks student={student.id} />
    </span>
  );
}
