import { fireEvent, render } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { newKey } from "../api/client";
import { roomWords, wayBackWords } from "../places/absence/figures";
import { likelyKind } from "../places/desk/Move";
import { useKeys } from "./keys";
import { clock } from "./Rail";
import { duration } from "./words";

function Listening({ act, active = true }: { act: () => void; active?: boolean }) {
  useKeys({ a: act, "Ctrl+Enter": act }, active);
  return (
    <>
      <input aria-label="field" />
      <div role="dialog">
        <button type="button">in a dialogue</button>
      </div>
      <p>page</p>
    </>
  );
}

describe("keys", () => {
  it("act on the page, and are silent in a field and in a dialogue", () => {
    const act = vi.fn();
    const { getByLabelText, getByText } = render(<Listening act={act} />);
    fireEvent.keyDown(getByText("page"), { key: "A" });
    expect(act).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(getByLabelText("field"), { key: "a" });
    fireEvent.keyDown(getByText("in a dialogue"), { key: "a" });
    fireEvent.keyDown(getByText("page"), { key: "a", altKey: true });
    expect(act).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(getByLabelText("field"), { key: "Enter", ctrlKey: true });
    expect(act).toHaveBeenCalledTimes(2);
  });

  it("are silent while inactive", () => {
    const act = vi.fn();
    const { getByText } = render(<Listening act={act} active={false} />);
    fireEvent.keyDown(getByText("page"), { key: "a" });
    expect(act).not.toHaveBeenCalled();
  });
});

describe("words", () => {
  it("says time in hours and minutes, never in decimals", () => {
    expect([duration(325), duration(40), duration(120), duration(0)]).toEqual(["5 h 25 min", "40 min", "2 h", "0 min"]);
  });
  it("says room left", () => {
    expect(roomWords({ known: true, none: false, units: 1 }, "day")).toBe("1 day");
    expect(roomWords({ known: true, none: true, units: 0 }, "day")).toBe("none");
    expect(roomWords({ known: false, none: false, units: 0 }, "day")).toBe("–");
  });
  it("says the way back, and when it is beyond this year", () => {
    const f = (units: number, known = true) =>
      ({ wayBack: { known, none: false, units }, backInTime: units < 77 }) as Parameters<typeof wayBackWords>[0];
    expect([f(0), f(8), f(77), f(0, false)].map(wayBackWords)).toEqual(["–", "8 in a row", "not this year", "–"]);
  });
  it("writes a minute as a time", () => {
    expect([clock(0), clock(552), clock(1439)]).toEqual(["00:00", "09:12", "23:59"]);
  });
  it("guesses arriving or leaving from where the student is", () => {
    const at = (state: "in" | "left" | "unaccounted") =>
      likelyKind({ state, text: "", onSite: false, notBack: false, worried: "", last: "" });
    expect([at("in"), at("left"), at("unaccounted")]).toEqual(["departed", "arrived", "arrived"]);
  });
  it("makes keys that do not repeat", () => {
    expect(new Set(Array.from({ length: 200 }, newKey)).size).toBe(200);
  });
});
