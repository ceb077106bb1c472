import { Navigate, NavLink, Route, Routes, useLocation } from "react-router";
import { PaperEditor } from "./editor/PaperEditor";
import { PaperLists } from "./PaperLists";
import Papers from "./Papers";

/** Papers in parts: lists as they are printed, and what is kept of late arrivals and early departures. */
export default function PapersPlace() {
  const { search, key } = useLocation();
  const asked = new URLSearchParams(search);
  const at = asked.get("at");
  const keep = at ? `?at=${at}` : "";
  // A view that was saved when this was the place's only page.
  const isLates = ["from", "to", "group", "kind"].some((name) => asked.has(name));
  return (
    <>
      <div className="page papers-parts">
        <nav className="parts no-print" aria-label="Parts of Papers">
          <NavLink to={`/papers${keep}`} end>
            Lists
          </NavLink>
          <NavLink to={`/papers/lates${keep}`}>Late and early, cards</NavLink>
        </nav>
      </div>
      <Routes>
        <Route index element={isLates ? <Navigate to={`/papers/lates${search}`} replace /> : <PaperLists />} />
        <Route path="lates" element={<Papers />} />
        <Route path="list/new" element={<PaperEditor key={key} />} />
        <Route path="list/:list" element={<PaperEditor key={key} />} />
      </Routes>
    </>
  );
}
