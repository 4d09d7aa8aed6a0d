// Recordings and what is learnt from them, as a person meets it: converted, replayed, listed, measured, compared, tuned.
import { spawnSync } from "node:child_process";
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { openRecording } from "@modrik/formats";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { modrik, modrikAlone, onTerminal, root } from "./modrik.js";

const yard = join(root, "examples/linden-yard");
const fortnight = join(yard, "fortnight.csv");
const ways = ["two_limits", "fixed_cycle", "target"].map((name) => join(root, "examples/three-ways", `${name}.modrik`));
let folder = "";

const small = `house "Small" { clock "Europe/Zurich" place 47 N, 8 E readings last 20 min }
zone z { sensor t: °C sensor door: open/closed output heater: on/off, uses 2 kW dial slack: 0.2..3 K, at first 1 K }
zone out { sensor t: °C }
rule warm { while z.door is closed keep z.t at 20 °C ± z.slack raise with z.heater }
rule say { when z.door has been open for 5 min do { tell "Open, {z.t}." } }
trial warms { from 2026-01-15 08:00 to 2026-01-15 09:00 given z.door is closed at 08:10 z.t is 15 °C expect z.heater is on at 08:10 }
physics { zone z { volume 50 m³, loses 40 W/K, stores 1 MJ/K } zone out { volume 900 m³, loses 9000 W/K, stores 0.1 MJ/K } z.heater gives 2 kW of heat }
weather cold { outdoors 0 °C, swings 4 K, humidity 70 %RH, cloud 80 % }
`;
const csv = `time,z.t °F,z.door,z.heater,nobody
2026-01-15 08:00,68,closed,off,1
2026-01-15 08:10,64.4,,on,
2026-01-15 08:20,nan,open,,
2026-01-15 08:30,64.4,closed,,
2026-01-15 08:25,64.4,,,
`;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-recordings-"));
  writeFileSync(join(folder, "small.modrik"), small);
  writeFileSync(join(folder, "morning.csv"), csv);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const inFolder = (...words: string[]) => modrik(words, folder);

describe("convert", () => {
  test("from form to form and back: the same, and what was done is said", async () => {
    const made = await inFolder("convert", "morning.csv", "a.jsonl", "--clock", "Europe/Zurich");
    expect(made).toMatchObject({ code: 0, out: "created  a.jsonl\n" });
    expect(made.err).toBe(
      "morning.csv: 1 report without a number (line 4): the value is then unknown.\nmorning.csv: 1 report out of order: put in order of time.\n",
    );
    for (const [from, to, ...more] of [
      ["a.jsonl", "b.senml"],
      ["b.senml", "c.csv", "--long"],
      ["c.csv", "d.csv"],
      ["d.csv", "e.json"],
    ])
      expect(await inFolder("convert", from as string, to as string, ...more)).toMatchObject({ code: 0 });
    const plain = (file: string, clock = "UTC") =>
      openRecording(readFileSync(join(folder, file), "utf8"), { clock })
        .records.map(
          ({ at, name, value }) =>
            `${at} ${name} ${typeof value === "number" ? (value > 60 ? (value - 32) / 1.8 : value).toFixed(6) : value}`,
        )
        .sort();
    expect(plain("e.json")).toEqual(plain("morning.csv", "Europe/Zurich"));
  });

  test.each<[string, string[], RegExp]>([
    ["a time without its zone", ["morning.csv", "x.csv"], /Line 2: "2026-01-15 08:00" is not a time[\s\S]*Correct it/],
    ["a zone that is none", ["morning.csv", "x.csv", "--clock", "Mars"], /"Mars" is not a time zone/],
    ["a form that has no rows", ["morning.csv", "x.senml", "--clock", "UTC", "--long"], /--long is for CSV/],
    ["a file that is not there", ["nothing.csv", "x.senml"], /There is no file "nothing.csv"/],
    ["a target of another kind", ["morning.csv", "x.txt"], /Cannot convert "morning.csv" to "x.txt"/],
    ["a target that is there", ["morning.csv", "morning.csv", "--clock", "UTC"], /already exists/],
  ])("%s is refused", async (_, words, says) =>
    expect(await inFolder("convert", ...words)).toMatchObject({ code: 2, err: expect.stringMatching(says) }),
  );
});

