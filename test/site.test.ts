// The docs as a site: whole, without a link that leads nowhere, and asking for nothing elsewhere. And what contributors read.
import { execFileSync } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join, normalize } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { root } from "../packages/cli/test/modrik.js";

describe("the site", () => {
  const folder = mkdtempSync(join(tmpdir(), "modrik-site-"));
  const pages = new Map<string, string>();
  beforeAll(() => {
    execFileSync(process.execPath, [join(root, "scripts/site.mjs"), folder], { cwd: root });
    for (const name of readdirSync(folder, { recursive: true }) as string[])
      if (name.endsWith(".html")) pages.set(name, readFileSync(join(folder, name), "utf8"));
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  test("has every page, under its own name", () => {
    const written = (readdirSync(join(root, "docs"), { recursive: true }) as string[]).filter(
      (name) => name.endsWith(".md") && !name.startsWith("api/"),
    );
    expect([...pages.keys()].sort()).toEqual(
      ["index.html", "contributing.html", ...written.map((name) => name.replace(/md$/, "html"))].sort(),
    );
    expect(pages.get("tutorial.html")).toContain(">From an annoyance to a proven rule</h1>");
    // What stands in braces is of the language, and not of what builds the site.
    expect(pages.get("language.html")).toContain("{");
  });

  test("has no link that leads nowhere, in a page or from one to another", () => {
    const broken = [...pages].flatMap(([name, html]) =>
      [...html.matchAll(/(?:href|src)="([^"]+)"/g)].flatMap(([, target = ""]) => {
        if (/^(https?:|mailto:)/.test(target)) return [];
        const [path = "", place] = target.split("#");
        const file = path === "" ? name : normalize(join(dirname(name), path));
        if (!existsSync(join(folder, file))) return [`${name}: ${target}`];
        return place && !pages.get(file)?.includes(`id="${place}"`) ? [`${name}: ${target}`] : [];
      }),
    );
    expect(broken).toEqual([]);
  });

  test("asks for nothing elsewhere", () => {
    for (const [name, html] of pages)
      expect([name, /<(script|link|img|iframe)[^>]*(src|href)="https?:/.test(html)]).toEqual([name, false]);
  });
});

test("what contributors are told to touch is there, and as much as is said", () => {
  const text = readFileSync(join(root, "CONTRIBUTING.md"), "utf8");
  const parts = text.split(/^## /m).slice(1);
  expect(parts.length).toBe(4);
  for (const part of parts) {
    const steps = part.split("\n").filter((line) => /^\d+\. /.test(line));
    const [, count] = /\((\d+) files\)/.exec(part) ?? [];
    expect([part.split("\n")[0], steps.length]).toEqual([part.split("\n")[0], Number(count)]);
    for (const step of steps) {
      const [, path = ""] = /^\d+\. `([^`]+)`/.exec(step) ?? [];
      expect([path, existsSync(join(root, path))]).toEqual([path, true]);
    }
  }
});
