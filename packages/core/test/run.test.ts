// Whole runs: the simulated room, what is measured, judged and explained of it.
import {
  createPhysics,
  type Explanation,
  isSound,
  measure,
  parseHouse,
  passes,
  runTrials,
  simulate,
  type Weather,
  why,
} from "modrik";
import { describe, expect, test } from "vitest";
import { parseLindenYard, traps } from "./examples.js";

const { house } = parseLindenYard();
const weather: Weather = { name: "still", outdoors: 0, swings: 0, humidity: 80, cloud: 100 };
const at = Date.parse("2026-01-15T00:00Z");

describe("the simulated room", () => {
  const room = (zone: string, given = {}) => {
    const text = `house "A" { place 47 N, 8 E clock "UTC" }
      zone z { sensor t: °C sensor h: %RH sensor l: lx output heater: on/off output mist: on/off output lamp: 0..100 % sensor door: open/closed }
      physics { zone z { ${zone} } z.heater gives 1 kW of heat z.mist gives 100 g/h of water z.lamp gives 400 lx of light z.door open adds 5 /h of leak to outdoors }`;
    return createPhysics(parseHouse({ "a.modrik": text }).house, { from: at, weather, given });
  };
  const hours = (physics: ReturnType<typeof createPhysics>, count: number, values: Record<string, string | number> = {}) => {
    for (const [name, value] of Object.entries(values)) physics.put(name, value);
    for (let minute = 1; minute <= count * 60; minute++) physics.advance(at + minute * 60e3);
  };

  test("cools to the air outdoors with its time constant, warms by gain over loss", () => {
    // 3.6 MJ/K over 100 W/K: ten hours. 20 °C · e^-1 = 7.4 °C after them.
    const cooling = room("volume 50 m³, loses 100 W/K, stores 3.6 MJ/K", { "z.t": 20 });
    hours(cooling, 10);
    expect(cooling.reading("z.t")).toBe(7.4);
    const warming = room("volume 50 m³, loses 100 W/K, stores 0.36 MJ/K");
    hours(warming, 20, { "z.heater": "on" });
    expect(warming.reading("z.t")).toBe(10);
  });

  test("keeps its water when it is tight: 100 g more in walls that take 50 g for a %RH are 2 %RH", () => {
    const tight = room("volume 0.001 m³, loses 0 W/K, stores 1 MJ/K, soaks 50 g/%RH", { "z.t": 20, "z.h": 40 });
    hours(tight, 1, { "z.mist": "on" });
    expect(tight.reading("z.h")).toBe(42);
  });

  test("an open door lets the weather in, a lamp lights by its share", () => {
    const shut = room("volume 60 m³, loses 50 W/K, stores 1 MJ/K, window 0 %".replace("window 0 %", "window 2 % of daylight"), {
      "z.t": 20,
    });
    const open = room("volume 60 m³, loses 50 W/K, stores 1 MJ/K", { "z.t": 20 });
    hours(shut, 1, { "z.lamp": 50 });
    hours(open, 1, { "z.door": "open" });
    expect(shut.reading("z.l")).toBe(200);
    expect(Number(shut.reading("z.t")) - Number(open.reading("z.t"))).toBeGreaterThan(3);
  });
});

describe("a simulated day of the bench room", () => {
  const run = simulate(house);
  const measures = measure(run);
  const output = (name: string) => measures.outputs.find((one) => one.output === name);

  test("is the same each time, and another with another seed", () => {
    expect(simulate(house).past.records).toEqual(run.past.records);
    expect(measure(simulate(house, { seed: 2 }))).not.toEqual(measures);
  });

  test("cycles as a real room does: some starts an hour, none shorter than the heater is protected", () => {
    const heater = output("bench.heater");
    expect(heater?.starts).toBeGreaterThan(6);
    expect(heater?.starts).toBeLessThan(40);
    expect(heater?.on?.min).toBeGreaterThanOrEqual(4 * 60e3);
    expect(output("bench.dryer")?.starts).toBe(0);
  });

  test("a narrower tolerance keeps nearer to its target and starts more often", () => {
    const narrow = measure(simulate(house, { set: { "bench.slack": 1 } }));
    const [wide, near] = [measures, narrow].map(({ kept }) => kept.find(({ rule }) => rule === "dry_wood")?.meanDistance ?? 0);
    expect(near).toBeLessThan(wide as number);
    expect(narrow.outputs[1]?.starts).toBeGreaterThan(output("bench.humidifier")?.starts ?? 0);
  });

  test("is refused where it makes no sense", () => {
    expect(() => simulate(house, { lasts: 0 })).toThrow("above zero");
    expect(() => simulate(house, { set: { "bench.slack": 99 } })).toThrow("its range is 0.5..8 %RH");
    // Said by name, as only a program without types can.
    expect(() => simulate(house, { weather: "frost" as never })).toThrow("a weather as data, such as house.weathers[0]");
    expect(() => simulate(house, { set: { nothing: 1 } })).toThrow('no thing called "nothing"');
  });
});

