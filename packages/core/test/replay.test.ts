// Rules over a recording: what they do, where they differ from what was recorded, and the list of what happened.
import {
  differences,
  type House,
  logOf,
  misfitsOf,
  type Recorded,
  recordingOf,
  replay,
  runTrial,
  simulate,
  trialSpan,
  valueAt,
  whyInShort,
} from "modrik";
import { describe, expect, test } from "vitest";
import { parseLindenYard } from "./examples.js";
import { houseOf, START } from "./simulated.js";

const MINUTE = 60e3;
const HOUR = 60 * MINUTE;
const house = houseOf(`zone z {
    sensor t: °C, unknown after 20 min
    sensor door: open/closed
    sensor bell: press
    output heater: on/off
    output lamp: 0..100 %
    dial wanted: 10..30 °C, at first 20 °C
  }
  mode m: day/night, at first day
  rule warm { keep z.t at z.wanted ± 1 K raise with z.heater }
  rule light { while m is night hold z.lamp at 40 % }
  rule ring { when z.bell is pressed do { tell "Somebody rings, {z.t}." send "ding" to "house/bell" } }
  guard shut { permit z.heater on only while z.door is closed }`);

const at = (minutes: number) => START + minutes * MINUTE;
const of = (name: string, ...points: readonly (readonly [minutes: number, value: Recorded["value"]])[]): Recorded[] =>
  points.map(([minutes, value]) => ({ at: at(minutes), name, ...(value !== undefined && { value }) }));
const inOrder = (...lists: Recorded[][]) => lists.flat().sort((a, b) => a.at - b.at);
const line = (run: ReturnType<typeof replay>, name: string, minutes: number) =>
  valueAt(run.past.line({ kind: "value", of: name }), at(minutes));

const recorded = inOrder(
  of("z.t", [0, 20], [10, 18], [20, 18], [30, 21.5], [40, 21.5], [50, 21.5]),
  of("z.door", [0, "closed"], [12, "open"], [14, "closed"]),
  of("z.heater", [0, "off"], [10, "on"], [30, "off"]),
  of("m", [0, "day"], [25, "night"]),
  of("z.bell", [35, "pressed"]),
);

describe("a replay", () => {
  test("sensors, dials, modes and presses are as recorded; outputs are for the rules", () => {
    const run = replay(house, recorded);
    expect([run.from, run.to]).toEqual([at(0), at(51)]);
    // On at 10, off by the guard from 12 to 14, off above 21 at 30.
    expect([5, 11, 13, 15, 31].map((minutes) => line(run, "z.heater", minutes))).toEqual([1, 0, 1, 0, 1]);
    expect([20, 30].map((minutes) => line(run, "z.lamp", minutes))).toEqual([0, 40]);
    expect(run.past.notices(run.from, run.to).map(({ text }) => text)).toEqual(["Somebody rings, 21.5 °C."]);
  });

  test("what is set for it stands before what was recorded of it, and what was before it is known", () => {
    const late = replay(house, recorded, { from: at(15), to: at(40), set: { m: "day", "z.wanted": 25 } });
    expect([16, 39].map((minutes) => line(late, "z.t", minutes))).toEqual([18, 21.5]);
    expect(line(late, "z.heater", 39)).toBe(0);
    expect(line(late, "z.lamp", 39)).toBe(0);
  });

  test("it falls silent where nothing was recorded for too long", () => {
    const run = replay(house, inOrder(of("z.t", [0, 18], [60, 18])));
    expect([19, 21, 61].map((minutes) => line(run, "z.t", Math.min(60, minutes)))).toEqual([18, Number.NaN, 18]);
    expect(run.past.problems(run.from, run.to).map(({ code }) => code)).toEqual(["silent"]);
  });

  test.each<[string, Recorded[], Parameters<typeof replay>[2], RegExp]>([
    ["an empty one", [], {}, /has no reports/],
    ["one that ends before it begins", recorded, { from: at(10), to: at(5) }, /to a later one/],
    ["a dial beyond its range", recorded, { set: { "z.wanted": 99 } }, /range is 10..30 °C/],
  ])("%s is refused", (_, list, options, says) => expect(() => replay(house, list, options)).toThrow(says));
});

describe("where the rules differ from what was recorded", () => {
  const run = replay(house, recorded);

  test("stretch by stretch, with what was and what they want", () => {
    expect(differences(run, recorded)).toEqual([
      {
        output: "z.heater",
        title: "z.heater",
        known: 51 * MINUTE,
        agrees: 49 / 51,
        differences: [{ from: at(12), to: at(14), recorded: "on", wanted: "off" }],
      },
    ]);
    expect(whyInShort(run, "z.heater", at(13))).toMatch(/guard shut does not permit it: z.door is open/);
  });

  test("nothing is said of an output before it was recorded, nor of what was not known", () => {
    const some = inOrder(
      of("z.t", [0, 18], [10, 18], [20, 18]),
      of("z.door", [0, "closed"]),
      of("z.heater", [10, "off"], [15, undefined]),
    );
    expect(differences(replay(house, some), some)).toMatchObject([{ known: 5 * MINUTE, agrees: 0 }]);
  });
});

