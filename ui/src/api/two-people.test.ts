import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { sentIn } from "../test-page";
import type { Schemas } from "./client";
import { Outbox } from "./outbox";

type Draft = Schemas["DraftView"];
type Mark = Schemas["DraftMark"];

/** Numbers that look random and are the same in every run. */
function dice(seed: number) {
  let state = seed;
  return (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * n);
  };
}

/** The shared draft as the server keeps it, behind a line that loses requests and answers, and delays both. */
function lossyServer(roll: (n: number) => number, broken: () => boolean) {
  const rows = new Map<number, Draft>();
  const answers = new Map<string, Schemas["DraftReceipt"]>();
  const history: string[] = [];
  const take = (key: string, marks: Mark[], by: string) => {
    const known = answers.get(key);
    if (known) return known;
    const receipt: Schemas["DraftReceipt"] = { seq: answers.size + 1, taken: [], conflicts: [] };
    for (const m of marks) {
      const there = rows.get(m.student);
      if (there && there.code !== m.code && there.version !== m.seen) {
        receipt.conflicts.push(there);
        continue;
      }
      if (there?.code !== m.code) {
        const version = (there?.version ?? 0) + 1;
        rows.set(m.student, {
          student: m.student,
          code: m.code,
          time: "",
          note: "",
          source: "",
          made: "",
          version,
          by,
          at: "",
        });
        history.push(`${m.student} ${version}`);
      }
      receipt.taken.push(rows.get(m.student) as Draft);
    }
    answers.set(key, receipt);
    return receipt;
  };
  vi.stubGlobal("fetch", async (request: Request) => {
    await new Promise((done) => setTimeout(done, roll(30)));
    if (broken() && roll(2) === 0) throw new TypeError("the request was lost");
    const { key, body } = await sentIn("", request);
    const { marks } = body as Schemas["Drafts"];
    const receipt = take(key, marks, (marks[0]?.note as string) ?? "");
    await new Promise((done) => setTimeout(done, roll(30)));
    if (broken() && roll(2) === 0) throw new TypeError("the answer was lost");
    return new Response(JSON.stringify(receipt));
  });
  return { rows, history };
}

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

// Two people mark the same rows in any order while requests and answers get lost and
// come late. In the end every row is what someone last marked knowing what stood there,
// every version was stored once, and every mark that lost is shown to who made it.
it.each(Array.from({ length: 40 }, (_, i) => i + 1))("ends in the same register, run %i", async (seed) => {
  const roll = dice(seed * 7919);
  let down = true;
  const { rows, history } = lossyServer(roll, () => down);
  const register = { date: "2026-03-10", class: 48, slot: "AM" };
  const people = [1, 2].map((account) => new Outbox(account, register, () => undefined));
  const last: Map<number, string>[] = [new Map(), new Map()];
  for (let n = 0; n < 40; n++) {
    const who = roll(2);
    const box = people[who];
    const student = 1 + roll(4);
    const code = ["P", "N", "L", ""][roll(4)] ?? "";
    const seen =
      roll(3) === 0 ? (rows.get(student)?.version ?? 0) : (box?.snapshot().shared.get(student)?.version ?? 0);
    box?.put([{ student, code, seen }]);
    last[who]?.set(student, code);
    await vi.advanceTimersByTimeAsync(roll(400));
  }
  down = false;
  await vi.advanceTimersByTimeAsync(60_000);
  for (const box of people) expect(box.snapshot()).toMatchObject({ line: "stored", waiting: new Map() });
  expect(new Set(history).size).toBe(history.length);
  for (const [student, row] of rows) {
    expect(history.filter((h) => h.startsWith(`${student} `))).toHaveLength(row.version);
    const open = people.some((box) => box.snapshot().clashes.has(student));
    expect(open || last.some((l) => l.get(student) === row.code)).toBe(true);
  }
  people.forEach((box, who) => {
    for (const [student, clash] of box.snapshot().clashes) {
      expect(clash.mine.code).toBe(last[who]?.get(student));
      expect(clash.theirs.version).toBeLessThanOrEqual(rows.get(student)?.version ?? 0);
    }
  });
});
