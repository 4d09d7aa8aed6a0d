// What a chart asks for is enough to draw it: the same lines, and the same chart, as of all that was written down.
import { type Chart, chartOf, linesOfChart } from "@modrik/charts";
import {
  createEngine,
  type DrawableRun,
  type Happening,
  type House,
  Journal,
  movesByItself,
  parseHouse,
  provoke,
  provokeLines,
  type SimulationOptions,
  valueAt,
} from "modrik";
import { describe, expect, test } from "vitest";
import { lindenYard, openExample } from "../../core/test/examples.js";

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

/** Each thing on it, and what it said last; what is written down twice with one value is one. */
const saidOn = ({ readings = [], rows, height }: Chart) => [
  rows,
  height,
  readings.map(({ section, name, values, texts }) => [section, name, values.at(-1), texts]),
];

function expectSame(
  house: House,
  zone: string | undefined,
  options: SimulationOptions = {},
  happenings: readonly Happening[] = [],
): void {
  const all = provoke(house, happenings, options);
  const expressions = linesOfChart(house, all, { zone });
  const some = provokeLines(house, happenings, expressions, options);
  const minutes = Array.from({ length: (all.to - all.from) / MINUTE }, (_, minute) => all.from + minute * MINUTE);
  const valuesOf = ({ past }: DrawableRun, moves: boolean) =>
    expressions
      .filter((one) => movesByItself(house, one) === moves)
      .map((one) => minutes.map((at) => (moves ? past.value(one, at) : valueAt(past.line(one), at))));
  expect(valuesOf(some, false)).toEqual(valuesOf(all, false));
  // What moves is looked at when something is said: within a minute.
  const exactly = valuesOf(all, true).map((list) => list.map((value) => expect.closeTo(value, 1)));
  expect(valuesOf(some, true)).toEqual(exactly);
  expect(saidOn(chartOf(some, { zone }))).toEqual(saidOn(chartOf(all, { zone })));
  expect(some.past.problems(all.from, all.to)).toEqual(all.past.problems(all.from, all.to));
}

describe.each(["linden-yard", "heron-cottage", "night-oven"])("of %s", (name) => {
  const { house } = openExample(name);
  const lasts = 24 * HOUR;
  test.each([...house.weathers])("under $name", (weather) =>
    expectSame(house, undefined, { weather, lasts, runUp: HOUR, settles: false }),
  );
  test.each([...house.zones])("in $name", (zone) => expectSame(house, zone.name, { lasts, runUp: HOUR, settles: false }));
});

test("of a house to which things happen: it restarts, is away, its clock jumps, somebody sets and switches", () => {
  const { house } = openExample("linden-yard");
  const { trials } = openExample("linden-yard", {
    ...lindenYard,
    "day.modrik": `trial day { from 2026-01-15 00:00 for 24 h simulated
      at 06:00 the house restarts
      at 08:00 bench.moisture is 50 %RH
      at 09:00 bench.door is open
      at 09:30 bench.door is closed
      at 10:00 the house is down for 20 min
      at 12:00 the clock jumps by 90 s
      at 13:00 bench.humidity falls silent for 1 h
      at 15:00 person sets bench.heater to on for 20 min
      expect bench.humidity above 1 %RH at 16:00
    }`,
  }).house;
  const happenings = trials.find(({ name }) => name === "day")?.happenings ?? [];
  expect(happenings.length).toBe(8);
  expectSame(house, "bench", { runUp: HOUR, settles: false }, happenings);
});

test("a line of something that the house has not is refused", () => {
  const { house } = openExample("night-oven");
  expect(() => provokeLines(house, [], [{ kind: "value", of: "oven.gone" }])).toThrow(RangeError);
});

test("the band about a ramp goes up with it, and what is reckoned over a window moves with what is in it", () => {
  const { house, problems } = parseHouse({
    "a.modrik": `house "R" { clock "UTC" }
      zone z { sensor t: °C output heater: on/off output fan: on/off }
      profile rising ramped { daily 10 °C from 06:00, 22 °C from 18:00 }
      let usual = mean(z.t over 6 h)
      rule warm { keep z.t at rising ± 1 K raise with z.heater }
      rule near { while usual above 30 °C until below 28 °C hold z.fan at on }`,
  });
  expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
  const from = Date.parse("2026-01-15T00:00Z");
  const journal = new Journal();
  const engine = createEngine(house, { at: from, journal });
  for (let half = 0; half < 48; half++) engine.report("z.t", half < 24 ? 10 : 20, from + half * 30 * MINUTE);
  const run = { past: journal, from, to: from + 24 * HOUR };
  const { options, readings = [] } = chartOf(run);
  const lows = (options.series as readonly { name: string; data: [number, number][] }[]).find(
    ({ name }) => name === "wanted from",
  );
  const low = (hour: number) => lows?.data.findLast(([time]) => time <= from + hour * HOUR)?.[1];
  expect([6, 9, 12, 15].map(low)).toEqual([9, 12, 15, 18].map((one) => expect.closeTo(one, 1)));
  const usual = readings.find(({ name }) => name === "usual");
  const said = (hour: number) => usual?.values[usual.times.findLastIndex((time) => time <= from + hour * HOUR)];
  expect([11, 15, 19].map(said)).toEqual([10, 15, 20].map((mean) => expect.closeTo(mean as number, 0)));
});
