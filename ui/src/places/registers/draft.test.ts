import { beforeEach, describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { draftStore, rowOf, sentMarks, tally, withKnown } from "./draft";

const student = (id: number): Schemas["StudentRef"] => ({
  id,
  name: `S ${id}`,
  given: "S",
  sorted: `${id}, S`,
  number: `${id}`,
  form: "",
  year: "",
});
const row = (id: number, known?: Schemas["KnownMark"]): Schemas["RegisterRow"] => ({
  student: student(id),
  warnings: [],
  recent: [],
  versions: [],
  place: { state: "not-yet-known", words: "", onSite: false, notBack: false },
  ...(known ? { known } : {}),
});
const code = (c: string, state: string): Schemas["CodeView"] => ({
  code: c,
  word: c,
  counts: "",
  state,
  late: state === "late",
});
const view = (rows: Schemas["RegisterRow"][]) =>
  ({
    rows,
    codes: [
      code("P", "in"),
      code("L", "late"),
      code("N", "unaccounted"),
      code("M", "explained"),
      code("V", "elsewhere"),
      code("U", "unexcused"),
    ],
  }) as unknown as Schemas["RegisterView"];
const known: Schemas["KnownMark"] = { code: "M", from: "", to: "", words: "ill · home", source: "home" };
const own = { code: "P", time: "", note: "", made: "08:50", source: "" };

describe("a register's draft", () => {
  beforeEach(() => localStorage.clear());

  it("fills untouched rows with what is known, and leaves touched ones alone", () => {
    const v = view([row(1, known), row(2, known), row(3)]);
    const rows = withKnown(v, { 2: own });
    expect(rowOf(rows, 1)).toMatchObject({ code: "M", source: "home" });
    expect(rowOf(rows, 2)).toEqual(own);
    expect(rowOf(rows, 3).code).toBe("");
  });

  it("follows its source until it is touched", () => {
    const before = withKnown(view([row(1, known)]), {});
    const after = withKnown(view([row(1, { ...known, code: "LX", to: "08:55", source: "desk" })]), {});
    expect(rowOf(before, 1).code).toBe("M");
    expect(rowOf(after, 1)).toMatchObject({ code: "LX", time: "08:55", source: "desk" });
  });

  it("counts a blank as to mark, never as an absence", () => {
    const v = view([row(1), row(2), row(3), row(4), row(5)]);
    const rows = { 1: own, 2: { ...own, code: "N" }, 3: { ...own, code: "L" }, 4: { ...own, code: "U" } };
    expect(tally(v, rows)).toEqual({ in: 1, late: 1, noReason: 1, explained: 1, elsewhere: 0, toMark: 1 });
    expect(sentMarks(v, rows)).toHaveLength(4);
  });

  it("survives a reload, and is gone once sent", () => {
    draftStore("a").save({ 1: own });
    expect(draftStore("a").load()).toEqual({ 1: own });
    expect(draftStore("b").load()).toEqual({});
    draftStore("a").clear();
    expect(draftStore("a").load()).toEqual({});
  });

  it("is empty where what was kept cannot be read", () => {
    localStorage.setItem("meldung register a", "{");
    expect(draftStore("a").load()).toEqual({});
  });
});
