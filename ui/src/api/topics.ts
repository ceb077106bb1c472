/** A part of what pages show, as the server's events name it. */
export type Topic =
  | "day"
  | "messages"
  | "concerns"
  | "conduct"
  | "school"
  | "accounts"
  | "roll-call"
  | "ticks"
  | "steps";

/** What each path shows of; one that is not here may show of everything. */
const topics: Record<string, readonly Topic[]> = {
  "/api/today": ["day", "messages", "school"],
  "/api/today/part/{state}": ["day", "school"],
  "/api/today/calls": ["day", "messages", "school"],
  "/api/rail": ["day", "school"],
  "/api/registers": ["day", "school"],
  "/api/registers/{class}/{slot}": ["day", "school"],
  "/api/classes/{class}/check-ins": ["day", "school"],
  "/api/classes/{class}/hand-out": ["day", "school"],
  "/api/desk": ["day", "school"],
  "/api/students/{id}": ["day", "concerns", "conduct", "steps", "school"],
  "/api/find": ["day", "school"],
  "/api/absence": ["day", "school"],
  "/api/absence/{student}": ["day", "school"],
  "/api/concerns": ["day", "concerns", "conduct", "school"],
  "/api/reviews": ["concerns", "school"],
  "/api/reviews/{review}": ["concerns", "school"],
  "/api/outlook": ["concerns", "conduct", "school"],
  "/api/progress": [],
  "/api/help": [],
  "/api/pins": ["accounts"],
  "/api/cases": ["day", "concerns", "conduct", "school"],
  "/api/next": ["day", "concerns", "conduct", "school"],
  "/api/students/{id}/cases/{case}": ["day", "concerns", "conduct", "school"],
  "/api/students/{id}/cases": ["concerns", "school"],
  "/api/students/{id}/notes/{note}": [],
  "/api/students/{id}/sessions/{session}": [],
  "/api/support/week": ["concerns", "school"],
  "/api/support/came": ["day", "concerns", "conduct", "school"],
  "/api/support/words": ["concerns"],
  "/api/courses": ["concerns", "school", "steps"],
  "/api/courses/cell": ["concerns", "school"],
  "/api/courses/credits": ["concerns", "school"],
  "/api/courses/tables": ["concerns", "school"],
  "/api/courses/student": ["concerns", "school"],
  "/api/courses/rule": ["concerns"],
  "/api/courses/what-if": ["concerns", "school"],
  "/api/rules": ["concerns", "conduct", "school", "steps"],
  "/api/rules/one": ["concerns", "school"],
  "/api/conduct": ["conduct", "school", "steps"],
  "/api/conduct/lists": ["conduct", "school"],
  "/api/conduct/people": ["school"],
  "/api/incidents/{incident}": ["conduct", "school"],
  "/api/lates": ["day", "school"],
  "/api/students/{id}/former": ["steps"],
  "/api/students/{id}/former/{record}": ["steps"],
  "/api/papers": ["steps", "school", "messages"],
  "/api/papers/{list}": ["steps"],
  "/api/absence/classes": ["day", "steps", "school"],
  "/api/absence/beside": ["day", "school", "steps"],
  "/api/absence/grid": ["day", "school"],
  "/api/views": ["steps"],
  "/api/students/{id}/part-time": ["school"],
  "/api/own-fields": ["steps", "school"],
  "/api/students/{id}/own-fields": ["steps", "school"],
  "/api/school/own-fields": ["school"],
  "/api/own-fields/groups": ["steps", "school"],
  "/api/lists": ["steps", "school"],
  "/api/policy": ["school"],
  "/api/steps": ["day", "steps", "school", "accounts"],
  "/api/letters": ["steps", "school"],
  "/api/letters/preview": ["day", "steps", "school"],
  "/api/unexplained": ["day", "school"],
  "/api/notices": ["day", "school"],
  "/api/tasks": ["day", "school"],
  "/api/day-times": ["school"],
  "/api/stand-ins": ["day", "school"],
  "/api/safe-arrival/protocol": ["day", "messages", "school"],
  "/api/outbox": ["messages", "day"],
  "/api/notes": ["messages", "day"],
  "/api/school/calendar": ["school"],
  "/api/school/timetable": ["school"],
  "/api/school": ["school", "accounts"],
  "/api/school/sessions": ["accounts"],
  "/api/school/record": [],
  "/api/school/leavers": ["school"],
  "/api/settings": ["school"],
  "/api/reasons/kinds": ["school"],
  "/api/stations": ["school"],
  "/api/roll-call": ["roll-call", "day", "school"],
  "/api/roll-call/running": ["roll-call"],
  "/api/roll-calls": ["roll-call"],
  "/api/roll-calls/{roll}/record": ["roll-call", "ticks"],
  "/api/roll-calls/{roll}/ticks": ["roll-call", "ticks"],
  "/api/trips": ["day", "school"],
  "/api/trips/{trip}": ["day", "school"],
  "/api/trips/group": ["school"],
  "/api/visits": ["day", "school"],
  "/api/session": ["school", "accounts"],
};

/** Whether what a path shows may have changed with something about these topics. */
export function concerns(path: string, about: readonly Topic[]): boolean {
  const shows = topics[path];
  return !shows || about.some((topic) => shows.includes(topic));
}

const covered = new Map<string, number>();
let latest = 0;
const most = 500; // answers of which it is remembered what they cover

/** Remembers up to which entry of the server's journal an answer covers everything. */
export function covers(key: readonly unknown[], entry: number): void {
  if (covered.size > most) covered.clear();
  covered.set(JSON.stringify(key), entry);
  latest = Math.max(latest, entry);
}

/** The last entry of the server's journal that any answer covered; 0 for unknown. */
export const latestCovered = () => latest;

/** Up to which entry of the journal the last answer covers everything; −1 for unknown. */
export function coveredBy(key: readonly unknown[]): number {
  return covered.get(JSON.stringify(key)) ?? -1;
}

/** Forgets what answers covered. */
export function forgetCovered(): void {
  covered.clear();
  latest = 0;
}
