// Every command as a person meets it: what it prints, and how it ends.
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { modrik, modrikAlone, root } from "./modrik.js";

const house = "examples/linden-yard";
const commands = [...(await modrik(["--help"])).out.matchAll(/^ {2}([a-z]+) /gm)].map(([, name]) => name as string);
let folder = "";

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-test-"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A file of its own, in a fresh folder. */
function write(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

describe("on the example house", () => {
  test.each<[string, string[], RegExp]>([
    ["check", ["check", house], /^Nothing wrong in Linden Yard: 6 zones, 27 sensors, 17 outputs/],
    [
      "simulate",
      ["simulate", house],
      /^Linden Yard, 2026-01-15 00:00 to 2026-01-16 00:00, weather frost, seed 1\n\nOutput +starts/,
    ],
    [
      "simulate a zone",
      ["simulate", "--zone", "loft", house],
      /^Linden Yard, Loft, .*\n\nOutput.*\nRadiator .*\nLoft fan .*\nLoft lights .*\nStale air .*\n\nAll the time on one side of its two points: loft.carbon \(fresh_air\), loft.carbon \(night_still\)\.\n1 notice:/,
    ],
    [
      "simulate otherwise",
      ["simulate", "--days", "2", "--from", "2026-07-01", "--weather", "heat_wave", "--set", "bench.slack=1", house],
      /2026-07-01 00:00 to 2026-07-03 00:00, weather heat_wave/,
    ],
    ["test", ["test", house], /\n59 passed, 0 failed\n$/],
    [
      "some trials",
      ["test", "--only", "cloud", house],
      /^passed {2}passing_cloud.*\npassed {2}dusk.*\n2 passed, 0 failed, 57 not run\n$/,
    ],
    [
      "why",
      ["why", "bench.humidifier", "--at", "09:45", house],
      /^At 2026-01-15 09:45 .*\nbench.humidifier is on, since 09:\d\d(:\d\d)?\n {2}rule dry_wood/,
    ],
    [
      "why in a trial",
      ["why", "bench.dryer", "--trial", "damp_hands", "--at", "07:20", house],
      /bench.dryer is on, since 07:10\n/,
    ],
    [
      "show",
      ["show", "--only", "bench.dryer", "--at", "2026-01-15 10:00", house],
      /^Linden Yard .*from 2026-01-15 10:00 on\)\n\nOutputs.*\n {2}bench.dryer "Dehumidifier": on\/off, uses 300 W\n.*guard one_at_a_time.*\n.*manual override.*\n {4}rule dry_wood, held: on above 48 %RH, off at 45 %RH/,
    ],
    ["show from now on", ["show", house], /\nSchedules\n {2}shop_hours "Shop hours": (now, until|next) /],
    ["format", ["format", "--check", house], /^All files are formatted.\n$/],
    ["help", ["--help"], /Usage: modrik/],
    ["help of a command", ["why", "--help"], /Example:\n {2}modrik why bench.humidifier/],
    ["help in a word of its own", ["help"], /Usage: modrik \[options\] \[command\]/],
    ["help of a command in a word of its own", ["help", "why"], /Example:\n {2}modrik why bench.humidifier/],
  ])("%s", async (_, words, out) => {
    const ended = await modrik(words);
    expect(ended.err).toBe("");
    expect(ended.code).toBe(0);
    expect(ended.out).toMatch(out);
  });

  test.each(commands)("the example in the help of %s works", async (name) => {
    const [, examples = ""] = /Example:\n((?: {2}modrik .*\n)+)/.exec(`${(await modrik([name, "--help"])).out}\n`) ?? [];
    const lines = examples.trim().split("\n");
    // In a copy, as an example may change the house or draw a picture.
    const copy = join(folder, `help-${name}`);
    cpSync(join(root, "examples"), join(copy, "examples"), { recursive: true });
    for (const line of lines) {
      const words = line.trim().replace(/^modrik /, "");
      expect(words).toMatch(new RegExp(`^${name} `));
      // Quotes are the shell's.
      const parts = [...words.matchAll(/'([^']*)'|(\S+)/g)].map(([, quoted, plain]) => quoted ?? plain ?? "");
      const ended = await modrik(parts, copy, name === "run" || name === "demo" ? /(?:at|:) +http:/ : undefined);
      expect(ended.code, ended.err).toBe(0);
      expect(ended.out).not.toBe("");
    }
  });

  test.each(["check", "simulate", "test", "show"])("%s --json is JSON", async (command) => {
    const { out, code } = await modrik([command, "--json", house]);
    expect(code).toBe(0);
    expect(JSON.parse(out)).toBeTruthy();
  });

  test("a chart is drawn as PNG and as SVG, in light and dark", async () => {
    const png = join(folder, "day.png");
    const svg = join(folder, "day.svg");
    expect((await modrik(["simulate", "--chart", png, house])).code).toBe(0);
    expect((await modrik(["simulate", "--chart", svg, "--dark", house])).code).toBe(0);
    expect(readFileSync(png).subarray(1, 4).toString()).toBe("PNG");
    const text = readFileSync(svg, "utf8");
    expect(text).toContain("Panel heater");
    expect(text).toContain("#131a19");
  });
});

