import { Button } from "antd";
import { useState } from "react";
import type { Schemas } from "../../../api/client";
import { Choice } from "../../../parts/controls/Choice";
import { FindStudent } from "../../../parts/FindStudent";
import { grouped } from "../../../parts/grouped";
import { Panel } from "../../../parts/Panel";
import { plural } from "../../../parts/words";
import type { Setup } from "./shape";

/** Which students are on the list: a group, others one by one, and who of them is not. */
export function WhoIsOn({
  setup,
  change,
  look,
  groups,
  names,
  askNames,
}: {
  setup: Setup;
  change: (next: Partial<Setup>) => void;
  look: Schemas["PaperLook"] | undefined;
  groups: Schemas["Choice"][];
  names: boolean;
  askNames: (on: boolean) => void;
}) {
  const [added, setAdded] = useState<Record<number, string>>({});
  // Those chosen elsewhere, and a group that is offered no more, as a trip that is over.
  const other = setup.who && !groups.some((g) => g.value === setup.who) ? setup.who : "";
  const title = other.startsWith("students:") ? other.slice(other.indexOf(" ") + 1) : "as it was chosen";
  return (
    <Panel title="Who is on it" extra={look && plural(look.students, "student")}>
      <div className="look-line look-wrap">
        <Choice
          label="Which students"
          search
          value={setup.who ?? ""}
          onChange={(who) => change({ who, without: [] })}
          options={[
            {
              label: "",
              options: [{ value: "", label: "everyone" }, ...(other ? [{ value: other, label: title }] : [])],
            },
            ...grouped(groups),
          ]}
        />
        <FindStudent
          label="And a student besides"
          placeholder="and somebody besides"
          taken={setup.extra}
          add={(one) => {
            setAdded({ ...added, [one.id]: one.name });
            change({ extra: [...setup.extra, one.id], without: setup.without.filter((id) => id !== one.id) });
          }}
        />
      </div>
      {look && look.gone > 0 && (
        <p className="empty">
          {plural(look.gone, "student")} of those named {look.gone === 1 ? "is" : "are"} not on the list: not on the
          roll, or of a section that is not looked at.
        </p>
      )}
      <div className="look-line look-wrap">
        <button type="button" className="link" aria-expanded={names} onClick={() => askNames(!names)}>
          {names ? "hide the names" : "names, to take off one by one"}
        </button>
        {setup.without.length > 0 && (
          <span className="look-small look-muted">
            {plural(setup.without.length, "student")} taken off ·{" "}
            <button type="button" className="link" onClick={() => change({ without: [] })}>
              put back
            </button>
          </span>
        )}
      </div>
      {names && (
        <div className="names">
          {look?.who.map((s) => (
            <div key={s.id} className="name">
              <span>
                {s.name} <span className="look-muted">{s.form}</span>
              </span>
              <Button
                size="small"
                type="text"
                aria-label={`Take ${s.name} off`}
                onClick={() =>
                  change(
                    setup.extra.includes(s.id)
                      ? { extra: setup.extra.filter((id) => id !== s.id) }
                      : { without: [...setup.without, s.id] },
                  )
                }
              >
                take off
              </Button>
            </div>
          ))}
        </div>
      )}
    </Panel>
  );
}
