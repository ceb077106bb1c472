import type { Schemas } from "../../api/client";

/** A row as its taker has left it so far. */
export type Row = { code: string; time: string; note: string; made: string; source: string };

export type Draft = Record<number, Row>;

const blank: Row = { code: "", time: "", note: "", made: "", source: "" };

/** What is already known fills the rows that nobody has touched. */
export function withKnown(view: Schemas["RegisterView"], draft: Draft): Draft {
  const out: Draft = {};
  for (const row of view.rows) {
    const own = draft[row.student.id];
    if (own && (own.code || own.note)) out[row.student.id] = own;
    else if (row.known) {
      out[row.student.id] = {
        ...blank,
        code: row.known.code,
        time: row.known.to || row.known.from,
        source: row.known.source,
      };
    } else out[row.student.id] = blank;
  }
  return out;
}

export function rowOf(draft: Draft, id: number): Row {
  return draft[id] ?? blank;
}

/** Unsent work, kept on this machine until it is sent. */
export function draftStore(key: string) {
  const name = `meldung register ${key}`;
  return {
    load(): Draft {
      try {
        return JSON.parse(localStorage.getItem(name) ?? "{}") as Draft;
      } catch {
        return {};
      }
    },
    save(draft: Draft) {
      localStorage.setItem(name, JSON.stringify(draft));
    },
    clear() {
      localStorage.removeItem(name);
    },
  };
}

/** The register as it is sent: marked rows, with when each was made. */
export function sentMarks(view: Schemas["RegisterView"], rows: Draft): Schemas["SentMark"][] {
  return view.rows.flatMap((r) => {
    const row = rowOf(rows, r.student.id);
    if (!row.code) return [];
    return [
      { student: r.student.id, code: row.code, time: row.time, note: row.note, made: row.made, source: row.source },
    ];
  });
}

/** How many rows stand in each state, for the figures beside the roll. */
export function tally(view: Schemas["RegisterView"], rows: Draft) {
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