test("only finished cycles count: the last three of 9, 7, 11, 8 and a running one", () => {
  const text = `house "A" { clock "UTC" } zone z { sensor s: yes/no output o: on/off } rule r { while z.s hold z.o at on }
    trial t { from 2026-03-14 08:00 for 2 h given z.s is no
      at 08:10 z.s is yes 9 min later z.s is no 5 min later z.s is yes 7 min later z.s is no 5 min later z.s is yes
      11 min later z.s is no 5 min later z.s is yes 8 min later z.s is no at 09:58 z.s is yes expect z.o is on }`;
  const [result] = runTrials(parseHouse({ "a.modrik": text }).house);
  const [measured] = measure((result as NonNullable<typeof result>).run).outputs;
  expect(measured).toMatchObject({
    starts: 5,
    onTime: 37 * 60e3,
    on: { count: 4, mean: 8.75 * 60e3, min: 7 * 60e3, max: 11 * 60e3 },
  });
});

test("a cycle in proportion that has been so for ever goes on from now", () => {
  const text = `house "A" { clock "UTC" } zone z { sensor x: °C output o: on/off }
    rule r { keep z.x at 20 °C raise with z.o in proportion over 2 K, cycle 8 s }
    trial t { from 2026-03-14 08:00 for 1 min given z.x is 19 °C expect share(z.o is on) between 40 % and 60 % expect count(z.o is on) at least 7 }`;
  const results = runTrials(parseHouse({ "a.modrik": text }).house);
  expect(results.map(({ passed }) => passed)).toEqual([true]);
});

test("messages of a timeline confirm outputs, in their own words or in those they are told in", () => {
  const text = `house "A" { clock "UTC" } zone z { sensor x: °C output o: on/off output p: 0..100 % }
    wire m { z.o to "o" writing on as "1", off as "0" confirmed by "o/is" z.p to "p" confirmed by "p/is" }
    rule r { while z.x below 20 °C hold z.o at on, z.p at 40 % }
    rule s { when z.o disobeys for 1 min do { tell "o" } when z.p disobeys for 1 min do { tell "p" } }
    trial t { from 2026-03-14 08:00 for 1 h given z.x is 19 °C
      at 08:10 message "o/is" reads "0" at 08:12 message "o/is" reads "1" at 08:20 message "p/is" reads "15"
      expect told "o" at 08:11 expect told "p" at 08:21 expect count(told "o") is 1 }`;
  const { house: wired, problems } = parseHouse({ "a.modrik": text });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  expect(
    runTrials(wired)[0]
      ?.verdicts.filter(({ passed }) => !passed)
      .map(({ says }) => says),
  ).toEqual([]);
});