test.each<[string, string[], number, RegExp]>([
  ["the version", ["--version"], 0, /^\d+\.\d+\.\d+\n$/],
  ["all is well", ["check", house], 0, /^Nothing wrong in Linden Yard/],
  ["the trials pass", ["test", "--only", "cloud", house], 0, /\n2 passed, 0 failed, 57 not run\n$/],
  ["a house falls short", ["test", "--only", "cloud", "--mutants", "nowhere"], 2, /^$/],
  ["a word is wrong", ["chek"], 2, /^$/],
])("as a process of its own it ends well when %s", (_, words, code, out) => {
  const ended = modrikAlone(words);
  expect([ended.code, ended.out]).toEqual([code, expect.stringMatching(out)]);
});

describe("a house of one's own", () => {
  test.each(["dry_air", "cold_room", "dark_room", "stale_air", "open_door", "dry_pump"])(
    "from %s passes its trial",
    async (name) => {
      const own = join(folder, `own-${name}`);
      const made = await modrik(["new", own, "--from", name, "--room", "Für Elise", "--clock", "Europe/Zurich"]);
      expect([made.err, made.code]).toEqual(["", 0]);
      expect(made.out).toContain(`npx modrik test ${own}`);
      expect((await modrik(["check", own])).out).toMatch(new RegExp(`^Nothing wrong in own-${name}: 1 zone`));
      expect((await modrik(["format", "--check", own])).code).toBe(0);
      expect((await modrik(["test", own])).out).toMatch(/\n[1-9]\d* passed, 0 failed\n$/);
      expect(readFileSync(join(own, "house.modrik"), "utf8")).toContain('zone für_elise "Für Elise" {');
    },
  );

  test("goes by other numbers, which its trial follows", async () => {
    const own = join(folder, "own-numbers");
    const made = await modrik(["new", own, "--from", "dry_air", "--set", "wanted=50", "--set", "slack=2,5 %RH"]);
    expect([made.err, made.code]).toEqual(["", 0]);
    expect(readFileSync(join(own, "trials/first.modrik"), "utf8")).toContain(
      '"The humidifier starts below 47.5 %RH and stops above',
    );
    expect((await modrik(["test", own])).out).toMatch(/\n1 passed, 0 failed\n$/);
  });

  test.each<[string[], string]>([
    [["wanted=90"], "Humidity wanted: 35 %RH to 60 %RH, not 90 %RH."],
    [["wanted=50 °C"], "--set wanted=50 °C is no number of dry_air."],
    [["warmth=20"], "--set warmth=20 is no number of dry_air."],
    [["wanted"], "--set wanted is no number of dry_air."],
  ])("refuses --set %o, says which numbers there are, and makes nothing", async (set, says) => {
    const own = join(folder, "own-refused");
    const { code, err } = await modrik(["new", own, "--from", "dry_air", ...set.flatMap((one) => ["--set", one])]);
    expect([code, err]).toEqual([2, expect.stringContaining(says)]);
    expect(err).toContain("There are: wanted (35..60 %RH), slack (0.5..8 %RH).");
    expect(existsSync(own)).toBe(false);
  });

  test("is not made where no folder can be", async () => {
    const file = write("plain.txt", "text");
    expect(await modrik(["new", join(file, "x"), "--from", "dry_air"])).toMatchObject({
      code: 2,
      err: expect.stringMatching(/cannot be used: .*\.\n$/),
    });
    expect((await modrik(["new", file, "--from", "dry_air"])).err).toMatch(/already exists/);
    expect(await modrik(["convert", house, join(file, "x.json")])).toMatchObject({
      code: 2,
      err: expect.stringMatching(/cannot be used/),
    });
  });

  test("is not made over another, nor of what is not there", async () => {
    expect((await modrik(["new", house, "--from", "dry_air"])).err).toMatch(/already exists and is not empty/);
    expect((await modrik(["new", join(folder, "none"), "--from", "dri_air"])).err).toMatch(/Did you mean dry_air/);
    expect((await modrik(["new", join(folder, "none")])).err).toMatch(
      /Choose a starting point with --from NAME. Possible names: dry_air, cold_room/,
    );
    expect((await modrik(["new", join(folder, "none"), "--from", "dry_air", "--clock", "Mars/Base"])).err).toMatch(
      /is not a valid time zone/,
    );
    expect(existsSync(join(folder, "none"))).toBe(false);
  });
});

