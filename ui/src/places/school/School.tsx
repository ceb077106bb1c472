import "./school.css";
import type { ReactNode } from "react";
import { Navigate, NavLink, Route, Routes } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Panel, Waiting } from "../../parts/Panel";
import { useScope } from "../../parts/scope";
import { Accounts } from "./Accounts";
import { Calendar } from "./Calendar";
import { Codes } from "./Codes";
import { Emblem } from "./Emblem";
import { GradeRule } from "./GradeRule";
import { Grading } from "./Grading";
import { ImportFiles } from "./ImportFiles";
import { Leavers } from "./Leavers";
import { People } from "./People";
import { Policies } from "./Policies";
import { PolicyEditor } from "./policy/PolicyEditor";
import { Reasons } from "./Reasons";
import { Record } from "./Record";
import { Records } from "./Records";
import { RegisterRules } from "./RegisterRules";
import { Stations } from "./Stations";
import { StepRules } from "./StepRules";
import { Timetable } from "./Timetable";

const parts = [
  ["people", "People"],
  ["calendar", "Calendar"],
  ["timetable", "Timetable"],
  ["codes", "Codes and reasons"],
  ["policies", "Policies"],
  ["accounts", "Accounts"],
  ["devices", "Devices"],
  ["import", "Import"],
  ["record", "Record"],
] as const;

/** The school in parts, each with its own address. */
export default function School() {
  return (
    <main className="page school-place">
      <h1 className="visually-hidden">School</h1>
      <nav className="parts no-print" aria-label="Parts of School">
        {parts.map(([part, words]) => (
          <NavLink key={part} to={`/school/${part}`}>
            {words}
          </NavLink>
        ))}
      </nav>
      <Routes>
        <Route path="people" element={<Part of={(s, look) => <People s={s} refresh={look} />} />} />
        <Route path="people/left" element={<Leavers />} />
        <Route path="calendar" element={<Calendar />} />
        <Route path="timetable" element={<Timetable />} />
        <Route
          path="codes"
          element={<Part of={(s, look, section) => <Decided s={s} look={look} section={section} />} />}
        />
        <Route
          path="policies"
          element={
            <Part
              of={(s, look, section) => (
                <div className="columns halves">
                  <div className="stack">
                    {apart(s, section, "policies") ? (
                      <Apart title="Policies" />
                    ) : (
                      <Policies s={s} section={section} refresh={look} />
                    )}
                    {apart(s, section, "grading") ? (
                      <Apart title="Attendance for grading" />
                    ) : (
                      <Grading key={section} known={s.grading} section={section} refresh={look} />
                    )}
                    <GradeRule />
                  </div>
                  {apart(s, section, "steps") ? (
                    <Apart title="What is due" />
                  ) : (
                    <StepRules key={section} known={s.steps} section={section} refresh={look} />
                  )}
                </div>
              )}
            />
          }
        />
        <Route
          path="policies/edit"
          element={
            <Part
              of={(s, _, section) =>
                apart(s, section, "policies") ? <Apart title="Policies" /> : <PolicyEditor section={section} />
              }
            />
          }
        />
        <Route path="accounts" element={<Part of={(s, look) => <Accounts s={s} refresh={look} />} />} />
        <Route
          path="devices"
          element={
            <div className="columns halves">
              <Stations />
              <Emblem />
            </div>
          }
        />
        <Route
          path="import"
          element={
            <Part
              of={(s, look) => (
                <div className="columns">
                  <ImportFiles refresh={look} />
                  <div className="stack">
                    <Records s={s} />
                  </div>
                </div>
              )}
            />
          }
        />
        <Route path="record" element={<Record />} />
        <Route path="*" element={<Navigate to="/school/people" replace />} />
      </Routes>
    </main>
  );
}

type View = Schemas["SchoolView"];

/** A part that shows what is stored of the school. */
function Part({ of }: { of: (s: View, look: () => void, section: number | undefined) => ReactNode }) {
  const scope = useScope();
  const page = useRead("/api/school", { section: scope });
  if (!page.data) return <Waiting inside error={page.error} />;
  return of(page.data, () => void page.refetch(), onlyOne(page.data, scope));
}

/**
 * The section that what is decided here is of: 0 for every one; undefined where some are looked at and
 * neither one nor all.
 */
function onlyOne(s: View, scope: number[] | undefined): number | undefined {
  if (!scope || scope.length === s.sections.length) return 0;
  return scope.length === 1 ? scope[0] : undefined;
}

/** Whether the sections looked at have decided differently, or are neither one nor all. */
const apart = (s: View, section: number | undefined, what: string) => section === undefined || s.apart.includes(what);

/** Stands where the sections looked at have decided differently. */
function Apart({ title }: { title: string }) {
  return (
    <Panel title={title}>
      <p className="empty">The sections have their own. Choose one section above to see and change them.</p>
    </Panel>
  );
}

/** Codes, reasons, and the rules for registers and doors. */
function Decided({ s, look, section }: { s: View; look: () => void; section: number | undefined }) {
  return (
    <div className="stack">
      {apart(s, section, "codes") ? (
        <Apart title="Codes" />
      ) : (
        <Codes codes={s.codes} section={section} refresh={look} />
      )}
      {apart(s, section, "reasons") ? <Apart title="Reasons" /> : <Reasons s={s} section={section} refresh={look} />}
      {apart(s, section, "rules") ? (
        <Apart title="Registers and doors" />
      ) : (
        <RegisterRules rules={s.rules} section={section} refresh={look} />
      )}
    </div>
  );
}
