import { Modal } from "antd";
import { useRead } from "../../api/client";
import { useFocusBack } from "../../parts/focus";
import { KeepList } from "../../parts/KeepList";
import { Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { plural } from "../../parts/words";
import type { Asked, By } from "./asked";

/** Which cell of a table is opened: a line, everyone where its name is empty, in a period or a half-year. */
export type CellAsked = { by?: By; column: string; name: string; half?: boolean };

/** Whose grades or credits a cell counts. */
export function Cell({ asked, cell, own, close }: { asked: Asked; cell: CellAsked; own: boolean; close: () => void }) {
  useFocusBack();
  const { by, column, name, half } = cell;
  const page = useRead("/api/courses/cell", { ...asked, by, column, name });
  const v = page.data;
  const worst = v?.students.filter((s) => s.failing) ?? [];
  const near = v?.students.filter((s) => !s.failing) ?? [];
  return (
    <Modal open title={v?.title ?? column} footer={null} width={720} onCancel={close}>
      {!v && <Waiting inside error={page.error} />}
      {v && (
        <div className="grade-cell">
          {[
            { title: half ? "Credit lost" : "Failing", list: worst },
            { title: half ? "Standing lost" : "Nearly failing", list: near },
          ].map(
            (part) =>
              part.list.length > 0 && (
                <section key={part.title} aria-label={part.title}>
                  <h3>
                    {part.title}{" "}
                    <span className="look-muted">{plural(part.list.length, half ? "credit" : "grade")}</span>
                  </h3>
                  <table className="rows">
                    <tbody>
                      {part.list.map((s) => (
                        <tr key={`${s.student.id} ${s.course}`}>
                          <td>
                            <StudentName student={s.student} />
                          </td>
                          <td>{s.course}</td>
                          <td>{s.grade && <b>{s.grade}</b>}</td>
                          <td className="look-small">{s.words}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                </section>
              ),
          )}
          {v.students.length === 0 && <p className="empty">Nobody fails or nearly fails here.</p>}
          {!own && v.students.length > 0 && (
            <p>
              <KeepList students={[...new Map(v.students.map((s) => [s.student.id, s.student])).values()]}>
                Keep as a list …
              </KeepList>
            </p>
          )}
        </div>
      )}
    </Modal>
  );
}
