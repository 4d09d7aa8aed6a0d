// Every construct of the language once, as it runs: a rule, a timeline, what must come of it, to the millisecond.
import { checkHouse, Journal, parseHouse, tellHouse, type Value, why } from "modrik";
import { describe, expect, test } from "vitest";
import { changesOf, engineOf, houseText, type Input, play, type Setting, START } from "./playing.js";

const hold = (condition: string) => `rule r { while ${condition} hold z.o at on }`;
const lamp: Setting = { outputs: "output l: 0..100 %" };
type Case = [what: string, rules: string, setting: Setting, inputs: Input[], changes: string[]];

function runs(cases: Case[], seconds = 3600): void {
  test.each(cases)("%s", (_, rules, setting, inputs, changes) => {
    expect(play(engineOf(rules, setting), inputs, seconds)).toEqual(changes);
  });
}

describe("conditions", () => {
  runs(
    [
      [
        "ordered words",
        hold("z.grade at least fair"),
        {},
        [
          [0, "z.grade", "good"],
          [60, "z.grade", "poor"],
          [120, "z.grade", "good"],
        ],
        ["60 o on", "120 o off"],
      ],
      [
        "any of a name",
        hold("any x below 5 °C"),
        {},
        [
          [0, "z.x", 6],
          [60, "z.x", 4],
        ],
        ["60 o on", "660 o off"],
      ],
      [
        "any sensor is unknown",
        hold("any sensor is unknown"),
        {},
        [
          [0, "z.x", 1],
          [0, "z.y", 1],
          [0, "z.damp", 1],
          [0, "z.door", "open"],
          [30, "z.grade", "good"],
        ],
        ["0 o on", "30 o off", "600 o on"],
      ],
      [
        "a memory with a limit and a pause",
        hold("(z.door is open) until (m is night), at most 10 s then pause 5 s"),
        {},
        [
          [0, "z.door", "open"],
          [22, "z.door", "closed"],
        ],
        ["0 o on", "10 o off", "15 o on", "25 o off"],
      ],
      [
        "ended by its reset it does not pause",
        hold("(z.door is open) until (m is night), at most 10 s then pause 5 s"),
        {},
        [
          [0, "z.door", "open"],
          [4, "m", "night"],
          [6, "m", "day"],
          [47, "z.door", "closed"],
        ],
        ["0 o on", "4 o off", "6 o on", "16 o off", "21 o on", "31 o off", "36 o on", "46 o off"],
      ],
      [
        "a press in the last",
        hold("z.bell was pressed in the last 5 s"),
        {},
        [
          [3, "z.bell", 1],
          [6, "z.bell", 1],
        ],
        ["3 o on", "11 o off"],
      ],
      [
        "a countdown",
        `countdown c = 20 s rule r { while c is running hold z.o at on when z.bell is pressed do { start c } }`,
        {},
        [
          [1, "z.bell", 1],
          [11, "z.bell", 1],
        ],
        ["1 o on", "31 o off"],
      ],
      ["the clock within a span", hold("clock from 12:01 to 12:02"), {}, [], ["60 o on", "120 o off"]],
      [
        "a span of the clock that a dial moves",
        hold("clock from z.evening to 23:00"),
        {},
        [[10, "z.evening", 12 * 3600e3 + 30e3]],
        ["30 o on"],
      ],
      ["the clock itself, which moves", hold("clock.time at least 12:00:30 and clock.weekday is Sat"), {}, [], ["30 o on"]],
      [
        "a let",
        `let warm = z.x above z.target ${hold("warm")}`,
        {},
        [
          [0, "z.x", 21],
          [5, "z.target", 22],
        ],
        ["0 o on", "5 o off"],
      ],
      [
        "the age of a report",
        hold("z.y.age above 90 s"),
        {},
        [
          [0, "z.y", 1],
          [60, "z.y", 1],
        ],
        ["150.001 o on"],
      ],
    ],
    700,
  );
  const long: Case[] = [
    [
      "how long a schedule still lasts",
      `schedule s { daily 12:10 to 12:20 } ${hold("s.begins_in below 5 min or during s and s.ends_in at most 2 min")}`,
      {},
      [],
      ["300.001 o on", "1200 o off"],
    ],
    [
      "a mean over a window crosses at its own instant",
      hold("mean(z.y over 10 min) above 25 °C"),
      {},
      [
        [0, "z.y", 20],
        [600, "z.y", 30],
      ],
      ["900.001 o on"],
    ],
    [
      "a rise over a window",
      hold("rise(z.y over 2 min) at least 3 K"),
      {},
      [
        [0, "z.y", 20],
        [60, "z.y", 22],
        [100, "z.y", 23],
      ],
      ["100 o on", "180 o off"],
    ],
    [
      "how long something was so",
      hold("time(z.door is open over 5 min) at least 2 min"),
      {},
      [
        [0, "z.door", "open"],
        [60, "z.door", "closed"],
        [120, "z.door", "open"],
      ],
      ["180 o on"],
    ],
    [
      "how often it became so",
      hold("count(z.door is open over 5 min) at least 2"),
      {},
      [
        [0, "z.door", "closed"],
        [10, "z.door", "open"],
        [20, "z.door", "closed"],
        [30, "z.door", "open"],
      ],
      ["30 o on", "310 o off"],
    ],
    [
      "over a silence: what was true before it has not become true again",
      hold("count(z.x above 20 °C over 30 min) at least 2"),
      {},
      [
        [0, "z.x", 15],
        [10, "z.x", 25],
        [700, "z.x", 25],
        [710, "z.x", 15],
        [720, "z.x", 25],
      ],
      ["720 o on", "1810 o off"],
    ],
    [
      "the highest over a window",
      hold("max(z.y over 1 min) above 25 °C"),
      {},
      [
        [0, "z.y", 26],
        [10, "z.y", 20],
      ],
      ["0 o on", "70 o off"],
    ],
    [
      "over a window that a dial makes longer: what was before it counts",
      hold("max(z.y over z.span) above 25 °C"),
      { outputs: "output o: on/off dial span: 1..30 min, at first 1 min" },
      [
        [0, "z.y", 26],
        [10, "z.y", 20],
        [600, "z.y", 20],
        [900, (engine, at) => engine.set("z.span", 20, at)],
      ],
      ["0 o on", "70 o off", "900 o on", "1210 o off"],
    ],
    [
      "what was so within this instant alone has not been, for steps too",
      "rule a { when the house starts do { set z.o to on if z.o was off in the last 10 s { set z.p to on } } }",
      { outputs: "output o: on/off output p: on/off" },
      [],
      ["0 o on"],
    ],
    [
      "what was so until this instant has been",
      "rule a { when z.door is open do { set z.o to on if z.o was off in the last 10 s { set z.p to on } } }",
      { outputs: "output o: on/off output p: on/off" },
      [[60, "z.door", "open"]],
      ["60 o on", "60 p on"],
    ],
    ...(
      [
        ["2 min", ["300 o on"]],
        ["20 min", []],
      ] as const
    ).map(
      ([length, changes]): Case => [
        `how long something has to have lasted, as the step before has set it: ${length}`,
        `rule a { when z.damp above 50 %RH do { set z.span to ${length} if (z.door is closed) for z.span { set z.o to on } } }`,
        { outputs: "output o: on/off dial span: 1..30 min, at first 10 min" },
        [
          [0, "z.door", "closed"],
          [300, "z.damp", 60],
        ],
        [...changes],
      ],
    ),
    [
      "a state that is so before and after the steps, though not amid them, ends what was asked until then",
      "rule a { when z.door is open do { set m to night set z.o to on until m is day set m to day } }",
      {},
      [[60, "z.door", "open"]],
      [],
    ],
    [
      "and what waits for it",
      "rule a { when z.door is open do { set m to night wait until m is day set z.o to on } } rule b { when z.door is open do { set m to day } }",
      {},
      [[60, "z.door", "open"]],
      ["60 o on"],
    ],
    [
      "a preset ends as one, by a moment that its first setting brings about",
      "rule a { when z.door is open do { apply cosy until z.o becomes on } when z.door is closed do { apply cosy } } preset cosy { z.o at on, z.l at 70 % }",
      { outputs: "output o: on/off output l: 0..100 %" },
      [
        [60, "z.door", "open"],
        [70, "z.door", "closed"],
        [80, "z.door", "open"],
      ],
      ["70 o on", "70 l 70"],
    ],
    [
      "an output that was on between two steps alone has not gone off",
      "rule a as urgent { when z.door is open do { set g to on until z.o becomes off } } guard n { never together z.p, z.o }",
      { outputs: "output o: on/off output p: on/off }\ngroup g = z.o, z.p\nzone y {" },
      [[60, "z.door", "open"]],
      ["60 p on"],
    ],
    [
      "the limit of an until, and its pause, while nobody knows of its reset",
      hold("(z.door is open) until (z.x above 20 °C), at most 15 min then pause 5 min"),
      {},
      [
        [0, "z.x", 18],
        [0, "z.door", "open"],
        [1000, "z.x", 18],
      ],
      // Unknown from 10 min on; over at 15 min, and paused until 20 min.
      ["0 o on", "600 o off", "1200 o on", "1600 o off"],
    ],
    [
      "the limit of an until without a pause, while nobody knows of its reset",
      hold("(z.door is open) until (z.x above 20 °C), at most 15 min"),
      {},
      [
        [0, "z.x", 18],
        [0, "z.door", "open"],
        [1000, "z.x", 18],
      ],
      ["0 o on", "600 o off"],
    ],
  ];
  runs(long);
});

