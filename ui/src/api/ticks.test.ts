import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { sentIn } from "../test-page";
import type { Schemas } from "./client";
import { forgetRollCalls, keyOf, RollCallBox } from "./ticks";

type Person = Schemas["PersonView"];
type Tick = Schemas["TickView"];

const person = (n: number): Person => ({
  kind: "student",
  person: n,
  name: `Student ${n}`,
  sorted: `${n}, Student`,
  form: "8 Halyard",
  number: String(40_000 + n),
  card: `FL${n}`,
  why: "on-site",
  point: "Pier",
  place: "lesson 2",
  seen: "seen 10:05",
  photo: false,
});

/** The roll call as the server keeps it, behind a line that can be down, or lose requests and answers. */
function rollServer(people: number, loses: () => boolean = () => false) {
  const state = {
    kind: "real" as "drill" | "real",
    down: false,
    running: 0,
    ended: "",
    begun: 0,
    seq: 0,
    refuse: "",
    out: false,
  };
  const stored: (Tick & { seq: number })[] = [];
  const list = () => Array.from({ length: people }, (_, n) => person(n + 1));
  const begin = () => {
    if (!state.running) {
      state.running = 7;
      state.begun++;
    }
    return { id: 7, text: "" };
  };
  const take = (ticks: (Schemas["NewTick"] & { token: string })[]) => {
    const refused = [];
    state.seq++;
    for (const t of ticks) {
      const there = stored.find((s) => s.token === t.token);
      if (t.name === state.refuse && t.name) refused.push({ token: t.token, text: "the roll call ended at 10:50" });
      else if (t.undo && there) Object.assign(there, { undone: true, seq: state.seq });
      else if (!there && !t.undo)
        stored.push({
          token: t.token,
          kind: t.kind,
          person: t.person ?? 0,
          at: "10:44:00",
          here: t.here,
          place: t.place ?? "",
          by: "somebody",
          undone: false,
          seq: state.seq,
        });
    }
    return { seq: state.seq, refused };
  };
  const answers = (path: string, after: number, body: unknown) => {
    if (path === "/api/roll-calls") return begin();
    if (path === "/api/roll-call/running")
      return { id: state.running, kind: state.running ? state.kind : "", began: "", by: "" };
    if (path === "/api/roll-call")
      return {
        running: state.running
          ? { id: 7, kind: state.kind, began: "10:42", by: "R. Tolvan" }
          : { id: 0, kind: "", began: "", by: "" },
        asAt: "2026-03-10T10:42",
        label: "Tue 10 March",
        school: "Fairlead School",
        people: list(),
        others: [],
        account: 1,
        seq: state.seq,
      };
    if (body) return take((body as Schemas["Ticks"]).ticks);
    return {
      kind: state.kind,
      ended: state.ended,
      seq: state.seq,
      ticks: stored.filter((t) => t.seq > after),
      added: people,
      now: [],
    };
  };
  vi.stubGlobal("fetch", async (request: Request) => {
    if (state.down || loses()) throw new TypeError("the request was lost");
    if (state.out) return new Response(JSON.stringify({ detail: "sign in first" }), { status: 401 });
    const url = new URL(request.url);
    const body = request.method === "POST" ? (await sentIn("", request)).body : undefined;
    const answer = answers(url.pathname, Number(url.searchParams.get("after") ?? 0), body);
    if (loses()) throw new TypeError("the answer was lost");
    return new Response(JSON.stringify(answer), { status: 200 });
  });
  return { state, stored };
}

const here = (n: number) => ({ kind: "student" as const, person: n, here: true, place: "Pier", how: "list" as const });
const soon = (what: () => void, timeout = 8_000) => vi.waitFor(what, { timeout });
const boxes: RollCallBox[] = [];
function box(account = 1) {
  const b = new RollCallBox(account, 30);
  boxes.push(b);
  b.flush(0);
  return b;
}

