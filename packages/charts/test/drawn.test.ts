// What is drawn, point by point, of a run that is written out: reports, a gap, a mode, a schedule, a valve, a band that applies
// for a while. A day by the clock of Zurich, in hours since its midnight.
import { chartOf, chartOfComparison, chartOfTuning, type NamedRun, themes, toPage, toSvg } from "@modrik/charts";
import { createEngine, Journal, parseHouse, planTuning, type Run, readKnob, settleTuning, type TriedSetting } from "modrik";
import { describe, expect, test } from "vitest";
import { namesOn, seriesOn, stripOn } from "./rows.js";

const HOUR = 3_600_000;
const MIDNIGHT = Date.parse("2026-01-14T23:00Z");
const text = `house "Drawn" { place 47 N, 8 E clock "Europe/Zurich" }
zone z {
  sensor t "Air": °C, unknown after 2 h
  sensor corner "Corner": °C
  sensor far_away: °F
  sensor h: %RH
  sensor door: open/closed
  output heater: on/off
  output valve: 5..30 °C, at rest 5 °C
  output lamp: 0..100 %
  output fan: on/off
  dial wanted "Wanted": 10..30 °C, at first 20 °C
}
mode m "Mode": day/night, at first day
schedule hours "Hours" { daily 08:00 to 12:00 }
rule warm { while during hours keep z.t at z.wanted ± 1 K raise with z.heater }
let worth = if m is night then 3 K else 1 K
let tint = pick by z.t { below 16 °C: red, otherwise: white, unknown: violet }
rule near { while z.far_away below 40 °F until above 60 °F hold z.fan at on }
rule say { when m is night do { tell "Good night." } }
rule turn { while m is night hold z.valve at 17.5 °C, z.lamp at 25 % }`;
const { house, problems } = parseHouse({ "a.modrik": text });

function played(): Run {
  const journal = new Journal();
  const engine = createEngine(house, { at: MIDNIGHT, journal });
  const at = (hours: number) => MIDNIGHT + hours * HOUR;
  engine.report("z.t", 18, at(0));
  engine.report("z.corner", 12, at(0));
  engine.report("z.far_away", 50, at(0));
  engine.report("z.door", "closed", at(0));
  for (let quarter = 1; quarter <= 4; quarter++) engine.report("z.t", 18, at(quarter / 4));
  engine.report("z.t", 19, at(1) + 60_000);
  engine.report("z.door", "open", at(4));
  engine.report("z.door", "closed", at(5));
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

const seriesOf = (options: Parameters<typeof chartOf>[1] = {}) => seriesOn(chartOf(run, options));
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
    expect(pointsOf("far away")).toEqual([
      [0, 50],
      [24, 50],
    ]);
    expect(namesOn(chartOf(run)).filter((name) => name.startsWith("Temperature"))).toEqual(["Temperature °C", "Temperature °F"]);
  });

  test("two of one panel differ in colour and in dashes", () => {
    const [one, other] = seriesOf().filter(({ lineStyle }) => lineStyle?.type !== undefined);
    expect([one?.lineStyle?.type, one?.lineStyle?.color]).toEqual(["solid", themes.light.series[0]]);
    expect([other?.lineStyle?.type, other?.lineStyle?.color]).toEqual(["dashed", themes.light.series[1]]);
  });
});

/** A chart of one sensor that has reported twice, with rules about it. */
function chartOfOne(type: string, rules: string, values: readonly [number, number]) {
  const own = parseHouse({
    "a.modrik": `house "A" { clock "UTC" } zone z { sensor s: ${type} output o: 0..100 % } ${rules}`,
  }).house;
  const journal = new Journal();
  const engine = createEngine(own, { at: MIDNIGHT, journal });
  values.forEach((value, hour) => void engine.report("z.s", value, MIDNIGHT + hour * HOUR));
  engine.advanceTo(MIDNIGHT + 2 * HOUR);
  return chartOf({ past: journal, from: MIDNIGHT, to: MIDNIGHT + 2 * HOUR });
}

