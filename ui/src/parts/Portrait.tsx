import type { Schemas } from "../api/client";

/** A student's photo, or the initials where there is none. */
export function Portrait({ student, photo }: { student: Schemas["StudentRef"]; photo: boolean }) {
  return photo ? (
    <img className="initials" src={`/api/students/${student.id}/photo`} alt={student.name} />
  ) : (
    <div className="initials" aria-hidden="true">
      {student.given.charAt(0)}
      {student.sorted.charAt(0)}
    </div>
  );
}
