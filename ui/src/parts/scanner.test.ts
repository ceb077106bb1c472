import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { listenForScans, typeAsReader } from "./scanner";

/** Presses keys with a pause before each, as whoever is at the keyboard would. */
function type(keys: string[], pause: number) {
  for (const key of keys) {
    vi.advanceTimersByTime(pause);
    now += pause;
    const event = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true });
    Object.defineProperty(event, "timeStamp", { value: now });
    (document.activeElement ?? document.body).dispatchEvent(event);
    const field = document.activeElement;
    if (!event.defaultPrevented && field instanceof HTMLInputElement && key.length === 1) field.value += key;
  }
}

let now = 1000;

describe("a reader's rhythm", () => {
  const scans: string[] = [];
  const keys: string[] = [];
  const page = (e: KeyboardEvent) => keys.push(e.key);
  let stop = () => {};
  beforeEach(() => {
    vi.useFakeTimers();
    scans.length = 0;
    keys.length = 0;
    document.body.innerHTML = `<input />`;
    stop = listenForScans((code) => scans.push(code));
    window.addEventListener("keydown", page);
  });
  afterEach(() => {
    stop();
    window.removeEventListener("keydown", page);
    vi.useRealTimers();
  });

  it("is a scan when quick and ended with Enter, and triggers no key", () => {
    type([..."FL740217", "Enter"], 4);
    vi.advanceTimersByTime(500);
    expect(scans).toEqual(["FL740217"]);
    expect(keys).toEqual([]);
  });

  it("leaves the keys of a hand alone, in their order, however quick", () => {
    type([..."pnp"], 120);
    type([..."pn"], 10);
    vi.advanceTimersByTime(500);
    type(["Enter"], 30);
    expect(scans).toEqual([]);
    expect(keys).toEqual([..."pnppn", "Enter"]);
  });

  it("is no scan when too short, when Enter comes late, or with a space", () => {
    type([..."123", "Enter"], 4);
    vi.advanceTimersByTime(200);
    now += 200;
    type([..."12345"], 4);
    type(["Enter"], 300);
    type([..."40217 in", "Enter"], 4);
    vi.advanceTimersByTime(500);
    expect(scans).toEqual([]);
    expect(keys.filter((k) => k === "Enter")).toHaveLength(3);
  });

  it("takes what it typed out of a field again", () => {
    const field = document.querySelector("input") as HTMLInputElement;
    field.value = "forgot ";
    field.focus();
    type([..."FL740217", "Enter"], 4);
    expect(field.value).toBe("forgot ");
    expect(scans).toEqual(["FL740217"]);
    type([..."the bag"], 90);
    expect(field.value).toBe("forgot the bag");
  });

  it("lets a key follow those before it into the field that they opened", () => {
    const field = document.querySelector("input") as HTMLInputElement;
    const open = (e: KeyboardEvent) => {
      if (e.key !== "l") return;
      e.preventDefault();
      field.focus();
    };
    const inField: string[] = [];
    field.addEventListener("keydown", (e) => inField.push(e.key));
    window.addEventListener("keydown", open);
    type([..."l5", "Enter"], 4);
    window.removeEventListener("keydown", open);
    expect(field.value).toBe("5");
    expect(inField).toEqual(["5", "Enter"]);
    expect(scans).toEqual([]);
  });

  it("is kept by the stand-in", () => {
    typeAsReader("FL1234");
    vi.advanceTimersByTime(100);
    expect(scans).toEqual(["FL1234"]);
  });
});