describe("trials", () => {
  test("of Linden Yard all pass", () => {
    const results = runTrials(house);
    expect(results.length).toBeGreaterThanOrEqual(6);
    expect(results.filter(({ passed }) => !passed).map(({ trial }) => trial.name)).toEqual([]);
  });

  test.each(Object.entries(traps))("of %s pass, to the millisecond", (file, text) => {
    const { house: trap, problems } = parseHouse({ [file]: text });
    expect(problems).toEqual([]);
    const results = runTrials(trap);
    expect(results.length).toBeGreaterThan(0);
    const failed = results.flatMap(({ trial, verdicts }) => verdicts.map((verdict) => ({ trial: trial.name, ...verdict })));
    expect(failed.filter(({ passed }) => !passed)).toEqual([]);
  });

  const verdicts = (body: string) => {
    const text = `house "A" { clock "UTC" } zone z { sensor x: °C, unknown after 5 min sensor door: open/closed output o: on/off }
      rule r { while z.x below 20 °C hold z.o at on when z.door is open do { tell "Door {z.x}" } }
      trial t { from 2026-03-14 08:00 ${body} }`;
    const parsed = parseHouse({ "a.modrik": text });
    expect(parsed.problems).toEqual([]);
    const [result] = runTrials(parsed.house);
    return result?.verdicts.map(({ passed, wrongAt, counted }) =>
      passed ? "met" : `${new Date(wrongAt ?? 0).toISOString().slice(11, 19)}${counted ?? ""}`,
    );
  };
  test.each<[string, string, string[]]>([
    [
      "at and by",
      "given z.x is 21 °C at 08:10 z.x is 19 °C expect z.o is off at 08:09:59 expect z.o is on by 08:10 expect z.o is on at 08:09",
      ["met", "met", "08:09:00"],
    ],
    [
      "a span leaves its end out",
      "given z.x is 19 °C at 08:10 z.x is 21 °C expect always z.o is on from 08:00 to 08:10 expect always z.o is on",
      ["met", "08:10:00"],
    ],
    [
      "never fails on true only, always on unknown too",
      "for 1 h expect never z.x above 3 °C expect always z.x above 3 °C",
      ["met", "08:00:00"],
    ],
    ["a bare claim holds at the end", "given z.x is 19 °C 1 h later z.x is 21 °C expect z.o is off", ["met"]],
    [
      "later counts from the line above",
      "given z.x is 21 °C at 08:10 z.x is 19 °C 5 min later z.x is 21 °C expect z.o is on at 08:14:59 expect z.o is off by 08:15",
      ["met", "met"],
    ],
    [
      "count",
      "given z.x is 21 °C at 08:10 z.x is 19 °C at 08:20 z.x is 21 °C at 08:30 z.x is 19 °C expect count(z.o is on) at most 2 expect count(z.o is on) at most 1",
      ["met", "08:30:002"],
    ],
    [
      "told",
      'given z.x is 21 °C, z.door is closed at 08:10 z.door is open expect told "Door 21" by 08:10 expect told "Door 22" by 08:20 expect never told "Door"',
      ["met", "08:20:00", "08:10:00"],
    ],
    [
      "what is given has lasted, within what lasts too",
      "for 1 min given z.x is 19 °C, z.door is closed expect always (z.door has been closed for 2 min) for 3 min expect never ((z.x below 20 °C for 1 h) for 1 h) for 1 h",
      ["met", "08:00:00"],
    ],
    ["what is given is no edge", 'for 1 h given z.x is 21 °C, z.door is open expect never told "Door"', ["met"]],
    [
      "silence",
      "for 1 h given z.x is 19 °C at 08:10 z.x falls silent expect z.o is on at 08:13:59 expect z.o is off by 08:14",
      ["met", "met"],
    ],
    ["a restart", "for 1 h given z.x is 19 °C at 08:10 the house restarts expect always z.o is on from 08:01 to 09:00", ["met"]],
    [
      "a line that begins where another ends",
      "given z.x is 24 °C from 08:00 to 08:04 z.x moves to 18 °C from 08:04 to 08:10 z.x moves to 24 °C expect z.o is on at 08:03 expect z.o is on from 08:03 to 08:06",
      ["met", "met"],
    ],
    ["past midnight", "given z.x is 21 °C at 02:00 z.x is 19 °C expect z.o is on by 02:00", ["met"]],
  ])("%s", (_, body, expected) => {
    expect(verdicts(body)).toEqual(expected);
  });
});

