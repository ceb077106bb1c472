import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { rowOf, rowsOf, sentMarks, tally } from "./draft";

const student = (id: number): Schemas["StudentRef"] => ({
  id,
  name: `S ${id}`,
  given: "S",
  sorted: `${id}, S`,
  number: `${id}`,
  form: "",
  year: "",
  section: "",
});
const row = (id: number, known?: Schemas["KnownMark"]): Schemas["RegisterRow"] => ({
  student: student(id),
  warnings: [],
  recent: [],
  versions: [],
  card: "",
  seat: -1,
  place: { state: "not-yet-known", text: "", onSite: false, notBack: false, worried: "", last: "" },
  ...(known ? { known } : {}),
});
const code = (c: string, state: string): Schemas["CodeView"] => ({
  code: c,
  word: c,
  counts: "",
  state,
  late: state === "late",
  timed: state === "late",
  key: "",
  uses: [],
  button: 0,
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
const known: Schemas["KnownMark"] = { code: "M", from: "", to: "", text: "ill · home", source: "home" };
const mark = (id: number, c: string, version = 0) => ({
  student: id,
  code: c,
  time: "",
  note: "",
  source: "",
  made: "08:50",
  seen: version,
});
const shared = (id: number, c: string, version: number, by = "T. Rask") => ({
  ...mark(id, c),
  version,
  by,
  at: "08:51",
});
const none = { waiting: new Map(), shared: new Map() };

describe("a register's rows", () => {
  it("fill what nobody touched with what is known, and follow its source", () => {
    const v = view([row(1, known), row(2, known), row(3)]);
    const rows = rowsOf(v, { ...none, waiting: new Map([[2, mark(2, "P")]]) }, "me");
    expect(rowOf(rows, 1)).toMatchObject({ code: "M", source: "home" });
    expect(rowOf(rows, 2)).toMatchObject({ code: "P", source: "" });
    expect(rowOf(rows, 3).code).toBe("");
    const later = view([row(1, { ...known, code: "LX", to: "08:55", source: "desk" })]);
    expect(rowOf(rowsOf(later, none, "me"), 1)).toMatchObject({ code: "LX", time: "08:55", source: "desk" });
  });

  it("show others' marks with who made them, one's own first, and the later of two versions", () => {
    const v = view([
      { ...row(1), draft: shared(1, "N", 3) },
      { ...row(2), draft: shared(2, "N", 3) },
    ]);
    const kept = { waiting: new Map([[2, mark(2, "P", 3)]]), shared: new Map([[1, shared(1, "L", 4, "me")]]) };
    const rows = rowsOf(v, kept, "me");
    expect(rowOf(rows, 1)).toMatchObject({ code: "L", version: 4, by: "" });
    expect(rowOf(rows, 2)).toMatchObject({ code: "P", version: 3, by: "" });
    expect(rowOf(rowsOf(v, none, "me"), 1)).toMatchObject({ code: "N", by: "T. Rask", at: "08:51" });
  });

  it("count a blank as to mark, never as an absence, and send what they had seen", () => {
    const v = view([1, 2, 3, 4, 5].map((id) => row(id)));
    const codes = ["P", "N", "L", "U"].map((c, i) => [i + 1, mark(i + 1, c)] as const);
    const rows = rowsOf(v, { ...none, waiting: new Map(codes), shared: new Map([[1, shared(1, "N", 2)]]) }, "me");
    expect(tally(v, rows)).toEqual({ in: 1, late: 1, noReason: 1, explained: 1, elsewhere: 0, toMark: 1 });
    expect(sentMarks(v, rows).map((m) => m.seen)).toEqual([2, 0, 0, 0]);
  });
});
