// Which states of an output are on, and that figures, energy, heat, water and doses agree on it.
import { createEngine, measure, parseHouse, runTrials, simulate, tellHouse, why } from "modrik";
import { describe, expect, test } from "vitest";
import { DAY, HOUR, houseOf, MINUTE, number, pass, problemsOf, roomsOf, START, weatherOf } from "./simulated.js";

/** How an output is declared, the state it is held at by day, whether that is on, and the other. */
const states: readonly (readonly [type: string, held: string, isOn: boolean, other: string])[] = [
  ["on/off", "on", true, "off"],
  ["on/off, at rest on", "off", false, "on"],
  ["open/closed", "open", true, "closed"],
  ["open/closed, at rest open", "closed", false, "open"],
  ["open/closed, at rest closed", "open", true, "closed"],
  ["off/low/high", "low", true, "off"],
  ["off/low/high", "high", true, "off"],
  ["on/standby", "on", true, "standby"],
  ["heat/cool/idle, at rest idle", "cool", true, "idle"],
  ["stop/slow/fast", "slow", true, "stop"],
];

describe.each(states)("%s: %s", (type, held, isOn, other) => {
  const text = `zone z { sensor t: °C output o: ${type}${type.includes("at rest") ? "" : `, at rest ${other}`}, uses 600 W }
    rule r { while clock from 06:00 to 12:00 hold z.o at ${held} }
    weather w { outdoors 5 °C }
    physics { zone z { volume 40 m³, loses 30 W/K, stores 1 MJ/K } }`;

  test("is counted", () => {
    const [of] = measure(simulate(houseOf(text), { from: START, lasts: DAY, runUp: 0 })).outputs;
    expect(of?.onTime).toBe((isOn ? 6 : 18) * HOUR);
    expect(of?.energy).toBeCloseTo(0.6 * (isOn ? 6 : 18), 9);
  });

  test("warms its room by what it uses", () => {
    const warm = (state: string) =>
      number(pass(roomsOf(houseOf(text), { weather: weatherOf(5), given: { "z.t": 5 } }), 3 * HOUR, { "z.o": state }), "z.t");
    expect([held, other].map((state) => warm(state) > 5.5)).toEqual([isOn, !isOn]);
  });
});

describe("what delivers", () => {
  const house = (type: string) => `zone z { sensor tank: l output o: ${type}, delivers 10 ml/s }
    physics { z.tank holds 100 l z.o draws from z.tank }
    rule r { when at 08:00 do { dose z.o 1.2 l } }
    weather w { outdoors 5 °C }`;

  test.each([
    ["on/off", "on"],
    ["open/closed, at rest closed", "open"],
    ["off/trickle/full", "trickle"],
    ["0..100 %", "100 %"],
    ["0..255", "255"],
    ["0..50 %", "50 %"],
  ])("%s gives its dose, and no more", (type, state) => {
    const run = simulate(houseOf(house(type)), { from: START, lasts: DAY, runUp: 0 });
    const [of] = measure(run).outputs;
    expect(of?.starts).toBe(1);
    expect(of?.onTime).toBe(2 * MINUTE);
    const { values } = run.past.line({ kind: "value", of: "z.tank" });
    // In the base unit of a volume, ml.
    expect(values.at(-1)).toBeCloseTo(98_800, 6);
    const parsed = parseHouse({
      "a.modrik": `house "A" { clock "UTC" } ${house(type)} trial t { from 2026-01-15 07:59 expect z.o is ${state} at 08:01 }`,
    });
    expect(parsed.problems.map(({ reason }) => reason)).toEqual([]);
  });

  test.each([
    ["open/closed", "at rest closed"],
    ["slow/fast/stop", "at rest …"],
  ])("%s has to say how a dose ends", (type, remedy) => {
    const { problems } = parseHouse({ "a.modrik": `house "A" { clock "UTC" } ${house(type)}` });
    expect(problems.map(({ reason }) => reason)).toEqual(["Output o needs an at-rest value: a dose would never end."]);
    expect(problems[0]?.remedy).toBe(`Add for example: ${remedy}.`);
  });
});

/** How an output is declared; what it is while a `keep` drives it, while it does not, and while the `keep` does not apply. */
const driven: readonly (readonly [type: string, on: string, off: string, apart: string])[] = [
  ["on/off", "on", "off", "off"],
  ["on/off, at rest on", "on", "off", "on"],
  ["off/on/auto, at rest auto", "on", "off", "auto"],
  ["open/closed, at rest closed", "open", "closed", "closed"],
  ["open/closed, at rest open", "open", "closed", "open"],
  ["open/closed", "open", "closed", "closed"],
  ["0..100 %", "100 %", "0 %", "0 %"],
  ["%", "100 %", "0 %", "0 %"],
  ["0..255", "255", "0", "0"],
  ["5..28 °C, at rest 8 °C", "28 °C", "5 °C", "8 °C"],
  ["-100..100 %", "100 %", "-100 %", "0 %"],
];

