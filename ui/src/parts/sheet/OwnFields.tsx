import "./own-fields.css";
import { Button, Input } from "antd";
import { useState } from "react";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Icon } from "../../look/Icon";
import { Choice } from "../controls/Choice";
import { DateField } from "../controls/DateField";
import { tell } from "../told";

type Line = Schemas["OwnLine"];

/** The school's own fields on a student, changed in their place by whoever may. */
export function OwnFields({ student }: { student: number }) {
  const lines = useRead("/api/students/{id}/own-fields", { id: student }).data;
  const [changing, setChanging] = useState<number>();
  if (!lines || lines.length === 0) return null;
  return (
    <section aria-label="Own fields" className="own-fields">
      <h3>Own fields</h3>
      <dl>
        {lines.map((l) => (
          <div key={l.field}>
            <dt className="look-muted">
              <Icon name={l.icon} /> {l.name}
            </dt>
            <dd>
              {changing === l.field ? (
                <Change student={student} line={l} close={() => setChanging(undefined)} />
              ) : (
                <>
                  <span title={l.by || undefined}>{l.words || "–"}</span>{" "}
                  {l.mayChange && (
                    <button
                      type="button"
                      className="link look-small look-muted"
                      aria-label={`Change ${l.name}`}
                      onClick={() => setChanging(l.field)}
                    >
                      change
                    </button>
                  )}
                </>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function Change({ student, line, close }: { student: number; line: Line; close: () => void }) {
  const [value, setValue] = useState(line.value);
  const write = useWrite({
    done: (r) => {
      tell.receipt(r);
      close();
    },
    failed: (e) => tell.wrong(e.message),
  });
  const save = (next: string) =>
    write.mutate({
      path: "/api/own-fields/value",
      body: { student, field: line.field, value: next, seen: line.value || undefined },
    });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save(value);
      }}
    >
      {line.kind === "choice" ? (
        <Choice
          label={line.name}
          size="small"
          value={value}
          onChange={setValue}
          options={[{ value: "", label: "nothing" }, ...line.choices.map((c) => ({ value: c, label: c }))]}
        />
      ) : line.kind === "date" ? (
        <DateField label={line.name} size="small" optional back value={value} onChange={setValue} />
      ) : (
        <Input
          size="small"
          autoFocus
          aria-label={line.name}
          placeholder={line.kind === "time span" ? "8:30-10:15" : undefined}
          inputMode={line.kind === "number" ? "decimal" : undefined}
          value={value}
          maxLength={400}
          onChange={(e) => setValue(e.target.value)}
        />
      )}
      <Button size="small" type="primary" htmlType="submit" loading={write.isPending}>
        Save
      </Button>
      <Button size="small" onClick={close}>
        Cancel
      </Button>
    </form>
  );
}