test("what does not fit the house is named, each kind once", () => {
  const list: Recorded[] = [
    ...of("z.t", [0, 20], [1, "warm"]),
    { at: at(2), name: "z.t", value: 40, unit: "%RH" },
    { at: at(3), name: "z.t", value: 68, unit: "°F" },
    ...of("z.door", [0, "ajar"], [1, "ajar"], [2, undefined]),
    ...of("x.y", [0, 1], [1, 2]),
    ...of("z.bell", [0, "anything"]),
  ];
  expect(misfitsOf(house, list).map(({ name, says, count }) => [name, says, count])).toEqual([
    ["z.t", expect.stringMatching(/^cannot be warm: it is a number/), 1],
    ["z.t", "is recorded in %RH, which does not fit °C", 1],
    ["z.door", "cannot be ajar: it is one of open/closed", 2],
    ["x.y", "is nothing of this house", 2],
  ]);
});

describe("the list of what happened", () => {
  const run = replay(house, recorded);
  const log = logOf(run);

  test("has changes of everything, in order of time, with rule and cause", () => {
    const later = log.filter((entry) => entry.at > at(0));
    expect(later.map((entry) => [(entry.at - at(0)) / MINUTE, entry.kind, entry.thing, entry.value, entry.rule])).toEqual([
      [10, "reading", "z.t", 18, undefined],
      [10, "output", "z.heater", "on", "warm"],
      [12, "reading", "z.door", "open", undefined],
      [12, "output", "z.heater", "off", "shut"],
      [14, "reading", "z.door", "closed", undefined],
      [14, "output", "z.heater", "on", "warm"],
      // Said again before it would have been too old.
      [20, "reading", "z.t", 18, undefined],
      [25, "mode", "m", "night", undefined],
      [25, "output", "z.lamp", 40, "light"],
      [30, "reading", "z.t", 21.5, undefined],
      [30, "output", "z.heater", "off", undefined],
      [35, "reading", "z.bell", "pressed", undefined],
      [35, "notice", undefined, "Somebody rings, 21.5 °C.", "ring"],
      [35, "message", "house/bell", "ding", undefined],
      [40, "reading", "z.t", 21.5, undefined],
      [50, "reading", "z.t", 21.5, undefined],
    ]);
    expect(later.find(({ kind }) => kind === "output")?.cause).toBe("rule warm: z.t was 18 °C at 00:10, below 19 °C (20 °C - 1)");
  });

  test("begins with what everything was", () => {
    const first = log.filter((entry) => entry.at === at(0)).map(({ thing, value, unit }) => [thing, value, unit]);
    expect(first).toContainEqual(["z.t", 20, "°C"]);
    expect(first).toContainEqual(["z.wanted", 20, "°C"]);
    expect(first).toContainEqual(["z.lamp", 0, "%"]);
  });

  test("is a recording, over which the rules do the same", () => {
    const again = replay(house, recordingOf(log), { from: run.from, to: run.to });
    expect(logOf(again)).toEqual(log);
  });
});

test("a sensor that fell silent is a silence, and no report: replayed, it falls silent by itself and nothing is refused", () => {
  const run = replay(house, inOrder(of("z.t", [0, 18], [60, 18])));
  const log = logOf(run);
  expect(log.filter(({ kind }) => kind === "silence").map(({ at: when, thing }) => [(when - START) / MINUTE, thing])).toEqual([
    [20, "z.t"],
  ]);
  expect(logOf(replay(house, recordingOf(log), { from: run.from, to: run.to }))).toEqual(log);
});

describe("law: a list of what happened, replayed, does not differ from itself", () => {
  const yard = parseLindenYard().house;

  /** What hung on a time before it began is not known to it: a bench that was within its band, a window shut long ago. */
  const settles = 2 * HOUR;

  test.each(["frost", "mild_rain", "heat_wave"])("a simulated day of the demo house, weather %s", (name) => {
    const weather = yard.weathers.find((one) => one.name === name);
    const run = simulate(yard, weather ? { weather, settles: false } : {});
    expectSame(yard, recordingOf(logOf(run)), run.from, run.to);
  });

  test.each(["silent_sensor", "open_door", "herbs", "damp_timber"])("trial %s of the demo house", (name) => {
    const trial = yard.trials.find((one) => one.name === name);
    if (!trial) throw new Error(`no trial ${name}`);
    const { from, to } = trialSpan(yard, trial);
    expectSame(yard, recordingOf(logOf(runTrial(yard, trial).run)), from, to);
  });

  function expectSame(of: House, list: readonly Recorded[], from: number, to: number): void {
    const found = differences(replay(of, list, { from, to }), list);
    expect(found.length).toBe(of.outputs.length);
    for (const { output, differences: own } of found)
      expect([output, own.filter((one) => one.from > from + settles)]).toEqual([output, []]);
  }
});
