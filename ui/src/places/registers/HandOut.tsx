import "./registers.css";
import { Button, Input } from "antd";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { type Schemas, useRead, useWrite } from "../../api/client";
import { Waiting } from "../../parts/Panel";
import { tell } from "../../parts/told";

/** The sheet that tells a class how to check in: the code of the page, its own dates, and what its teacher adds. */
export function HandOut() {
  const { class: group } = useParams();
  const sheet = useRead("/api/classes/{class}/hand-out", { class: Number(group) });
  if (!sheet.data) return <Waiting error={sheet.error} />;
  return <Sheet key={sheet.data.text} sheet={sheet.data} />;
}

const picture = (png: string) => `data:image/png;base64,${png}`;

function Sheet({ sheet: s }: { sheet: Schemas["HandOut"] }) {
  const [text, setText] = useState(s.text);
  const far = s.dates.some((d) => d.link);
  const store = useWrite({
    done: (r) => tell.receipt(r),
    failed: (e) => tell.wrong(e.message),
  });
  return (
    <main className="page registers-place hand-out">
      <header>
        <h1>Checking in: {s.title}</h1>
        <span className="look-muted">
          {s.school} · {s.teachers}
        </span>
        <span className="look-actions no-print">
          <Button type="primary" onClick={() => window.print()}>
            Print
          </Button>
          <Link to={`/registers/check-ins/${s.class}`}>All check-ins</Link>
        </span>
      </header>
      <section className="how">
        <img src={picture(s.picture)} alt={`QR code of ${s.address}`} width="150" height="150" />
        <div>
          <p>
            Open <b>{s.address}</b> on your phone, or scan the code, when the lesson begins. Type the code that is shown
            in the room, and your own number.
          </p>
          {text && <p className="only-print">{text}</p>}
          <div className="no-print">
            <Input.TextArea
              aria-label="What else the class is told"
              placeholder="what else the class is told: what to bring, what to read"
              rows={3}
              maxLength={2000}
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
            <Button
              size="small"
              disabled={text.trim() === s.text}
              loading={store.isPending}
              onClick={() =>
                store.mutate({ path: "/api/classes/{class}/hand-out", params: { class: s.class }, body: { text } })
              }
            >
              Save the text
            </Button>
          </div>
        </div>
      </section>
      {s.dates.length === 0 && <p>The class meets on no more days of this school year.</p>}
      {s.dates.length > 0 && (
        <table className="rows">
          <thead>
            <tr>
              <th>Day</th>
              <th>Lesson</th>
              <th>Room</th>
              <th>Checking in</th>
              {far && <th>From a distance</th>}
            </tr>
          </thead>
          <tbody>
            {s.dates.map((d) => (
              <tr key={`${d.date} ${d.slot}`}>
                <td>{d.label}</td>
                <td>
                  {d.slot}, {d.from} to {d.to}
                </td>
                <td>{d.room}</td>
                <td>
                  {d.opens ? `${d.opens} to ${d.closes}` : <span className="look-muted">your teacher opens it</span>}
                  {d.question && <p className="look-muted">{d.question}</p>}
                </td>
                {far && (
                  <td>
                    {d.link && (
                      <>
                        <img
                          src={picture(d.picture)}
                          alt={`QR code of the link for ${d.label}`}
                          width="90"
                          height="90"
                        />
                        <p className="look-small">{d.link}</p>
                      </>
                    )}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </main>
  );
}
