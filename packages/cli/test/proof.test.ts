// Proof on the command line: checks, trials with all they tell, why and why not. What they print is held by the docs.
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { modrik, modrikAlone } from "./modrik.js";

const house = "examples/linden-yard";
let folder = "";
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-proof-"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function write(name: string, text: string): string {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
}

const heater = `house "A" {
  clock "UTC"
  readings last 15 min
}
zone z {
  sensor x: °C
  output o: on/off
}
rule r {
  while z.x below 20 °C
  hold z.o at on
}
`;

describe("check", () => {
  test("tells warnings from errors, and with --strict ends with 1 for either", async () => {
    const path = write("chatters.modrik", heater);
    const { code, out } = await modrik(["check", path]);
    expect(code).toBe(0);
    expect(out).toMatch(/^chatters.modrik:11:8 {2}chatter {2}z.o turns on and off at the same value/);
    expect(out).toMatch(/\n1 warning in A, confirmed by running/);
    expect((await modrik(["check", "--strict", path])).code).toBe(1);
    expect((await modrik(["check", "--strict", house])).code).toBe(0);
  });

  test("the timeline that --show prints is one that passes", async () => {
    const path = write("shown.modrik", heater);
    const [, trial = ""] = /hold:\n((?: {4}.*\n)+)/.exec((await modrik(["check", "--show", path])).out) ?? [];
    expect(trial).toContain("trial shown_1");
    expect((await modrik(["test", write("shown-too.modrik", `${heater}\n${trial}`)])).out).toMatch(
      /^passed .*\n1 passed, 0 failed\n$/,
    );
  });

  test("lists what is allowed, with its reason, and tells all in JSON", async () => {
    const allowed = heater.replace("  while", "  # allow chatter: it is an LED\n  while");
    const path = write("allowed.modrik", allowed);
    expect((await modrik(["check", path])).out).toMatch(
      /^Nothing wrong in A[^\n]*\nAllowed: chatter at allowed.modrik:12, it is an LED.\n$/,
    );
    const json = JSON.parse((await modrik(["check", "--json", path])).out);
    expect([json.findings, json.allowed.map(({ code }: { code: string }) => code)]).toEqual([[], ["chatter"]]);
  });
});