describe("values", () => {
  const shown = (value: string, setting: Setting = {}) => engineOf(`let v = ${value}`, setting);
  const value = (expression: string, inputs: Input[], setting: Setting = {}): Value | undefined => {
    const engine = shown(expression, setting);
    play(engine, inputs, 60);
    const found = engine.value("v");
    return typeof found === "number" ? Math.round(found * 1000) / 1000 : found;
  };
  const both: Input[] = [
    [0, "z.x", 20],
    [0, "z.y", 25],
  ];
  test.each<[string, string, Input[], Value | undefined]>([
    ["mean", "mean(z.x, z.y)", both, 22.5],
    ["unknown members are left out", "mean(z.x, z.y)", [[0, "z.x", 20]], 20],
    ["but not all of them", "mean(z.x, z.y, at least 2 known)", [[0, "z.x", 20]], undefined],
    ["every of a name", "max(every x in z)", both, 20],
    ["median", "median(z.x, z.y, 21 °C)", both, 21],
    ["spread is a difference", "spread(z.x, z.y)", both, 5],
    ["the first known", "first_known(z.x, z.y)", [[0, "z.y", 25]], 25],
    ["a sum of differences", "z.x + 2 * (z.y - z.x)", both, 30],
    ["scale, clamped", "scale(z.x, 10..30 °C to 0..100 %)", both, 50],
    ["scale the other way, over the end", "scale(z.y, 0..20 °C to 0..-4 K)", both, -4],
    ["clamp", "clamp(z.y, 10..22 °C)", both, 22],
    ["abs and round", "abs(round(z.x - 25.6 °C))", both, 6],
    ["if", "if z.x above 22 °C then 1 % else 2 %", both, 2],
    ["pick by a number", "pick by z.x { below 10 °C: 1 %, below 21 °C: 2 %, otherwise: 3 % }", both, 2],
    ["pick by a number, at the bound", "pick by z.x { below 20 °C: 1 %, otherwise: 3 % }", both, 3],
    ["pick by a word", "pick by m { day: 1 %, night: 2 % }", both, 1],
    ["pick of what is unknown", "pick by z.x { below 10 °C: 1 %, otherwise: 3 % }", [], undefined],
    ["pick with its unknown case", "pick by z.x { below 10 °C: 1 %, otherwise: 3 %, unknown: 9 % }", [], 9],
    ["a colour", "pick by z.x { below 10 °C: white, otherwise: red, unknown: amber }", both, "#ff0000"],
    ["a colour by its digits", 'colour("#0A0b0c")', both, "#0a0b0c"],
  ])("%s", (_, expression, inputs, expected) => {
    expect(value(expression, inputs)).toBe(expected);
  });

  test.each([
    ["round(70.4 °F)", 70],
    ["round(70.6 °F)", 71],
    ["round(1.4 kPa)", 1],
    ["round(2.6 kW)", 3],
    ["round(21.4 °C)", 21],
    ["round(-0.6 K)", -1],
  ])("rounds to whole numbers of the unit that is written: %s", (expression, expected) => {
    expect(value(expression, [])).toBe(expected);
  });

  // ASHRAE Handbook of Fundamentals, psychrometric tables at sea level; the last after Steadman's own table.
  test.each([
    ["dew_point(20 °C, 50 %RH)", 9.3],
    ["dew_point(25 °C, 80 %RH)", 21.3],
    ["dew_point(0 °C, 60 %RH)", -6.8],
    ["absolute_humidity(20 °C, 100 %RH)", 17.3],
    ["absolute_humidity(30 °C, 50 %RH)", 15.2],
    ["vapour_pressure_deficit(25 °C, 60 %RH)", 1.27],
    ["felt_temperature(30 °C, 60 %RH)", 34.4],
  ])("%s", (expression, figure) => {
    const found = engineOf(`let v = ${expression}`);
    play(found, [], 1);
    expect(Math.abs((found.value("v") as number) - figure)).toBeLessThan(0.1);
  });

  test("a profile steps, another ramps", () => {
    const profiles =
      "profile steps { daily 17 °C from 06:00, 20 °C from 12:10 } profile slope ramped { daily 0 % from 12:00, 60 % from 13:00 }";
    const engine = engineOf("let a = steps let b = slope", { more: profiles });
    engine.advanceTo(START + 5 * 60e3);
    expect([engine.value("a"), engine.value("b")]).toEqual([17, 5]);
    engine.advanceTo(START + 10 * 60e3);
    expect([engine.value("steps"), engine.value("slope")]).toEqual([20, 10]);
  });
});

