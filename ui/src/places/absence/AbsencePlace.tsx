import "./absence.css";
import { NavLink, Route, Routes, useLocation, useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { useScope } from "../../parts/scope";
import Absence from "./Absence";
import { Beside } from "./Beside";
import { Classes } from "./Classes";
import { Grid } from "./Grid";
import { Letters } from "./Letters";
import { Lists } from "./Lists";
import { Policy } from "./Policy";
import { Steps } from "./Steps";

/** Absence in parts, each with its own address: the figures, what is due, the school's letters. */
export default function AbsencePlace() {
  const who = useOutletContext<Schemas["Who"]>();
  const { search } = useLocation();
  const figures = who.role !== "teacher";
  const at = new URLSearchParams(search).get("at");
  const keep = at ? `?at=${at}` : "";
  const due = useRead("/api/steps", { at: at ?? undefined, section: useScope() }).data?.due;
  return (
    <>
      <div className="page absence-parts">
        <nav className="parts no-print" aria-label="Parts of Absence">
          <NavLink to={`/absence${keep}`} end>
            {figures ? "Figures" : "Your classes"}
          </NavLink>
          {figures && <NavLink to={`/absence/grid${keep}`}>Grid</NavLink>}
          {figures && <NavLink to="/absence/lists">Lists</NavLink>}
          <NavLink to={`/absence/steps${keep}`}>
            {figures ? "Steps due" : "Handed to you"} {due || ""}
          </NavLink>
          {who.inOffice && <NavLink to={`/absence/letters${keep}`}>Letters</NavLink>}
        </nav>
      </div>
      <Routes>
        <Route index element={figures ? <Absence /> : <Classes />} />
        {figures && <Route path="beside" element={<Beside />} />}
        {figures && <Route path="grid" element={<Grid />} />}
        {figures && <Route path="lists" element={<Lists />} />}
        <Route path="steps" element={<Steps />} />
        <Route path="policy" element={<Policy />} />
        {who.inOffice && <Route path="letters" element={<Letters />} />}
      </Routes>
    </>
  );
}