describe("rules over a recording", () => {
  test("simulate: figures, where they differ and why, and what is nothing of the house", async () => {
    const { code, out, err } = await inFolder("simulate", "small.modrik", "--recording", "morning.csv");
    expect(code).toBe(0);
    expect(err).toContain("morning.csv: nobody is nothing of this house. Left out: 1 report.");
    expect(out).toMatch(/^Small, 2026-01-15 08:00 to 2026-01-15 08:30, recording morning.csv\n/);
    expect(out).toMatch(
      /\nz.heater {2,}30 min {2,}66\.7 % {2,}1 time\n {2}2026-01-15 08:20, for 10 min: z.heater was on, the rules want off\n/,
    );
  });

  test("as JSON, for some of its days, and with a dial set", async () => {
    const { out } = await inFolder("simulate", "small.modrik", "--recording", "morning.csv", "--set", "z.slack=3", "--json");
    const read = JSON.parse(out);
    expect(read.differences[0].output).toBe("z.heater");
    expect(read.differences[0].differences).toEqual([expect.objectContaining({ recorded: "on", wanted: "off" })]);
    expect((await inFolder("simulate", "small.modrik", "--recording", "morning.csv", "--from", "2026-01-16")).err).toMatch(
      /The recording does not reach from 2026-01-16 00:00 on/,
    );
  });

  test("why, at a moment of it", async () => {
    const { out } = await inFolder("why", "z.heater", "--at", "08:12", "small.modrik", "--recording", "morning.csv");
    expect(out).toMatch(/recording morning.csv\)\nz.heater is on, since 08:10\n {2}rule warm\n {4}z.t was 18 °C/);
  });

  test("the fortnight of the demo house differs only where its sensor was silent", async () => {
    const { out } = await modrik(["simulate", yard, "--recording", fortnight, "--json"]);
    const { differences } = JSON.parse(out) as { differences: { output: string; differences: { from: number }[] }[] };
    // What outputs remembered from before it begins is not in it.
    const begins = Date.parse("2026-02-02T00:00+01:00");
    const later = differences.flatMap(({ output, differences: own }) =>
      own.flatMap(({ from }) => (from > begins ? [[output, new Date(from).toISOString().slice(0, 10)]] : [])),
    );
    expect(new Set(later.map((one) => one.join(" ")))).toEqual(new Set(["bench.dryer 2026-02-05"]));
  });

  test("it is made anew by its script", () => {
    const again = join(folder, "again.csv");
    const { status } = spawnSync(process.execPath, [join(root, "scripts/fortnight.mjs"), again], { encoding: "utf8" });
    expect(status).toBe(0);
    expect(readFileSync(again, "utf8") === readFileSync(fortnight, "utf8")).toBe(true);
  });
});

describe("the list of what happened", () => {
  test("of a simulated day, as a file and printed", async () => {
    expect(await inFolder("simulate", "small.modrik", "--log", "day.jsonl")).toMatchObject({
      code: 0,
      err: "created day.jsonl\n",
    });
    const entries = readFileSync(join(folder, "day.jsonl"), "utf8")
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line));
    expect(entries.find(({ kind, value }) => kind === "output" && value === "on")).toMatchObject({
      thing: "z.heater",
      rule: "warm",
      cause: expect.stringMatching(/^rule warm: z.t/),
    });
    const { out } = await inFolder("simulate", "small.modrik", "--log", "-");
    expect(out).toMatch(/^time,kind,thing,value,unit,rule,cause\n2026-01-14T23:00:00.000Z,reading,z.t,/);
    // It can be read back.
    expect((await inFolder("simulate", "small.modrik", "--recording", "day.jsonl")).code).toBe(0);
  });

  test("of trials, each with its name", async () => {
    expect((await inFolder("test", "small.modrik", "--log", "trials.csv")).code).toBe(0);
    expect(readFileSync(join(folder, "trials.csv"), "utf8")).toMatch(
      /^trial,time,kind,thing,value,unit,rule,cause\nwarms,2026-01-15T07:00:00.000Z,reading,z.door,closed/,
    );
  });
});