describe("state sentences", () => {
  runs(
    [
      [
        "a live value",
        "rule r { hold z.l at scale(z.y, 0..10 °C to 0..100 %) }",
        lamp,
        [
          [0, "z.y", 5],
          [60, "z.y", 2],
        ],
        ["0 l 50", "60 l 20"],
      ],
      [
        "cycle, beginning with on",
        "rule r { while z.door is open cycle z.o on 10 s off 20 s }",
        {},
        [
          [5, "z.door", "open"],
          [50, "z.door", "closed"],
        ],
        ["5 o on", "15 o off", "35 o on", "45 o off"],
      ],
      [
        "in proportion",
        "rule r { keep z.y at 20 °C raise with z.l in proportion over 2 K }",
        lamp,
        [
          [0, "z.y", 19],
          [60, "z.y", 21],
          [120, "z.y", 15],
        ],
        ["0 l 50", "60 l 0", "120 l 100"],
      ],
      [
        "in proportion in time",
        "rule r { keep z.y at 20 °C raise with z.o in proportion over 2 K, cycle 100 s }",
        {},
        [
          [0, "z.y", 19.5],
          [50, "z.y", 19],
          [130, "z.y", 20],
        ],
        ["0 o on", "25 o off", "100 o on", "150 o off"],
      ],
      [
        "a group",
        "group both = z.a, z.b rule r { while z.door is open hold both at on }",
        { outputs: "output a: on/off output b: on/off" },
        [[5, "z.door", "open"]],
        ["5 a on", "5 b on"],
      ],
      [
        "on at most, then off at least",
        hold("z.door is open"),
        { outputs: "output o: on/off, on at most 30 s then off at least 10 s" },
        [[0, "z.door", "open"]],
        ["0 o on", "30 o off", "40 o on", "70 o off", "80 o on", "110 o off", "120 o on", "150 o off", "160 o on"],
      ],
      [
        "a run that was let go in the very instant in which its longest is over rests too, one let go before does not",
        hold("z.door is open"),
        { outputs: "output o: on/off, on at most 30 s then off at least 10 s" },
        [
          [0, "z.door", "open"],
          [30, "z.door", "closed"],
          [32, "z.door", "open"],
          [69, "z.door", "closed"],
          [71, "z.door", "open"],
        ],
        ["0 o on", "30 o off", "40 o on", "69 o off", "71 o on", "101 o off", "111 o on", "141 o off", "151 o on"],
      ],
      [
        "a device that takes a target",
        "rule r { while z.door is open hold z.v at z.target }",
        { outputs: "output v: 5..28 °C, at rest 8 °C" },
        [
          [5, "z.door", "open"],
          [9, "z.target", 22],
        ],
        ["5 v 20", "9 v 22"],
      ],
      [
        "a lamp of colour",
        "rule r { while z.door is open hold z.l at 40 %, z.c at amber }",
        { outputs: "output l: 0..100 % output c: colour of z.l" },
        [[5, "z.door", "open"]],
        ["5 l 40", "5 c #ffbf00"],
      ],
      [
        "for each",
        "for each v in open, closed { rule r_{v} { while z.door is v hold z.l at pick by z.door { open: 10 %, closed: 20 % } } }",
        lamp,
        [
          [5, "z.door", "open"],
          [6, "z.door", "closed"],
        ],
        ["5 l 10", "6 l 20"],
      ],
    ],
    170,
  );
});