describe("a roll call on a phone", () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => {
    for (const b of boxes.splice(0)) b.stop();
    vi.unstubAllGlobals();
  });

  it("begins and goes on with the line down, over a reload, and joins up with each tick stored once", async () => {
    const { state, stored } = rollServer(5);
    const first = box();
    await soon(() => expect(first.snapshot().list?.people).toHaveLength(5));
    state.down = true;
    first.begin("real");
    state.down = false;
    first.tick(here(4));
    await soon(() => expect(first.snapshot().ticks.get("student 4")?.by).toBe("somebody"));
    state.down = true;
    for (const n of [1, 2, 3]) first.tick(here(n));
    const second = first.snapshot().ticks.get("student 2");
    if (second) first.undo(second, { kind: "student", person: 2 });
    await soon(() => expect(first.snapshot().line).toBe(false));
    expect(first.snapshot().lost).toMatch(/^\d\d:\d\d$/);
    first.stop(); // the tab is closed
    const again = box();
    expect(again.snapshot().call).toMatchObject({ id: 7, kind: "real" });
    expect([...again.snapshot().ticks.keys()]).toEqual(["student 4", "student 1", "student 3"]); // those that were stored too
    again.tick({ kind: "visitor", person: 0, name: "A. Piper", here: true, how: "name" });
    expect(again.met()).toMatchObject([{ name: "A. Piper" }]);
    state.down = false;
    await soon(() => expect(again.snapshot().waiting).toBe(0));
    expect(state.begun).toBe(1);
    expect(stored.filter((t) => !t.undone).map((t) => t.person)).toEqual([4, 1, 3, 0]);
    await soon(() => expect(again.snapshot().call?.began).toBe("10:42")); // the school's own minute, not the phone's
  });

  it("begins with the line down, with the list that was last loaded, and hears that a drill is real", async () => {
    const { state, stored } = rollServer(3);
    state.kind = "drill";
    const b = box();
    await soon(() => expect(b.snapshot().list?.people).toHaveLength(3));
    state.down = true;
    b.begin("drill");
    b.tick(here(2));
    await soon(() => expect(b.snapshot().line).toBe(false));
    expect(b.snapshot().call).toMatchObject({ id: 0, kind: "drill" });
    state.down = false;
    await soon(() => expect(stored.map((t) => t.person)).toEqual([2]));
    expect(state.begun).toBe(1);
    await soon(() => expect(b.snapshot().call?.id).toBe(7));
    state.kind = "real";
    b.flush(0);
    await soon(() => expect(b.snapshot().call?.kind).toBe("real"));
  });

  it("shows what others tick, and takes back what the server has", async () => {
    const { stored, state } = rollServer(4);
    state.running = 7;
    const mine = box(1);
    const theirs = box(2);
    await soon(() => expect(theirs.snapshot().call?.id).toBe(7));
    await soon(() => expect(mine.snapshot().call?.id).toBe(7));
    mine.tick(here(3));
    await soon(() => expect(mine.snapshot().waiting).toBe(0));
    theirs.flush(0);
    await soon(() =>
      expect(theirs.snapshot().ticks.get("student 3")).toMatchObject({ by: "somebody", waiting: false }),
    );
    const shown = theirs.snapshot().ticks.get(keyOf(person(3)));
    if (shown) theirs.undo(shown, person(3));
    expect(theirs.snapshot().ticks.size).toBe(0);
    await soon(() => expect(stored[0]?.undone).toBe(true));
    mine.flush(0);
    await soon(() => expect(mine.snapshot().ticks.size).toBe(0));
  });

  it("loses and doubles nothing on a line that loses requests and answers", async () => {
    let state = 5;
    const roll = (n: number) => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return Math.floor((state / 2 ** 32) * n);
    };
    let broken = true;
    const server = rollServer(60, () => broken && roll(3) === 0);
    server.state.running = 7;
    const phones = [1, 2, 3].map(box);
    for (let n = 1; n <= 60; n++) {
      const phone = phones[n % 3];
      phone?.tick(here(n));
      if (n % 7 === 0) phones[(n + 1) % 3]?.tick(here(n)); // two met the same one
      await new Promise((done) => setTimeout(done, roll(12)));
    }
    broken = false;
    for (const phone of phones) {
      await soon(() => expect(phone.snapshot().waiting).toBe(0));
      phone.flush(0);
      await soon(() => expect(phone.snapshot().ticks.size).toBe(60));
    }
    const tokens = server.stored.map((t) => t.token);
    expect(new Set(tokens).size).toBe(tokens.length);
    expect(tokens).toHaveLength(68);
  });

  it("says what the server would not take, and keeps the rest", async () => {
    const { state, stored } = rollServer(2);
    state.running = 7;
    state.refuse = "A. Piper";
    const b = box();
    await soon(() => expect(b.snapshot().call?.id).toBe(7));
    b.tick({ kind: "visitor", person: 0, name: "A. Piper", here: true, how: "name" });
    b.tick(here(1));
    await soon(() => expect(b.snapshot().refused).toEqual(["A. Piper: not saved, the roll call ended at 10:50"]));
    expect(stored).toHaveLength(1);
    b.dismiss();
    expect(b.snapshot().refused).toEqual([]);
  });

  it("forgets everything when the roll call ends, and when nobody is signed in", async () => {
    const { state } = rollServer(3);
    state.running = 7;
    const b = box();
    await soon(() => expect(b.snapshot().call?.id).toBe(7));
    state.ended = "10:52";
    state.running = 0;
    b.flush(0);
    await soon(() => expect(b.snapshot().ended).toContain("10:52"));
    const left = () => Object.keys(localStorage).filter((n) => n.startsWith("meldung roll|"));
    expect(left()).toEqual([]);
    b.flush(0);
    await new Promise((done) => setTimeout(done, 100));
    expect(left()).toEqual([]);
    state.running = 7;
    state.ended = "";
    b.flush(0); // another one begins while the phone still shows how the first ended
    await soon(() => expect(b.snapshot().call?.id).toBe(7));
    expect(b.snapshot().ended).toBe("");
    b.forget();
    b.stop();

    const other = box(2);
    await soon(() => expect(left().length).toBeGreaterThan(0));
    state.out = true;
    other.flush(0);
    await soon(() => expect(left()).toEqual([]));
    const third = box(3);
    state.out = false;
    state.running = 7;
    state.ended = "";
    await soon(() => expect(third.snapshot().call?.id).toBe(7));
    state.out = true;
    third.tick(here(1));
    await soon(() => expect(third.snapshot().out).toBe(true));
    expect(left().some((n) => n.includes("|3|list|"))).toBe(false);
    expect(left().some((n) => n.includes("|tick|"))).toBe(true); // it waits for its person
    forgetRollCalls();
    expect(left()).toEqual([]);
  });
});
