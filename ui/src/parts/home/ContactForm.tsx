import { Input, InputNumber } from "antd";
import { useState } from "react";
import { type Schemas, useRead } from "../../api/client";
import { Tick } from "../controls/Tick";
import { KeptForm } from "./KeptForm";

export type ContactOf = Schemas["ContactRef"] & Partial<Schemas["ContactNow"]>;

/**
 * A contact of a student, added or changed: a number is exactly as it is typed, and holds for every child
 * whose contact they are.
 */
export function ContactForm({
  student,
  contact,
  mayEnd,
  done,
}: {
  student: Schemas["StudentRef"];
  contact?: ContactOf | undefined; // nobody for one who is added
  mayEnd: boolean;
  done: () => void;
}) {
  const [c, setC] = useState({
    given: contact?.given ?? "",
    family: contact?.family ?? "",
    relation: contact?.relation ?? "",
    phone: contact?.phone ?? "",
    sms: contact?.sms ?? "",
    email: contact?.email ?? "",
    address: contact?.address ?? "",
    language: contact?.language ?? "",
    mayCollect: contact?.mayCollect ?? false,
    livesWith: contact?.livesWith ?? false,
    doNotCall: contact?.doNotCall ?? false,
  });
  const [place, setPlace] = useState<number | null>(null);
  const text = (
    name: Exclude<keyof typeof c, "mayCollect" | "livesWith" | "doNotCall" | "address">,
    words: string,
    first = false,
  ) => (
    <Input
      size="small"
      aria-label={words}
      placeholder={words}
      autoFocus={first}
      maxLength={name === "email" ? 120 : 60}
      value={c[name]}
      onChange={(e) => setC({ ...c, [name]: e.target.value })}
    />
  );
  const tick = (name: "mayCollect" | "livesWith" | "doNotCall", words: string) => (
    <Tick checked={c[name]} onChange={(on) => setC({ ...c, [name]: on })}>
      {words}
    </Tick>
  );
  return (
    <KeptForm
      label={contact ? `Change ${contact.name}` : `A contact of ${student.name}`}
      ready
      keep={(seen) => ({
        path: "/api/contacts",
        body: { student: student.id, contact: contact?.id ?? 0, ...c, place: place ?? 0, seen },
      })}
      end={
        contact !== undefined &&
        mayEnd && {
          offer: "No contact any more …",
          ask: `why ${contact.name} is no contact any more`,
          verb: "Take off",
          write: (why) => ({ path: "/api/contacts/end", body: { student: student.id, contact: contact.id, why } }),
        }
      }
      done={done}
    >
      {text("given", "given name", !contact)}
      {text("family", "family name")}
      {text("relation", "relation")}
      {text("phone", "phone, as given", contact !== undefined)}
      {text("sms", "texts, if another number")}
      {text("email", "e-mail")}
      <Input.TextArea
        size="small"
        aria-label="address for letters"
        placeholder="address for letters, a line each"
        maxLength={300}
        autoSize={{ minRows: 1, maxRows: 5 }}
        value={c.address}
        onChange={(e) => setC({ ...c, address: e.target.value })}
      />
      {text("language", "language of letters")}
      <InputNumber
        size="small"
        min={1}
        max={30}
        aria-label="Place in the call order"
        placeholder={contact ? `called ${contact.order}` : "called last"}
        value={place}
        onChange={setPlace}
      />
      <span className="ticks">
        {tick("mayCollect", "may collect")}
        {tick("livesWith", "lives with")}
        {tick("doNotCall", "must not be called")}
      </span>
      {contact?.shared && <p className="look-small look-muted">Name and numbers are those of {contact.shared} too.</p>}
    </KeptForm>
  );
}

/** The same where only the student is known: on a call, the number that was just found out to be wrong. */
export function ContactFormOf({ student, id, done }: { student: Schemas["StudentRef"]; id: number; done: () => void }) {
  const sheet = useRead("/api/students/{id}", { id: student.id });
  if (id === 0) return <ContactForm student={student} mayEnd={false} done={done} />;
  const contact = sheet.data?.contacts.find((c) => c.id === id);
  const now = sheet.data?.contactsNow.find((c) => c.id === id);
  if (!contact) return null;
  return (
    <ContactForm
      student={student}
      contact={{ ...contact, ...now }}
      mayEnd={sheet.data?.inOffice ?? false}
      done={done}
    />
  );
}
