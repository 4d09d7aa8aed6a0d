// Every example of the docs: houses are sound and laid out as the formatter does, commands print what stands below them.
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { readRecording } from "@modrik/formats";
import { checkHouse, findingCodes, formatHouse, problemCodes, runTrials } from "modrik";
import { openHouse } from "modrik/language";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { type Ended, modrik, modrikAlone, root } from "../packages/cli/test/modrik.js";

/** All of them; what is made by programs has tests of its own. */
const pages = ["README.md", ...pagesIn("docs")].filter((page) => page !== "docs/api.md");

function pagesIn(folder: string): string[] {
  return readdirSync(join(root, folder), { withFileTypes: true }).flatMap((entry) => {
    const path = `${folder}/${entry.name}`;
    return entry.isDirectory() ? pagesIn(path) : path.endsWith(".md") ? [path] : [];
  });
}

interface Fence {
  readonly language: string;
  /** What stands behind the language: `file=study/house.modrik`. */
  readonly about: string;
  readonly text: string;
  readonly line: number;
}

function fencesOf(page: string): Fence[] {
  const text = readFileSync(join(root, page), "utf8");
  // The grammar itself is read by the tests of the language.
  return [...text.matchAll(/^```((?!ebnf)\w+) ?(.*)\n([\s\S]*?)^```$/gm)].map((found) => ({
    language: found[1] as string,
    about: found[2] as string,
    text: found[3] as string,
    line: text.slice(0, found.index).split("\n").length,
  }));
}

let folder = "";
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-docs-"));
  symlinkSync(join(root, "examples"), join(folder, "examples"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe.each(pages)("%s", (page) => {
  const fences = fencesOf(page);
  // In order: a command may use the file of an example above it.
  test.each(fences.map((fence, index) => [`line ${fence.line}: ${fence.language}`, fence, fences[index + 1]] as const))(
    "%s",
    async (_, fence, next) => {
      if (fence.language === "modrik") checkExample(fence, fences);
      else if (fence.language === "sh" && fence.about === "live") await runLive(fence);
      else if (fence.language === "sh") expect(await runAll(fence)).toBe(next?.language === "text" ? next.text : "");
      else if (fence.language === "ts") expect(fence.text).toBe(programIn(fence));
      else if (fence.language === "csv") expect(readRecording(fence.text)).not.toEqual([]);
      // Requests have a test of their own, beside the server.
      else expect(["text", "http"]).toContain(fence.language);
    },
  );

  test("links lead somewhere", () => {
    const text = readFileSync(join(root, page), "utf8");
    for (const [, target = ""] of text.matchAll(/\]\(([^)#:]+)\)/g))
      expect(() => readLink(join(root, dirname(page), target)), target).not.toThrow();
  });
});

function readLink(path: string): void {
  try {
    readFileSync(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EISDIR") throw error;
  }
}

test("every problem has its entry, with an example", () => {
  const text = readFileSync(join(root, "docs/problems.md"), "utf8");
  const codes = new Set<string>([...problemCodes, ...findingCodes]);
  expect([...text.matchAll(/^## (.*)$/gm)].map(([, code]) => code).sort()).toEqual([...codes].sort());
  expect(new Set([...text.matchAll(/ wrong=(\S+)/g)].map(([, code]) => code))).toEqual(codes);
});

/** A program stands there as it is in its file, where it is run. */
function programIn({ about }: Fence): string {
  const [, file = ""] = /\bfrom=(\S+)/.exec(about) ?? [];
  return readFileSync(join(root, file), "utf8");
}

/** Whole houses, and pieces that stand in one of them; a piece that is wrong has the problem it is said to have. */
function checkExample({ text, about }: Fence, fences: readonly Fence[]): void {
  const said = (key: string) => new RegExp(`\\b${key}=(\\S+)`).exec(about)?.[1];
  const [file, base, within, wrong] = ["file", "base", "in", "wrong"].map(said);
  if (wrong === undefined) expect(formatHouse(text)).toEqual({ text, problems: [] });
  if (!file && !base && !within && !wrong) return;
  const around = fences.find((fence) => new RegExp(`\\bbase=${within}\\b`).test(fence.about));
  const files = { "a.modrik": around?.text ?? "", "house.modrik": text };
  const read = openHouse(files);
  const { house, problems: all } = read;
  const problems = all.filter(({ allowed }) => allowed === undefined);
  // A piece does not use all of its house.
  const findings =
    problems.length > 0
      ? []
      : checkHouse(house, read).filter((one) => !(within || base) || wrong === one.code || one.code !== "unused");
  const found = [...problems, ...findings.filter(({ allowed }) => allowed === undefined)];
  const codes = found.map(({ code, reason }) => (code === wrong ? code : `${code}: ${reason}`));
  expect([...new Set(codes)]).toEqual(wrong === undefined ? [] : [wrong]);
  const expected = !/\bfails\b/.test(about);
  for (const { trial, passed } of runTrials(house)) expect([trial.name, passed]).toEqual([trial.name, expected]);
  if (!file) return;
  mkdirSync(join(folder, dirname(file)), { recursive: true });
  writeFileSync(join(folder, file), text);
}

/** What goes on for ever, until it says where it is; and what is asked of a house that ran. */
async function runLive({ text }: Fence): Promise<void> {
  for (const command of text.trim().split("\n")) {
    expect(command).toMatch(/^npx modrik /);
    // Quotes are the shell's.
    const words = [...command.matchAll(/'([^']*)'|(\S+)/g)].map(([, quoted, plain]) => quoted ?? plain ?? "").slice(2);
    const { code, out, err } = await modrik(
      words,
      folder,
      /(?:at|:) +http:/,
      () => new Promise((done) => setTimeout(done, 2000)),
    );
    expect([code, err.replace(/^created .*\n/, "")]).toEqual([0, ""]);
    expect(out).not.toBe("");
  }
}

/** Commands end with 0, unless the fence says `code=1`. */
async function runAll({ text, about }: Fence): Promise<string> {
  const commands = text.trim().split("\n");
  const ended: Ended[] = [];
  for (const command of commands) {
    expect(command).toMatch(/^npx modrik /);
    const words = command.split(" ").slice(2);
    // Mistakes are tried on several cores, which takes what was built.
    ended.push(words.includes("--mutants") ? modrikAlone(words, folder) : await modrik(words, folder));
  }
  expect(ended.map(({ code }) => code)).toEqual(commands.map(() => Number(/code=(\d)/.exec(about)?.[1] ?? 0)));
  return ended.map(({ out }) => out).join("");
}
