import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Sent, testServer } from "../test-page";
import type { Schemas } from "./client";
import { forgetOutboxes, Outbox, outboxesOf } from "./outbox";

const register = { date: "2026-03-10", class: 48, slot: "AM" };
const mark = (student: number, code: string, seen = 0): Schemas["DraftMark"] => ({ student, code, seen });

/** The server's shared draft, with a line that can lose requests and answers. */
function draftServer() {
  const rows = new Map<number, Schemas["DraftView"]>();
  const answered = new Map<string, unknown>();
  const stored: string[] = [];
  const line = { loses: "" as "" | "requests" | "answers" };
  const answer = ({ key, body }: Sent) => {
    if (line.loses === "requests") throw new TypeError("the line is down");
    if (!answered.has(key)) {
      const { marks } = body as Schemas["Drafts"];
      const taken: Schemas["DraftView"][] = [];
      const conflicts: Schemas["DraftView"][] = [];
      for (const m of marks) {
        const there = rows.get(m.student);
        if (there && there.code !== m.code && there.version !== m.seen) {
          conflicts.push(there);
          continue;
        }
        const next = {
          time: "",
          note: "",
          source: "",
          made: "",
          ...m,
          version: (there?.version ?? 0) + 1,
          by: "me",
          at: "08:52",
        };
        rows.set(m.student, next);
        stored.push(`${m.student} ${m.code}`);
        taken.push(next);
      }
      answered.set(key, { seq: answered.size + 1, taken, conflicts });
    }
    if (line.loses === "answers") throw new TypeError("the line is down");
    return answered.get(key);
  };
  const server = testServer({ "/api/registers/draft": answer });
  return { rows, stored, line, server };
}

const box = () => new Outbox(41, register, () => undefined);
const settled = (b: Outbox) => vi.waitFor(() => expect(b.snapshot().line).toBe("stored"), { timeout: 5000 });

describe("what is done to a register", () => {
  beforeEach(() => localStorage.clear());
  afterEach(() => {
    forgetOutboxes();
    vi.unstubAllGlobals();
  });

  it("is stored once and in order when answers get lost", async () => {
    const { line, stored, rows } = draftServer();
    const b = box();
    line.loses = "answers";
    b.put([mark(1, "N")]);
    await vi.waitFor(() => expect(b.snapshot().line).toBe("waiting"));
    b.put([mark(1, "P")]);
    b.put([mark(2, "P")]);
    b.put([mark(2, "L")]);
    expect(b.snapshot().waiting.get(1)?.code).toBe("P");
    line.loses = "";
    await settled(b);
    expect(stored).toEqual(["1 N", "1 P", "2 L"]); // a mark changed before it went out goes out once
    expect(rows.get(1)?.version).toBe(2);
    expect(localStorage).toHaveLength(0);
  });

  it("outlives the tab", async () => {
    const { line, stored } = draftServer();
    line.loses = "requests";
    const closed = box();
    closed.put([mark(1, "N"), mark(2, "P")]);
    await vi.waitFor(() => expect(closed.snapshot().line).toBe("waiting"));
    expect(outboxesOf(7)).toHaveLength(0); // not another person's
    line.loses = "";
    const [reopened] = outboxesOf(41);
    expect(reopened?.register).toEqual(register);
    await vi.waitFor(() => expect(stored).toEqual(["1 N", "2 P"]));
    await settled(closed);
    expect(stored).toHaveLength(2); // the first tab's own retry does nothing twice
  });

  it("keeps both marks of a conflict until one is chosen, over a reload too", async () => {
    const { rows, stored } = draftServer();
    rows.set(1, {
      student: 1,
      code: "P",
      time: "",
      note: "",
      source: "",
      made: "",
      version: 3,
      by: "T. Rask",
      at: "08:50",
    });
    const b = box();
    b.put([mark(1, "N", 2)]);
    await vi.waitFor(() => expect(b.snapshot().clashes.size).toBe(1));
    expect(stored).toEqual([]);
    const again = box();
    expect(again.snapshot().clashes.get(1)).toMatchObject({
      mine: { code: "N" },
      theirs: { code: "P", by: "T. Rask" },
    });
    again.decide(1, true);
    await settled(again);
    expect(stored).toEqual(["1 N"]);
    expect(again.snapshot().clashes.size).toBe(0);
  });

  it("takes a finished register back when a row turns out to be in dispute, or is marked again", async () => {
    const { rows, server, line } = draftServer();
    rows.set(1, {
      student: 1,
      code: "P",
      time: "",
      note: "",
      source: "",
      made: "",
      version: 3,
      by: "T. Rask",
      at: "08:50",
    });
    line.loses = "requests";
    const b = box();
    b.put([mark(1, "N", 2)]);
    b.send([{ student: 1, code: "N" }]);
    expect(b.snapshot().finished).toBe(true);
    b.put([mark(2, "P")]);
    expect(b.snapshot().finished).toBe(false);
    b.send([{ student: 1, code: "N" }]);
    line.loses = "";
    await vi.waitFor(() => expect(b.snapshot().clashes.size).toBe(1), { timeout: 5000 });
    await settled(b);
    expect(server.sent.some((s) => s.path === "/api/registers")).toBe(false);
    expect(b.stuck()).toBe(true); // and its teacher is told, on whatever page
  });

  it("shares no letter of a card that is gone from a note at once", async () => {
    const { stored } = draftServer();
    const b = box();
    b.put([{ ...mark(1, "L"), note: "F" }]);
    b.put([{ ...mark(1, "L"), note: "" }]);
    await settled(b);
    expect(stored).toEqual(["1 L"]);
  });

  it("is kept and explained when the server refuses it", async () => {
    const { server } = draftServer();
    server.refusals["/api/registers/draft"] = { status: 409, detail: "it was sent at 08:55" };
    const b = box();
    b.put([mark(1, "N")]);
    await vi.waitFor(() => expect(b.snapshot().line).toBe("refused"));
    expect(b.snapshot()).toMatchObject({ words: "it was sent at 08:55" });
    expect(b.snapshot().waiting.size).toBe(1);
    b.discard();
    expect(b.snapshot()).toMatchObject({ line: "stored", words: "" });
  });

  it("says that a whole register was refused until its teacher has looked at it, in another tab too", async () => {
    const { server } = draftServer();
    server.refusals["/api/registers"] = { status: 409, detail: "M. Jahn marked Idris Quell otherwise in between" };
    const b = box();
    b.send([{ student: 1, code: "N" }]);
    await vi.waitFor(() => expect(b.stuck()).toBe(true));
    expect(b.snapshot().finished).toBe(false);
    const again = box();
    expect(again.snapshot().words).toContain("Idris Quell otherwise");
    again.lookedAt();
    expect(again.stuck()).toBe(false);
  });
});