describe("what is fixed automatically", () => {
  const broken =
    'house "A" { clock "UTC" readings last 15 min }\nzone z { sensor t: °C output o: on/off }\nrule r { while z.warmt below 20 hold z.o at on }\n';

  test("is shown, and changed when that is wanted", async () => {
    const path = write("fixes.modrik", broken.replace("z.warmt", "z.tempr").replace("sensor t:", "sensor temper:"));
    expect((await modrik(["check", "--fix", path])).out).toContain("+ rule r { while z.temper below 20 °C hold z.o at on }");
    const same = write("same.modrik", broken.replace("sensor t:", "sensor warmth:"));
    expect((await modrik(["check", "--fix", same])).out).toContain(
      "Nothing was changed. Use --yes to change 1 line without asking.",
    );
    expect(readFileSync(same, "utf8")).toContain("z.warmt below 20 hold");
    const ended = await modrik(["check", "--fix", "--yes", same]);
    expect(ended.out).toMatch(/Changed 1 line\.\n\n[\s\S]*1 warning in A/);
    expect(ended.code).toBe(0);
    expect(readFileSync(same, "utf8")).toContain("while z.warmth below 20 °C hold");
    expect((await modrik(["check", "--fix", same])).out).toMatch(/^Nothing can be fixed automatically\./);
  });
});

test("a name is changed in all files, or in none", async () => {
  const copy = join(folder, "renamed");
  cpSync(join(root, house), copy, { recursive: true });
  const { out, code } = await modrik(["rename", "bench.lamps", "bench.light", copy]);
  expect(code).toBe(0);
  expect(out).toMatch(/^house.modrik:18 {2}output light "Bench lamps"/);
  expect(out).toMatch(/\nbench.lamps is now bench.light, in 12 places of 6 files.\n$/);
  expect((await modrik(["test", copy])).out).toMatch(/\n59 passed, 0 failed\n$/);
  expect((await modrik(["rename", "bench.lamps", "bench.x", copy])).code).toBe(2);
  expect((await modrik(["rename", "bench.temperature", "bench.warm", copy])).err).toMatch(/would no longer find bench.warm/);
  expect(readFileSync(join(copy, "house.modrik"), "utf8")).toContain("sensor temperature: °C, -20..60 °C");
});

