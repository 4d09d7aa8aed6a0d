// Commands with long work on a terminal: they end, the bar is gone, and the result stands last.
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { askedOnTerminal, onTerminal } from "./modrik.js";

const house = "examples/linden-yard";

describe("on a terminal", () => {
  test.each<[string, string[], RegExp]>([
    ["check", ["check", house], /Allowed: unused at .*$/],
    ["simulate", ["simulate", house, "--days", "30"], /^Nothing in the rooms answers to booth\.lamp/],
    ["test", ["test", house], /59 passed, 0 failed$/],
    ["coverage", ["test", house, "--only", "bench", "--coverage"], / passed, 0 failed, \d+ not run$/],
    ["mutants", ["test", house, "--only", "cloud", "--mutants"], /2 passed, 0 failed, 57 not run$/],
    ["hunt", ["test", house, "--only", "cloud", "--hunt", "--tries", "20"], /\d+ hold, \d+ broken$/],
  ])("%s ends, and its result stands last", (_, words, last) => {
    const { ended, shown } = onTerminal(words);
    expect(ended).toBe(true);
    const lines = shown.trimEnd().split("\n");
    expect(lines.at(-1)).toMatch(last);
    // What a bar drew is taken away by what was written after it.
    expect(lines.join("\n")).not.toMatch(/[█░]/);
  });

  test.each([
    ["no", "n\r"],
    ["nothing", "\r"],
    ["the end of the input", "\u0004"],
  ])("a question that is answered with %s changes nothing, and the command ends", async (_, typed) => {
    const words = ["check", "test/houses/mistakes.modrik", "--fix"];
    const { ended, shown } = await askedOnTerminal(words, [[/Change 2 lines\?/, typed]]);
    expect(ended).toBe(true);
    expect(shown).toContain("Nothing was changed.");
    expect(shown).toMatch(/\d+ problems$/m);
    expect(shown).not.toContain("Error");
  });

  test("a new house asks for its numbers, and asks again where one does not fit", async () => {
    const folder = mkdtempSync(join(tmpdir(), "modrik-new-"));
    try {
      const own = join(folder, "attic-house");
      const { ended, shown } = await askedOnTerminal(
        ["new", own],
        [
          [/What annoys you most/, "\r"],
          [/What is the house called/, "\r"],
          [/Which room is it about/, "Attic\r"],
          [/Its time zone/, "\r"],
          [/Humidity wanted, in %RH/, "90\r"],
          [/35 %RH to 60 %RH, not 90/, "\u001552\r"],
          [/It may be off by, in %RH/, "\r"],
        ],
      );
      expect(ended).toBe(true);
      expect(shown).toContain("The air is too dry: the rule is in");
      expect(readFileSync(join(own, "house.modrik"), "utf8")).toMatch(/zone attic "Attic"[\s\S]*at first 52 %RH/);
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
});
