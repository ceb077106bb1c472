import { Button, Input, Select } from "antd";
import { type FormEvent, useState } from "react";
import { read, type Schemas, useRead, useWrite } from "../../api/client";
import { DateField } from "../../parts/controls/DateField";
import { Tick } from "../../parts/controls/Tick";
import { useListGroups } from "../../parts/lists";
import { tell } from "../../parts/told";

type Student = Schemas["StudentRef"];
type Trip = Schemas["TripView"];

/** A trip: where, when, who leads it, and the list of students, by name or a whole form at once. */
export function TripForm({
  view,
  trip,
  done,
  leave,
}: {
  view: Schemas["TripsView"];
  trip?: Trip;
  done: (id: number) => void;
  leave: () => void;
}) {
  const [typed, setTyped] = useState({
    title: trip?.title ?? "",
    place: trip?.place ?? "",
    date: trip?.date ?? view.today,
    toDate: trip?.toDate ?? "",
    from: trip?.from ?? "",
    to: trip?.to ?? "",
    leader: trip && !trip.leaderId ? trip.leader : "",
    phone: trip?.phone ?? "",
  });
  const [leaderId, setLeaderId] = useState<number | undefined>(trip?.leaderId || undefined);
  const [home, setHome] = useState(trip?.home ?? false);
  const [students, setStudents] = useState<Student[]>(trip?.members.map((m) => m.student) ?? []);
  const store = useWrite({
    done: (r) => {
      tell.receipt(r);
      done(r.ids[0] ?? 0);
    },
    failed: (e) => tell.wrong(e.message),
  });
  const field = (name: keyof typeof typed, words: string, className = "wide-field", placeholder = "") => (
    <div className="field">
      <span aria-hidden="true">{words}</span>
      <Input
        aria-label={words}
        className={className}
        value={typed[name]}
        placeholder={placeholder}
        onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
      />
    </div>
  );
  const add = (more: Student[]) =>
    setStudents((old) => [...old, ...more.filter((s) => !old.some((o) => o.id === s.id))]);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    const body = { ...typed, leaderId: leaderId ?? 0, home, students: students.map((s) => s.id) };
    store.mutate(trip ? { path: "/api/trips/{trip}", params: { trip: trip.id }, body } : { path: "/api/trips", body });
  };
  const ready =
    typed.title.trim() && (leaderId || typed.leader.trim()) && typed.from && typed.to && students.length > 0;
  return (
    <form className="trip-form" aria-label={trip ? "Change the trip" : "Plan a trip"} onSubmit={submit}>
      <div className="row">
        {field("title", "What")}
        {field("place", "Where to")}
      </div>
      <div className="row">
        <div className="field">
          <span aria-hidden="true">Date</span>
          <DateField label="Date" value={typed.date} onChange={(date) => setTyped({ ...typed, date })} />
        </div>
        {field("from", "From", "short", "830")}
        {field("to", "To", "short", "1500")}
        <div className="field">
          <span aria-hidden="true">Ends on another date</span>
          <DateField
            label="Ends on another date"
            optional
            placeholder="the same"
            value={typed.toDate}
            onChange={(toDate) => setTyped({ ...typed, toDate })}
          />
        </div>
        <Tick checked={home} onChange={setHome}>
          they go home from there
        </Tick>
      </div>
      <div className="row">
        <div className="field">
          <span aria-hidden="true">Who leads it</span>
          <Select
            aria-label="Who leads it"
            allowClear
            className="wide-field"
            showSearch={{ optionFilterProp: "label" }}
            placeholder="of the staff"
            value={leaderId}
            onChange={(id) => setLeaderId(id)}
            options={view.staff.map((s) => ({ value: s.id, label: s.name }))}
          />
        </div>
        {!leaderId && field("leader", "or somebody else")}
        {field("phone", "Phone of the leader", "short", leaderId ? "as on file" : "")}
      </div>
      <Members
        view={view}
        students={students}
        add={add}
        drop={(id) => setStudents((old) => old.filter((s) => s.id !== id))}
      />
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={!ready} loading={store.isPending}>
          Save
        </Button>
        <Button onClick={leave}>Cancel</Button>
      </div>
    </form>
  );
}

/** The list: a name at a time, or a year, a form, a class at once. */
function Members({
  view,
  students,
  add,
  drop,
}: {
  view: Schemas["TripsView"];
  students: Student[];
  add: (more: Student[]) => void;
  drop: (id: number) => void;
}) {
  const [q, setQ] = useState("");
  const lists = useListGroups();
  const found = useRead("/api/find", { q: q.trim() }, { enabled: q.trim().length > 1 });
  const hits =
    q.trim().length > 1 ? (found.data ?? []).filter((f) => !students.some((s) => s.id === f.student.id)) : [];
  const group = async (value: string) => {
    try {
      add(await read("/api/trips/group", { group: value }));
    } catch (e) {
      tell.wrong((e as Error).message);
    }
  };
  return (
    <fieldset>
      <legend>{students.length === 0 ? "Nobody is on it yet" : `${students.length} on it`}</legend>
      <div className="row">
        <Input
          className="wide-field"
          aria-label="Add a student"
          placeholder="add a name or number"
          value={q}
          onChange={(e) => setQ(e.target.value)}
          onPressEnter={(e) => {
            e.preventDefault();
            const hit = hits[0];
            if (hit) add([hit.student]);
            setQ("");
          }}
        />
        <Select
          className="wide-field"
          aria-label="Add a whole group"
          placeholder="or a year, a form, a class"
          showSearch={{ optionFilterProp: "label" }}
          value={null}
          onChange={(value: string | null) => value && void group(value)}
          options={[
            ...view.groups.map((g) => ({ value: g.value, label: g.label })),
            ...lists.map((l) => ({ value: l.value, label: l.label })),
          ]}
        />
      </div>
      {hits.length > 0 && (
        <div className="hits">
          {hits.slice(0, 6).map((h) => (
            <button
              key={h.student.id}
              type="button"
              onClick={() => {
                add([h.student]);
                setQ("");
              }}
            >
              <b>{h.student.name}</b> {h.student.form} <span className="look-muted">{h.place.text}</span>
            </button>
          ))}
        </div>
      )}
      <div className="chips">
        {students.map((s) => (
          <span key={s.id} className="chip">
            {s.name} <span className="look-muted">{s.form}</span>{" "}
            <button type="button" className="link" aria-label={`Take ${s.name} off`} onClick={() => drop(s.id)}>
              ×
            </button>
          </span>
        ))}
      </div>
    </fieldset>
  );
}