test("a house goes through JSON and back, and its trials still pass", async () => {
  const [json, text] = [join(folder, "yard.json"), join(folder, "yard.modrik")];
  const made = await modrik(["convert", house, json]);
  expect(made.out).toBe(`created  ${json}\n`);
  // What does not come back is said.
  expect(made.err).toBe("Comments are not part of a house in JSON: those of the text, `# allow …` too, are left out.\n");
  expect((await modrik(["convert", json, text])).code).toBe(0);
  cpSync(join(root, house, "holidays.ics"), join(folder, "holidays.ics"));
  expect((await modrik(["test", text])).out).toMatch(/\n59 passed, 0 failed\n$/);
  expect((await modrik(["convert", json, text])).err).toMatch(/already exists[\s\S]*--force/);
  expect((await modrik(["convert", "--force", json, text])).code).toBe(0);
  expect((await modrik(["convert", house, join(folder, "yard.xml")])).err).toMatch(/Cannot convert/);
  expect((await modrik(["convert", house])).err).toMatch(/Name a source and a target/);
  writeFileSync(json, readFileSync(json, "utf8").replace('"clock"', '"klock"'));
  expect(await modrik(["convert", json, join(folder, "b.modrik")])).toMatchObject({
    code: 2,
    err: expect.stringMatching(/it is not a house/),
  });
  expect(JSON.parse((await modrik(["convert", "--schema"])).out).title).toBe("A house of Modrik");
});

