// Which states of an output are on, and that figures, energy, heat, water and doses agree on it.
import { measure, parseHouse, simulate } from "modrik";
import { describe, expect, test } from "vitest";
import { DAY, HOUR, houseOf, MINUTE, number, pass, roomsOf, START, weatherOf } from "./simulated.js";

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