describe("triggers", () => {
  const count = (trigger: string) => `rule r { when ${trigger} do { raise z.l by 10 % } }`;
  runs(
    [
      [
        "changes",
        count("z.grade changes"),
        lamp,
        [
          [0, "z.grade", "good"],
          [5, "z.grade", "good"],
          [9, "z.grade", "fair"],
        ],
        ["9 l 10"],
      ],
      ["changes of a mode, whose first value is known", count("m changes"), lamp, [[3, "m", "night"]], ["3 l 10"]],
      [
        "changes by, from where it last fired",
        count("z.y changes by 2 K"),
        lamp,
        [
          [0, "z.y", 20],
          [5, "z.y", 21],
          [9, "z.y", 22],
          [10, "z.y", 21],
          [12, "z.y", 20],
        ],
        ["9 l 10", "12 l 20"],
      ],
      [
        "becomes",
        count("z.grade becomes poor"),
        lamp,
        [
          [0, "z.grade", "good"],
          [5, "z.grade", "poor"],
        ],
        ["5 l 10"],
      ],
      [
        "pressed, each time",
        count("z.bell is pressed"),
        lamp,
        [
          [5, "z.bell", 1],
          [6, "z.bell", 1],
          [7, "z.bell", 1],
        ],
        ["5 l 10", "6 l 20", "7 l 30"],
      ],
      ["every, aligned to midnight", count("every 50 s"), lamp, [], ["50 l 10", "100 l 20", "150 l 30"]],
      ["the house starts", count("the house starts"), lamp, [], ["0 l 10"]],
      [
        "a countdown runs out, and not when it is stopped",
        `countdown c = 10 s ${count("c ends")} rule s { when z.door is open do { start c } when z.door is closed do { stop c } }`,
        lamp,
        [
          [0, "z.door", "open"],
          [20, "z.door", "closed"],
          [21, "z.door", "open"],
          [25, "z.door", "closed"],
        ],
        ["10 l 10"],
      ],
      ["at a dial's time", count("at z.evening"), lamp, [[1, "z.evening", 12 * 3600e3 + 90e3]], ["90 l 10"]],
    ],
    170,
  );
  runs([["becomes unknown", count("z.x becomes unknown"), lamp, [[0, "z.x", 1]], ["600 l 10"]]]);
});

