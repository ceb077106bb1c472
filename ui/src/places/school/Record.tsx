import { Button } from "antd";
import { useRead } from "../../api/client";
import { Choice } from "../../parts/controls/Choice";
import { DateField } from "../../parts/controls/DateField";
import { useAddress } from "../../parts/look-at";
import { Panel, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";

/** Who looked at what and who did what, for an administrator: filtered, by pages, and as a file. */
export function Record() {
  const { params, set } = useAddress();
  const asked = {
    from: params.get("from") ?? "",
    to: params.get("to") ?? "",
    what: (params.get("what") as "looks" | "writes" | null) ?? undefined,
    account: Number(params.get("account")) || undefined,
    student: Number(params.get("of")) || undefined,
  };
  const page = Number(params.get("page")) || 1;
  const list = useRead("/api/school/record", { ...asked, page });
  const school = useRead("/api/school");
  if (!list.data) return <Waiting inside error={list.error} />;
  const r = list.data;
  const query = new URLSearchParams(
    Object.entries(asked).flatMap(([name, value]) => (value ? [[name, String(value)]] : [])),
  );
  const filter = (to: Record<string, string | undefined>) => set({ page: undefined, ...to });
  const of = r.lines.find((l) => l.student)?.student;
  return (
    <Panel title="Who looked at what, who did what" extra={`looks are kept for ${r.kept} days`}>
      <div className="look-line filters">
        <DateField label="First date" back value={r.from} onChange={(from) => filter({ from })} />
        <DateField label="Last date" back value={r.to} onChange={(to) => filter({ to })} />
        <Choice
          label="Whose"
          value={asked.account ?? 0}
          onChange={(v) => filter({ account: v ? String(v) : undefined })}
          options={[
            { value: 0, label: "everyone" },
            ...(school.data?.accounts ?? []).map((a) => ({ value: a.id, label: a.name })),
          ]}
        />
        <Choice
          label="What"
          value={asked.what ?? ""}
          onChange={(v) => filter({ what: v || undefined })}
          options={[
            { value: "", label: "looked at and done" },
            { value: "looks", label: "looked at" },
            { value: "writes", label: "done" },
          ]}
        />
        {asked.student && (
          <Button size="small" onClick={() => filter({ of: undefined })}>
            not only {of?.name ?? "one student"}
          </Button>
        )}
        <Button size="small" className="look-push" href={`/api/school/record/file?${query}`}>
          Keep as CSV
        </Button>
      </div>
      {r.lines.length === 0 && <p className="empty">Nothing of that kind in these days.</p>}
      <table className="rows">
        <thead className={r.lines.length === 0 ? "visually-hidden" : undefined}>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            <th>Of whom</th>
          </tr>
        </thead>
        <tbody>
          {r.lines.map((l, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines have no names of their own and never move
            <tr key={i}>
              <td className="look-small">{l.at.replace("T", " ")}</td>
              <td>{l.who || <span className="look-muted">the program</span>}</td>
              <td>
                {l.write ? "did" : "looked at"}: {l.what} <span className="look-small look-muted">{l.detail}</span>
              </td>
              <td>
                {l.student &&
                  (l.student.form ? (
                    <>
                      <StudentName student={l.student} />{" "}
                      {!asked.student && (
                        <button
                          type="button"
                          className="link look-small"
                          onClick={() => filter({ of: String(l.student?.id) })}
                        >
                          only these
                        </button>
                      )}
                    </>
                  ) : (
                    l.student.name
                  ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="look-line">
        <span className="look-push" />
        {page > 1 && (
          <Button size="small" onClick={() => set({ page: String(page - 1) })}>
            Later
          </Button>
        )}
        {r.more && (
          <Button size="small" onClick={() => set({ page: String(page + 1) })}>
            Earlier
          </Button>
        )}
      </div>
    </Panel>
  );
}
