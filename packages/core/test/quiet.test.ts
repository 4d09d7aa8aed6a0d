// Law: a report by number does what a report by name does, whether it makes a step or not. On houses without anything that
// keeps their sensors from being quiet, with readings next to bounds, sensors compared with one another, ranges, and
// readings and instants that are none. MODRIK_SEEDS=5000 tries more.
import { createEngine, type Engine, type House, isSound, Journal, parseHouse } from "modrik";
import { pick, type Random, seeded } from "modrik/testing";
import { expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";

const SEEDS = Number(process.env.MODRIK_SEEDS ?? 300);
const START = Date.parse("2026-03-14T12:00:00Z");

const numbers = ["19 °C", "20 °C", "21 °C", "68 °F", "z.target", "z.target + 1 K"];
const seconds = (random: Random) => `${pick(random, [1, 2, 3, 5, 8, 13, 20])} s`;

function comparison(random: Random): string {
  const signal = pick(random, ["z.a", "z.a", "z.b"]);
  const bound = pick(random, ["above", "below", "at least", "at most"]);
  return pick(random, [
    () => `${signal} ${bound} ${pick(random, numbers)}`,
    () => `${signal} below ${pick(random, ["19 °C", "20 °C"])} until above ${pick(random, ["20 °C", "21 °C", "z.target + 1 K"])}`,
    () => `${signal} above ${pick(random, ["20 °C", "21 °C"])} until below ${pick(random, ["19 °C", "20 °C"])}`,
    () => `${signal} at least 20 °C until at most 20 °C`,
    () =>
      `(${signal} ${bound} ${pick(random, numbers)}) until (z.b ${pick(random, ["above", "below"])} ${pick(random, numbers)})`,
    () => `(z.a above z.b) until (${signal} ${bound} ${pick(random, numbers)})`,
    () => `${signal} between 19 °C and 21 °C`,
    () => `${signal} is unknown`,
    () => `z.a ${bound} z.b`,
    () => `z.grade ${pick(random, ["at least fair", "below fair", "is poor", "is not good"])}`,
    () => `${signal} ${bound} ${pick(random, numbers)} for ${seconds(random)}`,
    () => `${signal} ${bound} ${pick(random, numbers)} in the last ${seconds(random)}`,
  ])();
}

function condition(random: Random, depth = 2): string {
  const inner = () => condition(random, depth - 1);
  const joined = [
    () => `(${inner()} and ${inner()})`,
    () => `(${inner()} or ${inner()})`,
    () => `not (${inner()})`,
    () => `(${inner()}) for ${seconds(random)}`,
  ];
  return pick(random, depth > 0 && random() < 0.4 ? joined : [() => comparison(random)])();
}

/** What only a step or a `provided` asks: found when it is asked. */
function asked(random: Random): string {
  const signal = pick(random, ["z.a", "z.b"]);
  const over = seconds(random);
  return pick(random, [
    () => condition(random),
    () => `mean(${signal} over ${over}) ${pick(random, ["above", "below"])} ${pick(random, numbers)}`,
    () => `rise(${signal} over ${over}) above 0.5 K or ${signal}.age above ${seconds(random)}`,
    () => `clock.time above 12:00:30 and warmer above ${pick(random, numbers)}`,
    () => `count(z.a above 20 °C over ${over}) at least 1`,
    () => `time(z.grade is poor over ${over}) above ${seconds(random)}`,
  ])();
}

function houseText(random: Random): string {
  const rules = Array.from({ length: 1 + Math.floor(random() * 3) }, (_, index) => {
    const sentence = pick(random, [
      () => `while ${condition(random)} hold z.o at on`,
      () => `while ${condition(random)} hold z.p at off`,
      () => `keep z.a at z.target ± ${pick(random, ["0.5 K", "1 K"])} raise with z.p`,
      () => "keep z.a at 20 °C ± 1 K raise with z.p lower with z.o",
      () => `when ${condition(random)} do { tell "{z.a} {z.b}" set z.o to on for ${seconds(random)} }`,
      () => `when ${pick(random, ["z.b changes by 1 K", "z.b changes", "z.grade changes"])} do { tell "moved" }`,
      () => "while z.grade at least fair hold z.level at z.share",
      () => `when ${condition(random)} provided ${asked(random)} do { set z.o to on for ${seconds(random)} }`,
      () =>
        `when ${condition(random)} do { if ${asked(random)} { set z.p to on for 5 s } else { tell "{max(z.b over 8 s)} {z.a.age}" } }`,
    ]);
    return `rule r${index} { ${sentence()} }`;
  });
  const unknown = () => pick(random, ["", ", unknown after 20 s"]);
  return `house "Quiet" { clock "UTC" }
zone z {
  sensor a: °C${unknown()}
  sensor b: °C${pick(random, ["", ", 0..40 °C", ", 18..22 °C"])}${unknown()}
  sensor grade: poor < fair < good
  sensor share: 0..100 %
  output o: on/off
  output p: on/off
  output level: 0..100 %
  dial target: 15..25 °C, at first 20 °C
}
let warmer = max(z.a, z.b)
let colder "Colder than the other" = z.a below z.b
let apart = if colder then z.b - z.a else z.a - z.b
let graded = pick by z.a { below 20 °C: poor, below 21 °C: fair, otherwise: good, unknown: poor }
${rules.join("\n")}`;
}

/** In °C, and so in the base unit: around the bounds, and next to them by less and by more than what is equal. */
const readings = [
  18,
  18.5,
  19,
  19 + 1e-10,
  19 - 1e-8,
  19 - 1.5e-8,
  19.5,
  20,
  20 + 1e-8,
  20 - 1e-10,
  20 - 2.5e-8,
  20 + 3e-8,
  20 + 3.5e-8,
  20.5,
  21,
  21 + 2e-8,
  21 + 3.5e-8,
  22,
  22 + 1e-10,
  41,
  Number.NaN,
];
const sensors = ["z.a", "z.a", "z.a", "z.b", "z.b", "z.grade", "z.share"] as const;
const words = ["poor", "fair", "good"];

interface Report {
  readonly sensor: (typeof sensors)[number];
  readonly base: number;
}

function reportAt(random: Random): Report {
  const sensor = pick(random, sensors);
  if (sensor === "z.grade") return { sensor, base: pick(random, [0, 1, 2]) };
  if (sensor === "z.share") return { sensor, base: pick(random, [10, 20, 30]) };
  return { sensor, base: pick(random, readings) };
}

function byName(engine: Engine, { sensor, base }: Report, at: number): void {
  engine.report(sensor, sensor === "z.grade" ? (words[base] as string) : base, at);
}

/** What comes late is told as of the step before it, of which there are fewer where readings are only heard. */
const recordsOf = ({ records }: Journal) =>
  records.map((one) => (one.event.kind === "problem" && one.event.code === "late" ? { ...one, at: 0 } : one));

test("a report by number does what a report by name does", forMany(SEEDS), () => {
  let quiet = 0;
  let reports = 0;
  let changes = 0;
  for (let seed = 1; seed <= SEEDS; seed++) {
    const random = seeded(seed);
    const text = houseText(random);
    const parsed = parseHouse({ "a.modrik": text });
    expect(isSound(parsed), `seed ${seed}: ${parsed.problems[0]?.reason}\n${text}`).toBe(true);
    // With a journal every report is a step.
    const [byNames, byNumbers] = [new Journal(), new Journal()];
    const slow = createEngine(parsed.house, { at: START, journal: byNames });
    const written = createEngine(parsed.house, { at: START, journal: byNumbers });
    const fast = createEngine(parsed.house, { at: START });
    let latest = START;
    for (let event = 0; event < 120; event++) {
      // Sometimes a reading comes late.
      const at = latest + pick(random, [0, 1000, 1000, 1000, 500, 3000, 25000, -400]);
      latest = Math.max(latest, at);
      if (random() < 0.05) {
        const target = pick(random, [18, 20, 21]);
        for (const engine of [slow, written, fast]) engine.set("z.target", target, at);
      }
      const report = reportAt(random);
      byName(slow, report, at);
      for (const engine of [written, fast]) engine.reportNumber(engine.sensorNumber(report.sensor), report.base, at);
      reports++;
      // What makes a step is due at its instant.
      if (fast.nextDeadline > latest) quiet++;
      if (random() < 0.2) {
        for (const engine of [slow, written, fast]) engine.advanceTo(latest);
        // Lets that no rule reads are calculated when somebody looks.
        for (const name of ["z.o", "z.p", "z.level", "z.a", "z.b", "z.grade", "warmer", "colder", "apart", "graded"])
          expect([event, name, fast.value(name)], `seed ${seed}\n${text}`).toEqual([event, name, slow.value(name)]);
      }
    }
    for (const engine of [slow, written, fast]) engine.advanceTo(latest + 60_000);
    // Said again by its number, a reading is heard without a step, and the same is written down.
    expect(recordsOf(byNumbers), `seed ${seed}\n${text}`).toEqual(recordsOf(byNames));
    const expected = slow.takeChanges();
    changes += expected.length;
    expect(fast.takeChanges(), `seed ${seed}\n${text}`).toEqual(expected);
    expect(fast.takeNotices(), `seed ${seed}\n${text}`).toEqual(slow.takeNotices());
  }
  // Else the fast path did not run, or the houses were too dull to show anything.
  expect(quiet / reports).toBeGreaterThan(0.3);
  expect(changes).toBeGreaterThan(SEEDS * 10);
});

test("what is no reading, no instant or no sensor is refused by number as by name", () => {
  const text = `house "Q" { clock "UTC" } zone z { sensor t: °C, -20..60 °C, unknown after 1 h  sensor s: open/closed
    output o: on/off } rule r { while z.t above 20 °C or z.s is open hold z.o at on }`;
  const { house } = parseHouse({ "a.modrik": text });
  const make = () => createEngine(house, { at: START });
  const refused = (act: (engine: Engine) => void) => {
    const engine = make();
    engine.report("z.t", 25, START);
    engine.report("z.s", "closed", START);
    engine.advanceTo(START);
    act(engine);
    engine.advanceTo(START + 5000);
    return [engine.value("z.t"), engine.value("z.s"), engine.value("z.o")];
  };
  const number = (engine: Engine, sensor = "z.t") => engine.sensorNumber(sensor);
  // The last good value stands.
  for (const base of [99999, -21, Number.NaN, Number.POSITIVE_INFINITY])
    expect(refused((engine) => engine.reportNumber(number(engine), base, START + 1000))).toEqual([25, "closed", "on"]);
  // One that never grows too old is unknown at once.
  for (const base of [2, -1, 0.5, Number.NaN])
    expect(refused((engine) => engine.reportNumber(number(engine, "z.s"), base, START + 1000))).toEqual([25, undefined, "on"]);
  // Also where nothing would turn by it.
  const { house: remembers } = parseHouse({
    "a.modrik": text.replace("z.s is open", "z.s was open in the last 1 h").replace("unknown after 1 h", "unknown after 2 h"),
  });
  for (const base of [2, -1, 0.5, Number.NaN]) {
    const engine = createEngine(remembers, { at: START });
    for (const [second, word] of ["closed", "open", "closed"].entries()) engine.report("z.s", word, START + second * 1000);
    engine.reportNumber(number(engine, "z.s"), base, START + 3000);
    engine.advanceTo(START + 5000);
    expect([base, engine.value("z.s"), engine.takeProblems().length]).toEqual([base, undefined, 1]);
  }
  for (const at of [START + 0.5, Number.NaN, Number.POSITIVE_INFINITY])
    expect(() => refused((engine) => engine.reportNumber(number(engine), 26, at))).toThrow(/whole number of milliseconds/);
  for (const sensor of [-1, 0.5, 1e6, Number.NaN])
    expect(() => refused((engine) => engine.reportNumber(sensor, 26, START + 1000))).toThrow(/no sensor of the number/);
  const other = make();
  expect(() => other.sensorNumber("z.o")).toThrow(/no sensor/);
});

/** By their places among the words. */
const stateOf: Record<string, readonly [sensor: string, base: number]> = {
  moving: ["z.motion", 0],
  still: ["z.motion", 1],
  open: ["z.door", 0],
  closed: ["z.door", 1],
};

test.each([
  ["motion while what remembers it stays", "z.motion was moving in the last 10 min", "60 moving, 90 still, 95 moving", [60]],
  [
    "motion after what remembered it has ended",
    "z.motion was moving in the last 10 min",
    "60 moving, 70 still, 700 moving",
    [60, 670, 700],
  ],
  ["a door that is opened for a while", "z.door has been open for 5 min", "60 open, 90 closed, 100 open", [400]],
  ["a part of what another part decides", "z.t below 20 °C and z.door is open", "60 18, 70 22", []],
  ["a part that decides", "z.t below 20 °C and z.door is closed", "60 18, 70 22", [60, 70]],
  ["a part of what is true by another", "z.t above 21 °C or z.door is closed", "60 18, 70 22", []],
  ["two parts that turn at once, of which one decides", "z.t above 23 °C or z.t below 22 °C", "60 24, 70 21", [60]],
  ["two parts that turn at once, and decide together", "z.t above 22.6 °C and z.t above 23 °C", "60 24, 70 20", [60, 70]],
  ["a condition somebody is told of", "z.motion is moving", "60 moving, 70 still", [60, 70]],
  ["a reset while its condition is false", "z.t above 25 °C until below 21 °C", "60 20, 70 23, 80 26, 90 20", [80, 90]],
  ["motion that is taken back within its instant", "z.motion was moving in the last 5 s", "60 moving, 60 still", [60]],
  ["an age that later readings put off", "z.a is unknown", "60 a20, 90 a20.1, 120 a20.2", [60, 240]],
  ["stillness that is taken back within its instant", "z.motion has been still for 50 s", "40 moving, 40 still, 45 open", [51]],
])("a step is made of what turns: %s", (_, condition, reports, steps) => {
  const text = `house "Q" { clock "UTC" } zone z { sensor t: °C sensor motion: moving/still sensor door: open/closed sensor a: °C, unknown after 2 min output o: on/off }
    rule r { while ${condition} hold z.o at on }`;
  const { house } = parseHouse({ "a.modrik": text });
  expectSteps(house, reports, steps);
});

test.each([
  ["what a step is only told if it asks", "when z.door is open provided z.t above 20 °C", "60 25, 70 18, 80 open", [80]],
  [
    "a mean that is only asked for",
    "when z.door is open provided mean(z.t over 10 min) above 20 °C",
    "60 25, 70 26, 80 open",
    [80],
  ],
  ["an age that is only asked for", "when z.door is open provided z.t.age above 1 min", "60 25, 70 26, 140 open", [140]],
  ["a clock that is only asked for", "when z.door is open provided clock.time above 12:00", "60 25, 80 open", [80]],
])("no step is made of %s", (_, sentence, reports, steps) => {
  const text = `house "Q" { clock "UTC" } zone z { sensor t: °C sensor motion: moving/still sensor door: open/closed output o: on/off }
    rule r { ${sentence} do { set z.o to on } }`;
  const { house } = parseHouse({ "a.modrik": text });
  expectSteps(house, reports, steps);
});

/** In which seconds after the first an engine makes steps, given reports by their seconds; one that writes all down does the same. */
function expectSteps(house: House, reports: string, steps: readonly number[]): void {
  const made: number[] = [];
  const fast = createEngine(house, { at: START, onInstant: (at) => made.push((at - START) / 1000) });
  const slow = createEngine(house, { at: START, journal: new Journal() });
  for (const one of ["1 22.5", "1 still", "1 closed", ...reports.split(", ")]) {
    const [second, word = ""] = one.split(" ");
    const [sensor, base] = stateOf[word] ?? (word.startsWith("a") ? ["z.a", Number(word.slice(1))] : ["z.t", Number(word)]);
    for (const engine of [fast, slow]) engine.reportNumber(engine.sensorNumber(sensor), base, START + Number(second) * 1000);
  }
  for (const engine of [fast, slow]) engine.advanceTo(START + 720_000);
  expect(fast.takeChanges()).toEqual(slow.takeChanges());
  expect(made.filter((second) => second > 1)).toEqual(steps);
}