describe("steps", () => {
  const open = (steps: string, more = "") => `${more} rule r { when z.door is open do { ${steps} } }`;
  const two: Setting = { outputs: "output l: 0..100 % output o: on/off" };
  runs(
    [
      [
        "toggle",
        "rule r { when z.bell is pressed do { toggle z.o } }",
        {},
        [
          [1, "z.bell", 1],
          [2, "z.bell", 1],
        ],
        ["1 o on", "2 o off"],
      ],
      ["lower, clamped", open("set z.l to 15 % lower z.l by 10 % lower z.l by 10 %"), lamp, [[1, "z.door", "open"]], []],
      [
        "a ramp, at most once a second and by half a per cent, its ends exactly",
        open("ramp z.l from 0 % to 2 % over 10 s set z.o to on"),
        two,
        [[1, "z.door", "open"]],
        ["3.5 l 0.5", "6 l 1", "8.5 l 1.5", "11 l 2", "11 o on"],
      ],
      [
        "of two ramps that end together, the one asked later",
        `rule a { when z.door is open do { ramp z.l from 0 % to 70 % over 7 s } }
         rule b { when z.bell is pressed do { ramp z.l from 20 % to 100 % over 8 s } }`,
        lamp,
        [
          [1, "z.bell", 1],
          [2, "z.door", "open"],
        ],
        ["1 l 20", "2 l 0", "3 l 10", "4 l 20", "5 l 30", "6 l 40", "7 l 50", "8 l 60", "9 l 70"],
      ],
      [
        "release takes back what plain steps asked",
        "rule r { hold z.l at 5 % } rule s as urgent { when z.door is open do { set z.l to 50 % wait 5 s release z.l } }",
        lamp,
        [[1, "z.door", "open"]],
        ["0 l 5", "1 l 50", "6 l 5"],
      ],
      [
        "if, else if, else",
        open("if z.y above 30 °C { set z.l to 1 % } else if z.y above 20 °C { set z.l to 2 % } else { set z.l to 3 % }"),
        lamp,
        [
          [0, "z.y", 25],
          [1, "z.door", "open"],
        ],
        ["1 l 2"],
      ],
      ["end here", open("if m is day { set z.l to 1 % end here } set z.l to 2 %"), lamp, [[1, "z.door", "open"]], ["1 l 1"]],
      [
        "apply a preset",
        open("apply p", "preset p { z.l at 40 %, z.o at on, z.target at 25 °C }"),
        two,
        [[1, "z.door", "open"]],
        ["1 l 40", "1 o on"],
      ],
      [
        "set until a moment",
        open("set z.l to 50 % until z.bell is pressed"),
        lamp,
        [
          [1, "z.door", "open"],
          [9, "z.bell", 1],
        ],
        ["1 l 50", "9 l 0"],
      ],
      ["set until a time", open("set z.l to 50 % until 12:00:30"), lamp, [[1, "z.door", "open"]], ["1 l 50", "30 l 0"]],
      [
        "set until a schedule begins",
        open("set z.l to 50 % until s begins", "schedule s { daily 12:00:20 to 13:00 }"),
        lamp,
        [[1, "z.door", "open"]],
        ["1 l 50", "20 l 0"],
      ],
      [
        "wait until a moment",
        open("wait until z.bell is pressed set z.l to 50 %"),
        lamp,
        [
          [1, "z.door", "open"],
          [9, "z.bell", 1],
        ],
        ["9 l 50"],
      ],
      [
        "wait until something changes",
        open("wait until z.y changes by 1 K set z.l to 50 %"),
        lamp,
        [
          [0, "z.y", 20],
          [1, "z.door", "open"],
          [5, "z.y", 20.5],
          [9, "z.y", 21],
        ],
        ["9 l 50"],
      ],
    ],
    60,
  );

  const pump: Setting = { outputs: "output p: on/off, delivers 12 ml/s after 0.4 s, on at least 1 min" };
  const dose =
    'rule r { when z.bell is pressed do { dose z.p 130 ml tell "done" } } guard g { permit z.p on only while z.door is closed }';
  test("a dose runs dead time and amount by rate", () => {
    const engine = engineOf(dose, { ...pump, outputs: "output p: on/off, delivers 12 ml/s after 0.4 s" });
    expect(
      play(
        engine,
        [
          [0, "z.door", "closed"],
          [10, "z.bell", 1],
        ],
        60,
      ),
    ).toEqual(["10 p on", "21.234 p off"]);
    expect(engine.takeNotices().map(({ at }) => (at - START) / 1000)).toEqual([21.234]);
  });
  test("a dose ends at its first interruption, says how much it gave, and ends its steps", () => {
    const journal = new Journal();
    const engine = engineOf(dose, { ...pump, journal });
    expect(
      play(
        engine,
        [
          [0, "z.door", "closed"],
          [60, "z.bell", 1],
          [62.25, "z.door", "open"],
        ],
        90,
      ),
    ).toEqual(["60 p on", "62.25 p off"]);
    const texts = journal.records.flatMap(({ event }) => (event.kind === "problem" ? [event.text] : []));
    expect(texts).toEqual(["z.p: 22 of 130 ml, stopped by guard g"]);
    expect(engine.takeNotices()).toEqual([]);
  });

  test("notices are held back and counted, messages are sent", () => {
    const engine = engineOf(
      'rule r { when z.bell is pressed do { tell "Rang", at most once in 10 s send "{m}" to "bell/{z.door}" } }',
    );
    play(
      engine,
      [
        [0, "z.door", "open"],
        [1, "z.bell", 1],
        [2, "z.bell", 1],
        [3, "z.bell", 1],
        [15, "z.bell", 1],
      ],
      20,
    );
    expect(engine.takeNotices().map(({ text }) => text)).toEqual(["Rang", "Rang (2 more)"]);
    expect(engine.takeMessages().map(({ text, to }) => `${to} ${text}`)).toEqual(Array(4).fill("bell/open day"));
  });
});