test.each([
  ["l", "Volume l"],
  ["W", "Power W"],
  ["K", "Difference K"],
  ["µg/m³", "Concentration µg/m³"],
  ["hPa", "Pressure hPa"],
  ["lx", "Light lx"],
  ["0..9", ""],
])("a panel of %s says what is measured", (type, name) => {
  expect(namesOn(chartOfOne(type, "", [1, 2]))[0]).toBe(name);
});

test.each([
  ["raise with z.o in proportion over 5 K", 0.5],
  ["± 1 K raise with z.f", 0],
])("a target with a band is an area, and one without a line: %s", (drive, opacity) => {
  const rules = `zone y { output f: on/off } rule r { keep z.s at 20 °C ${drive.replace("z.f", "y.f")} }`;
  const wanted = seriesOn(chartOfOne("°C", rules, [18, 19])).find(({ name }) => name === "wanted");
  expect((wanted?.lineStyle as { opacity?: number } | undefined)?.opacity).toBe(opacity);
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
    const marks = seriesOf().flatMap(({ name, markLine }) =>
      name === "marks" ? (markLine?.data as unknown as { xAxis: number; name: string }[]) : [],
    );
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
    // A door that is closed is nothing to see; there is no room for the word of a short stretch.
    ["door", [[4, 5, ""]]],
    [
      "tint",
      [
        [0, 3.017, ""],
        [3.017, 7, ""],
        [7, 12, ""],
        [12, 24, ""],
      ],
    ],
  ])("the strip of %s", (name, expected) => {
    const { stretches } = stripOn(chartOf(run), name);
    expect(stretches.map(([from, to, word]) => [hours(from), hours(to), word])).toEqual(expected);
  });

  test.each<[string, readonly [from: number, to: number, share: number]]>([
    ["valve", [18, 21, 0.5]],
    ["lamp", [18, 21, 0.25]],
    ["heater", [8, 12, 1]],
  ])("the bar of the %s", (name, expected) => {
    const { filled } = stripOn(chartOf(run), name);
    expect(filled.map(([from, to, share]) => [hours(from), hours(to), share])).toEqual([expected]);
  });
});

