import "./sheet.css";
import { Button, Drawer } from "antd";
import { type ReactNode, useCallback, useEffect, useState } from "react";
import { type Schemas, useRead } from "../../api/client";
import { Shape } from "../../look/Shape";
import { CaseOf } from "../case/CaseOf";
import { useFocusBack } from "../focus";
import { ContactForm } from "../home/ContactForm";
import { Fetching, MustBeFetched } from "../home/Fetch";
import { Warnings } from "../home/WarningForm";
import { placeInList } from "../in-list";
import { KeepList } from "../KeepList";
import { isTyping } from "../keys";
import { useAddress } from "../look-at";
import { Scrolls } from "../Panel";
import { Portrait } from "../Portrait";
import { StudentName } from "../StudentName";
import { plural } from "../words";
import { Called } from "./Called";
import { CoursesOf } from "./CoursesOf";
import { DayBars } from "./DayBars";
import { Figures } from "./Figures";
import { Formers } from "./Formers";
import { History } from "./History";
import { OwnFields } from "./OwnFields";
import { PartTime } from "./PartTime";
import { PhotoOf } from "./PhotoOf";
import { Statement } from "./Statement";
import { Where } from "./Where";

type Sheet = Schemas["StudentSheet"];

/** All about one student, over whatever page is open. */
export default function StudentSheet({
  id,
  mayCall,
  mayWrite,
  inOffice,
  mayTakeAlong,
  mayState,
  mayJudge,
  mayFollow,
  onClose,
}: {
  id: number;
  mayCall: boolean;
  mayWrite: boolean;
  inOffice: boolean;
  mayTakeAlong: boolean;
  mayState: boolean; // print what the student missed
  mayJudge: boolean; // see conduct and course results
  mayFollow: boolean; // see in whose hands a student is
  onClose: () => void;
}) {
  useFocusBack();
  const { at, set } = useAddress();
  const sheet = useRead("/api/students/{id}", { id, at });
  const s = sheet.data;
  return (
    <Drawer
      open
      size={760}
      onClose={onClose}
      title={<Title name={s ? s.student.name : "Student"} id={id} />}
      classNames={{ body: "sheet-body", mask: "sheet-mask" }}
    >
      {sheet.error && <p role="alert">{sheet.error.message}</p>}
      {s && (
        <div className="sheet">
          <Head s={s} mayChange={inOffice && !at} />
          {s.fetch && (
            <section aria-label="To be collected" className="to-fetch">
              <h3 className="look-overdue">
                To be collected: {[s.fetch.reason, s.fetch.place].filter(Boolean).join(", ")} · since {s.fetch.since}
              </h3>
              <Fetching f={s.fetch} may={mayWrite && !at} named={false} />
            </section>
          )}
          {mayWrite && !at && (
            <div className="do">
              <Button size="small" onClick={() => set({ student: undefined, notice: String(s.student.id) }, false)}>
                Message from home
              </Button>
              {s.mayFetch && <MustBeFetched student={s.student} />}
              {inOffice && <PhotoOf student={s.student} photo={s.photo} />}
              {mayTakeAlong && (
                <Button size="small" href={`/api/students/${s.student.id}/everything`}>
                  Everything on record, as files and on paper
                </Button>
              )}
            </div>
          )}
          <OwnFields student={s.student.id} />
          {s.sentence && <p className="sentence">{s.sentence}</p>}
          {mayFollow && <CaseOf student={s.student} />}
          <Figures s={s} />
          {mayState && (
            <span className="look-actions look-here">
              <Statement student={s.student.id} maySend={inOffice && !at} />
              <KeepList students={[s.student]}>Put on a list …</KeepList>
            </span>
          )}
          {mayState && <PartTime student={s.student.id} mayChange={inOffice && !at} />}
          <Where s={s} />
          <section aria-label="Day by day">
            <h3>Day by day</h3>
            <Scrolls>
              <DayBars days={s.days} />
            </Scrolls>
            <p className="look-small look-muted">
              <Shape state="unexcused" silent /> unexcused · <Shape state="explained" silent /> excused ·{" "}
              <Shape state="late" silent /> late · a bar is a day, morning at the top
            </p>
          </section>
          {mayCall && <Contacts s={s} mayChange={mayWrite && !at} mayEnd={inOffice} />}
          {mayJudge && (
            <>
              <p className="look-small">
                <b>Conduct</b>{" "}
                {s.incidents === 0 ? "no incident on record" : `${plural(s.incidents, "incident")} on record`}
              </p>
              <CoursesOf student={s.student.id} />
            </>
          )}
          {mayFollow && <Formers student={s.student} mayBring={inOffice && !at} />}
          <History list={s.happened} />
        </div>
      )}
    </Drawer>
  );
}

