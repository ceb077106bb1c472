import type { Schemas } from "../../api/client";

import { duration, plural } from "../../parts/words";

type Unit = Schemas["AbsenceFigures"]["unit"];

/** A count in a policy's unit, without the unit's name: 12, or 3 h 20 min. */
export const amount = (n: number, unit: Unit) => (unit === "minute" ? duration(n) : String(n));

/** A count in a policy's unit with its name: 12 days, or 3 h 20 min. */
export const counted = (n: number, unit: Unit) => (unit === "minute" ? duration(n) : plural(n, unit));

/** What a share is a share of. */
export const shareOf = (unit: Unit) => ({ day: "days", session: "sessions", minute: "time" })[unit];

export function roomWords(room: Schemas["RoomView"], unit: Unit): string {
  if (!room.known) return "–";
  return room.none ? "none" : counted(room.units, unit);
}

/** How many in a row it takes to be below the line again. */
export function wayBackWords(f: Schemas["AbsenceFigures"]): string {
  if (!f.wayBack.known || f.wayBack.units === 0) return "–";
  return f.backInTime ? `${f.wayBack.units} in a row` : "not this year";
}

/** Over the line how many in a row it takes to be below it again, under it the room that is left; never both. */
export function nearnessWords(f: Schemas["AbsenceFigures"]): string {
  if (f.wayBack.known && f.wayBack.units > 0) return wayBackWords(f);
  return f.headroom.known && !f.headroom.none ? `${roomWords(f.headroom, f.unit)} left` : roomWords(f.headroom, f.unit);
}