test("a trial that fails says what was told in it, and what went wrong", async () => {
  const failing = small.replace(
    "expect z.heater is on at 08:10",
    "at 08:20 z.door is open at 08:30 z.t is unknown expect z.heater is on at 08:28",
  );
  writeFileSync(join(folder, "failing.modrik"), failing);
  const { code, out } = await inFolder("test", "failing.modrik");
  expect(code).toBe(1);
  expect(out).toMatch(/\n {8}told at 08:25 "Open, 15 °C\."\n/);
  expect(JSON.parse((await inFolder("test", "failing.modrik", "--json")).out)[0].notices).toEqual(['at 08:25 "Open, 15 °C."']);
});

describe("figures, reports and pictures", () => {
  test("cost at a price, and the latest cycles", async () => {
    const { out } = await inFolder("simulate", "small.modrik", "--price", "0.5", "--cycles", "2", "--json");
    const { outputs, energy, cost } = JSON.parse(out);
    expect(cost).toBeCloseTo(energy / 2, 9);
    expect(outputs[0].on.count).toBe(2);
    expect((await inFolder("simulate", "small.modrik", "--price", "0.5")).out).toMatch(
      /\n[\d.]+ kWh, [\d.]+; at most 2 kW on at once\.\n/,
    );
  });

  test("a trial, by itself: its figures and its picture", async () => {
    expect((await inFolder("simulate", "small.modrik", "--trial", "warms")).out).toMatch(/^Small, trial warms\n/);
    expect(await inFolder("test", "small.modrik", "--only", "warms", "--chart", "trial.svg")).toMatchObject({ code: 0 });
    expect(readFileSync(join(folder, "trial.svg"), "utf8")).toContain("trial warms of Small, passed");
    // Without a picture's name it stays what it was.
    expect((await inFolder("test", "--chart", "small.modrik")).out).toMatch(/1 passed, 0 failed/);
  });

  test("a report is one page with all of it", async () => {
    expect(await inFolder("simulate", "small.modrik", "--report", "page.html", "--chart", "chart.html")).toMatchObject({
      code: 0,
    });
    const page = readFileSync(join(folder, "page.html"), "utf8");
    for (const part of [
      "<h2>Figures</h2>",
      "<h2>Notices</h2>",
      "Problems while running",
      "Rules in force",
      "rule warm {",
      'id="chart"',
      "z.slack",
    ])
      expect([part, page.includes(part)]).toEqual([part, true]);
    expect(readFileSync(join(folder, "chart.html"), "utf8")).toContain('id="values"');
  });
});

describe("measure", () => {
  test("signals of a file alone, and of a house", async () => {
    const alone = await modrik(["measure", fortnight], folder);
    expect(alone.out).toMatch(/\nbench.temperature {2,}4033 {3}5 min/);
    const ofHouse = await modrik(["measure", fortnight, yard]);
    expect(ofHouse.out).toContain(
      "Gaps, much longer than it usually reports:\n  bench.humidity: 1, the longest from 2026-02-05 13:05 for 4 h 35 min",
    );
    expect(JSON.parse((await modrik(["measure", fortnight, yard, "--json"])).out)).toHaveLength(20 - 4);
  });

  test("thresholds of light, against the sun, and a pair to write down", async () => {
    const { out } = await modrik(["measure", fortnight, yard, "--threshold", "porch.daylight", "--at", "40", "--at", "200"]);
    expect(out).toMatch(
      /Below {3}of the time {2}begins a day {2}for 3 min {2}for 10 min {2}dark by day {2}light by night\n40 lx {2}/,
    );
    expect(out).toMatch(/\n {2}while porch\.daylight below 200 lx until above 250 lx\n$/);
    expect(JSON.parse((await modrik(["measure", fortnight, yard, "--threshold", "loft.carbon", "--json"])).out).side).toBe(
      "above",
    );
  });

  test("heat loss within its own uncertainty of the physics, and where it cannot be told", async () => {
    const { out, code } = await modrik(["measure", fortnight, yard, "--loss", "bench", "--json"]);
    const { loses, uncertainty } = JSON.parse(out);
    const truth = 32 + (0.35 * 62 * 1206) / 3600;
    expect(code).toBe(0);
    expect(Math.abs(loses - truth) / truth).toBeLessThan(0.03);
    expect(uncertainty).toBeLessThan(1);
    const loft = await modrik(["measure", fortnight, yard, "--loss", "loft"]);
    expect(loft).toMatchObject({
      code: 1,
      out: expect.stringMatching(/^What loft loses cannot be told: loft.valve is set to a temperature/),
    });
  });
});