describe("beside them", () => {
  test("the points at which something switches, through the whole panel", () => {
    const bounds = seriesOf().filter(({ name }) => name === "switches at");
    expect(bounds.map(({ data }) => [data[0]?.[1], data.at(-1)?.[1]])).toEqual([
      [expect.closeTo(40, 6), expect.closeTo(40, 6)],
      [expect.closeTo(60, 6), expect.closeTo(60, 6)],
    ]);
  });

  test("what was told, lets in a panel of their own, and the sun while it is up", () => {
    const { moments } = stripOn(chartOf(run), "Notices");
    expect(moments.map(([at, says]) => [hours(at), says])).toEqual([[18, "Good night."]]);
    expect(pointsOf("worth")?.filter(([at]) => at === 0 || at === 18)).toEqual([
      [0, 1],
      [18, 3],
    ]);
    const { stretches: up } = stripOn(chartOf(run), "Sun");
    expect(up.map(([from, to]) => [hours(from), hours(to)])).toEqual([[expect.closeTo(8.2, 0), expect.closeTo(17.1, 0)]]);
  });

  test("a colour has its own, and a tint is none", () => {
    expect(stripOn(chartOf(run), "tint").stretches.map(([, , , colour]) => colour)).toEqual([
      "#ffffff",
      expect.stringMatching(/^#/),
      "#ff0000",
      expect.stringMatching(/^#/),
    ]);
  });

  test("a cursor reads everything on it, by zone and title, at any moment", () => {
    const { readings = [] } = chartOf(run);
    const at = (name: string, hour: number) => {
      const one = readings.find((reading) => reading.name === name);
      const time = Date.parse("2026-01-15T00:00Z") + hour * HOUR;
      const value = one?.values[one.times.findLastIndex((begins) => begins <= time)];
      return one?.words && typeof value === "number" ? one.words[value] : value;
    };
    expect(["Air", "Corner", "far away", "door", "Mode", "valve", "worth"].map((name) => [at(name, 4.5), at(name, 19)])).toEqual([
      [null, null],
      [12, 12],
      [50, 50],
      ["open", "closed"],
      ["day", "night"],
      [5, 17.5],
      [1, 3],
    ]);
    expect([...new Set(readings.map(({ section }) => section))]).toEqual(["z", "House"]);
    expect(readings.find(({ name }) => name === "Notice")?.texts).toEqual(["Good night."]);
  });

  test("a day is written so that nobody misreads it", () => {
    const axis = (chartOf(run).options.xAxis as { axisLabel: { formatter: { day: string; month: string } } }[])[0];
    expect(axis?.axisLabel.formatter.day).toBe("{ee} {d} {MMM}");
    expect(toSvg(chartOf(run))).toContain(">Thu 15 Jan<");
  });
});

describe("strips", () => {
  const chart = chartOf(run);
  const grids = (chart.options.grid as readonly object[]).length;

  test("that stand under one another share a grid, headings and panels part them", () => {
    const names = (chart.options.yAxis as readonly { readonly data?: readonly string[] }[]).flatMap(({ data }) =>
      data ? [data] : [],
    );
    expect(names).toEqual([
      ["heater", "valve"],
      ["fan", "lamp", "door"],
      ["Mode", "Hours"],
      ["tint", "Sun", "Notices"],
    ]);
    const panels = namesOn(chart).length - names.flat().length;
    expect(grids).toBe(panels + names.length);
  });

  test.each<[string, number[], number[]]>([
    ["too short to be seen, and is marked", [0.1], [0]],
    ["too short twice within a pixel", [0.1, 0.3], [0, 1]],
    ["long enough", [1.6], []],
    ["of both kinds", [0.1, 5], [0]],
  ])("what is on is drawn as long as it is: %s", (_, lasting, marked) => {
    // A pixel of a day, of those between the margins.
    const pixel = (24 * HOUR) / (1280 - 150 - 44);
    const journal = new Journal();
    const engine = createEngine(house, { at: MIDNIGHT, journal });
    const spans = lasting.map((lasts, place) => [100 + place / 2, 100 + place / 2 + lasts].map((at) => Math.round(at * pixel)));
    for (const [begins = 0, ends = 0] of spans) {
      engine.report("z.door", "open", MIDNIGHT + begins);
      engine.report("z.door", "closed", MIDNIGHT + ends);
    }
    engine.advanceTo(MIDNIGHT + 24 * HOUR);
    const { filled, hairlines } = stripOn(chartOf({ past: journal, from: MIDNIGHT, to: MIDNIGHT + 24 * HOUR }), "door");
    const own = (at: number) => at - Date.parse("2026-01-15T00:00Z");
    expect(filled.map(([from, to]) => [own(from), own(to)])).toEqual(spans);
    expect(hairlines.map(own)).toEqual(marked.map((place) => ((spans[place]?.[0] ?? 0) + (spans[place]?.[1] ?? 0)) / 2));
  });

  test("a lamp of a moment is marked as high as it was", () => {
    const journal = new Journal();
    const engine = createEngine(house, { at: MIDNIGHT, journal });
    const begins = MIDNIGHT + 6 * HOUR;
    engine.set("m", "night", begins);
    engine.set("m", "day", begins + 4000);
    engine.advanceTo(MIDNIGHT + 24 * HOUR);
    const chart = chartOf({ past: journal, from: MIDNIGHT, to: MIDNIGHT + 24 * HOUR });
    const { filled, hairlines, segments } = stripOn(chart, "lamp");
    expect(filled.map(([from, to, share]) => [to - from, share])).toEqual([[4000, 0.25]]);
    expect(hairlines.map(hours)).toEqual([hours(begins + HOUR + 2000)]);
    const [foot, head] = segments.flatMap((ends) => ends.map(([, y]) => y));
    const height = chart.rows?.find(({ things }) => things[0] === "z.lamp")?.height ?? 0;
    expect(((foot ?? 0) - (head ?? 0)) / height).toBeCloseTo(0.25, 9);
  });

  test("of many short stretches are a line, not a shape each", () => {
    const journal = new Journal();
    const engine = createEngine(house, { at: MIDNIGHT, journal });
    for (let minute = 0; minute < 600; minute++)
      engine.report("z.door", minute % 2 === 0 ? "open" : "closed", MIDNIGHT + minute * 60_000);
    engine.advanceTo(MIDNIGHT + 24 * HOUR);
    const busy = chartOf({ past: journal, from: MIDNIGHT, to: MIDNIGHT + 24 * HOUR });
    expect(stripOn(busy, "door").stretches).toHaveLength(300);
    expect(seriesOn(busy).filter(({ type }) => type === "lines").length).toBeLessThan(5);
    expect(seriesOn(busy).flatMap(({ markArea }) => markArea?.data ?? []).length).toBeLessThan(10);
  });
});

describe("a page that stands alone", () => {
  const page = toPage(chartOf(run, { title: "A <day> & more" }), "var echarts = {};</script>", { below: "<p>below</p>" });

  test("has its code and data in it, and asks for nothing", () => {
    expect(page).toContain("<title>A &lt;day&gt; &amp; more</title>");
    expect(page).toContain("<p>below</p>");
    expect(page).not.toMatch(/(src|href)=|https?:/);
    // Neither code nor data can end its script.
    expect(page.match(/<\/script>/g)).toHaveLength(3);
    const [, json = ""] = /id="data">(.*?)<\/script>/s.exec(page) ?? [];
    expect(JSON.parse(json).readings.length).toBeGreaterThan(5);
  });
});

describe("runs over one another", () => {
  const other = (): Run => {
    const journal = new Journal();
    const engine = createEngine(house, { at: MIDNIGHT, journal });
    engine.report("z.t", 18, MIDNIGHT);
    engine.report("z.t", 25, MIDNIGHT + 9 * HOUR);
    engine.advanceTo(MIDNIGHT + 24 * HOUR);
    return { past: journal, from: MIDNIGHT, to: MIDNIGHT + 24 * HOUR };
  };
  const both = [
    { name: "one", run },
    { name: "other", run: other() },
  ];

  test("a curve for each, a bar for each of what drives it; what is the same is left out", () => {
    const chart = chartOfComparison(both);
    const { readings = [] } = chart;
    const names = seriesOn(chart)
      .filter(({ data }) => data.length > 0)
      .map(({ name }) => name);
    // Of the second value the other run says nothing.
    expect(names.filter((name) => ["one", "other"].includes(name))).toEqual(["one", "other", "one"]);
    expect(namesOn(chart).filter((name) => name.startsWith("z.heater"))).toEqual(["z.heater, one", "z.heater, other"]);
    expect(readings.map(({ section, name }) => `${section} ${name}`).slice(0, 2)).toEqual(["z.t one", "z.t other"]);
    expect(chartOfComparison([both[0] as NamedRun, { ...(both[0] as NamedRun), name: "again" }]).options.series).toEqual([]);
  });

  test("none, or of different times, is refused", () => {
    expect(() => chartOfComparison([])).toThrow(RangeError);
    expect(() => chartOfComparison([both[0] as NamedRun, { name: "later", run: { ...run, to: run.to + 1 } }])).toThrow(
      /same time/,
    );
  });
});

test("settings that were tried are points; the front is a line, today's and the best have names", () => {
  const knob = readKnob(house, "z.wanted=18,22");
  const plan = planTuning(house, [knob]);
  const tried = [
    [20, 1, 10],
    [18, 2, 12],
    [22, 0.5, 20],
  ].map(
    ([value = 0, distance = 0, startsADay = 0]): TriedSetting => ({
      values: [value],
      distance,
      unit: "K",
      inBand: 1,
      startsADay,
    }),
  );
  const chart = chartOfTuning(house, settleTuning(house, plan, tried));
  const [line, points] = chart.options.series as unknown as [
    { data: number[][] },
    { data: { name: string; value: number[]; label: { show: boolean; formatter: string } }[] },
  ];
  expect(line.data).toEqual([
    [10, 1],
    [20, 0.5],
  ]);
  expect(points.data.map(({ name, value, label }) => [name, value, label.show, label.formatter])).toEqual([
    ["20 °C", [10, 1], true, "20 °C (today)"],
    ["18 °C", [12, 2], false, "18 °C"],
    ["22 °C", [20, 0.5], true, "22 °C"],
  ]);
  expect(toSvg(chart)).toContain("recommended");
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