describe("a person", () => {
  const by =
    (action: Parameters<ReturnType<typeof engineOf>["person"]>[0]) => (engine: ReturnType<typeof engineOf>, at: number) =>
      engine.person(action, at);
  const byHand = (value: Value, lasts?: number) =>
    by({ kind: "switches", output: "z.o", value, ...(lasts !== undefined && { lasts }) });
  const rules = `${hold("z.door is open")} guard g { permit z.o on only while z.y below 60 °C }`;
  runs(
    [
      [
        "switches for a time",
        rules,
        {},
        [
          [0, "z.y", 20],
          [5, byHand("on", 20e3)],
        ],
        ["5 o on", "25 o off"],
      ],
      [
        "against a rule",
        rules,
        {},
        [
          [0, "z.y", 20],
          [5, "z.door", "open"],
          [9, byHand("off", 20e3)],
        ],
        ["5 o on", "9 o off", "29 o on"],
      ],
      [
        "never against a guard",
        rules,
        {},
        [
          [0, "z.y", 20],
          [5, byHand("on", 20e3)],
          [9, "z.y", 70],
        ],
        ["5 o on", "9 o off"],
      ],
      [
        "releases",
        rules,
        {},
        [
          [0, "z.y", 20],
          [5, byHand("on")],
          [9, by({ kind: "releases", output: "z.o" })],
        ],
        ["5 o on", "9 o off"],
      ],
      [
        "until a mode changes that a rule mentions",
        hold("m is night"),
        {},
        [
          [5, byHand("on")],
          [9, "m", "night"],
          [12, byHand("off")],
          [15, "m", "day"],
          [16, "m", "night"],
        ],
        ["5 o on", "12 o off", "16 o on"],
      ],
      [
        "else for as long as a hand lasts",
        rules,
        { place: 'clock "UTC" hand lasts 30 s' },
        [
          [0, "z.y", 20],
          [5, byHand("on")],
        ],
        ["5 o on", "35 o off"],
      ],
      [
        "until they release it, whatever changes meanwhile",
        hold("m is night"),
        { place: 'clock "UTC" hand lasts 10 s' },
        [
          [5, by({ kind: "switches", output: "z.o", value: "on", lasts: "until released" })],
          [9, "m", "night"],
          [12, "m", "day"],
          [40, by({ kind: "releases", output: "z.o" })],
        ],
        ["5 o on", "40 o off"],
      ],
      [
        "pauses a rule, which goes on by itself",
        hold("z.door is open"),
        {},
        [
          [0, "z.door", "open"],
          [5, by({ kind: "pauses", rule: "r", lasts: 10e3 })],
        ],
        ["0 o on", "5 o off", "15 o on"],
      ],
      [
        "pauses a rule at the very start, which then does not even start",
        "rule r { when the house starts do { set z.o to on } }",
        {},
        [[0, by({ kind: "pauses", rule: "r" })]],
        [],
      ],
      [
        "resumes it",
        hold("z.door is open"),
        {},
        [
          [0, "z.door", "open"],
          [5, by({ kind: "pauses", rule: "r" })],
          [9, by({ kind: "resumes", rule: "r" })],
        ],
        ["0 o on", "5 o off", "9 o on"],
      ],
      [
        "runs the steps of a rule, whatever is provided",
        "rule r { when z.door is open provided m is night do { set z.o to on } }",
        {},
        [[5, by({ kind: "runs", rule: "r" })]],
        ["5 o on"],
      ],
      [
        "applies a preset, starts a countdown",
        `preset p { z.o at on } countdown c = 9 s rule r { when c ends do { set z.target to 25 °C } }`,
        {},
        [
          [5, by({ kind: "applies", preset: "p" })],
          [6, by({ kind: "starts", countdown: "c" })],
        ],
        ["5 o on"],
      ],
      [
        "starts a countdown for another time, again where it runs",
        `countdown c = 9 s rule r { when c ends do { set z.o to on } }`,
        {},
        [
          [5, by({ kind: "starts", countdown: "c", lasts: 20e3 })],
          [8, by({ kind: "starts", countdown: "c", lasts: 3e3 })],
        ],
        ["11 o on"],
      ],
    ],
    60,
  );
});

