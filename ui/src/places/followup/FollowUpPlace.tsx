import "./followup.css";
import { NavLink, Route, Routes, useLocation } from "react-router";
import { CameOfIt } from "./CameOfIt";
import { CasePage } from "./CasePage";
import { Cases } from "./Cases";
import { Next } from "./Next";
import { Week } from "./Week";

/** Follow-up in parts: whom to contact next, the cases, support by week, and what came of it. */
export default function FollowUpPlace() {
  const { search } = useLocation();
  const at = new URLSearchParams(search).get("at");
  const keep = at ? `?at=${at}` : "";
  return (
    <>
      <div className="page followup-parts">
        <nav className="parts no-print" aria-label="Parts of Follow-up">
          <NavLink to={`/follow-up${keep}`} end>
            Next
          </NavLink>
          <NavLink to={`/follow-up/cases${keep}`}>Cases</NavLink>
          <NavLink to={`/follow-up/support${keep}`}>Support by week</NavLink>
          <NavLink to={`/follow-up/came${keep}`}>What came of it</NavLink>
        </nav>
      </div>
      <Routes>
        <Route index element={<Next />} />
        <Route path="cases" element={<Cases />} />
        <Route path="cases/:student/:case" element={<CasePage />} />
        <Route path="support" element={<Week />} />
        <Route path="came" element={<CameOfIt />} />
      </Routes>
    </>
  );
}
