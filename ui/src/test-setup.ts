import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";
import { forgetCovered } from "./api/topics";
import { lookAtSections } from "./parts/scope";
import { tell } from "./parts/told";

// What the tests' browser lacks, and what they do not look at.
Element.prototype.scrollIntoView = () => undefined;

// Files share a page of the test's browser; each test begins as if it had just been opened.
afterEach(() => {
  cleanup();
  document.body.replaceChildren();
  tell.forget();
  forgetCovered();
  lookAtSections([]);
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
  localStorage.clear();
  sessionStorage.clear();
});

// A busy machine is given time; what is awaited is not awaited longer than it takes.
configure({ asyncUtilTimeout: 20_000 });

// The library's lists watch their size, which the test's browser has no notion of.
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