describe("why", () => {
  const lines = ({ says, because }: Explanation, depth = 0): string[] => [
    "  ".repeat(depth) + says,
    ...because.flatMap((part) => lines(part, depth + 1)),
  ];
  const explain = (trial: string, output: string, time: string) => {
    const [result] = runTrials(house, ({ name }) => name === trial);
    const { run } = result as NonNullable<typeof result>;
    return lines(why(run, output, Date.parse(time)));
  };

  test("says who holds an output, since when, and when it stops", () => {
    expect(explain("damp_hands", "bench.dryer", "2026-03-14T06:20Z")).toMatchInlineSnapshot(`
      [
        "bench.dryer is on, since 07:10",
        "  rule dry_wood "Keep the bench air where the wood likes it"",
        "    bench.humidity was 49 %RH at 07:10, above 48 %RH (45 %RH + 3)",
        "    it is 49 %RH now; it turns off at 45 %RH",
        "    bench.door has been closed for 2 min: true since the beginning",
      ]
    `);
  });
  test("says what refuses it", () => {
    expect(explain("open_door", "bench.heater", "2026-03-16T08:15Z")).toMatchInlineSnapshot(`
      [
        "bench.heater is off, since 09:13",
        "  guard shut_door does not permit it",
        "    bench.door has been open for 3 min: true since 09:10",
        "  this rule asks for it now",
        "    rule warm_hands "Warm hands in shop hours"",
        "      bench.temperature was below 19.5 °C (20 °C - 0.5) before the beginning",
        "      it is 18 °C now; it turns off above 20.5 °C",
        "      all of these are true",
        "        it is during shop_hours until 12:00",
        "        shop is open, not away",
        "  rule frost_free "A cool room outside shop hours" would set it to on, but not now",
        "    these are not true",
        "      it is during shop_hours until 12:00",
        "      shop is open, not away",
        "    bench.temperature is 18 °C; it turns on below 15.5 °C (16 °C - 0.5)",
      ]
    `);
  });
  test("says what each rule still lacks", () => {
    expect(explain("passing_cloud", "bench.lamps", "2026-01-14T14:05Z")).toMatchInlineSnapshot(`
      [
        "bench.lamps is 0 %, since the beginning",
        "  no rule is active, so it is at rest",
        "  rule bench_light "Light the bench while someone works in poor daylight" would set it to 80 %, but not now",
        "    bench.daylight below 300 lx until above 750 lx: not true since the beginning",
        "      bench.daylight is 320 lx, not below 300 lx",
      ]
    `);
  });
  test("says what a protection delays", () => {
    const text = `house "A" { clock "UTC" } zone z { sensor s: yes/no output o: on/off, on at least 10 min } rule r { while z.s hold z.o at on }
      trial t { from 2026-03-14 08:00 for 1 h given z.s is no at 08:10 z.s is yes at 08:12 z.s is no expect z.o is off }`;
    const [result] = runTrials(parseHouse({ "a.modrik": text }).house);
    const { run } = result as NonNullable<typeof result>;
    expect(lines(why(run, "z.o", Date.parse("2026-03-14T08:13Z")))).toEqual([
      "z.o is on, since 08:10",
      "  it should be off, but its minimum time lasts until 08:20",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.s is no, not yes, since 08:12",
    ]);
  });
  test("tells since when a memory with a limit holds, and adds nothing to the house that ran", () => {
    const text = `house "W" { clock "UTC" } zone z { sensor damp: %RH output dryer: on/off }
      rule damp { while (z.damp above 70 %RH) until (z.damp below 60 %RH), at most 10 min then pause 5 min hold z.dryer at on }
      trial stays { from 2026-03-14 08:00 to 08:40 given z.damp is 65 %RH at 08:05 z.damp is 72 %RH expect z.dryer is on at 08:06 }`;
    const [result] = runTrials(parseHouse({ "a.modrik": text }).house);
    const { run } = result as NonNullable<typeof result>;
    const at = (time: string) => lines(why(run, "z.dryer", Date.parse(`2026-03-14T${time}Z`))).join("\n");
    const limited = "z.damp above 70 %RH until below 60 %RH, at most 10 min then pause 5 min";
    expect(at("08:10")).toContain(`${limited}: true since 08:05`);
    expect(at("08:17")).toContain(`${limited}: not true since 08:15`);
    expect(at("08:22")).toContain(`${limited}: true since 08:20`);
  });
  test("throws outside the run", () => {
    expect(() => explain("damp_hands", "bench.dryer", "2026-03-15T06:20Z")).toThrow("outside the run");
    expect(() => explain("damp_hands", "bench.fan", "2026-03-14T06:20Z")).toThrow('no output called "bench.fan"');
  });
});

test("an example house may be run", () => {
  expect(isSound(parseLindenYard())).toBe(true);
});

test("a trial that cannot be played fails with its reason, and the others run", () => {
  const { house } = parseHouse({
    "a.modrik": `house "A" { clock "UTC" } zone z { sensor d: open/closed output o: on/off } rule r { while z.d is open hold z.o at on }
      trial good { from 2026-03-14 08:00 given z.d is open expect z.o is on }`,
  });
  const [good] = house.trials as [(typeof house.trials)[number]];
  const given = [{ name: "z.gone", value: { kind: "word", word: "open", of: ["open", "closed"] } }] as const;
  const results = runTrials({ ...house, trials: [{ ...good, name: "bad", given }, good] });
  expect(results.map(({ trial, passed, broken }) => [trial.name, passed, broken])).toEqual([
    ["bad", false, expect.stringMatching(/z\.gone/)],
    ["good", true, undefined],
  ]);
  expect(passes(house, { ...good, given })).toBe(false);
});
