// What is drawn, point by point, of a run that is written out: reports, a gap, a mode, a schedule, a valve, a band that applies
// for a while. A day by the clock of Zurich, in hours since its midnight.
import { chartOf, themes, toSvg } from "@modrik/charts";
import { createEngine, Journal, parseHouse, type Run } from "modrik";
import { describe, expect, test } from "vitest";

const HOUR = 3_600_000;
const MIDNIGHT = Date.parse("2026-01-14T23:00Z");
const text = `house "Drawn" { place 47 N, 8 E clock "Europe/Zurich" }
zone z {
  sensor t "Air": °C, unknown after 2 h
  sensor far: °F
  sensor h: %RH
  output heater: on/off
  output valve: 5..30 °C, at rest 5 °C
  output lamp: 0..100 %
  dial wanted "Wanted": 10..30 °C, at first 20 °C
}
mode m "Mode": day/night, at first day
schedule hours "Hours" { daily 08:00 to 12:00 }
rule warm { while during hours keep z.t at z.wanted ± 1 K raise with z.heater }
rule turn { while m is night hold z.valve at 17.5 °C, z.lamp at 25 % }`;
const { house, problems } = parseHouse({ "a.modrik": text });

function played(): Run {
  const journal = new Journal();
  const engine = createEngine(house, { at: MIDNIGHT, journal });
  const at = (hours: number) => MIDNIGHT + hours * HOUR;
  engine.report("z.t", 18, at(0));
  engine.report("z.far", 50, at(0));
  for (let quarter = 1; quarter <= 4; quarter++) engine.report("z.t", 18, at(quarter / 4));
  engine.report("z.t", 19, at(1) + 60_000);
  // Nothing for hours: unknown at 03:01, heard again at 07:00.
  engine.report("z.t", 15, at(7));
  for (let quarter = 29; quarter <= 40; quarter++) engine.report("z.t", 15, at(quarter / 4));
  engine.set("z.wanted", 22, at(10));
  engine.set("m", "night", at(18));
  engine.set("m", "day", at(21));
  engine.advanceTo(at(24));
  return { past: journal, from: at(0), to: at(24) };
}
const run = played();

interface Series {
  readonly name: string;
  readonly data: readonly (readonly [number, number | null])[];
  readonly lineStyle?: { readonly color?: string; readonly type?: unknown };
  readonly markArea?: {
    readonly data: readonly (readonly [{ readonly xAxis: number; readonly name: string }, { readonly xAxis: number }])[];
  };
  readonly markLine?: { readonly data: readonly { readonly xAxis: number; readonly name: string }[] };
}
const seriesOf = (options: Parameters<typeof chartOf>[1] = {}) => chartOf(run, options).options.series as readonly Series[];
/** Hours since midnight on the axis, which shows local time. */
const hours = (at: number) => Number(((at - Date.parse("2026-01-15T00:00Z")) / HOUR).toFixed(3));
const pointsOf = (name: string) =>
  seriesOf()
    .find((one) => one.name === name && one.data.length > 0)
    ?.data.map(([at, value]) => [hours(at), value === null ? null : Number(value.toFixed(3))]);

test("the house is sound", () => expect(problems).toEqual([]));

describe("lines", () => {
  test("a reading that stood still is flat, and what is unknown is a gap", () => {
    expect(pointsOf("Air")).toEqual([
      [0, 18],
      [1, 18],
      [1.017, 19],
      [3, 19],
      [3.017, null],
      [6.983, null],
      [7, 15],
      [11.983, 15],
      [12, null],
      [24, null],
    ]);
  });

  test("each in its own unit", () => {
    expect(pointsOf("z.far")).toEqual([
      [0, 50],
      [24, 50],
    ]);
    const names = (chartOf(run).options.yAxis as readonly { readonly name: string }[]).map(({ name }) => name);
    expect(names.slice(0, 2)).toEqual(["Temperature °C", "Temperature °F"]);
  });

  test("two of one panel differ in colour and in dashes", () => {
    const [one, other] = seriesOf().filter(({ lineStyle }) => lineStyle?.type !== undefined);
    expect([one?.lineStyle?.type, one?.lineStyle?.color]).toEqual(["solid", themes.light.series[0]]);
    expect(other?.lineStyle?.color).toBe(themes.light.series[1]);
  });
});

