/// <reference types="node" />
import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";

/**
 * Words that are not used, with the one that is: one word for one thing, and no phrase that has to be read twice.
 * What is looked at are texts for people: of the pages, and of the program's messages, papers and errors.
 */
const unused: [RegExp, string][] = [
  [/\bstand-ins?\b/i, "cover"],
  [/\bfetched\b/i, "collected"],
  [/\bleave (it|them)\b/i, "Cancel"],
  [/\bstore[sd]?\b/i, "save"],
  [/\bby itself\b/i, "automatically"],
  [/\bmend(s|ed|ing)?\b/i, "fix"],
  [/\bit stands\b/i, "the mark is right"],
  [/\bhome rings in\b/i, "call from home"],
  [/\bhome says\b/i, "message from home"],
  [/\bof nobody\b/i, "without a student"],
  [/\bnobody of the staff\b/i, "not linked to staff"],
  [/\bemblem\b/i, "logo"],
  [/\bsignals?\b/i, "concern"],
  [/\busername\b(?!,)/i, "user name"], // but as the column of a file
  [/\bproceed\b/i, "continue"],
  [/\b1 (students|registers|homes|marks|days|minutes|pages)\b/, "the singular"],
];

/** What is no text for people, where the word stands in it. */
const not = [
  /^[\w./{}:-]+$/, // a name, a path, a class, a key of a table
  /^\/api\//,
  /^[a-z][\w-]*( [a-z][\w-]*)*$/, // classes; kinds of entry, which the journal keeps
  /\b(SELECT|INSERT|UPDATE|DELETE|FROM)\b/,
  /^(json|db|doc|yaml):/,
];

const isText = (text: string) => /[a-z]/i.test(text) && !not.some((n) => n.test(text.trim()));

function files(folder: string, ending: RegExp): string[] {
  return readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory())
      return ["node_modules", "testdata", "dist"].includes(name) ? [] : files(path, ending);
    return ending.test(name) && !/\.test\.tsx?$|_test\.go$|schema\.d\.ts$|test-page\.tsx$/.test(name) ? [path] : [];
  });
}

/** The texts of a page: what stands between tags, and strings that are not names. */
function textsOfPage(path: string): string[] {
  const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const out: string[] = [];
  const walk = (node: ts.Node) => {
    if (ts.isImportDeclaration(node) || (ts.isJsxAttribute(node) && node.name.getText() === "className")) return;
    if (ts.isJsxText(node)) out.push(node.text.replaceAll(/\s+/g, " ").trim());
    else if (ts.isStringLiteralLike(node)) {
      if (!ts.isLiteralTypeNode(node.parent) && isText(node.text)) out.push(node.text);
    } else if (ts.isTemplateExpression(node))
      out.push([node.head.text, ...node.templateSpans.map((s) => s.literal.text)].join("…"));
    ts.forEachChild(node, walk);
  };
  walk(source);
  return out.filter((t) => /[a-z]/i.test(t));
}

/** The texts of the program: strings of its sources that are sentences or parts of one. */
function textsOfProgram(path: string): string[] {
  return readFileSync(path, "utf8")
    .split("\n")
    .filter((line) => !/^\s*\/\//.test(line) && !/`(json|db|path|query|header):/.test(line))
    .flatMap((line) => [...line.replace(/\s\/\/ .*$/, "").matchAll(/"((?:[^"\\]|\\.)*)"/g)].map((m) => m[1] ?? ""))
    .filter(isText);
}

function found(paths: string[], texts: (path: string) => string[]) {
  return paths.flatMap((path) =>
    texts(path).flatMap((text) =>
      unused
        .filter(([word]) => word.test(text))
        .map(([word, better]) => `${path}: ${JSON.stringify(text)} has ${word}, say ${better}`),
    ),
  );
}

describe("words that people read", () => {
  it("are the same for the same thing on every page", () => {
    expect(found(files("src", /\.tsx?$/), textsOfPage)).toEqual([]);
  });

  it("are the same in messages, papers and errors", () => {
    const folders = ["core", "files", "held", "pages", "web", "work"].map((f) => join("..", f));
    expect(
      found(
        folders.flatMap((f) => files(f, /\.go$/)),
        textsOfProgram,
      ),
    ).toEqual([]);
  });

  it("would be found", () => {
    expect("1 students".match(unused.at(-1)?.[0] ?? "")).not.toBeNull();
    expect(isText("Leave it")).toBe(true);
    expect(isText("stand-ins")).toBe(false);
  });
});
