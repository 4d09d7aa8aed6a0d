// What a house does, case by case: each a rule, a timeline and what must come of it, to the millisecond.
import { type Engine, Journal } from "modrik";
import { describe, expect, test } from "vitest";
import { engineOf, type Input, play, START } from "./playing.js";

const hold = (condition: string) => `rule r { while ${condition} hold z.o at on }`;

describe("conditions over time", () => {
  test.each<[string, string, Input[], string[]]>([
    [
      "a hold fires at its own instant",
      "z.x below 20 °C for 6 min",
      [
        [0, "z.x", 19],
        [540, "z.x", 18],
      ],
      ["360 o on", "1140 o off"],
    ],
    [
      "a break restarts the count",
      "z.x below 20 °C for 6 min",
      [
        [0, "z.x", 19],
        [180, "z.x", 21],
        [300, "z.x", 19],
      ],
      ["660 o on", "900 o off"],
    ],
    [
      "false at exactly the end: it does not fire",
      "z.x below 20 °C for 6 min",
      [
        [0, "z.x", 19],
        [360, "z.x", 21],
      ],
      [],
    ],
    [
      "broken and fixed within an instant: no break",
      "z.door is open for 1 min",
      [
        [0, "z.door", "open"],
        [30, "z.door", "closed"],
        [30, "z.door", "open"],
      ],
      ["60 o on"],
    ],
    [
      "in the last: exactly D after it ended",
      "z.door was open in the last 95 s",
      [
        [0, "z.door", "open"],
        [7, "z.door", "closed"],
        [52, "z.door", "open"],
        [58, "z.door", "closed"],
      ],
      ["0 o on", "153 o off"],
    ],
    [
      "in the last: what came back counts on",
      "z.door was open in the last 10 s",
      [
        [0, "z.door", "open"],
        [5, "z.door", "closed"],
        [15, "z.door", "open"],
        [16, "z.door", "closed"],
      ],
      ["0 o on", "26 o off"],
    ],
    [
      "a memory: the reset first",
      "z.x above 22 °C until below 18 °C",
      [
        [0, "z.x", 23],
        [60, "z.x", 18],
        [120, "z.x", 17.9],
        [180, "z.x", 22],
      ],
      ["0 o on", "120 o off"],
    ],
    [
      "a memory that counts on when the signal is back",
      "z.x above 22 °C until below 18 °C",
      [
        [0, "z.x", 23],
        [700, "z.x", 20],
      ],
      ["0 o on", "600 o off", "700 o on", "1300 o off"],
    ],
    ["equal numbers: 68 °F is 20 °C", "z.x at least 68 °F", [[0, "z.x", 20]], ["0 o on", "600 o off"]],
    ["20 - 0.4 is not below 19.6", "z.x below z.target - 0.4 K", [[0, "z.x", 19.6]], []],
    ["unknown is neither", "z.x below 20 °C or z.x at least 20 °C", [[60, "z.x", 5]], ["60 o on", "660 o off"]],
    ["unknown itself", "z.x is unknown", [[60, "z.x", 5]], ["0 o on", "60 o off", "660 o on"]],
    [
      "a reading out of range is no report",
      "z.x above 20 °C",
      [
        [0, "z.x", 21],
        [60, "z.x", 99],
      ],
      ["0 o on", "600 o off"],
    ],
    [
      "a moved target acts at once",
      "z.x above z.target",
      [
        [0, "z.x", 19],
        [180, "z.target", 18],
      ],
      ["180 o on", "600 o off"],
    ],
  ])("%s", (_, condition, inputs, changes) => {
    expect(play(engineOf(hold(condition)), inputs)).toEqual(changes);
  });
});

describe("a keep crosses its band from edge to edge", () => {
  const two = "output up: on/off output down: on/off";
  const at = (seconds: number, x: number): Input => [seconds, "z.x", x];
  test.each<[string, string, Input[], string[]]>([
    [
      "with one output",
      "keep z.x at 20 °C ± 1 K raise with z.up",
      [at(0, 19), at(60, 18.9), at(120, 21), at(180, 21.1)],
      ["60 up on", "180 up off"],
    ],
    [
      "with two, each to the target",
      "keep z.x at 20 °C ± 1 K raise with z.up lower with z.down",
      [at(0, 18.9), at(60, 20), at(120, 21.1), at(180, 20)],
      ["0 up on", "60 up off", "120 down on", "180 down off"],
    ],
    [
      "between two targets it rests",
      "keep z.x between 18 °C and 22 °C ± 0.5 K raise with z.up lower with z.down",
      [at(0, 17.4), at(60, 18), at(120, 22), at(180, 22.6), at(240, 22)],
      ["0 up on", "60 up off", "180 down on", "240 down off"],
    ],
    [
      "lopsided",
      "keep z.x at 20 °C ± -0.4..+0.2 K raise with z.up",
      [at(0, 19.6), at(60, 19.5), at(120, 20.2), at(180, 20.3)],
      ["60 up on", "180 up off"],
    ],
    [
      "the memory follows also while it does not apply",
      "while m is day keep z.x at 20 °C ± 1 K raise with z.up",
      [[0, "m", "night"], at(0, 18), at(60, 20), [120, "m", "day"], at(180, 21.5)],
      ["120 up on", "180 up off"],
    ],
  ])("%s", (_, sentence, inputs, changes) => {
    expect(play(engineOf(`rule r { ${sentence} }`, { outputs: two }), inputs, 500)).toEqual(changes);
  });
});