describe.each(driven)("a keep of %s", (type, on, off, apart) => {
  const stays = type === "open/closed";
  const text = (rule: string, trial = "") => `zone z { sensor t: °C output o: ${type} output p: on/off }
    dial applies: yes/no, at first yes
    rule r { while applies ${rule} }
    trial a { from 2026-01-15 08:00 given z.t is 20 °C ${trial} expect z.o is ${on} at 08:10 }`;
  const failing = (rule: string, trial: string) =>
    runTrials(houseOf(text(rule, trial))).flatMap(({ verdicts }) =>
      verdicts.flatMap(({ passed, says }) => (passed ? [] : [says])),
    );

  test("drives it, leaves it off beyond its band and lets go", () => {
    const trial = `at 08:10 z.t is 18 °C at 08:20 z.t is 20 °C at 08:30 z.t is 22 °C at 08:40 person sets applies to no
      expect z.o is ${off} from 08:00 to 08:10 expect z.o is ${on} from 08:10 to 08:30
      expect z.o is ${off} from 08:30 to 08:40 expect z.o is ${apart} at 08:41`;
    expect(failing("keep z.t at 20 °C ± 1 K raise with z.o", trial)).toEqual([]);
  });

  // Where it rests on, that is counted too.
  const restsOn = apart === on || apart === "auto" || stays;
  test("is counted as on while it drives, and while it rests on", () => {
    const trial = "at 08:10 z.t is 18 °C at 08:30 z.t is 22 °C at 08:40 person sets applies to no at 08:50 z.t is 20 °C";
    const [result] = runTrials(houseOf(text("keep z.t at 20 °C ± 1 K raise with z.o", trial)));
    if (!result) throw new RangeError("there is a trial");
    const of = measure(result.run).outputs.find(({ output }) => output === "z.o");
    // Of a range about 0 its least counts as much as its most.
    const expected = stays ? 20 : restsOn ? 30 : type.startsWith("-") ? 40 : 20;
    expect(of?.onTime).toBe(expected * MINUTE);
  });

  test("that drives another too leaves it to its rest", () => {
    const trial = `at 08:10 z.t is 18 °C at 08:20 z.t is 22 °C expect z.o is ${stays ? on : apart} at 08:21`;
    expect(failing("keep z.t at 20 °C ± 1 K raise with z.o lower with z.p", trial)).toEqual([]);
  });

  test("goes round in a cycle", () => {
    const trial = `at 08:20 z.t is 20 °C expect z.o is ${on} from 08:00 to 08:05 expect z.o is ${stays ? on : apart} at 08:06`;
    expect(failing("cycle z.o on 5 min off 5 min", trial)).toEqual([]);
  });

  test("is told by its states", () => {
    const { house } = parseHouse({ "a.modrik": `house "A" { clock "UTC" } ${text("keep z.t at 20 °C ± 1 K raise with z.o")}` });
    expect(JSON.stringify(tellHouse(house, { at: START }))).toContain(`${on} below 19 °C, ${off} above 21 °C`);
    const [result] = runTrials(house);
    if (!result) throw new RangeError("there is a trial");
    const says = JSON.stringify(why(result.run, "z.o", result.run.to));
    expect(says).toContain(`it ${on === "on" ? "turns on" : `becomes ${on}`} below 19 °C (20 °C - 1)`);
  });
});

test.each([
  ["off/low/high", "keep z.t at 20 °C ± 1 K raise with z.o", "Expected an output with two states, or with a range, found z.o."],
  ["colour", "keep z.t at 20 °C ± 1 K raise with z.o", "Expected an output with two states, or with a range, found z.o."],
  ["V", "keep z.t at 20 °C ± 1 K raise with z.o", "z.o has no range: nothing says how much is full."],
  ["V", "keep z.t at 20 °C raise with z.o in proportion over 2 K", "z.o has no range: nothing says how much is full."],
  ["V", "cycle z.o on 5 min off 5 min", "z.o has no range: nothing says how much is full."],
  ["V, uses 60 W", "while z.t above 20 °C hold z.o at 3 V", "z.o has no range: nothing says how much is full."],
  ["V, delivers 5 ml/s", "while z.t above 20 °C hold z.o at 3 V", "z.o has no range: nothing says how much is full."],
  ["time, delivers 5 ml/s", "hold z.o at 07:00", "Output o cannot deliver anything: it is neither on nor off."],
  ["colour, delivers 5 ml/s", "hold z.o at white", "Output o cannot deliver anything: it is neither on nor off."],
  ["%", "hold z.o at 150 %", "150 % is outside 0..100 %."],
  ["%, at rest 120 %", "hold z.o at 50 %", "120 % is outside 0..100 %."],
])("what full is has to be known: %s, %s", (type, rule, reason) => {
  expect(problemsOf(`zone z { sensor t: °C output o: ${type} } rule r { ${rule} }`)).toEqual([reason]);
});

test("what an output without a range gives is not known", () => {
  const text =
    "zone z { sensor t: °C output o: V } physics { zone z { volume 40 m³, loses 30 W/K, stores 1 MJ/K } z.o gives 1 kW of heat }";
  expect(problemsOf(text)).toEqual(["z.o has no range: nothing says how much is full."]);
});

test("what moves without a range is sent as finely as its values are told apart", () => {
  const text = `zone z { sensor t: °C output o: V } rule r { when at 08:00 do { ramp z.o from 0 V to 10 V over 100 s } }
    trial a { from 2026-01-15 07:59 expect z.o between 4.9 V and 5.1 V at 08:00:50 }`;
  const [result] = runTrials(houseOf(text));
  expect(result?.passed).toBe(true);
  expect(result?.run.past.line({ kind: "value", of: "z.o" }).values.length).toBeGreaterThan(45);
});

test("a house that is no text has its ranges too", () => {
  const { house } = parseHouse({
    "a.modrik": `house "A" { clock "UTC" } zone z { sensor t: °C output o: 0..10 V }
    rule r { keep z.t at 20 °C raise with z.o in proportion over 2 K }`,
  });
  const without = { ...house, outputs: house.outputs.map(({ range: _, ...output }) => output) };
  expect(() => createEngine(without, { at: START })).toThrow('"z.o" has no range: nothing says what full is');
});
