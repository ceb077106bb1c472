import dayjs, { type Dayjs } from "dayjs";

const iso = "YYYY-MM-DD";
const weekdays = ["sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"];
const months = [
  "january",
  "february",
  "march",
  "april",
  "may",
  "june",
  "july",
  "august",
  "september",
  "october",
  "november",
  "december",
];

/** Where a word of at least two letters stands in a list of words, by its beginning; -1 for nowhere. */
function place(word: string, list: string[], letters: number): number {
  return word.length >= letters ? list.findIndex((w) => w.startsWith(word)) : -1;
}

/** A day of a month; undefined where the month has no such day. */
function dayOf(year: number, month: number, day: number): Dayjs | undefined {
  const d = dayjs(`${year}-${String(month + 1).padStart(2, "0")}-${String(day).padStart(2, "0")}`);
  return d.isValid() && d.month() === month && d.date() === day ? d : undefined;
}

/** Of a day without a year the one that lies nearest to today. */
function nearest(month: number, day: number, today: Dayjs): Dayjs | undefined {
  return [-1, 0, 1]
    .map((n) => dayOf(today.year() + n, month, day))
    .filter((d) => d !== undefined)
    .sort((a, b) => Math.abs(a.diff(today)) - Math.abs(b.diff(today)))[0];
}

/**
 * Reads a date as people type it, as YYYY-MM-DD; undefined for what is none. Today and weekdays are meant from
 * `today`, YYYY-MM-DD: a weekday is the next to come, or with `back` the last that was; a date without a year is the
 * one nearest to it. Day and month come in that order: 12 mar, 12 march 2026, 12/3, 12.3.26, +3, -1, thu, tomorrow.
 */
export function typedDate(text: string, today: string, back = false): string | undefined {
  const now = dayjs(today);
  const words = text
    .trim()
    .toLowerCase()
    .replaceAll(/[,.]/g, " ")
    .split(/[\s/]+/)
    .filter(Boolean);
  const [first = "", ...rest] = words;
  if (/^\d{4}-\d{2}-\d{2}$/.test(first) && rest.length === 0)
    return dayjs(first).format(iso) === first ? first : undefined;
  if (/^[+-]\d{1,3}$/.test(first) && rest.length === 0) return now.add(Number(first), "day").format(iso);
  const spoken = ["yesterday", "today", "tomorrow"].indexOf(first);
  if (spoken >= 0 && rest.length === 0) return now.add(spoken - 1, "day").format(iso);
  const weekday = place(first, weekdays, 2);
  if (weekday >= 0) {
    if (rest.length > 0) return typedDate(rest.join(" "), today, back); // as the field shows it
    const ahead = (weekday - now.day() + 7) % 7 || 7;
    return now.add(back ? ahead - 7 || -7 : ahead, "day").format(iso);
  }
  if (!/^\d{1,2}(st|nd|rd|th)?$/.test(first) || rest.length > 2) return undefined;
  const day = Number.parseInt(first, 10);
  const [m, y] = rest;
  if (m === undefined) return dayOf(now.year(), now.month(), day)?.format(iso);
  const month = /^\d{1,2}$/.test(m) ? Number(m) - 1 : place(m, months, 3);
  if (month < 0 || month > 11) return undefined;
  if (y === undefined) return nearest(month, day, now)?.format(iso);
  if (!/^(\d{2}|\d{4})$/.test(y)) return undefined;
  return dayOf(Number(y) + (y.length === 2 ? 2000 : 0), month, day)?.format(iso);
}

/** A time as people type it, as HH:MM: 925, 9.25 and 09:25 are the same; undefined for what is none. */
export function typedTime(text: string): string | undefined {
  const t = text.replaceAll(/\s/g, "").replace(".", ":");
  const [, h = "", m = "00"] = /^(\d{1,2}):(\d{2})$/.exec(t) ?? /^(\d{1,2})(\d{2})?$/.exec(t) ?? [];
  if (h === "" || Number(h) > 23 || Number(m) > 59) return undefined;
  return `${h.padStart(2, "0")}:${m}`;
}
