import "./cases.css";
import { keepPreviousData } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, useRead } from "../../api/client";
import { OpenCase } from "../../parts/case/OpenCase";
import { Choice } from "../../parts/controls/Choice";
import { Tick } from "../../parts/controls/Tick";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { throughout } from "../../parts/scope";
import { TakeAlong } from "../../parts/TakeAlong";
import { whys } from "../../parts/whys";
import { plural } from "../../parts/words";
import { asQuery, useAsked } from "./asked";
import { ChangeCase, type Kind } from "./ChangeCase";
import { Filters } from "./Filters";

type Case = Schemas["CaseView"];

const ages = [
  { value: 0, label: "Of any age" },
  { value: 14, label: "14 days and more" },
  { value: 30, label: "30 days and more" },
  { value: 60, label: "60 days and more" },
];

/** Students who are in somebody's hands, by their next date. */
export function Cases() {
  const { params, set } = useAddress();
  const asked = {
    ...useAsked(),
    closed: params.has("closed") || undefined,
    days: Number(params.get("days")) || undefined,
  };
  const page = useRead("/api/cases", asked, { placeholderData: keepPreviousData });
  const [changing, setChanging] = useState<{ c: Case; kind: Kind }>();
  const [opening, setOpening] = useState(false);
  if (!page.data) return <Waiting error={page.error} />;
  const v = page.data;
  return (
    <main className="page cases-part">
      <h1 className="visually-hidden">Cases</h1>
      <div className="asked no-print">
        <Filters groups={v.groups} owners={v.owners}>
          <Choice
            label="How old"
            value={asked.days ?? 0}
            onChange={(days) => set({ days: days ? String(days) : undefined })}
            options={ages}
          />
          <Tick checked={params.has("overdue")} onChange={(on) => set({ overdue: on ? "1" : undefined })}>
            overdue
          </Tick>
          <Tick checked={params.has("closed")} onChange={(on) => set({ closed: on ? "1" : undefined })}>
            closed ones too
          </Tick>
        </Filters>
        <span className="look-actions look-push">
          <TakeAlong small file={(format) => `/api/cases/file?${asQuery(asked)}&format=${format}`} />
          <Button size="small" href="/api/support/files?which=contacts">
            All contacts, CSV
          </Button>
          {v.mayChange && (
            <Button size="small" type="primary" onClick={() => setOpening(true)}>
              Open a case …
            </Button>
          )}
        </span>
      </div>
      <Panel
        title={`${plural(v.open, "open case")}${throughout(v.scope)}`}
        extra={
          <>
            {v.waiting > 0 && `${v.waiting} waiting`}
            {v.overdue > 0 && <span className="look-overdue"> {v.overdue} overdue</span>}
          </>
        }
      >
        {v.cases.length === 0 && (
          <p className="empty">
            No case fits what is chosen above. One is opened from the review (O), or here by hand.
          </p>
        )}
        {v.cases.map((c) => (
          <One key={c.id} c={c} may={v.mayChange} change={(kind) => setChanging({ c, kind })} />
        ))}
      </Panel>
      {changing && <ChangeCase {...changing} owners={v.owners} ends={v.ends} close={() => setChanging(undefined)} />}
      {opening && <OpenCase owners={v.owners} close={() => setOpening(false)} />}
    </main>
  );
}

function One({ c, may, change }: { c: Case; may: boolean; change: (kind: Kind) => void }) {
  return (
    <article className="one">
      <div className="look-two">
        <StudentName student={c.student} form={false} />
        <span className="look-small look-muted">{c.student.form}</span>
      </div>
      <div className="look-two">
        <span>{c.mine ? "yours" : c.owner}</span>
        <span className="look-small look-muted">
          {c.open ? `${plural(c.days, "day")}, since ${c.opened}` : `closed after ${plural(c.days, "day")}`}
        </span>
      </div>
      <div className="look-small">
        <span>
          {whys(c.found) || "no rule found them"}
          {c.figures[0]?.was && <span className="look-muted"> · {c.figures[0].was} missed then</span>}
        </span>
        <span className="look-muted">
          Now: {whys(c.now) || "no rule finds them"}
          {c.figures[0]?.now && ` · ${c.figures[0].now} missed`}
        </span>
        {c.said.text && (
          <span>
            <q>{c.said.text}</q>{" "}
            <span className="look-muted">
              {c.said.by}, {c.said.on}
            </span>
          </span>
        )}
      </div>
      <div className="side look-small">
        {c.open ? (
          <span className={c.overdue ? "look-overdue" : undefined}>
            {c.waits && "waits until "}
            {c.next || "no next date"}
          </span>
        ) : (
          <span>{c.end}</span>
        )}
        <span className="look-muted">
          {[
            c.weekly && "a session each week",
            c.planned > 0 && `${c.planned} planned`,
            c.keptFor && `kept to ${c.keptFor}`,
          ]
            .filter(Boolean)
            .join(" · ")}
        </span>
        <span className="look-actions look-wrap no-print">
          {c.mayRead && <Link to={`/follow-up/cases/${c.student.id}/${c.id}`}>Open it</Link>}
          {may && c.mayRead && c.open && (
            <>
              <Button size="small" onClick={() => change("changed")}>
                Note …
              </Button>
              <Button size="small" onClick={() => change("closed")}>
                Close …
              </Button>
            </>
          )}
          {may && c.mayRead && !c.open && (
            <Button size="small" onClick={() => change("reopened")}>
              Open again …
            </Button>
          )}
        </span>
      </div>
    </article>
  );
}