describe("who wins", () => {
  test.each<[string, string, Input[], string[]]>([
    [
      "the rule written first",
      "rule a { while m is day hold z.l at 30 % } rule b { hold z.l at 80 % }",
      [[60, "m", "night"]],
      ["0 l 30", "60 l 80"],
    ],
    [
      "the stronger standing",
      "rule a { hold z.l at 30 % } rule b as urgent { while m is night hold z.l at 80 % }",
      [[60, "m", "night"]],
      ["0 l 30", "60 l 80"],
    ],
    [
      "for a time over held",
      "rule a { hold z.l at 30 % } rule b { when m becomes_night do { set z.l to 90 % for 1 min } }".replace(
        "m becomes_night",
        "m is night",
      ),
      [[60, "m", "night"]],
      ["0 l 30", "60 l 90", "120 l 30"],
    ],
    [
      "held over a plain set",
      "rule a { while m is night hold z.l at 30 % } rule b { when z.door is open do { set z.l to 90 % } }",
      [
        [0, "z.door", "open"],
        [60, "m", "night"],
        [120, "m", "day"],
      ],
      ["0 l 90", "60 l 30", "120 l 90"],
    ],
    [
      "the later of two plain sets",
      "rule a { when z.door is open do { set z.l to 90 % } } rule b { when m is night do { set z.l to 20 % } }",
      [
        [0, "z.door", "open"],
        [60, "m", "night"],
      ],
      ["0 l 90", "60 l 20"],
    ],
    [
      "until something is so",
      "rule a { when z.door is open do { set z.l to 90 % until m is night } }",
      [
        [0, "z.door", "open"],
        [60, "m", "night"],
      ],
      ["0 l 90", "60 l 0"],
    ],
    [
      "a guard over all, and the next permitted value",
      "rule a as urgent { hold z.o at on } guard g { permit z.o on only while m is night }",
      [
        [60, "m", "night"],
        [90, "m", "day"],
      ],
      ["60 o on", "90 o off"],
    ],
    [
      "a guard cuts a number",
      "rule a { hold z.l at 90 % } guard g { permit z.l above 40 % only while m is night }",
      [[60, "m", "night"]],
      ["0 l 40", "60 l 90"],
    ],
    [
      "what is unknown permits nothing",
      "rule a { hold z.o at on } guard g { permit z.o on only while z.x above 3 °C }",
      [[60, "z.x", 10]],
      ["60 o on", "660 o off"],
    ],
  ])("%s", (_, rules, inputs, changes) => {
    expect(play(engineOf(rules, { outputs: "output o: on/off output l: 0..100 %" }), inputs, 700)).toEqual(changes);
  });
});

describe("protection", () => {
  const output = "output o: on/off, on at least 4 min, off at least 6 min";
  test("delays a change until the least time is over", () => {
    const inputs: Input[] = [
      [400, "m", "night"],
      [460, "m", "day"],
      [900, "m", "night"],
    ];
    expect(play(engineOf(hold("m is night"), { outputs: output }), inputs, 2000)).toEqual(["400 o on", "640 o off", "1000 o on"]);
  });
  test("after a cold start counts from the start; what is given has been so for ever", () => {
    expect(play(engineOf(hold("m is night"), { outputs: output }), [[10, "m", "night"]], 700)).toEqual(["360 o on"]);
    expect(play(engineOf(hold("m is night"), { outputs: output, given: { m: "day" } }), [[10, "m", "night"]], 700)).toEqual([
      "10 o on",
    ]);
  });
  test("never against a guard", () => {
    const rules = `${hold("m is night")} guard g { permit z.o on only while z.door is closed }`;
    const inputs: Input[] = [
      [0, "z.door", "closed"],
      [400, "m", "night"],
      [410, "z.door", "open"],
    ];
    expect(play(engineOf(rules, { outputs: output }), inputs, 700)).toEqual(["400 o on", "410 o off"]);
  });
});