describe("the clock and the house's nights", () => {
  const at = "rule r { when at 12:10 do { set z.l to 50 % for 1 min } }";
  runs(
    [
      [
        "a moment that the clock passes over is made up for",
        at,
        lamp,
        [[300, (engine, when) => engine.jumpClock(400e3, when)]],
        ["300 l 50", "360 l 0"],
      ],
      ["one long ago is not", at, lamp, [[300, (engine, when) => engine.jumpClock(700e3, when)]], []],
      [
        "set back, it does not fire again",
        at,
        lamp,
        [[700, (engine, when) => engine.jumpClock(-200e3, when)]],
        ["600 l 50", "660 l 0"],
      ],
      [
        "durations go on",
        "rule r { when z.bell is pressed do { set z.l to 50 % for 1 min } }",
        lamp,
        [
          [5, "z.bell", 1],
          [20, (engine, when) => engine.jumpClock(3600e3, when)],
        ],
        ["5 l 50", "65 l 0"],
      ],
    ],
    1500,
  );

  const moments =
    "rule r { when at 12:10 do { set z.l to 50 % } } rule s { while z.door has been open for 5 min hold z.o at on }";
  const two: Setting = { outputs: "output l: 0..100 % output o: on/off, off when control is lost" };
  const down = (seconds: number, upAt: number) => {
    const engine = engineOf(moments, two);
    play(engine, [[0, "z.door", "open"]], seconds);
    const journal = new Journal();
    const again = engineOf(moments, { ...two, restore: engine.snapshot(), at: START + upAt * 1000, journal });
    again.advanceTo(START + 3600e3);
    return {
      changes: changesOf(again),
      problems: journal.records.flatMap(({ event }) => (event.kind === "problem" ? [event.code] : [])),
    };
  };
  test("after a restart every output is sent anew, and what became true while down is an edge", () => {
    expect(down(100, 400)).toEqual({ changes: ["400 l 0", "400 o on", "600 l 50"], problems: [] });
  });
  test("moments late by less than five minutes are made up for, others noted", () => {
    expect(down(100, 800).changes).toContain("800 l 50");
    expect(down(100, 1000)).toMatchObject({ changes: ["1000 l 0", "1000 o on"], problems: ["missed"] });
  });
  test("an edited house keeps what fits and lists the rest", () => {
    const engine = engineOf(at, { ...lamp, more: "dial extra: 1..9 %, at first 5 % mode gone: a/b, at first a" });
    engine.set("extra", 9, START);
    engine.set("z.target", 25, START);
    engine.advanceTo(START);
    const edited = engineOf(at, { ...lamp, more: "dial extra: 1..6 %, at first 5 %", restore: engine.snapshot() });
    expect(edited.leftOut).toEqual(["gone", "extra"]);
    expect([edited.value("z.target"), edited.value("extra")]).toEqual([25, 5]);
  });
});

