import type { Schemas } from "../api/client";
import { plural } from "./words";

/** Both bases of a part-time or shared student, with the reason for the difference. */
export function Bases({ b, fullDay }: { b: Schemas["WhyBases"]; fullDay: boolean }) {
  return (
    <p className="bases">
      <b>Part-time:</b> here for {b.here} of full time, {b.elsewhere} elsewhere. On the own schedule {b.scheduled} of{" "}
      {b.due} were missed; charged as full days it would be {b.fullDay}
      {b.fullDays > 0 &&
        `, since ${plural(b.fullDays, "day")} of which the school saw ${b.fullSeen} ${b.fullDays === 1 ? "counts" : "count"} as ${b.fullOf}`}
      . {fullDay ? "This policy charges full days." : "This policy counts the own schedule."}
    </p>
  );
}
