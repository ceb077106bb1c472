import type { Schemas } from "../../api/client";
import type { Snapshot } from "../../api/outbox";

/** A row as it stands: own marks first, then what others who have the register open marked, then what is known. */
export type Row = {
  code: string;
  time: string;
  note: string;
  made: string;
  source: string;
  version: number; // of the shared draft, as seen here
  by: string; // who marked it, where that was someone else
  at: string;
};

export type Rows = Record<number, Row>;

const blank: Row = { code: "", time: "", note: "", made: "", source: "", version: 0, by: "", at: "" };

type Kept = Pick<Snapshot, "waiting" | "shared">;

/** The rows of a register: marks that wait, the shared draft, and what is known where nobody marked. */
export function rowsOf(view: Schemas["RegisterView"], kept: Kept, me: string): Rows {
  return Object.fromEntries(view.rows.map((r) => [r.student.id, standing(r, kept, me)]));
}

function standing(row: Schemas["RegisterRow"], kept: Kept, me: string): Row {
  const acknowledged = kept.shared.get(row.student.id);
  const fetched = row.draft;
  const shared = (acknowledged?.version ?? 0) > (fetched?.version ?? 0) ? acknowledged : fetched;
  const version = shared?.version ?? 0;
  const own = kept.waiting.get(row.student.id);
  const mark = own ?? shared;
  if (mark && (mark.code || mark.note)) {
    return {
      code: mark.code,
      time: mark.time ?? "",
      note: mark.note ?? "",
      made: mark.made ?? "",
      source: mark.source ?? "",
      version,
      by: !own && shared && shared.by !== me ? shared.by : "",
      at: !own && shared ? shared.at : "",
    };
  }
  if (!row.known) return { ...blank, version };
  const { code, to, from, source } = row.known;
  return { ...blank, code, time: to || from, source, version };
}

export function rowOf(rows: Rows, id: number): Row {
  return rows[id] ?? blank;
}

/** A row as it is shared with the others. */
export function markOf(student: number, row: Row): Schemas["DraftMark"] {
  const { code, time, note, source, made } = row;
  return { student, code, time, note, source, made, seen: row.version };
}

/** The register as it is sent: marked rows, with when each was made. */
export function sentMarks(view: Schemas["RegisterView"], rows: Rows): Schemas["SentMark"][] {
  return view.rows.flatMap((r) => {
    const row = rowOf(rows, r.student.id);
    return row.code ? [markOf(r.student.id, row)] : [];
  });
}

/** How many rows stand in each state, for the figures beside the roll. */
export function tally(view: Schemas["RegisterView"], rows: Rows) {
  const counts = { in: 0, late: 0, noReason: 0, explained: 0, elsewhere: 0, toMark: 0 };
  const state = new Map(view.codes.map((c) => [c.code, c.state]));
  for (const r of view.rows) {
    switch (state.get(rowOf(rows, r.student.id).code)) {
      case "in":
        counts.in++;
        break;
      case "late":
        counts.late++;
        break;
      case "unaccounted":
        counts.noReason++;
        break;
      case "elsewhere":
        counts.elsewhere++;
        break;
      case undefined:
        counts.toMark++;
        break;
      default:
        counts.explained++;
    }
  }
  return counts;
}
