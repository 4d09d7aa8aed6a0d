// Figures of a run: energy and cost, two points, swings and overshoots, time to reach. Some are calculated by hand; then all
// of them, of random runs, second by second by the plainest program that can be written.
import {
  createEngine,
  type House,
  Journal,
  type MeasureOptions,
  type Measures,
  measure,
  parseHouse,
  type Run,
  valueAt,
} from "modrik";
import { pick, type Random, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { engineOf, type Input, play, START } from "./playing.js";

const SECOND = 1000;
const outputs = "output o: on/off, uses 1.2 kW output p: 0..100 %, uses 400 W";

function runOf(rules: string, inputs: readonly Input[], [from, to]: readonly [number, number], more = ""): Run {
  const journal = new Journal();
  play(engineOf(rules, { journal, outputs, more }), inputs, Math.max(to, ...inputs.map(([second]) => second)));
  return { past: journal, from: START + from * SECOND, to: START + to * SECOND };
}
const figuresOf = (rules: string, inputs: readonly Input[], to: number, options: MeasureOptions = {}): Measures =>
  measure(runOf(rules, inputs, [0, to]), options);

/** `z.x` at second after second. */
const readings = (...points: readonly (readonly [second: number, value: number])[]): Input[] =>
  points.map(([second, value]) => [second, "z.x", value]);
const doors = (...seconds: number[]): Input[] =>
  seconds.map((second, index) => [second, "z.door", index % 2 === 0 ? "open" : "closed"]);

describe("what is used", () => {
  const rules = "rule r { while z.door is open hold z.o at on, z.p at 50 % }";

  test("energy by `uses`, of a number by its share, and what it costs", () => {
    const { outputs: of, energy, cost, peak } = figuresOf(rules, doors(0, 1800), 3600, { price: 0.3 });
    expect(of.map((one) => [one.output, one.energy, one.cost])).toEqual([
      ["z.o", expect.closeTo(0.6, 9), expect.closeTo(0.18, 9)],
      ["z.p", expect.closeTo(0.1, 9), expect.closeTo(0.03, 9)],
    ]);
    expect([energy, cost]).toEqual([expect.closeTo(0.7, 9), expect.closeTo(0.21, 9)]);
    // Rated, whatever share of it was on.
    expect(peak).toEqual({ watts: 1600, at: START });
  });

  test("without a price there is no cost, and what says nothing of its use has no energy", () => {
    const journal = new Journal();
    play(engineOf("rule r { while z.door is open hold z.o at on }", { journal }), doors(0, 60), 120);
    const { outputs: of, ...whole } = measure({ past: journal, from: START, to: START + 120_000 });
    expect([of[0]?.energy, of[0]?.cost, whole.energy, whole.cost, whole.peak]).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
  });

  test("the latest cycles that were finished: 9, 7, 11 and 8 minutes, and one that runs, have of three a mean of 8.67", () => {
    const MINUTE = 60;
    let at = 0;
    const switches = [1, 9, 1, 7, 1, 11, 1, 8, 1].map((minutes) => {
      at += minutes * MINUTE;
      return at;
    });
    const one = figuresOf(rules, doors(...switches), at + 2 * MINUTE, { cycles: 3 }).outputs[0];
    expect(one?.on).toEqual({ count: 3, mean: expect.closeTo((26 / 3) * 60e3, 6), min: 7 * 60e3, max: 11 * 60e3 });
    expect(one?.starts).toBe(5);
    expect(figuresOf(rules, doors(...switches), at + 2 * MINUTE).outputs[0]?.on?.count).toBe(4);
  });

  test.each([
    [{ cycles: 0 }, /cycles are counted from 1/],
    [{ cycles: 1.5 }, /cycles are counted from 1/],
    [{ price: -1 }, /a price is not below 0/],
    [{ price: Number.NaN }, /a price is not below 0/],
  ])("%j is refused", (options, says) => expect(() => figuresOf(rules, [], 60, options)).toThrow(says));
});

describe("what is kept", () => {
  const keep = "rule r { keep z.x at 20 °C ± 1 K raise with z.o }";

  test("distance: mean, root of the mean square, and outside the band times hours", () => {
    // 20 for 600 s, 23 for 300 s, 18.5 for 300 s: 3 and 1.5 from the target, 2 and 0.5 outside.
    const [one] = figuresOf(keep, readings([0, 20], [600, 23], [900, 18.5]), 1200).kept;
    expect(one?.meanDistance).toBeCloseTo((3 * 300 + 1.5 * 300) / 1200, 9);
    expect(one?.rmsDistance).toBeCloseTo(Math.sqrt((9 * 300 + 2.25 * 300) / 1200), 9);
    expect(one?.degreeHours).toBeCloseTo((2 * 300 + 0.5 * 300) / 3600, 9);
    expect([one?.below, one?.inBand, one?.above]).toEqual([0.25, 0.5, 0.25]);
  });

  test("swing from one start to the next, and overshoot past where it stopped", () => {
    // On at 18.9, off above 21; it goes on to 21.6, and falls to 18.8, where it starts again.
    const inputs = readings(
      [0, 20],
      [100, 18.9],
      [200, 21.1],
      [300, 21.6],
      [400, 19.5],
      [500, 18.8],
      [600, 21.2],
      [700, 21.3],
      [800, 18.7],
    );
    const [one] = figuresOf(keep, inputs, 900).kept;
    // From 18.9 to 21.6 and down to 18.8; then from 18.8 to 21.3 and down to 18.7.
    expect(one?.swing).toEqual({ count: 2, mean: expect.closeTo((2.8 + 2.6) / 2, 9), max: expect.closeTo(2.8, 9) });
    expect(one?.overshoot).toEqual({ count: 2, mean: expect.closeTo((0.5 + 0.1) / 2, 9), max: expect.closeTo(0.5, 9) });
  });

  test("time to reach: from the beginning, and from where the target moved", () => {
    const turned = "rule r { keep z.x at z.target ± 1 K raise with z.o }";
    const inputs: Input[] = [
      ...readings([0, 15], [300, 19.5]),
      [400, "z.target", 25],
      ...readings([700, 22], [1000, 24.2], [1100, 27]),
    ];
    const [one] = figuresOf(turned, inputs, 1200).kept;
    // 300 s at first; 600 s after the dial; that it went out at 1100 by itself does not count.
    expect(one?.timeToReach).toEqual({ count: 2, mean: 450e3, min: 300e3, max: 600e3 });
  });

  test("a line that moves crosses the edge between two reports", () => {
    const mean = "rule r { keep mean(z.x over 10 min) at 20 °C ± 1 K raise with z.o }";
    const rises: Input[] = [0, 300, 600, 900, 1200].map((second) => [second, "z.x", second < 600 ? 16 : 22]);
    const [one] = measure(runOf(mean, rises, [600, 1200])).kept;
    // From 16 to 22 in 600 s: 19 after 300.
    expect(one?.timeToReach?.mean).toBeCloseTo(300e3, -2);
  });
});

describe("two points, and turns", () => {
  test.each<[string, string, Partial<Measures["kept"][number]>]>([
    [
      "below … until above",
      "while z.x below 18 °C until above 21 °C hold z.o at on",
      { how: "until", below: 0.25, inBand: 0.5, above: 0.25 },
    ],
    [
      "above … until below",
      "while z.x above 21 °C until below 18 °C hold z.o at on",
      { how: "until", below: 0.25, inBand: 0.5, above: 0.25 },
    ],
    [
      "a cycle with two points",
      "while z.x above 21 °C until below 18 °C cycle z.o on 1 min off 1 min",
      { how: "until", inBand: 0.5 },
    ],
  ])("%s: shares below, between and above", (_, sentence, expected) => {
    const [one] = figuresOf(`rule r { ${sentence} }`, readings([0, 17], [300, 20], [900, 22]), 1200).kept;
    expect(one).toMatchObject(expected);
    expect(one?.degreeHours).toBeCloseTo((1 * 300 + 1 * 300) / 3600, 9);
  });

  test("only while the rest of the condition holds", () => {
    const rules = "rule r { while z.door is open and z.x below 18 °C until above 21 °C hold z.o at on }";
    const [one] = figuresOf(rules, [...readings([0, 17]), ...doors(0, 300), ...readings([600, 20])], 1200).kept;
    expect(one).toMatchObject({ applied: 300e3, below: 1 });
  });

  test("a bound without a way back has no two points", () => {
    const rules = "rule r { while z.x below 18 °C hold z.o at on  while z.door is open hold z.p at 5 % }";
    expect(figuresOf(rules, readings([0, 17]), 60).kept).toEqual([]);
  });

  test("a cycle without them swings what it moves", () => {
    const text = `house "A" { clock "UTC" } zone z { sensor damp: %RH output o: on/off }
      rule r { cycle z.o on 1 min off 1 min }
      physics { zone z { volume 30 m³, loses 20 W/K, stores 1 MJ/K } z.o gives 100 g/h of water }`;
    const { house } = parseHouse({ "a.modrik": text });
    const journal = new Journal();
    const engine = createEngine(house as House, { at: START, journal });
    for (const [second, value] of [
      [0, 40],
      [60, 44],
      [120, 41],
      [180, 46],
      [240, 42],
    ] as const)
      engine.report("z.damp", value, START + second * SECOND);
    engine.advanceTo(START + 300 * SECOND);
    const { cycles } = measure({ past: journal, from: START, to: START + 300 * SECOND });
    // From 40 to 44 and to 41 where it starts again, then from 41 to 46 and to 42.
    expect(cycles).toEqual([
      {
        rule: "r",
        sentence: 0,
        value: { kind: "value", of: "z.damp" },
        unit: "%RH",
        applied: 300e3,
        lowest: 40,
        highest: 46,
        swing: { count: 1, mean: 5, max: 5 },
      },
    ]);
  });
});

/** The place of `on` among on/off. */
const ON = 0;

// ── Against the plainest program ────────────────────────────────────────────────────────────────────────────────────────

const kinds = [
  {
    rules: "rule r { keep z.x at z.target ± 1 K raise with z.o }",
    low: (t: number) => t - 1,
    high: (t: number) => t + 1,
    aim: (t: number) => [t, t],
    way: 1,
  },
  {
    rules: "rule r { while z.door is open keep z.x at z.target ± 2 K lower with z.o }",
    low: (t: number) => t - 2,
    high: (t: number) => t + 2,
    aim: (t: number) => [t, t],
    way: -1,
  },
  {
    rules: "rule r { while z.x below 18 °C until above 22 °C hold z.o at on }",
    low: () => 18,
    high: () => 22,
    aim: () => [18, 22],
    way: 1,
  },
] as const;

function inputsOf(random: Random): Input[] {
  const inputs: Input[] = [
    [0, "z.x", 20],
    [0, "z.door", "open"],
  ];
  for (let second = 1; second < 3600; second += 1 + Math.floor(240 * random())) {
    const kind = random();
    if (kind < 0.8) inputs.push([second, "z.x", 14 + Math.round(120 * random()) / 10]);
    else if (kind < 0.9) inputs.push([second, "z.door", pick(random, ["open", "closed"])]);
    else inputs.push([second, "z.target", 16 + Math.round(8 * random())]);
  }
  return inputs;
}

test.each(Array.from({ length: 60 }, (_, seed) => seed + 1))("seed %i: figures are those of a sum over each second", (seed) => {
  const random = seeded(seed);
  const { rules, low, high, aim, way } = pick(random, kinds);
  const run = runOf(rules, inputsOf(random), [0, 3600]);
  const at = (of: string, second: number) => valueAt(run.past.line({ kind: "value", of }), run.from + second * SECOND);
  let [applied, known, within, under, over, distance, squares, outside] = [0, 0, 0, 0, 0, 0, 0, 0];
  let [onTime, starts, worked] = [0, 0, 0];
  let [lowest, highest] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  const swings: number[] = [];
  const overshoots: number[] = [];
  const reached: number[] = [];
  let cycle: number[] | undefined;
  let stop: number | undefined;
  let beyond = 0;
  let on: boolean | undefined;
  let band = "";
  let seeking: number | undefined;
  for (let second = 0; second < 3600; second++) {
    const x = at("z.x", second);
    const target = at("z.target", second);
    const isOn = at("z.o", second) === ON;
    if (isOn) onTime++;
    if (isOn) worked++;
    if (second > 0 && isOn && at("z.o", second - 1) !== ON) starts++;
    if (rules.includes("is open") && at("z.door", second) !== 0) {
      [cycle, stop, on, band, seeking] = [undefined, undefined, undefined, "", undefined];
      continue;
    }
    applied++;
    if (Number.isNaN(x)) {
      [cycle, stop, on, seeking] = [undefined, undefined, undefined, undefined];
      continue;
    }
    known++;
    const [bottom, top] = [low(target), high(target)];
    const [near, far] = aim(target) as [number, number];
    const d = Math.max(near - x, x - far, 0);
    distance += d;
    squares += d * d;
    const out = Math.max(bottom - x, x - top, 0);
    outside += out;
    if (x < bottom - 1e-9) under++;
    else if (x > top + 1e-9) over++;
    else within++;
    [lowest, highest] = [Math.min(lowest, x), Math.max(highest, x)];
    // The band moves while the value is outside: it is on its way.
    const isOut = out > 1e-9;
    if (band !== `${bottom} ${top}` && isOut) seeking ??= second;
    band = `${bottom} ${top}`;
    if (seeking !== undefined && !isOut) {
      reached.push(second - seeking);
      seeking = undefined;
    }
    if (on === false && isOn) {
      if (cycle) swings.push(Math.max(...cycle, x) - Math.min(...cycle, x));
      if (stop !== undefined) overshoots.push(beyond);
      cycle = [];
      stop = undefined;
    }
    if (on === true && !isOn) [stop, beyond] = [x, 0];
    on = isOn;
    cycle?.push(x);
    if (!isOn && stop !== undefined) beyond = Math.max(beyond, way * (x - stop));
  }
  const { outputs: measured, kept } = measure(run);
  const near = (value: number) => expect.closeTo(value, 6);
  expect(measured[0]).toMatchObject({ starts, onTime: onTime * SECOND, energy: near((1.2 * worked) / 3600) });
  const [one] = kept;
  if (known === 0) return expect(one).toBeUndefined();
  const spread = (list: readonly number[]) =>
    list.length === 0
      ? undefined
      : { count: list.length, mean: near(list.reduce((a, b) => a + b, 0) / list.length), max: near(Math.max(...list)) };
  expect(one).toMatchObject({
    applied: applied * SECOND,
    inBand: near(within / applied),
    below: near(under / applied),
    above: near(over / applied),
    meanDistance: near(distance / known),
    rmsDistance: near(Math.sqrt(squares / known)),
    degreeHours: near(outside / 3600),
    lowest: near(lowest),
    highest: near(highest),
  });
  expect([one?.swing, one?.overshoot]).toEqual([spread(swings), spread(overshoots)]);
  expect(one?.timeToReach?.count ?? 0).toBe(reached.length);
  if (reached.length > 0)
    expect(one?.timeToReach?.mean).toBeCloseTo((1000 * reached.reduce((a, b) => a + b, 0)) / reached.length, 3);
});
