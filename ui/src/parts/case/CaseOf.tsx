import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { useAddress } from "../look-at";
import { plural } from "../words";
import { OpenCase } from "./OpenCase";

/** In whose hands a student is, with the way to the case, or to opening one. */
export function CaseOf({
  student,
  from = "hand",
  why,
}: {
  student: Pick<Schemas["StudentRef"], "id" | "name">;
  from?: "step" | "hand";
  why?: string;
}) {
  const { at } = useAddress();
  const page = useRead("/api/students/{id}/cases", { id: student.id, at });
  const [opening, setOpening] = useState(false);
  if (!page.data) return null;
  const { cases, owners, mayChange } = page.data;
  const open = cases.find((c) => c.open);
  const closed = cases.filter((c) => !c.open);
  const query = at ? `?${new URLSearchParams({ at })}` : "";
  const to = (c: Schemas["CaseLine"], words: string) =>
    c.mayRead ? <Link to={`/follow-up/cases/${student.id}/${c.id}${query}`}>{words}</Link> : words;
  return (
    <div className="case-of look-small">
      <span>
        <b>{open ? to(open, "Case") : "No open case"}</b>
        {open && ` ${open.text}`}
        {closed[0] && (
          <span className="look-muted">
            {" · "}
            {closed.length > 1 && `${plural(closed.length, "earlier case")}, the last `}
            {to(closed[0], closed[0].text)}
          </span>
        )}
      </span>
      {mayChange && !open && (
        <Button size="small" className="no-print" onClick={() => setOpening(true)}>
          Open a case …
        </Button>
      )}
      {opening && (
        <OpenCase owners={owners} student={student} from={from} {...(why && { why })} close={() => setOpening(false)} />
      )}
    </div>
  );
}
