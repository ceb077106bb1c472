import "./courses.css";
import { Button, Select } from "antd";
import { type ReactNode, useState } from "react";
import { useOutletContext } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { OneOf } from "../../parts/controls/OneOf";
import { grouped } from "../../parts/grouped";
import { KeepList } from "../../parts/KeepList";
import { useListGroups } from "../../parts/lists";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { ResultRule } from "../../parts/ResultRule";
import { SavedViews } from "../../parts/SavedViews";
import { TakeAlong } from "../../parts/TakeAlong";
import { type Asked, type Frame, useAsked } from "./asked";
import { Cell, type CellAsked } from "./Cell";
import { Credits } from "./Credits";
import { Tables } from "./Tables";
import { Tracks } from "./Tracks";

type ViewName = "tracks" | "tables" | "credits";
const viewNames: readonly ViewName[] = ["tracks", "tables", "credits"];

/** Course results: who is not on track, what fails where, and which credit was lost. */
export default function Courses() {
  const { params } = useAddress();
  const asked = useAsked();
  const view = viewNames.find((x) => x === params.get("view")) ?? "tracks";
  if (view === "tables") return <OfTables asked={asked} />;
  if (view === "credits") return <OfCredits asked={asked} />;
  return <OfTracks asked={asked} />;
}

function OfTracks({ asked }: { asked: Asked }) {
  const who = useOutletContext<Schemas["Who"]>();
  const page = useRead("/api/courses", asked);
  const [cell, setCell] = useState<CellAsked>();
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  return (
    <Around view="tracks" v={v} asked={asked} students={v.tracks.flatMap((t) => t.students.map((s) => s.student))}>
      <Tracks v={v} asked={asked} mayCorrect={!asked.at && who.inOffice} open={setCell} />
      {cell && <Cell asked={asked} cell={cell} own={v.own} close={() => setCell(undefined)} />}
    </Around>
  );
}

function OfTables({ asked }: { asked: Asked }) {
  const page = useRead("/api/courses/tables", asked);
  const [cell, setCell] = useState<CellAsked>();
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  return (
    <Around view="tables" v={v} asked={asked}>
      <Tables v={v} asked={asked} open={setCell} />
      {cell && <Cell asked={asked} cell={cell} own={v.own} close={() => setCell(undefined)} />}
    </Around>
  );
}

function OfCredits({ asked }: { asked: Asked }) {
  const page = useRead("/api/courses/credits", asked);
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  return (
    <Around view="credits" v={v} asked={asked} students={v.by.flatMap((g) => g.students.map((s) => s.student))}>
      <Credits v={v} />
    </Around>
  );
}

/** What stands around every view: what is asked for, what goes along, the rule. */
function Around({
  view,
  v,
  asked,
  students,
  children,
}: {
  view: ViewName;
  v: Frame;
  asked: Asked;
  students?: Schemas["StudentRef"][];
  children: ReactNode;
}) {
  const { at, params, set } = useAddress();
  const lists = useListGroups();
  const who = useOutletContext<Schemas["Who"]>();
  const [rule, setRule] = useState(false);
  const file = (format: "csv" | "xlsx") => {
    const query = new URLSearchParams({ view, format });
    for (const [name, value] of Object.entries(asked)) if (value !== undefined) query.set(name, String(value));
    return `/api/courses/file?${query}`;
  };
  if (!v.any)
    return (
      <main className="page courses-place">
        <h1 className="visually-hidden">Courses</h1>
        <Panel title="Courses">
          <p className="empty">
            There are no grades yet. An administrator brings them in under School, Import: courses.csv and grades.csv.
          </p>
        </Panel>
      </main>
    );
  return (
    <main className="page courses-place">
      <h1 className="visually-hidden">Courses</h1>
      <div className="asked no-print">
        <OneOf
          label="View"
          value={view}
          onChange={(next) => set({ view: next === "tracks" ? undefined : next, by: undefined })}
          options={[
            { value: "tracks", label: "Not on track" },
            { value: "tables", label: "Tables" },
            { value: "credits", label: "Credits" },
          ]}
        />
        <Choice
          label="Period"
          value={v.period}
          onChange={(period) => set({ period })}
          options={grouped(v.periods).map((g) => ({ label: g.label, options: g.options }))}
        />
        <Select
          aria-label="Of whom"
          showSearch={{ optionFilterProp: "label" }}
          value={params.get("group") ?? ""}
          popupMatchSelectWidth={false}
          onChange={(group: string) => set({ group })}
          options={[{ value: "", label: "Everyone" }, ...grouped([...v.groups, ...lists])]}
        />
        {who.role !== "teacher" && <SavedViews place="courses" />}
        <span className="look-actions">
          <TakeAlong small file={file} />
          {!v.own && students && <KeepList students={students}>Keep as a list …</KeepList>}
        </span>
      </div>
      {children}
      <p className="look-small look-muted no-print by-rule">
        By the rule “{v.rule}”.{" "}
        {who.role !== "teacher" && (
          <Button size="small" onClick={() => setRule(true)}>
            What it says …
          </Button>
        )}
      </p>
      {rule && <ResultRule mayChange={!at && who.role === "administrator"} close={() => setRule(false)} />}
    </main>
  );
}