describe("steps", () => {
  test.each<[string, string, Input[], string[]]>([
    [
      "wait, and go on with the values of that time",
      "when z.door is open do { wait 1 min set z.l to 90 % for 10 s }",
      [[0, "z.door", "open"]],
      ["60 l 90", "70 l 0"],
    ],
    [
      "wait until, at most",
      "when z.door is open do { wait until m is night, at most 1 min set z.l to 50 % }",
      [[0, "z.door", "open"]],
      ["60 l 50"],
    ],
    [
      "wait until, which ends it sooner",
      "when z.door is open do { wait until m is night, at most 1 min set z.l to 50 % }",
      [
        [0, "z.door", "open"],
        [20, "m", "night"],
      ],
      ["20 l 50"],
    ],
    [
      "start over",
      "when z.door is open do { wait 1 min set z.l to 50 % }",
      [
        [0, "z.door", "open"],
        [30, "z.door", "closed"],
        [31, "z.door", "open"],
      ],
      ["91 l 50"],
    ],
    [
      "ignore",
      "when z.door is open do { wait 1 min set z.l to 50 % } if triggered again, ignore",
      [
        [0, "z.door", "open"],
        [30, "z.door", "closed"],
        [31, "z.door", "open"],
      ],
      ["60 l 50"],
    ],
    [
      "provided is looked at at the trigger",
      "when z.door is open provided m is night do { set z.l to 50 % }",
      [
        [0, "z.door", "open"],
        [30, "m", "night"],
      ],
      [],
    ],
    [
      "another do of the rule ends the steps",
      "when z.door is open do { wait 1 min set z.l to 50 % } when z.door is closed do { set z.l to 10 % }",
      [
        [0, "z.door", "open"],
        [30, "z.door", "closed"],
      ],
      ["30 l 10"],
    ],
    ["at a time of day", "when at 12:01 do { set z.l to 50 % }", [], ["60 l 50"]],
    ["on some days only", "when at 12:01 on Mon do { set z.l to 50 % }", [], []],
  ])("%s", (_, sentence, inputs, changes) => {
    expect(play(engineOf(`rule r { ${sentence} }`, { outputs: "output l: 0..100 %" }), inputs, 600)).toEqual(changes);
  });

  test("a dial set for a time goes back, unless it was set anew", () => {
    const rule = "rule r { when z.door is open do { set z.target to 25 °C for 1 min } }";
    const engine = engineOf(rule);
    play(engine, [[0, "z.door", "open"]], 59);
    expect(engine.value("z.target")).toBe(25);
    engine.advanceTo(START + 60e3);
    expect(engine.value("z.target")).toBe(20);
    const other = engineOf(rule);
    play(
      other,
      [
        [0, "z.door", "open"],
        [30, "z.target", 25],
      ],
      90,
    );
    expect(other.value("z.target")).toBe(25);
  });

  test("a notice is told with values, and once for each edge", () => {
    const engine = engineOf('rule r { when z.door has been open for 1 min do { tell "Open at {z.x}, {m}." through phone } }');
    play(
      engine,
      [
        [0, "z.x", 18.25],
        [0, "z.door", "open"],
        [90, "z.x", 18],
      ],
      200,
    );
    expect(engine.takeNotices()).toEqual([{ at: START + 60e3, text: "Open at 18.3 °C, day.", through: "phone" }]);
  });
});

test("rules that chase each other are named once, and the house goes on", () => {
  const journal = new Journal();
  const rules = "rule r { while q.s is on and q.b is off hold q.a at on } rule t { while q.a is on hold q.b at on }";
  const engine = engineOf(rules, { more: "zone q { output a: on/off output b: on/off sensor s: on/off }", journal });
  for (const [second, word] of ["on", "on", "off", "on"].entries()) engine.report("q.s", word, START + second * 1000);
  engine.advanceTo(START + 10e3);
  const rings = journal.records.filter(({ event }) => event.kind === "problem" && event.code === "ring");
  expect(rings.map(({ at, event }) => [(at - START) / 1000, "text" in event && event.text])).toEqual([
    [0, "q.a, q.b trigger each other in a loop; their outputs were left unchanged"],
    [3, "q.a, q.b trigger each other in a loop; their outputs were left unchanged"],
  ]);
});

describe("a caller's mistake throws", () => {
  test.each<[string, (engine: Engine) => void, string]>([
    ["an unknown sensor", (engine) => engine.report("z.q", 1, START), 'the house has no thing called "z.q"'],
    ["a sensor set", (engine) => engine.set("z.x", 1, START), '"z.x" is a sensor, no dial or mode'],
    ["a dial out of range", (engine) => engine.set("z.target", 99, START), '"z.target" cannot be 99: its range is 10..30 °C'],
    ["half a millisecond", (engine) => engine.report("z.x", 1, START + 0.5), "an instant is a whole number of milliseconds"],
    [
      "time that runs back",
      (engine) => [START + 1000, START].forEach((at) => engine.advanceTo(at)),
      "is before the house's present",
    ],
  ])("%s", (_, call, says) => {
    expect(() => call(engineOf(hold("m is night")))).toThrow(says);
  });
});
