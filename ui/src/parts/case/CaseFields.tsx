import "./case.css";
import type { Schemas } from "../../api/client";
import { Choice } from "../controls/Choice";
import { DateField } from "../controls/DateField";
import { Tick } from "../controls/Tick";

/** What holds of a case while it is open. */
export type OfCase = { owner: number; next: string; weekly: boolean; kept: Schemas["CaseView"]["kept"] };

/** The same as it is sent. */
export const held = ({ weekly, ...of }: OfCase) => ({ ...of, weekly: weekly ? ("yes" as const) : ("no" as const) });

/** When a case is looked at next, in whose hands it is, whether its student is on the caseload, and for whom it is. */
export function CaseFields({
  of,
  onChange,
  owners,
}: {
  of: OfCase;
  onChange: (of: OfCase) => void;
  owners: Schemas["OwnerRef"][];
}) {
  return (
    <>
      <label>
        next <DateField label="Looked at next" value={of.next} onChange={(next) => onChange({ ...of, next })} />
      </label>
      <Choice
        label="In whose hands"
        value={of.owner}
        onChange={(owner) => onChange({ ...of, owner })}
        options={owners.map((o) => ({ value: o.id, label: o.mine ? `${o.name} (you)` : o.name }))}
      />
      <Tick checked={of.weekly} onChange={(weekly) => onChange({ ...of, weekly })}>
        a session each week
      </Tick>
      <Choice
        label="For whom the case is"
        value={of.kept}
        onChange={(kept) => onChange({ ...of, kept })}
        options={[
          { value: "office", label: "for all of the office" },
          { value: "leads", label: "for pastoral leads" },
          { value: "owner", label: `for ${owners.find((o) => o.id === of.owner)?.name ?? "the owner"} alone` },
        ]}
      />
    </>
  );
}
