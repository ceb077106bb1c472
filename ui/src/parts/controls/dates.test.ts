import { describe, expect, it } from "vitest";
import { typedDate, typedTime } from "./dates";

const tuesday = "2026-03-10";

describe("a date as it is typed", () => {
  it.each([
    ["today", "2026-03-10"],
    ["tomorrow", "2026-03-11"],
    ["yesterday", "2026-03-09"],
    ["thu", "2026-03-12"],
    ["Th", "2026-03-12"],
    ["tuesday", "2026-03-17"], // the next one, as the quick line has it
    ["+3", "2026-03-13"],
    ["-1", "2026-03-09"],
    ["12", "2026-03-12"],
    ["12 mar", "2026-03-12"],
    ["12th March", "2026-03-12"],
    ["12/3", "2026-03-12"],
    ["12.3.", "2026-03-12"],
    ["12/3/26", "2026-03-12"],
    ["1.9.2025", "2025-09-01"],
    ["2025-09-01", "2025-09-01"],
    ["Thu 12 March", "2026-03-12"],
    ["Mon 1 September 2025", "2025-09-01"],
    ["20 dec", "2025-12-20"], // the nearest: this school year's
    ["3 aug", "2026-08-03"],
    ["29 feb 2028", "2028-02-29"],
  ])("%s", (text, date) => expect(typedDate(text, tuesday)).toBe(date));

  it.each(["", "soon", "32 mar", "29 feb 2026", "12 13", "2026-02-30", "0 mar", "12 mar 202", "t", "12 ma"])(
    "%j is none",
    (text) => expect(typedDate(text, tuesday)).toBeUndefined(),
  );

  it("means the last weekday where what was is asked for", () => {
    expect(typedDate("thu", tuesday, true)).toBe("2026-03-05");
    expect(typedDate("tue", tuesday, true)).toBe("2026-03-03");
    expect(typedDate("Thu 12 March", tuesday, true)).toBe("2026-03-12");
  });

  it("is read as it is shown, whatever the date", () => {
    const names = { weekday: "short", day: "numeric", month: "long", year: "numeric", timeZone: "UTC" } as const;
    for (let n = 0; n < 1500; n++) {
      const d = new Date(Date.UTC(2025, 0, 1 + n));
      const shown = new Intl.DateTimeFormat("en-GB", names).format(d);
      expect(typedDate(shown, tuesday)).toBe(d.toISOString().slice(0, 10));
    }
  });
});

describe("a time as it is typed", () => {
  it.each([
    ["925", "09:25"],
    ["0925", "09:25"],
    ["9:25", "09:25"],
    ["9.25", "09:25"],
    ["9", "09:00"],
    ["14", "14:00"],
    [" 23:59 ", "23:59"],
  ])("%s", (text, time) => expect(typedTime(text)).toBe(time));

  it.each(["", "24", "9:7", "975", "soon", "12345", "1:234"])("%j is none", (text) =>
    expect(typedTime(text)).toBeUndefined(),
  );
});
