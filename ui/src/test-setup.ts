import "@testing-library/jest-dom/vitest";
import { cleanup } from "@testing-library/react";
import { afterEach } from "vitest";

// What the tests' browser lacks, and what they do not look at.
Element.prototype.scrollIntoView = () => undefined;

afterEach(cleanup);
