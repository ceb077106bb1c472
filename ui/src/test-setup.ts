import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";
import { tell } from "./parts/told";

// What the tests' browser lacks, and what they do not look at.
Element.prototype.scrollIntoView = () => undefined;

afterEach(cleanup);
afterEach(() => tell.forget());

// A busy machine is given time; what is awaited is not awaited longer than it takes.
configure({ asyncUtilTimeout: 20_000 });

// The library's lists watch their size, which the test's browser has no notion of.
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
