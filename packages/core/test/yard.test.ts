// Linden Yard simulated, against the same equations and rules worked out by hand for this house alone: four weeks of each
// season, without fronts, as these are random numbers. People are others, so that means and times agree, and no instants.
import { type KeptMeasure, type Measures, measure, type Simulation, simulate } from "modrik";
import { beforeAll, describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";
import { DAY, HOUR, MINUTE } from "./simulated.js";
import { Yard } from "./yard/yard.js";

const BEFORE = 14;
const DAYS = 28;

/** Where the sums of the yard worked out by hand tell of a sensor, and by how much the means of both may differ. */
const means = [
  ["bench.temperature", 0, 0.2],
  ["timber.temperature", 1, 0.2],
  ["booth.temperature", 2, 0.2],
  ["loft.sitting", 4, 0.2],
  ["yard.temperature", 5, 0.05],
  ["bench.humidity", 6, 0.3],
  ["timber.humidity", 7, 0.4],
  ["loft.humidity", 10, 0.3],
  ["yard.humidity", 11, 0.05],
  ["loft.carbon", 12, 5],
  ["booth.fumes", 13, 0.5],
  ["bench.daylight", 14, 8],
  ["yard.soil", 15, 0.2],
] as const;

describe.each([
  ["winter", "2026-01-15T00:00+01:00", { firstDay: 1, weekday: 3, noon: 12.5 }],
  ["spring", "2026-05-01T00:00+02:00", { firstDay: 107, weekday: 4, noon: 13.5 }],
  ["summer", "2026-07-07T00:00+02:00", { firstDay: 174, weekday: 1, noon: 13.5 }],
])("four weeks of %s", (_, begins, when) => {
  const { house } = parseLindenYard();
  const { fronts, ...weather } = house.weathers.find(({ name }) => name === "year") as (typeof house.weathers)[number];
  const byHand = new Yard(house, { ...when, fronts: false });
  let run: Simulation;
  let measures: Measures;
  beforeAll(() => {
    run = simulate(house, { weather, from: Date.parse(begins), lasts: DAYS * DAY, runUp: BEFORE * DAY });
    measures = measure(run);
    byHand.run(BEFORE);
    byHand.run(DAYS);
  });

  test.each(means)("%s is the same", (of, place, most) => {
    let sum = 0;
    for (let at = run.from; at < run.to; at += HOUR) sum += run.past.value({ kind: "value", of }, at) as number;
    expect(Math.abs(sum / (DAYS * 24) - (byHand.sums[place] as number) / (DAYS * 1440))).toBeLessThanOrEqual(most);
  });

  test.each([
    ["dry_wood", 0],
    ["warm_hands", 1],
    ["frost_free", 2],
    ["timber_moist", 3],
    ["booth_warm", 4],
  ])("%s keeps it as well", (rule, place) => {
    const { applied, inBand, meanDistance, rmsDistance } = measures.kept.find((one) => one.rule === rule) as KeptMeasure;
    const [minutes, within, distance, squares] = byHand.kept.subarray(4 * place) as unknown as [number, number, number, number];
    // What applies while a door has been closed applies a little less than by the minute.
    expect(Math.abs(applied / MINUTE / minutes - 1)).toBeLessThanOrEqual(0.04);
    expect(Math.abs(inBand - within / minutes)).toBeLessThanOrEqual(0.03);
    expect(Math.abs(meanDistance - distance / minutes)).toBeLessThanOrEqual(0.1);
    expect(Math.abs(rmsDistance - Math.sqrt(squares / minutes))).toBeLessThanOrEqual(0.12);
  });

  test("outputs run as long, to a quarter of an hour a day and a twentieth", () => {
    const { outputs } = measures;
    const hours = outputs.map(({ output, onTime }) => [output, onTime / HOUR / DAYS] as const);
    const far = hours.filter(([, runs], place) => {
      const own = (byHand.on[place] as number) / 3600 / DAYS;
      return Math.abs(runs - own) > 0.25 + 0.05 * own;
    });
    expect(far).toEqual([]);
    expect(outputs.some(({ onTime }) => onTime > 4 * HOUR * DAYS)).toBe(true);
  });

  // What doors break off by the second is left out.
  test.each(["bench.heater", "timber.fan", "booth.heater", "booth.fan", "loft.fan", "loft.lights"])(
    "%s begins as often",
    (output) => {
      const place = measures.outputs.findIndex((one) => one.output === output);
      const own = byHand.starts[place] as number;
      expect(Math.abs((measures.outputs[place]?.starts as number) - own)).toBeLessThanOrEqual(3 + 0.05 * own);
    },
  );
});