describe("test", () => {
  test("writes JUnit XML and a tracefile", async () => {
    const [junit, lcov] = [join(folder, "results.xml"), join(folder, "trace.info")];
    expect((await modrik(["test", "--results", junit, "--trace", lcov, house])).code).toBe(0);
    expect(readFileSync(junit, "utf8")).toMatch(/<testsuites name="modrik" tests="59" failures="0"/);
    expect(readFileSync(lcov, "utf8")).toMatch(
      /^TN:modrik\nSF:rules.modrik\n(BRDA:\d+,0,\d+,\d+\n)+BRF:\d+\nBRH:\d+\n(DA:\d+,\d+\n)+LF:31\nLH:31\n/,
    );
  });

  test.each<[string, string[], RegExp]>([
    ["a file in no folder", ["--results", "nowhere/x.xml"], /"nowhere\/x.xml" cannot be written/],
    ["a seed that is none", ["--hunt", "--seed", "x"], /seed x is not a whole number/],
    ["two that do not go together", ["--watch", "--json"], /do not go together/],
  ])("is clear about %s", async (_, options, says) => {
    const { code, err } = await modrik(["test", "--only", "band_edges", ...options, house]);
    expect([code, says.test(err)]).toEqual([2, true]);
  });

  test("tells coverage and mutants in JSON, and the hunt ends with 1 where something breaks", async () => {
    const trial =
      "trial t { from 2026-03-14 08:00 given z.x is 21 °C at 08:10 z.x is 19 °C expect whenever z.x below 20 °C then z.o is on }";
    const path = write("measured.modrik", `${heater}${trial}`);
    const json = JSON.parse(modrikAlone(["test", "--coverage", "--mutants", "--json", path]).out);
    expect([json.trials.length, json.coverage.points.length, json.mutants.mutants]).toEqual([1, 7, 4]);
    expect(await modrik(["test", "--hunt", path])).toMatchObject({
      code: 0,
      out: expect.stringMatching(/^holds .*\n1 hold, 0 broken\n$/),
    });
    const broken = await modrik([
      "test",
      "--hunt",
      write("broken.modrik", `${heater}${trial.replace("z.o is on }", "z.o is off }")}`),
    ]);
    expect(broken).toMatchObject({
      code: 1,
      out: expect.stringMatching(/^broken .*\n {4}trial broken [\s\S]*0 hold, 1 broken\n$/),
    });
  });

  test("what moves by itself is told as it was, and drawn as it moves", async () => {
    const path = write(
      "moves.modrik",
      `house "M" { clock "UTC" }
      zone z { sensor t: °C output fan: on/off }
      let usual = mean(z.t over 2 h)
      rule near { while z.t above usual + 1 K until below usual hold z.fan at on }
      trial rises { from 2026-01-15 08:00 for 3 h given z.t is 20 °C at 09:00 z.t is 26 °C expect usual below 22 °C at 10:00 }`,
    );
    const { out } = await modrik(["test", "--chart", path]);
    expect(out).toContain("but at 10:00 usual was 23 °C\n");
    expect(out).toMatch(/usual ▁{15,}▁+▂+▃+▄+▅+▆+▇+█+ 20 °C to 26 °C\n/);
  });

  test("replays a recording in the folder of the house, and is clear about one that is broken or missing", async () => {
    const place = mkdtempSync(join(folder, "replayed-"));
    const trial = 'trial t { replay "day.csv" from 2026-03-14 08:00 to 2026-03-14 09:00 expect z.o is on by 08:10 }';
    writeFileSync(join(place, "house.modrik"), heater + trial);
    expect(await modrik(["test", place])).toMatchObject({
      code: 1,
      err: expect.stringMatching(/house.modrik:\d+:18 {2}unknown-name {2}There is no recording "day.csv"/),
    });
    writeFileSync(join(place, "day.csv"), "time,z.x\n2026-03-14T07:00:00Z,21\n2026-03-14T08:10:00Z,19\n");
    expect((await modrik(["test", place])).out).toMatch(/\n1 passed, 0 failed\n$/);
    expect((await modrik(["why", "z.o", "--trial", "t", "--at", "08:20", place])).out).toContain("z.o is on, since 08:10");
    writeFileSync(join(place, "day.csv"), "time,z.x\nyesterday,21\n");
    expect(await modrik(["test", place])).toMatchObject({
      code: 2,
      err: expect.stringMatching(/day.csv cannot be read. Line 2: "yesterday" is not a time/),
    });
  });

  test("many trials run beside each other, and are told in their order", async () => {
    const trials = Array.from(
      { length: 130 },
      (_, index) => `trial t${index} { from 2026-03-14 08:00 given z.x is ${index === 77 ? 21 : 19} °C expect z.o is on }`,
    );
    const path = write("many.modrik", `${heater}${trials.join("\n")}`);
    const all = modrikAlone(["test", path]);
    expect(all.out.match(/^(passed|failed) {2}t\d+/gm)?.map((line) => line.slice(8))).toEqual(
      trials.map((_, index) => `t${index}`),
    );
    expect(all).toMatchObject({ code: 1, err: "", out: expect.stringMatching(/\n129 passed, 1 failed\n$/) });
    expect(modrikAlone(["test", "--stop-at-failure", path]).out).toMatch(
      /\nfailed {2}t77\n[\s\S]*\n77 passed, 1 failed, 52 not run\n$/,
    );
  });

  test("--watch runs the trials again when a file is saved", async () => {
    const place = mkdtempSync(join(folder, "watched-"));
    const trial = "trial t { from 2026-03-14 08:00 given z.x is 19 °C expect z.o is on }";
    writeFileSync(join(place, "house.modrik"), heater + trial);
    const bin = fileURLToPath(new URL("../bin/modrik.js", import.meta.url));
    const watching = spawn(process.execPath, [bin, "test", "--watch", place], { env: { ...process.env, NO_COLOR: "1" } });
    const streams = [watching.stdout, watching.stderr];
    let out = "";
    const said = (what: RegExp) =>
      new Promise<void>((resolve) => {
        const look = () => {
          if (!what.test(out)) return;
          for (const stream of streams) stream.off("data", look);
          resolve();
        };
        for (const stream of streams) stream.on("data", look);
        look();
      });
    for (const stream of streams)
      stream.on("data", (part) => {
        out += part;
      });
    // Editors write a second file and move it over.
    const save = (text: string) => {
      writeFileSync(join(place, "saving"), text);
      renameSync(join(place, "saving"), join(place, "house.modrik"));
    };
    await said(/1 passed, 0 failed\nWatching /);
    save(heater + trial.replace("19 °C", "21 °C"));
    await said(/house.modrik was saved.\nfailed {2}t\n[\s\S]*0 passed, 1 failed\nWatching /);
    save(`${heater}${trial}}`);
    // The two streams may come in any order.
    await said(/no matching/);
    await said(/(Watching [\s\S]*){3}/);
    save(heater + trial);
    await said(/was saved.\npassed {2}t\n1 passed, 0 failed\nWatching [^\n]*\n$/);
    watching.kill("SIGINT");
    expect(await new Promise((resolve) => watching.on("exit", resolve))).toBe(0);
  });
});

describe("why", () => {
  test.each<[string, string[], RegExp]>([
    ["which notice", ["why", "notice"], /Which notice\?/],
    ["a notice that is no number", ["why", "notice", "x"], /"x" is not a notice number/],
    [
      "a notice that is not there",
      ["why", "notice", "2", "--trial", "open_door", house],
      /This run has no notice 2[\s\S]*1: 2026-03-16 09:15 "The bench/,
    ],
    ["why not what", ["why", "not"], /Which output\?/],
    [
      "an output that is not there",
      ["why", "not", "porch.lmp", "--at", "18:30", house],
      /no output called "porch.lmp"[\s\S]*porch.lamp/,
    ],
  ])("asks back: %s", async (_, words, says) => {
    const { code, err } = await modrik(words);
    expect([code, says.test(err), err]).toEqual([2, true, err]);
  });

  test("not: about any other value, or about one", async () => {
    const at = ["--trial", "passing_cloud", "--at", "15:05", house];
    expect((await modrik(["why", "not", "bench.lamps", ...at])).out).toContain(
      "bench.daylight is 320 lx, not below 300 lx: 20 lx too high",
    );
    expect((await modrik(["why", "not", "bench.lamps", "55 %", ...at])).out).toContain("no rule ever sets it to 55 %");
  });
});
