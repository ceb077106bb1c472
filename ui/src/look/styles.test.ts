/// <reference types="node" />
import { readdirSync, readFileSync } from "node:fs";
import { basename, join, relative } from "node:path";
import { describe, expect, it } from "vitest";

const source = join(import.meta.dirname, "..");
const files = (ending: RegExp) =>
  readdirSync(source, { recursive: true, encoding: "utf8" })
    .filter((name) => ending.test(name) && !/\.test\./.test(name))
    .map((name) => join(source, name));
const read = (path: string) => readFileSync(path, "utf8").replaceAll(/\/\*[\s\S]*?\*\//g, "");

/** The selectors of a sheet that stand in no other rule; what is nested belongs to the one around it. */
function outermost(css: string): string[] {
  const out: string[] = [];
  const around: ("at" | "rule")[] = [];
  let text = "";
  for (const c of css) {
    if (c === "{") {
      const selector = text.trim();
      const at = selector.startsWith("@");
      if (!at && !around.includes("rule")) out.push(...selector.split(/,(?![^(]*\))/).map((s) => s.trim()));
      around.push(at ? "at" : "rule");
    } else if (c === "}") around.pop();
    text = "{};".includes(c) ? "" : text + c;
  }
  return out;
}

const rootOf = (selector: string) => /^:?(?:where\()?(?:\w*)\.([\w-]+)/.exec(selector)?.[1] ?? selector;
const sheets = files(/\.css$/).filter((path) => !relative(source, path).startsWith("look"));

describe("stylesheets", () => {
  it("reach nothing beyond their own component", () => {
    const owners = new Map<string, Set<string>>();
    for (const path of sheets)
      for (const selector of outermost(read(path))) {
        const root = rootOf(selector);
        if (basename(path) === "frame.css" && /^(page|panel|ant-segmented)/.test(root)) continue; // the frame fits what it holds to narrow windows
        expect(selector, `${path} begins with a class`).toMatch(/^(:where\()?\w*\./);
        owners.set(root, (owners.get(root) ?? new Set()).add(basename(path)));
      }
    const shared = [...owners].filter(([, in_]) => in_.size > 1).map(([root, in_]) => [root, ...in_]);
    expect(shared, "roots of two sheets").toEqual([]);
    expect(owners.size).toBeGreaterThan(30);
  });

  it("share the words of the look, all of which are there and in use", () => {
    const look = (text: string) => new Set(text.match(/\blook-[a-z]+\b/g));
    const there = look(read(join(source, "look", "base.css")));
    const used = new Set(files(/\.tsx$/).flatMap((path) => [...look(readFileSync(path, "utf8"))]));
    used.delete("look-at"); // a module
    expect([...used].filter((name) => !there.has(name))).toEqual([]);
    expect([...there].filter((name) => !used.has(name))).toEqual([]);
  });

  it("hide from paper what is not for it, whatever a place says of the same element", () => {
    const paper = read(join(source, "look", "base.css")).split("@media print")[1] ?? "";
    for (const name of [".band", ".rail", ".no-print"])
      expect(paper).toMatch(new RegExp(`\\${name}\\b[^{]*\\{\\s*display: none !important`));
  });

  it("set nothing from the pages but sizes that are computed", () => {
    const fixed = files(/\.tsx$/).flatMap((path) =>
      [...readFileSync(path, "utf8").matchAll(/style=\{\{([^}]*)\}\}/g)]
        .map((m) => m[1] ?? "")
        .filter((style) => style.split(",").some((one) => /:\s*("[^"$]*"|\d+)\s*$/.test(one)))
        .map((style) => `${basename(path)}: ${style}`),
    );
    expect(fixed).toEqual([]);
  });
});
