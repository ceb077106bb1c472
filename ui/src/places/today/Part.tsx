import { Button } from "antd";
import { useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { ofStudent } from "../../parts/in-list";
import { useKeys } from "../../parts/keys";
import { Long } from "../../parts/Long";
import { useAddress } from "../../parts/look-at";
import { Panel } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { useScope } from "../../parts/scope";
import { plural } from "../../parts/words";

const rowHeight = 30; // px

/** One part of the count, taken apart: who it is, and why each of them is in it. */
export function Part({ state }: { state: string }) {
  const { at, set } = useAddress();
  const part = useRead("/api/today/part/{state}", { state, at, section: useScope() });
  const close = () => set({ part: undefined }, false);
  useKeys({ Escape: close });
  const p = part.data;
  return (
    <Panel
      title={p ? `${p.label.charAt(0).toUpperCase()}${p.label.slice(1)} at ${p.asAt.slice(11)}` : "…"}
      extra={
        <>
          {p && plural(p.students.length, "student")}{" "}
          <Button size="small" onClick={close}>
            Close <kbd>Esc</kbd>
          </Button>
        </>
      }
    >
      {part.error && (
        <p className="empty" role="alert">
          {part.error.message}
        </p>
      )}
      {p?.students.length === 0 && <p className="empty">Nobody. {p.scope}.</p>}
      <div className="part-list">
        <Long rows={p?.students ?? []} height={rowHeight} keyOf={ofStudent} student={ofStudent} as="div">
          {(s, place) => (
            <div className="look-line" {...place}>
              <span className="who">
                <Shape state={s.place.state} />
                <StudentName student={s.student} />
                {s.warnings.map((w) => (
                  <span key={w} className="look-warn">
                    {w}
                  </span>
                ))}
              </span>
              <span className={`look-small${s.place.worried ? " look-overdue" : " look-muted"}`}>
                {[s.place.text, s.place.last].filter(Boolean).join(" · ")}
              </span>
            </div>
          )}
        </Long>
      </div>
    </Panel>
  );
}
