import type { Schemas } from "../../api/client";

/** The columns of a register: each code with its word over its buttons. */
export function RollHead({ buttons = [] }: { buttons?: Schemas["CodeView"][] }) {
  return (
    <thead className={buttons.length > 0 ? undefined : "visually-hidden"}>
      <tr>
        <th>
          <span className="visually-hidden">Number</span>
        </th>
        <th>
          <span className="visually-hidden">Student</span>
        </th>
        <th className="recentcell">
          <span className="visually-hidden">Recent marks</span>
        </th>
        <th className="marks">
          {buttons.length > 0 ? (
            buttons.map((b) => (
              <span key={b.code} className="codeword" title={b.word}>
                {b.word}
              </span>
            ))
          ) : (
            <span>Mark</span>
          )}
        </th>
        <th>
          <span className="visually-hidden">More</span>
        </th>
      </tr>
    </thead>
  );
}