describe("compare and tune", () => {
  test("three ways of holding one value: the target stays nearest", async () => {
    const { out, code } = await modrik(["compare", ...ways, "--days", "2"]);
    expect(code).toBe(0);
    expect(out).toMatch(/\n {2,}two_limits {2,}fixed_cycle {2,}target {2}\n/);
    expect(out).toMatch(/\nbench.humidity, rms distance {2,}[\d.]+ %RH {2,}[\d.]+ %RH {2,}[\d.]+ %RH \*\n/);
  });

  test("settings of one house, drawn over one another, and over a recording", async () => {
    const drawn = await inFolder("compare", "small.modrik", "--vary", "z.slack=0.5,2", "--chart", "both.svg", "--json");
    expect(drawn).toMatchObject({ code: 0, err: "created both.svg\n" });
    expect(JSON.parse(drawn.out).runs).toEqual(["0.5 K", "2 K"]);
    expect(readFileSync(join(folder, "both.svg"), "utf8")).toContain("z.heater, 2 K");
    const replayed = await inFolder("compare", "small.modrik", "--vary", "z.slack=0.5,3", "--recording", "morning.csv");
    expect(replayed.out).toMatch(
      /^2026-01-15 08:00 to 2026-01-15 08:30, recording morning.csv; what rules do moves nothing in it\n/,
    );
    expect((await inFolder("compare", "small.modrik", "small.modrik")).out).toMatch(/All \d+ figures are the same/);
  });

  test("tuned: the table, the sentence and the picture; the same from one run to the next", async () => {
    const words = ["tune", "small.modrik", "--vary", "z.slack=0.5..2/0.5", "--chart", "front.svg"];
    const first = await inFolder(...words);
    expect(first).toMatchObject({ code: 0, err: "created front.svg\n" });
    expect(first.out).toMatch(/\nz\.slack {2}rms distance {2}in band {2}starts a day {2,}kWh/);
    expect(first.out).toMatch(/\n1 K .*today/);
    expect(first.out).toMatch(/\n(Set|Keep) z\.slack = /);
    expect((await inFolder(...words)).out).toBe(first.out);
    expect(readFileSync(join(folder, "front.svg"), "utf8")).toContain("(today)");
    // Spread over the cores it comes to the same.
    expect(modrikAlone(words, folder).out).toBe(first.out);
  });

  test("stopped, it shows what was tried until then", async () => {
    const ended = new AbortController();
    const says: string[] = [];
    const settings = 40;
    const { run } = await import("../src/run.js");
    const sink = { isTTY: true, write: (text: string) => says.push(text) };
    // The bar is drawn a second after it began: by then somebody has seen enough.
    const err = { isTTY: true, write: () => ended.abort() };
    const code = await run(["tune", yard, "--vary", `bench.slack=0.5..8/0.5`, "--vary", "bench.moisture=40..50/5"], {
      cwd: folder,
      out: sink,
      err,
      paint: (await import("picocolors")).default.createColors(false),
      ended: ended.signal,
      now: () => 0,
    });
    expect(code).toBe(0);
    expect(says.join("")).toMatch(/Stopped: \d+ of \d+ settings were tried\.\n/);
    expect(settings).toBeGreaterThan(0);
  });

  test("on a terminal the bar is gone at the end", () => {
    cpSync(join(folder, "small.modrik"), join(folder, "terminal.modrik"));
    const { ended, shown } = onTerminal([
      "tune",
      join(folder, "terminal.modrik"),
      "--vary",
      "z.slack=0.5..3/0.1",
      "--days",
      "20",
    ]);
    expect(ended).toBe(true);
    expect(shown.trimEnd()).toMatch(/front: no other setting/);
    expect(shown).not.toMatch(/[█░]/);
  });
});

