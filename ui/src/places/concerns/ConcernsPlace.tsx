import { NavLink, Route, Routes, useLocation, useOutletContext } from "react-router";
import type { Schemas } from "../../api/client";
import Concerns from "./Concerns";
import { Rules } from "./Rules";

/** Concerns in parts: whom they are about, and the rules that find them. */
export default function ConcernsPlace() {
  const who = useOutletContext<Schemas["Who"]>();
  const { search } = useLocation();
  const at = new URLSearchParams(search).get("at");
  const keep = at ? `?at=${at}` : "";
  if (who.role === "teacher") return <Concerns />;
  return (
    <>
      <div className="page concern-parts">
        <nav className="parts no-print" aria-label="Parts of Concerns">
          <NavLink to={`/concerns${keep}`} end>
            Students
          </NavLink>
          <NavLink to={`/concerns/rules${keep}`}>Rules</NavLink>
        </nav>
      </div>
      <Routes>
        <Route index element={<Concerns />} />
        <Route path="rules" element={<Rules />} />
      </Routes>
    </>
  );
}