describe("the sun and calendars", () => {
  const bern = 'place 46.95 N, 7.45 E clock "Europe/Zurich"';
  runs(
    [
      [
        "a season",
        `schedule frost { only Oct 15..Mar 14 daily 00:00 to 24:00 } ${hold("during frost")}`,
        {},
        [],
        ["0 o on", "43200 o off"],
      ],
      ["holidays", `schedule work { Mon..Fri 12:00 to 13:00 except 2026-03-16 } ${hold("during work")}`, {}, [], []],
      [
        "a calendar file",
        `schedule away from calendar "away.ics" ${hold("during away")}`,
        { calendars: { "away.ics": [{ from: START + 10e3, to: START + 20e3 }] } },
        [],
        ["10 o on", "20 o off"],
      ],
    ],
    86400,
  );

  // Almanac for Bern, 14 and 15 March 2026: sunset 18:33, sunrise 06:43 local time, to a minute or two.
  test.each([
    [
      "by its times",
      "schedule dark { daily sunset + 20 min to sunrise - 20 min }",
      "during dark",
      [17 * 60 + 53, 24 * 60 + 5 * 60 + 23],
    ],
    ["by its height", "", "sun.elevation below -0.3 °", [17 * 60 + 33, 24 * 60 + 5 * 60 + 43]],
  ])("the sun %s", (_, more, condition, minutes) => {
    const engine = engineOf(`${more} ${hold(condition)}`, { place: bern });
    engine.advanceTo(START + 86400e3);
    const found = engine.takeChanges().map(({ at }) => (at - START) / 60e3 + 12 * 60);
    expect(found).toHaveLength(2);
    found.forEach((minute, index) => expect(Math.abs(minute - (minutes[index] as number))).toBeLessThan(4));
  });

  test("where the sun does not set, nothing fails", () => {
    const engine = engineOf(`schedule dark { daily sunset to sunrise } ${hold("during dark")}`, {
      place: 'place 78 N, 15 E clock "UTC"',
      at: Date.parse("2026-06-21T00:00Z"),
    });
    engine.advanceTo(Date.parse("2026-06-25T00:00Z"));
    expect(engine.takeChanges()).toEqual([]);
  });
});

describe("a rule on watch", () => {
  const rules = (watch: string) => `
    rule warm { keep z.x at z.target ± 1 K raise with z.o }
    rule early as ${watch} { while z.x below 22 °C hold z.o at on }
    rule steps as ${watch} { when z.bell is pressed do {
      set z.target to 25 °C toggle z.o start c release z.o send "x" to "y" apply p wait 5 s tell "seen"
    } }`;
  const more = "countdown c = 9 s preset p { z.o at on }";

  test("changes nothing of outputs, dials and countdowns, and tells what it tells", () => {
    const engine = engineOf(rules("watch"), { more });
    expect(
      play(
        engine,
        [
          [1, "z.x", 21],
          [2, "z.bell", 0],
          [20, "z.x", 18.5],
        ],
        30,
      ),
    ).toEqual(["20 o on"]);
    expect([engine.value("z.target"), engine.takeMessages(), engine.takeNotices().map(({ text }) => text)]).toEqual([
      20,
      [],
      ["seen"],
    ]);
    // The same in earnest does all of it.
    const earnest = engineOf(rules("urgent"), { more });
    play(
      earnest,
      [
        [1, "z.x", 21],
        [2, "z.bell", 0],
      ],
      30,
    );
    expect([earnest.value("z.target"), earnest.takeMessages().length, earnest.value("z.o")]).toEqual([25, 1, "on"]);
  });

  test("stands in why with what it would do, and in the house that is told", () => {
    const journal = new Journal();
    const engine = engineOf(rules("watch"), { more, journal });
    play(engine, [[1, "z.x", 21]], 30);
    const run = { past: journal, from: START, to: START + 30_000 };
    const says = JSON.stringify(why(run, "z.o", START + 20_000));
    expect(says).toContain("rule early, on watch, would set it to on");
    expect(says).toContain("z.x is 21 °C");
    expect(JSON.stringify(tellHouse(engine.house, { at: START }))).toContain("rule early, on watch, asks for nothing, held: on");
  });

  test("is no conflict with another", () => {
    const { house } = parseHouse({ "a.modrik": houseText("rule a { hold z.o at on } rule b as watch { hold z.o at off }") });
    expect(checkHouse(house).map(({ code }) => code)).not.toContain("conflict");
  });
});