describe("what does not go is said, with what would", () => {
  test.each<[string, string[], RegExp]>([
    ["nothing to vary", ["tune", "small.modrik"], /Missing --vary/],
    ["a dial that is none", ["tune", "small.modrik", "--vary", "z.slak=1,2"], /no dial or mode called "z.slak"/],
    [
      "three knobs",
      ["tune", "small.modrik", "--vary", "z.slack=1,2", "--vary", "z.slack=1,2", "--vary", "z.slack=1,2"],
      /One or two things/,
    ],
    ["set and varied", ["tune", "small.modrik", "--vary", "z.slack=1,2", "--set", "z.slack=1"], /both set and varied/],
    ["one house to compare", ["compare", "small.modrik"], /It takes two to compare/],
    ["one value to compare", ["compare", "small.modrik", "--vary", "z.slack=1"], /It takes two to compare/],
    ["too many", ["compare", "small.modrik", "--vary", "z.slack=0.2..3/0.1"], /8 at most stand beside one another/],
    ["two houses and a dial", ["compare", "small.modrik", "small.modrik", "--vary", "z.slack=1,2"], /--vary is for one house/],
    [
      "a recording and a weather",
      ["simulate", "small.modrik", "--recording", "morning.csv", "--weather", "cold"],
      /--recording and --weather do not go together/,
    ],
    [
      "a recording and a trial",
      ["simulate", "small.modrik", "--recording", "morning.csv", "--trial", "warms"],
      /do not go together/,
    ],
    [
      "a trial and days",
      ["simulate", "small.modrik", "--trial", "warms", "--days", "2"],
      /--trial and --days do not go together/,
    ],
    ["a price that is none", ["simulate", "small.modrik", "--price", "cheap"], /--price cheap is not a price/],
    ["no cycles", ["simulate", "small.modrik", "--cycles", "0"], /--cycles 0 is not a number of cycles/],
    ["a list of no form", ["simulate", "small.modrik", "--log", "day.txt"], /does not say what the list is to be/],
    ["a report of no page", ["simulate", "small.modrik", "--report", "day.pdf"], /Name a file that ends in .html/],
    ["a picture of no form", ["simulate", "small.modrik", "--chart", "day.gif"], /Name a file that ends in .png, .svg or .html/],
    ["a list and JSON, both printed", ["simulate", "small.modrik", "--log", "-", "--json"], /both print/],
    ["a picture of many trials", ["test", yard, "--only", "frost", "--chart", "many.png"], /draws one trial, not 4/],
    ["a recording of nothing here", ["simulate", yard, "--recording", "morning.csv"], /has no reports of things of this house/],
    ["a signal that is none", ["measure", fortnight, yard, "--threshold", "porch.dylight"], /Did you mean porch.daylight/],
    [
      "a value that is none",
      ["measure", fortnight, yard, "--threshold", "porch.daylight", "--at", "dark"],
      /--at dark is not a number/,
    ],
    ["a zone that is none", ["measure", fortnight, yard, "--loss", "bensh"], /no zone called "bensh"[\s\S]*bench/],
    [
      "a loss and a threshold",
      ["measure", fortnight, yard, "--loss", "bench", "--threshold", "bench.humidity"],
      /do not go together/,
    ],
  ])("%s", async (_, words, says) => {
    const { code, err, out } = await inFolder(...words);
    expect([code, out]).toEqual([2, expect.any(String)]);
    expect(err).toMatch(says);
  });

  test("a loss without its house", async () => {
    const empty = mkdtempSync(join(folder, "empty-"));
    expect(await modrik(["measure", fortnight, "--loss", "bench"], empty)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/needs its house/),
    });
    expect(existsSync(empty)).toBe(true);
  });
});
