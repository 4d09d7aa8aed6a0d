// Measures, each figure calculated by hand: short runs of a few lines.
import { Journal, type Measures, measure, measureSimulation, type OutputMeasure, type Run, simulate } from "modrik";
import { describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";
import { engineOf, type Input, play, START } from "./playing.js";
import { houseOf } from "./simulated.js";

const SECOND = 1000;
const MINUTE = 60 * SECOND;

function measured(rules: string, inputs: readonly Input[], [from, to]: readonly [number, number], outputs?: string): Measures {
  const journal = new Journal();
  play(engineOf(rules, { journal, ...(outputs && { outputs }) }), inputs, Math.max(to, ...inputs.map(([second]) => second)));
  const run: Run = { past: journal, from: START + from * SECOND, to: START + to * SECOND };
  return measure(run);
}

/** `open` and `closed` in turn, from closed. */
const doors = (...seconds: number[]): Input[] =>
  seconds.map((second, index) => [second, "z.door", index % 2 === 0 ? "open" : "closed"]);

describe("an output", () => {
  const whileOpen = "rule r { while z.door is open hold z.o at on }";
  const output = (inputs: readonly Input[], span: readonly [number, number]) => {
    const [figures] = measured(whileOpen, inputs, span).outputs;
    const { startsAnHour, startsADay, ...others } = figures as OutputMeasure;
    const hours = (span[1] - span[0]) / 3600;
    expect(startsAnHour).toBeCloseTo(others.starts / hours, 9);
    expect(startsADay).toBeCloseTo((24 * others.starts) / hours, 9);
    return others;
  };

  test("never on", () => {
    expect(output([[0, "z.door", "closed"]], [0, 600])).toEqual({ output: "z.o", title: "z.o", starts: 0, onTime: 0, share: 0 });
  });

  test("on three times, twice off between", () => {
    // On 60–120, 180–300, 420–450; off 0–60, 120–180, 300–420, 450–600.
    expect(output(doors(60, 120, 180, 300, 420, 450), [0, 600])).toEqual({
      output: "z.o",
      title: "z.o",
      starts: 3,
      onTime: 210 * SECOND,
      share: 0.35,
      on: { count: 3, mean: 70 * SECOND, min: 30 * SECOND, max: 2 * MINUTE },
      off: { count: 2, mean: 90 * SECOND, min: MINUTE, max: 2 * MINUTE },
    });
  });

  test("cut off at both ends: what was on before is no start, and what is not finished has no length", () => {
    // Seen from 90 to 240: on 90–120, off 120–180, on 180–240.
    expect(output(doors(60, 120, 180, 300), [90, 240])).toEqual({
      output: "z.o",
      title: "z.o",
      starts: 1,
      onTime: 90 * SECOND,
      share: 0.6,
      off: { count: 1, mean: MINUTE, min: MINUTE, max: MINUTE },
    });
  });

  test("on all the time", () => {
    expect(output(doors(0), [60, 120])).toEqual({ output: "z.o", title: "z.o", starts: 0, onTime: MINUTE, share: 1 });
  });

  test("a start at the first instant was there before, one behind it is a start", () => {
    expect(output(doors(60), [60, 120])?.starts).toBe(0);
    expect(output(doors(61), [60, 120])?.starts).toBe(1);
  });

  test("a number is on where it is not 0", () => {
    const rules = "rule r { while z.door is open hold z.o at 40 % } rule q { while z.grade is poor hold z.o at 70 % }";
    // 40 % from 60, 70 % never wins, 0 from 180.
    const inputs: Input[] = [...doors(60, 180), [200, "z.grade", "poor"], [230, "z.grade", "good"]];
    expect(measured(rules, inputs, [0, 300], "output o: %").outputs[0]).toMatchObject({
      starts: 2,
      onTime: 150 * SECOND,
      share: 0.5,
    });
  });
});

describe("what is kept", () => {
  const keep = "rule r { keep z.x at 20 °C ± 1 K raise with z.o }";
  const kept = (inputs: readonly Input[], span: readonly [number, number], rules = keep) =>
    measured(rules, inputs, span, "output o: on/off output p: on/off").kept;

  test("within and without, by time", () => {
    // 0–60 at 20 (0 off), 60–120 at 22 (2 off), 120–180 at 18.5 (1.5 off), 180–300 at 21 (1 off, in the band).
    const inputs: Input[] = [
      [0, "z.x", 20],
      [60, "z.x", 22],
      [120, "z.x", 18.5],
      [180, "z.x", 21],
    ];
    const [figures] = kept(inputs, [0, 300]);
    expect(figures).toMatchObject({ rule: "r", sentence: 0, unit: "°C", applied: 300 * SECOND });
    expect(figures?.inBand).toBeCloseTo(180 / 300, 12);
    expect(figures?.meanDistance).toBeCloseTo((2 * 60 + 1.5 * 60 + 1 * 120) / 300, 12);
    expect(figures?.lowest).toBeCloseTo(18.5, 12);
    expect(figures?.highest).toBeCloseTo(22, 12);
  });

  test("both ends of the band are in it", () => {
    for (const [value, share] of [
      [19, 1],
      [21, 1],
      [18.999, 0],
      [21.001, 0],
    ] as const)
      expect(kept([[0, "z.x", value]], [0, 60])[0]?.inBand).toBe(share);
  });

  test("what is unknown is time in which it applied, and not in the band", () => {
    // Ten minutes after its report a reading is too old: known 0–600 of 1200.
    const [figures] = kept([[0, "z.x", 22]], [0, 1200]);
    expect(figures).toMatchObject({ applied: 1200 * SECOND, inBand: 0, lowest: 22, highest: 22 });
    expect(figures?.meanDistance).toBeCloseTo(2, 12);
    expect(kept([[0, "z.x", 20]], [0, 1200])[0]?.inBand).toBe(0.5);
  });

  test("what was never known has no figures", () => expect(kept([], [0, 600])).toEqual([]));

  test("only while the sentence applies", () => {
    const rules = "rule r { while z.door is open keep z.x at 20 °C ± 1 K raise with z.o }";
    const inputs: Input[] = [[0, "z.x", 25], ...doors(0, 60), [90, "z.x", 20], [120, "z.door", "open"]];
    // It applies 0–60 at 25 and 120–180 at 20.
    const [figures] = kept(inputs, [0, 180], rules);
    expect(figures).toMatchObject({ applied: 120 * SECOND, inBand: 0.5, lowest: 20, highest: 25 });
    expect(figures?.meanDistance).toBeCloseTo(2.5, 12);
  });

  test("a target that is turned, and a resting zone between two", () => {
    const turned = "rule r { keep z.x at z.target ± 1 K raise with z.o }";
    const inputs: Input[] = [
      [0, "z.x", 22],
      [30, "z.target", 22],
    ];
    expect(kept(inputs, [0, 60], turned)[0]).toMatchObject({ inBand: 0.5, meanDistance: expect.closeTo(1, 12) });
    const zone = "rule r { keep z.x between 18 °C and 22 °C ± 0.5 K raise with z.o lower with z.p }";
    for (const [value, distance, share] of [
      [20, 0, 1],
      [18, 0, 1],
      [17.5, 0.5, 1],
      [17, 1, 0],
      [22.5, 0.5, 1],
      [24, 2, 0],
    ] as const)
      expect(kept([[0, "z.x", value]], [0, 60], zone)[0]).toMatchObject({
        inBand: share,
        meanDistance: expect.closeTo(distance, 9),
      });
  });

  test("what moves by itself is followed between reports", () => {
    // The mean rises from 18 to 22 in the ten minutes from 600 on: half of them within 19 and 21, one K off on average.
    const mean = "rule r { keep mean(z.x over 10 min) at 20 °C ± 1 K raise with z.o }";
    const rises: Input[] = [0, 300, 600, 900, 1200].map((second) => [second, "z.x", second < 600 ? 18 : 22]);
    // The target rises from 16 to 22 in an hour: it is within 18 and 20 for a third of it, and 1.5 K off on average.
    const ramp =
      "profile warm ramped { daily 16 °C from 12:00, 22 °C from 13:00 } rule r { keep z.x at warm ± 1 K raise with z.o }";
    const steady: Input[] = Array.from({ length: 12 }, (_, index) => [index * 300, "z.x", 19]);
    for (const [rules, inputs, span, share, distance] of [
      [mean, rises, [600, 1200], 1 / 2, 1],
      [ramp, steady, [0, 3600], 1 / 3, 1.5],
    ] as const) {
      const [figures] = kept(inputs, span, rules);
      expect(figures?.inBand).toBeCloseTo(share, 3);
      expect(figures?.meanDistance).toBeCloseTo(distance, 3);
    }
    expect(kept(rises, [600, 1200], mean)[0]).toMatchObject({ lowest: 18, highest: expect.closeTo(22, 3) });
  });

  test("a distance has the size of the thing's own unit", () => {
    const rules = "zone f { sensor t: °F output o: on/off } rule r { keep f.t at 68 °F ± 1 K raise with f.o }";
    const [figures] = measured(rules, [[0, "f.t", 77]], [0, 60]).kept;
    expect(figures?.unit).toBe("°F");
    expect(figures?.meanDistance).toBeCloseTo(9, 9);
    expect(figures?.lowest).toBeCloseTo(77, 9);
  });
});

test("notices of the run, both ends included", () => {
  const rules = 'rule r { when z.door becomes open do { tell "open" } }';
  const inputs = [[0, "z.door", "closed"] as const, ...doors(60, 90, 120, 150, 180)];
  for (const [span, count] of [
    [[0, 300], 3],
    [[60, 180], 3],
    [[61, 179], 1],
    [[181, 300], 0],
  ] as const)
    expect(measured(rules, inputs, span).notices).toBe(count);
});

describe("a simulation is measured as it goes as its journal is", () => {
  /** Numbers that differ in their last digits only, as sums are added up in another order. */
  function expectAlike(one: unknown, other: unknown, digits: number): void {
    const rounded = (value: unknown): unknown =>
      JSON.parse(JSON.stringify(value), (_, of) => (typeof of === "number" ? Number(of.toPrecision(digits)) : of));
    expect(rounded(one)).toEqual(rounded(other));
  }

  const { house } = parseLindenYard();

  test.each(house.weathers.map((weather) => [weather.name, weather] as const))("of the demo house, weather %s", (_, weather) => {
    const options = { weather, lasts: 30 * 60 * MINUTE, settles: false };
    const [whole, figures] = [simulate(house, options), measureSimulation(house, options)];
    expectAlike(figures.measures, measure(whole), 9);
    expect(figures.notices.map(({ at, text }) => [at, text])).toEqual(
      whole.past.notices(whole.from, whole.to).map(({ at, text }) => [at, text]),
    );
    expect(figures.problems).toEqual(whole.past.problems(whole.from, whole.to));
    expect([figures.problemCount, figures.from, figures.to, figures.idle, figures.unmoved]).toEqual([
      figures.problems.length,
      whole.from,
      whole.to,
      whole.idle,
      whole.unmoved,
    ]);
  });

  test("where targets move by themselves, within what a minute's line leaves out", () => {
    const moving = houseOf(`zone z { sensor t: °C output heater: on/off }
      profile wanted: °C ramped { daily 16 °C from 00:00, 21 °C from 07:00, 17 °C from 22:00 }
      rule warm { keep z.t at wanted ± 0.5 K raise with z.heater }
      physics { zone z { volume 50 m³, loses 50 W/K, stores 1 MJ/K } z.heater gives 2 kW of heat }`);
    const options = { from: Date.parse("2026-01-15T00:00Z"), lasts: 24 * 60 * MINUTE };
    const [whole, figures] = [measure(simulate(moving, options)), measureSimulation(moving, options).measures];
    expect(figures.outputs).toEqual(whole.outputs);
    const [one, other] = [figures.kept[0], whole.kept[0]];
    expect(one?.applied).toBe(other?.applied);
    for (const name of ["inBand", "meanDistance", "lowest", "highest"] as const)
      expect([name, one?.[name]]).toEqual([name, expect.closeTo(other?.[name] ?? Number.NaN, 2)]);
  });

  test("seconds that are no minutes, and a beginning and an end between two reports", () => {
    const options = {
      from: house.weathers.length * 7000 + Date.parse("2026-01-15T08:00:13Z"),
      lasts: 3 * 60 * MINUTE + 17_000,
      every: 70_000,
      settles: false,
    };
    expectAlike(measureSimulation(house, options).measures, measure(simulate(house, options)), 9);
  });
});