test("a house becomes TypeScript that says what it was", async () => {
  const [source, json, small] = ["night.ts", "night.json", "small.modrik"].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  const oven = "examples/night-oven";
  expect(await modrik(["convert", oven, source])).toMatchObject({ code: 0, out: `created  ${source}\n` });
  const written = readFileSync(source, "utf8");
  expect(written).toMatch(/^import \{ .*quantity \} from "modrik";\n/);
  expect(written).toMatch(/export default defineHouse\(\{\n {2}name: "Night Oven",/);
  await modrik(["convert", oven, json]);
  expect((await modrik(["convert", "--force", json, source])).err).toBe("");
  expect(readFileSync(source, "utf8").length).toBe(written.length);
  // What is next to a house is not in its text, nor in its program.
  const { err } = await modrik(["convert", house, join(folder, "yard.ts")]);
  expect(err).toMatch(/^Comments are not part of a house in TypeScript/);
  expect(err).toMatch(
    /\nIt is read together with "holidays\.ics": the program exports a function that takes what these say\.\n$/,
  );
  expect(await modrik(["convert", source, small])).toMatchObject({
    code: 2,
    err: expect.stringMatching(/is a program[\s\S]*Run it/),
  });
  writeFileSync(small, 'house "H" { clock "UTC" }\nrule r { hold nothing.here at on }\n');
  expect(await modrik(["convert", small, join(folder, "small.ts")])).toMatchObject({
    code: 1,
    err: expect.stringMatching(/nothing\.here/),
  });
});

describe("a trial that fails", () => {
  test("says what was expected, what was, when, and why", async () => {
    const copy = join(folder, "failing");
    cpSync(join(root, house), copy, { recursive: true });
    writeFileSync(
      join(copy, "trials", "failing.modrik"),
      'trial hurried "The dryer answers at once" {\n  from 2026-03-14 07:00\n  given bench.door is closed, bench.humidity is 44 %RH\n  at 07:10 bench.humidity is 48 %RH\n  expect bench.dryer is on by 07:10\n  expect count(bench.dryer is on) at least 1\n}\n',
    );
    const { out, code } = await modrik(["test", "--only", "hurried", copy]);
    expect(code).toBe(1);
    expect(out).toBe(`failed  hurried  The dryer answers at once
        expected  bench.dryer is on by 07:10
        but at 07:10 bench.dryer was off
          bench.dryer is off, since the beginning
            no rule is active, so it is at rest
            rule dry_wood "Keep the bench air where the wood likes it" would set it to on, but not now
              bench.humidity is 48 %RH; it turns on above 48 %RH (45 %RH + 3)
        expected  count(bench.dryer is on) at least 1
        but it was 0 times
        it failed by 1
          bench.dryer is off, since the beginning
            no rule is active, so it is at rest
            rule dry_wood "Keep the bench air where the wood likes it" would set it to on, but not now
              bench.humidity is 48 %RH; it turns on above 48 %RH (45 %RH + 3)
0 passed, 1 failed, 59 not run
`);
  });
});

test("a calendar in the folder of the house is read, and one that is none is said", async () => {
  const place = join(folder, "calendar");
  mkdirSync(place);
  const text = 'house "A" { clock "UTC" readings last 15 min } schedule away from calendar "away.ics"';
  writeFileSync(join(place, "house.modrik"), text);
  expect((await modrik(["check", place])).err + (await modrik(["check", place])).out).toContain(
    'There is no calendar "away.ics" in the folder of the house.',
  );
  cpSync(join(root, house, "holidays.ics"), join(place, "away.ics"));
  expect(await modrik(["check", place])).toMatchObject({ code: 0 });
  expect(await modrik(["check", join(place, "house.modrik")])).toMatchObject({ code: 0 });
  writeFileSync(join(place, "away.ics"), "date,event");
  const { code, err } = await modrik(["check", place]);
  expect(code).toBe(2);
  expect(err).toContain("away.ics cannot be read. This is not an iCalendar file");
  // It does not matter to a house that is read from another.
  writeFileSync(join(place, "house.modrik"), text.replace("away.ics", "holidays.ics"));
  cpSync(join(root, house, "holidays.ics"), join(place, "holidays.ics"));
  expect(await modrik(["check", place])).toMatchObject({ code: 0 });
});

describe("bad input ends in a clear message", () => {
  const small = (rules: string) =>
    `house "A" { clock "UTC" readings last 15 min } zone z { sensor t: °C sensor d: open/closed output o: on/off } ${rules}`;
  test.each<[string, string | Uint8Array, RegExp]>([
    ["an empty file", "", /This file is empty/],
    ["a file of random bytes", Uint8Array.from({ length: 500 }, (_, index) => (index * 193 + 7) % 256), /is not UTF-8 text/],
    ["an unclosed brace", small("rule r { while z.d hold z.o at on"), /The { of rule r is never closed/],
    ["a number without unit", small("rule r { while z.t above 45 hold z.o at on }"), /"45" has no unit.\n[\s\S]*Write 45 °C/],
    [
      "°C against %RH",
      small("rule r { while z.t above 45 %RH hold z.o at on }"),
      /Cannot compare temperature \(°C\) with relative humidity/,
    ],
    [
      "a misspelt sensor",
      small("rule r { while z.tt above 4 °C hold z.o at on }"),
      /There is no thing called "z.tt"[\s\S]*Did you mean "z.t" or "z.o" or "z.d"|Did you mean "z.t"/,
    ],
    [
      "two things with one name",
      small("schedule z { daily 08:00 to 09:00 }"),
      /"z" is the name of two things[\s\S]*Compare .*: the other z, a zone/,
    ],
    ["an output of another kind", small("rule r { hold z.o at 40 % }"), /Expected one of on\/off, found 40 %, a percentage/],
    [
      "a trial that ends before it begins",
      small("trial t { from 2026-03-14 08:00 to 2026-03-13 08:00 expect z.o is on }"),
      /ends before it begins/,
    ],
  ])("%s", async (_, text, says) => {
    const path = write("bad.modrik", text);
    const { code, out, err } = await modrik(["check", path]);
    expect(code).toBe(1);
    expect(out + err).toMatch(says);
    expect(out + err).not.toMatch(/\n {4}at /);
    // What cannot run says so wherever it is to run.
    for (const command of [["test"], ["simulate"], ["why", "z.o", "--at", "10:00"]])
      expect((await modrik([...command, path])).code).toBe(1);
  });

  test.each<[string, string[], RegExp]>([
    ["a folder that does not exist", ["check", "nowhere"], /There is no file or folder "nowhere"/],
    ["a folder without a house", ["check", "docs"], /There is no .modrik file in "docs"/],
    ["an unknown command", ["chek"], /unknown command 'chek'[\s\S]*Did you mean check/],
    ["an unknown option", ["check", "--jsn"], /unknown option '--jsn'[\s\S]*Did you mean --json/],
    [
      "an unknown output",
      ["why", "bench.heatr", "--at", "10:00", house],
      /no thing or rule called "bench.heatr"[\s\S]*Did you mean bench.heater\?/,
    ],
    ["no time", ["why", "bench.heater", house], /Missing --at: which time should be explained/],
    ["a time that is none", ["why", "bench.heater", "--at", "25:71", house], /"25:71" is not a time/],
    ["a time outside the run", ["why", "bench.heater", "--at", "2026-02-01 10:00", house], /outside this run/],
    ["nothing of that name to show", ["show", "--only", "bench.heter", house], /Nothing .* "bench.heter"[\s\S]*bench.heater\?/],
    [
      "nothing of that name to rename",
      ["rename", "bench.heter", "bench.x", house],
      /nothing called "bench.heter"[\s\S]*bench.heater\?/,
    ],
    ["two kinds of answer", ["check", "--fix", "--json", house], /do not go together/],
    ["no date to show from", ["show", "--at", "tomorrow", house], /"tomorrow" is not a date and time/],
    ["an unknown weather", ["simulate", "--weather", "frots", house], /no weather called "frots"[\s\S]*Did you mean frost/],
    ["a date that is none", ["simulate", "--from", "2026-02-30", house], /"2026-02-30" is not a date/],
    ["no days", ["simulate", "--days", "0", house], /not a number of days/],
    [
      "a dial beyond its range in another unit",
      ["simulate", "--set", "bench.warmth=20 °F", house],
      /bench.warmth cannot be "20 °F"[\s\S]*range is 14..24 °C/,
    ],
    [
      "a dial in a unit of something else",
      ["simulate", "--set", "bench.warmth=20 %RH", house],
      /bench.warmth cannot be "20 %RH"/,
    ],
    ["a dial with a tail", ["simulate", "--set", "bench.warmth=20zzz", house], /bench.warmth cannot be "20zzz"/],
    [
      "a dial beyond its range",
      ["simulate", "--set", "bench.slack=99", house],
      /bench.slack cannot be "99"[\s\S]*range is 0.5..8/,
    ],
    ["a chart of another kind", ["simulate", "--chart", "day.gif", house], /cannot be drawn as "day.gif"/],
    ["a chart in no folder", ["simulate", "--chart", "nowhere/day.svg", house], /"nowhere\/day.svg" cannot be written/],
    ["no such trial", ["test", "--only", "xyz", house], /No trial has "xyz"/],
    ["a port that is none", ["demo", "--port", "x"], /"x" is not a port number/],
  ])("%s", async (_, words, says) => {
    const { code, out, err } = await modrik(words);
    expect(code).toBe(2);
    expect(out).toBe("");
    expect(err).toMatch(says);
    expect(err).not.toMatch(/\n {4}at /);
  });
});

describe("format", () => {
  const untidy = 'house "A" {clock "UTC"}\n\n\nzone z { output o:on/off }  # room\n';
  const tidy = 'house "A" {\n  clock "UTC"\n}\n\nzone z {\n  output o: on/off\n}  # room\n';

  test("changes a file once, and with --check says so only", async () => {
    const path = write("untidy.modrik", untidy);
    expect(await modrik(["format", "--check", path])).toMatchObject({ code: 1, out: "not formatted  untidy.modrik\n" });
    expect(readFileSync(path, "utf8")).toBe(untidy);
    expect(await modrik(["format", path])).toMatchObject({ code: 0, out: "formatted  untidy.modrik\n" });
    expect(readFileSync(path, "utf8")).toBe(tidy);
    expect(await modrik(["format", path])).toMatchObject({ code: 0, out: "All files are formatted.\n" });
  });

  test("leaves a file with errors as it is", async () => {
    const path = write("broken.modrik", "rule {");
    const { code, err } = await modrik(["format", path]);
    expect(code).toBe(1);
    expect(err).toContain("broken.modrik:1:6  syntax");
    expect(readFileSync(path, "utf8")).toBe("rule {");
    expect(existsSync(`${path}.new`)).toBe(false);
  });
});
