import { NavLink, Route, Routes, useLocation, useOutletContext } from "react-router";
import type { Schemas } from "../../api/client";
import Concerns from "./Concerns";
import { Outlook } from "./Outlook";
import { Reviews } from "./Reviews";
import { Rules } from "./Rules";

/** Concerns in parts: the review, those there were, and the rules. */
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
            Review
          </NavLink>
          <NavLink to={`/concerns/reviews${keep}`}>Earlier reviews</NavLink>
          <NavLink to={`/concerns/rules${keep}`}>Rules</NavLink>
          <NavLink to={`/concerns/outlook${keep}`}>Outlook</NavLink>
        </nav>
      </div>
      <Routes>
        <Route index element={<Concerns />} />
        <Route path="reviews" element={<Reviews />} />
        <Route path="outlook" element={<Outlook />} />
        <Route path="rules" element={<Rules />} />
      </Routes>
    </>
  );
}