describe("what stands around them", () => {
  test("the band, while its sentence applies, moves with its dial", () => {
    const lower = seriesOf().find(({ name }) => name === "wanted from")?.data ?? [];
    const height = seriesOf().find(({ name }) => name === "wanted")?.data ?? [];
    const at = (hour: number) => lower.findLastIndex(([time]) => hours(time) <= hour);
    expect([7, 9, 11, 13].map((hour) => [lower[at(hour)]?.[1], height[at(hour)]?.[1]])).toEqual([
      [null, null],
      [19, 2],
      [21, 2],
      [null, null],
    ]);
  });

  test("a dial that is turned is marked in each panel", () => {
    const marks = seriesOf().flatMap(({ markLine }) => markLine?.data ?? []);
    expect(marks.map(({ xAxis, name }) => [hours(xAxis), name])).toEqual([
      [10, "Wanted 22 °C"],
      [10, "Wanted 22 °C"],
    ]);
  });

  test.each<[string, (readonly [number, number, string])[]]>([
    [
      "Mode",
      [
        [0, 18, "day"],
        [18, 21, "night"],
        [21, 24, "day"],
      ],
    ],
    ["Hours", [[8, 12, ""]]],
  ])("the strip of %s", (name, expected) => {
    const areas = seriesOf().find((one) => one.name === name)?.markArea?.data ?? [];
    expect(areas.map(([begin, end]) => [hours(begin.xAxis), hours(end.xAxis), begin.name])).toEqual(expected);
  });

  test.each<[string, (readonly [number, number])[]]>([
    [
      "z.valve",
      [
        [0, 0],
        [18, 0],
        [18, 0.5],
        [21, 0.5],
        [21, 0],
        [24, 0],
      ],
    ],
    [
      "z.lamp",
      [
        [0, 0],
        [18, 0],
        [18, 0.25],
        [21, 0.25],
        [21, 0],
        [24, 0],
      ],
    ],
    [
      "z.heater",
      [
        [0, 0],
        [8, 0],
        [8, 1],
        [12, 1],
        [12, 0],
        [24, 0],
      ],
    ],
  ])("the bar of %s", (name, expected) => {
    const title = house.outputs.find((one) => one.name === name)?.title ?? name;
    const bar = seriesOf().find((one) => one.name.toLowerCase().includes(title.split(".")[1] ?? title))?.data ?? [];
    // Each level has a point a little behind its first, so that it is drawn level.
    const corners = bar.filter(
      ([at, value], place) => bar[place - 1]?.[1] !== value || bar[place + 1]?.[1] !== value || at === bar.at(-1)?.[0],
    );
    expect(corners.map(([at, value]) => [hours(at), value])).toEqual(expected);
  });
});

describe.each(["light", "dark"] as const)("a picture in the %s theme", (theme) => {
  const svg = toSvg(chartOf(run, { theme }));

  test("uses the colours of its theme, and none of the other's ground", () => {
    const { ground, ink, accent } = themes[theme];
    for (const colour of [ground, ink, accent]) expect(svg).toContain(colour);
    expect(svg).not.toContain(themes[theme === "light" ? "dark" : "light"].ground);
  });

  test("has a title, the names of its panels and strips, and a line for each sensor that reported", () => {
    for (const word of ["Drawn", "Temperature °C", "Mode", "Hours", "Wanted 22 °C", "night"]) expect(svg).toContain(`>${word}<`);
    expect(svg).not.toContain("z.h<");
  });
});
