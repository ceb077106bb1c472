import type { Schemas } from "../../api/client";
import { Shape } from "../../look/Shape";

/** How a student's earlier slots went, oldest first. */
export function Recent({ marks }: { marks: Schemas["RecentMark"][] }) {
  return (
    <span className="recent look-fills">
      {marks.map((m) => (
        <i key={m.date} className={m.state === "in" ? "in" : ""} title={`${m.date}: ${m.code}`}>
          {m.state !== "in" && <Shape state={m.state} silent size={10} />}
        </i>
      ))}
    </span>
  );
}