/** The student's name, and the way to the one before and after in the list they were chosen from. */
function Title({ name, id }: { name: string; id: number }) {
  const { set } = useAddress();
  const place = placeInList(id);
  const go = useCallback(
    (to: number | undefined) => {
      if (to !== undefined) set({ student: String(to) });
    },
    [set],
  );
  useEffect(() => {
    if (!place) return;
    const onKey = (e: KeyboardEvent) => {
      const to = { ArrowUp: place.before, ArrowDown: place.after }[e.key];
      if (to === undefined || isTyping(e.target) || e.ctrlKey || e.altKey) return;
      if (e.target instanceof HTMLElement && e.target.closest("[role=radiogroup], .one-of, .ant-select-dropdown"))
        return;
      e.preventDefault();
      go(to);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [go, place]);
  return (
    <span className="sheet-title">
      <span>{name}</span>
      {place && (
        <span className="look-small look-muted">
          {place.number} of {place.of}
          <Button
            size="small"
            type="text"
            aria-label="The student before"
            disabled={place.before === undefined}
            onClick={() => go(place.before)}
          >
            ↑
          </Button>
          <Button
            size="small"
            type="text"
            aria-label="The next student"
            disabled={place.after === undefined}
            onClick={() => go(place.after)}
          >
            ↓
          </Button>
        </span>
      )}
    </span>
  );
}

function Head({ s, mayChange }: { s: Sheet; mayChange: boolean }) {
  const facts: ReactNode[] = [
    s.student.number,
    s.student.form,
    s.student.section,
    s.born && `born ${s.born}`,
    s.travels && `comes by the ${s.travels}`,
  ].filter(Boolean);
  return (
    <div className="head">
      <Portrait student={s.student} photo={s.photo} />
      <div>
        <div>{facts.join(" · ")}</div>
        <Warnings student={s.student} words={s.warnings} now={s.warningsNow} mayChange={mayChange}>
          {s.siblings.map((sib) => (
            <span key={sib.id} className="look-warn">
              same home: <StudentName student={sib} />
            </span>
          ))}
        </Warnings>
      </div>
      <div className="look-strong">
        <Shape state={s.place.state} /> {s.place.text}
      </div>
    </div>
  );
}

/** Whom to ring, in order. Each can be changed here, and another added, by those who may. */
function Contacts({ s, mayChange, mayEnd }: { s: Sheet; mayChange: boolean; mayEnd: boolean }) {
  const [changing, setChanging] = useState<number>(); // 0 for one who is added
  const [calling, setCalling] = useState<number>();
  const called = s.contacts.find((c) => c.id === calling);
  const now = s.contactsNow.find((c) => c.id === changing);
  const contact = s.contacts.find((c) => c.id === changing);
  const done = () => setChanging(undefined);
  return (
    <section aria-label="Call order">
      <h3>Call order</h3>
      {s.contacts.length === 0 && (
        <b className="look-overdue">No contact on file. Ask {s.student.form || "the office"}.</b>
      )}
      <table>
        <thead className="visually-hidden">
          <tr>
            <th>Order</th>
            <th>Name</th>
            <th>Phone</th>
            <th>More</th>
            <th>Change</th>
          </tr>
        </thead>
        <tbody>
          {s.contacts.map((c) => (
            <tr key={c.id}>
              <td className="look-muted">{c.order}</td>
              <td className="look-strong">{c.name}</td>
              <td className="look-nowrap">
                {c.doNotCall || !c.phone ? "–" : <a href={`tel:${c.phone.replace(/\s/g, "")}`}>{c.phone}</a>}
              </td>
              <td className={c.doNotCall ? "look-overdue" : "look-muted"}>
                {[
                  c.relation,
                  c.doNotCall && "must not be called",
                  c.livesWith && "lives with",
                  c.mayCollect && "may collect",
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </td>
              <td className="look-nowrap">
                {mayChange && mayEnd && !c.doNotCall && (
                  <button
                    type="button"
                    className="link"
                    aria-label={`Called ${c.name}`}
                    aria-expanded={calling === c.id}
                    onClick={() => setCalling(calling === c.id ? undefined : c.id)}
                  >
                    called
                  </button>
                )}{" "}
                {mayChange && (
                  <button
                    type="button"
                    className="link look-muted"
                    aria-label={`Change ${c.name}`}
                    aria-expanded={changing === c.id}
                    onClick={() => setChanging(c.id)}
                  >
                    change
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {called && <Called key={called.id} student={s.student} contact={called} done={() => setCalling(undefined)} />}
      {changing !== undefined && (contact || changing === 0) && (
        <ContactForm
          key={changing}
          student={s.student}
          contact={contact && { ...contact, ...now }}
          mayEnd={mayEnd}
          done={done}
        />
      )}
      {mayChange && changing === undefined && (
        <button type="button" className="link" onClick={() => setChanging(0)}>
          Add a contact
        </button>
      )}
    </section>
  );
}
