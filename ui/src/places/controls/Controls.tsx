import { type ReactNode, useState } from "react";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { FileField } from "../../parts/controls/FileField";
import { NumberField } from "../../parts/controls/NumberField";
import { OneOf } from "../../parts/controls/OneOf";
import { Tick } from "../../parts/controls/Tick";
import { TimeField } from "../../parts/controls/TimeField";
import { Panel } from "../../parts/Panel";
import { plural } from "../../parts/words";

const reasons = ["dentist", "doctor", "ferry late", "overslept", "family", "music lesson"];
const forms = [
  "7 Gannet",
  "7 Tern",
  "8 Halyard",
  "8 Shearwater",
  "9 Eider",
  "9 Fulmar",
  "10 Petrel",
  "10 Skua",
  "11 Kite",
];
const options = (list: string[]) => list.map((word) => ({ value: word, label: word }));

/** Every control of the program with its keys, for whoever builds the next place. */
export default function Controls() {
  const [date, setDate] = useState("");
  const [time, setTime] = useState("");
  const [reason, setReason] = useState("dentist");
  const [form, setForm] = useState("8 Halyard");
  const [how, setHow] = useState("phone");
  const [tick, setTick] = useState(true);
  const [minutes, setMinutes] = useState<number | undefined>(20);
  const [files, setFiles] = useState<File[]>([]);
  return (
    <main className="page">
      <h1 className="visually-hidden">Controls</h1>
      <Panel title="Controls">
        <table className="rows">
          <thead>
            <tr>
              <th>Control</th>
              <th>How it looks</th>
              <th>What it gives</th>
              <th>Keys</th>
            </tr>
          </thead>
          <tbody>
            <Row
              name="DateField"
              gives={date}
              keys="thu · 12 mar · 12/3 · +3 · tomorrow; Enter takes it, ↓ opens the month"
            >
              <DateField label="A date" value={date} onChange={setDate} />
            </Row>
            <Row name="TimeField" gives={time} keys="925 · 9:25 · 9.25; leaving it writes 09:25">
              <TimeField label="A time" placeholder="925" value={time} onChange={setTime} />
            </Row>
            <Row name="Choice" gives={reason} keys="Enter or ↓ opens, ↑ ↓ choose, Enter takes, Esc leaves">
              <Choice label="A reason" value={reason} onChange={setReason} options={options(reasons)} />
            </Row>
            <Row name="Choice of many" gives={form} keys="typing finds; then as above">
              <Choice label="A form" value={form} onChange={setForm} options={options(forms)} />
            </Row>
            <Row name="OneOf" gives={how} keys="← → choose">
              <OneOf label="How" value={how} onChange={setHow} options={options(["phone", "letter", "in person"])} />
            </Row>
            <Row name="Tick" gives={tick ? "yes" : "no"} keys="Space">
              <Tick checked={tick} onChange={setTick}>
                may collect
              </Tick>
            </Row>
            <Row name="NumberField" gives={String(minutes ?? "")} keys="↑ ↓ one more, one less">
              <NumberField label="Time to send" unit="minutes" max={120} value={minutes} onChange={setMinutes} />
            </Row>
            <Row
              name="FileField"
              gives={plural(files.length, "file")}
              keys="Enter asks for the file; it can be dropped too"
            >
              <FileField accept=".pdf,.png" several chosen={setFiles}>
                Choose a document …
              </FileField>
            </Row>
          </tbody>
        </table>
      </Panel>
    </main>
  );
}

function Row({ name, gives, keys, children }: { name: string; gives: string; keys: string; children: ReactNode }) {
  return (
    <tr>
      <th scope="row">{name}</th>
      <td>{children}</td>
      <td>{gives || <span className="look-muted">nothing yet</span>}</td>
      <td className="look-muted">{keys}</td>
    </tr>
  );
}
