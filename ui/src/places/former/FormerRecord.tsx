import "./former.css";
import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Panel, Scrolls, Waiting } from "../../parts/Panel";
import { StudentName } from "../../parts/StudentName";
import { tell } from "../../parts/told";
import { plural } from "../../parts/words";

const rowsAtFirst = 200;

/** What an earlier school has handed on about a student, kind by kind as it came. */
export default function FormerRecord() {
  const { student, record } = useParams();
  const params = { id: Number(student), record: Number(record) };
  const page = useRead("/api/students/{id}/former/{record}", params);
  const [shown, setShown] = useState("");
  const [ending, setEnding] = useState(false);
  const go = useNavigate();
  const end = useWrite({
    done: (r) => {
      tell.receipt(r);
      go(`/today?student=${student}`);
    },
    failed: (e) => tell.wrong(e.message),
  });
  if (!page.data) return <Waiting error={page.error} />;
  const f = page.data;
  const table = f.tables.find((t) => t.name === shown) ?? f.tables[0];
  return (
    <main className="page former-place">
      <header>
        <h1>
          <StudentName student={f.student} /> at {f.school}
        </h1>
        <p className="look-muted">
          There: {f.of} · made {f.made}
          {f.madeBy && ` by ${f.madeBy}`} · brought in by {f.by}. Nothing here is counted in this school’s figures.
        </p>
        <span className="look-actions no-print">
          <Button size="small" onClick={() => window.print()}>
            Print
          </Button>
          <Button size="small" href={`/api/students/${student}/former/${record}/file`}>
            The file as it came
          </Button>
          {f.mayEnd && (
            <Button size="small" type="text" onClick={() => setEnding(true)}>
              Take off …
            </Button>
          )}
        </span>
      </header>
      <div className="kinds">
        <nav aria-label="Kinds" className="no-print">
          {f.tables.map((t) => (
            <button
              type="button"
              key={t.name}
              aria-current={t === table ? "true" : undefined}
              onClick={() => setShown(t.name)}
            >
              {t.name} <span className="look-muted">{t.rows.length}</span>
            </button>
          ))}
        </nav>
        {table ? <Kind key={table.name} table={table} /> : <p className="empty">The record has no rows.</p>}
      </div>
      {f.without.length > 0 && (
        <p className="look-small look-muted">Nothing on record there of: {f.without.join(", ")}.</p>
      )}
      <Modal
        open={ending}
        title={`Take the record of ${f.school} off ${f.student.name}?`}
        okText="Take it off"
        confirmLoading={end.isPending}
        onOk={() => end.mutate({ path: "/api/former/end", body: { student: params.id, record: params.record } })}
        onCancel={() => setEnding(false)}
      >
        What is in it is forgotten and can’t be had back; the file can be brought in again. Contacts, warnings and the
        photo that were taken over stay.
      </Modal>
    </main>
  );
}

function Kind({ table }: { table: Schemas["FormerTable"] }) {
  const [words, setWords] = useState("");
  const [all, setAll] = useState(false);
  const wanted = words.trim().toLowerCase();
  const rows = table.rows.map((cells, n) => ({ n, cells }));
  const found = wanted ? rows.filter((r) => r.cells.some((c) => c.toLowerCase().includes(wanted))) : rows;
  const seen = all ? found : found.slice(0, rowsAtFirst);
  return (
    <Panel
      title={table.name}
      extra={[wanted ? `${found.length} of ${table.rows.length}` : plural(table.rows.length, "row"), table.span]
        .filter(Boolean)
        .join(" · ")}
    >
      <p className="filter no-print">
        <Input
          size="small"
          aria-label={`Find in ${table.name}`}
          placeholder="find a date, a code, a word"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </p>
      <Scrolls>
        <table className="rows">
          <thead>
            <tr>
              {table.columns.map((c) => (
                <th key={c}>{c}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {seen.map((r) => (
              <tr key={r.n}>
                {table.columns.map((c, i) => (
                  <td key={c}>{r.cells[i]}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolls>
      {seen.length < found.length && (
        <p className="filter">
          <Button size="small" onClick={() => setAll(true)}>
            Show all {found.length}
          </Button>
        </p>
      )}
      {found.length === 0 && <p className="empty">No row has “{words.trim()}”.</p>}
    </Panel>
  );
}
