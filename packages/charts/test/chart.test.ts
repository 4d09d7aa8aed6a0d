// Charts of a small house's run, by what is on them and where it stands.
import { type Chart, chartOf, toSvg } from "@modrik/charts";
import { parseHouse, simulate } from "modrik";
import { describe, expect, test } from "vitest";
import { namesOn, seriesOn, stripOn } from "./rows.js";

const text = `house "Two rooms" { place 47 N, 8 E clock "Europe/Zurich" }
zone left "Left room" {
  sensor temperature: °C
  sensor humidity: %RH
  output heater "Left heater": on/off
  dial wanted "Wanted": 10..30 °C, at first 20 °C
}
zone right "Right room" { sensor temperature: °C output lamp "Right lamp": 0..100 % }
mode shop "Shop": open/closed, at first closed
schedule hours "Hours" { daily 08:00 to 12:00 }
schedule ever "Ever" { daily 00:00 to 24:00 }
rule warm { keep left.temperature at left.wanted ± 0.5 °C raise with left.heater }
rule noon { when at 12:00 do { set left.wanted to 22 °C } when at 18:00 do { set left.wanted to 20 °C } }
rule work { when hours begins do { set shop to open } when hours ends do { set shop to closed } }
rule light { while during hours hold right.lamp at 40 % }
rule always { while outside ever hold right.lamp at 1 % }
physics {
  zone left { volume 30 m³, loses 40 W/K, stores 1 MJ/K }
  zone right { volume 30 m³, loses 40 W/K, stores 1 MJ/K }
  left.heater gives 2 kW of heat
}`;
const parsed = parseHouse({ "house.modrik": text });
const run = simulate(parsed.house, { from: Date.parse("2026-01-14T23:00Z") });

interface Place {
  readonly top: number;
  readonly height: number;
}
const gridsOn = ({ options }: Chart) => options.grid as readonly Place[];

test("the house is sound", () => expect(parsed.problems).toEqual([]));

describe("what is on a chart", () => {
  test.each<[string, string | undefined, string[]]>([
    [
      "of the house, zone by zone: outputs under what they move, then modes, schedules that turn, and the sun",
      undefined,
      ["Temperature °C", "Left heater", "Humidity %RH", "Temperature °C", "Right lamp", "Shop", "Hours", "Sun"],
    ],
    ["of a zone: only its sensors and outputs", "right", ["Temperature °C", "Right lamp", "Shop", "Hours", "Sun"]],
  ])("%s", (_, zone, names) => expect(namesOn(chartOf(run, { zone }))).toEqual(names));

  test("the band that is wanted, and a mark where a dial changed", () => {
    const series = seriesOn(chartOf(run, { zone: "left" }));
    const band = series.find(({ name, data }) => name === "wanted" && data.length > 0);
    expect(new Set(band?.data.map(([, height]) => height))).toEqual(new Set([1]));
    const marks = series.flatMap(({ name, markLine }) =>
      name === "marks" ? [((markLine?.data ?? []) as unknown as { name: string }[]).map((one) => one.name)] : [],
    );
    // One through each panel.
    expect(marks).toEqual([0, 1].map(() => ["Wanted 22 °C", "Wanted 20 °C"]));
  });

  test("an output's bar is as high as its share of its range", () => {
    const [from, to, share] = stripOn(chartOf(run), "Right lamp").filled[0] ?? [];
    const hours = [from, to].map((at) => new Date(at ?? 0).getUTCHours());
    expect([hours, share]).toEqual([[8, 12], 0.4]);
  });
});

describe("where it stands", () => {
  test.each([
    ["wide", 1280, 800],
    ["on a phone", 390, 720],
    ["too low for what is on it", 1280, 200],
  ])("%s, nothing lies on anything else", (_, width, height) => {
    const chart = chartOf(run, { width, height });
    expect(chart.height).toBeGreaterThanOrEqual(height);
    for (const boxes of [gridsOn(chart), chart.rows ?? []]) {
      expect(boxes.length).toBeGreaterThan(3);
      boxes.slice(1).forEach(({ top }, index) => {
        const above = boxes[index] as Place;
        expect(top).toBeGreaterThanOrEqual(above.top + above.height);
      });
      const last = boxes.at(-1) as Place;
      expect(last.top + last.height).toBeLessThanOrEqual(chart.height);
    }
  });
});

test("a picture has the size of its chart, its title, and the ground of its theme", () => {
  const dark = chartOf(run, { theme: "dark", subtitle: "a day", width: 900, height: 600 });
  const svg = toSvg(dark);
  expect(svg).toContain(`width="900" height="${dark.height}"`);
  for (const part of ["Two rooms", "a day", "#131a19", "Left heater"]) expect(svg).toContain(part);
});

describe("things that were chosen", () => {
  test("two rooms and their mean in one panel, outputs under it, nothing else", () => {
    const chart = chartOf(run, { things: ["left.temperature", "right.temperature", "left.heater"], mean: true });
    expect(namesOn(chart)).toEqual(["Temperature °C", "Left room, Left heater"]);
    const named = (name: string) => chart.readings?.find((one) => one.name === name);
    const at = (name: string, time: number) => {
      const one = named(name);
      return one?.values[one.times.findLastIndex((begins) => begins <= time)] ?? Number.NaN;
    };
    const mean = named("mean");
    expect(mean?.times.length).toBeGreaterThan(100);
    for (const time of mean?.times ?? []) {
      const both = [at("Left room, temperature", time), at("Right room, temperature", time)];
      expect(at("mean", time)).toBeCloseTo(((both[0] as number) + (both[1] as number)) / 2, 3);
    }
  });

  test("of one there is no mean, and units stand in panels of their own", () => {
    const chart = chartOf(run, { things: ["left.humidity", "left.temperature"], mean: true });
    expect(namesOn(chart)).toEqual(["Temperature °C", "Humidity %RH"]);
    expect(chart.readings?.map(({ name }) => name)).toEqual(["Left room, temperature", "Left room, humidity"]);
  });
});

test("what is not seen can be left out: each column of pixels keeps its ends, its least and its greatest", () => {
  const width = 100;
  const whole = chartOf(run, { zone: "left", width });
  const thin = chartOf(run, { zone: "left", width, thin: true });
  const curves = (chart: Chart) => seriesOn(chart).filter(({ name, data }) => name === "temperature" && data.length > 0);
  const [from, to] = [run.from, run.to].map((at) => at + 3600e3) as [number, number];
  const columns = (points: readonly (readonly [number, number | null])[]) => {
    const found = new Map<number, { first: number | null; last: number | null; least: number; greatest: number }>();
    for (const [at, value] of points) {
      const column = Math.floor(((at - from) / (to - from)) * width);
      const before = found.get(column);
      const least = Math.min(before?.least ?? Number.POSITIVE_INFINITY, value ?? Number.POSITIVE_INFINITY);
      const greatest = Math.max(before?.greatest ?? Number.NEGATIVE_INFINITY, value ?? Number.NEGATIVE_INFINITY);
      found.set(column, { first: before ? before.first : value, last: value, least, greatest });
    }
    return found;
  };
  const [all, some] = [curves(whole)[0]?.data ?? [], curves(thin)[0]?.data ?? []];
  expect(some.length).toBeLessThan(all.length / 2);
  expect(columns(some)).toEqual(columns(all));
  const temperature = (chart: Chart) => chart.readings?.find(({ name }) => name === "temperature")?.times.length ?? 0;
  expect(temperature(thin)).toBeLessThan(temperature(whole) / 2);
});
