// Laws of the simulated rooms: heat and water are kept, the order of zones and the length of steps do not matter, units do
// not matter, and each figure of sky and room does what a calculation by hand says.
import { createPhysics, type House, measure, runTrials, simulate, type Value, type Weather } from "modrik";
import { describe, expect, test } from "vitest";
import { HOUR, houseOf, MINUTE, number, pass, START } from "./simulated.js";

const still: Weather = { name: "still", outdoors: 5, swings: 0, humidity: 60, cloud: 100 };
const dark = (outdoors: number): Weather => ({ ...still, outdoors });

/** Sensors that tell their rooms to a hundred thousandth, by a scale of their own: `g/m³` is not simulated, °C is rounded. */
const fine = (zone: string) =>
  `zone ${zone} { sensor t: °C sensor h: %RH sensor door: open/closed output heater: on/off output mist: on/off }`;
const room = (zone: string, more = "", stores = "0.1 MJ/K") =>
  `zone ${zone} { volume 50 m³, loses 0 W/K, stores ${stores}, soaks 20 g/%RH ${more} }`;

describe("two rooms beside one another", () => {
  const two = (zones: readonly string[], passes = "a beside b passes 100 W/K") =>
    houseOf(
      `${zones.map(fine).join(" ")} physics { ${zones.map((zone) => room(zone, "", zone === "b" ? "0.3 MJ/K" : "0.1 MJ/K")).join(" ")} ${passes} }`,
    );
  const begin = (house: House) =>
    createPhysics(house, { from: START, weather: still, given: { "a.t": 30, "b.t": 10, "a.h": 60, "b.h": 30 } });

  test("keep their heat: what leaves one enters the other", () => {
    // (30 · 0.1 + 10 · 0.3) / 0.4 = 15 °C for both in the end.
    const physics = pass(begin(two(["a", "b"])), 10 * HOUR);
    expect([physics.reading("a.t"), physics.reading("b.t")]).toEqual([15, 15]);
  });

  test("follow the solution of their equations: the difference dies out by 1/C1 + 1/C2", () => {
    for (const minutes of [1, 5, 10, 20, 40]) {
      const left = 20 * Math.exp(-100 * (1 / 0.1e6 + 1 / 0.3e6) * minutes * 60);
      const physics = pass(begin(two(["a", "b"])), minutes * MINUTE);
      expect(number(physics, "a.t")).toBeCloseTo(15 + 0.75 * left, 0.9);
      expect(Math.abs(number(physics, "a.t") - (15 + 0.75 * left))).toBeLessThanOrEqual(0.0501);
      expect(Math.abs(number(physics, "b.t") - (15 - 0.25 * left))).toBeLessThanOrEqual(0.0501);
    }
  });

  test("do so in any order, and in steps of any length", () => {
    const readings = (order: readonly string[], step: number) => {
      const physics = pass(begin(two(order)), HOUR, {}, step);
      return ["a.t", "b.t"].map((name) => physics.reading(name));
    };
    const found = readings(["a", "b"], MINUTE);
    for (const step of [15e3, 10 * MINUTE, 30 * MINUTE, HOUR]) expect(readings(["a", "b"], step)).toEqual(found);
    expect(readings(["b", "a"], MINUTE)).toEqual(found);
  });

  test("air through an open door carries heat and water, and none is lost", () => {
    const house = two(["a", "b"], "a.door open adds 30 /h of leak to b");
    const physics = begin(house);
    pass(physics, HOUR, { "a.door": "closed" });
    expect([physics.reading("a.t"), physics.reading("b.t")]).toEqual([30, 10]);
    pass(physics, 40 * HOUR, { "a.door": "open" }, MINUTE, START + HOUR);
    expect([physics.reading("a.t"), physics.reading("b.t")]).toEqual([15, 15]);
    // Both hold so much for each %RH: 50 m³ of air at 15 °C of 12.8 g/m³ when full, and 20 g in what soaks it up.
    const [a, b] = [number(physics, "a.h"), number(physics, "b.h")];
    expect(a).toBe(b);
    // By hand: 60 %RH at 30 °C (30.3 g/m³) and 30 %RH at 10 °C (9.4 g/m³), 50 m³ and 20 g/%RH each.
    const water = 60 * (0.303 * 50 + 20) + 30 * (0.094 * 50 + 20);
    expect(Math.abs(a - water / (2 * (0.128 * 50 + 20)))).toBeLessThan(0.3);
  });

  test("three in a row, one heated: in the end each passes on what it gets", () => {
    const house = houseOf(`${["a", "b", "c"].map(fine).join(" ")}
      physics { ${room("a")} ${room("b")} zone c { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K }
        a beside b passes 100 W/K b beside c passes 20 W/K a.heater gives 200 W of heat }`);
    const physics = pass(createPhysics(house, { from: START, weather: dark(0) }), 100 * HOUR, { "a.heater": "on" });
    // 200 W through 50, 20 and 100 W/K: 4, 14 and 16 °C.
    expect(["c.t", "b.t", "a.t"].map((name) => physics.reading(name))).toEqual([4, 14, 16]);
  });
});

describe("a room by itself", () => {
  const one = (facts: string, effects = "") =>
    houseOf(`zone z { sensor t: °C sensor h: %RH sensor l: lx sensor door: open/closed output heater: on/off output lamp: 0..200 lx }
      physics { zone z { volume 60 m³, loses 50 W/K, stores 1 MJ/K${facts} } ${effects} }`);

  test("without gains it comes to the weather", () => {
    const physics = createPhysics(one(", leaks 1 /h"), { from: START, weather: still, given: { "z.t": 25, "z.h": 80 } });
    pass(physics, 200 * HOUR);
    expect([physics.reading("z.t"), physics.reading("z.h")]).toEqual([5, 60]);
  });

  test("halving the step changes nothing", () => {
    const after = (step: number) => {
      const house = one(", leaks 0.5 /h", "z.heater gives 700 W of heat");
      return number(
        pass(createPhysics(house, { from: START, weather: still, given: { "z.t": 25 } }), 6 * HOUR, { "z.heater": "on" }, step),
        "z.t",
      );
    };
    expect(new Set([15e3, 30e3, MINUTE, 10 * MINUTE, HOUR].map(after)).size).toBe(1);
  });

  test("a door to the outdoors leaks by its air changes", () => {
    const house = one("", "z.door open adds 3 /h of leak to outdoors z.heater gives 1 kW of heat");
    const weather = dark(0);
    const shut = pass(createPhysics(house, { from: START, weather }), 200 * HOUR, { "z.heater": "on", "z.door": "closed" });
    const open = pass(createPhysics(house, { from: START, weather }), 200 * HOUR, { "z.heater": "on", "z.door": "open" });
    // 1000 W over 50 W/K; and over 50 + 3 · 60 m³/h · 1206 J/(m³ K) = 110.3 W/K.
    expect([shut.reading("z.t"), open.reading("z.t")]).toEqual([20, 9.1]);
  });

  test("a part of the daylight comes in by its window, and lamps by their share of their range", () => {
    const noon = { from: Date.parse("2026-06-21T11:28Z"), weather: { ...still, cloud: 100 } };
    const outdoors = createPhysics(one(", window 100 % of daylight"), noon);
    const inside = createPhysics(one(", window 2 % of daylight", "z.lamp gives 400 lx of light"), noon);
    expect(number(inside, "z.l")).toBeCloseTo(number(outdoors, "z.l") * 0.02, -1);
    const before = number(inside, "z.l");
    inside.put("z.lamp", 50);
    inside.advance(noon.from);
    expect(number(inside, "z.l") - before).toBe(100);
  });

  test("the weather is warmest at three in the afternoon, coldest at sunrise", () => {
    const weather = { ...still, outdoors: 10, swings: 8 };
    // A room of hardly any heat follows the weather.
    const house = houseOf("zone z { sensor t: °C } physics { zone z { volume 1 m³, loses 1000 W/K, stores 0.00001 MJ/K } }");
    const at = (hour: number) => number(pass(createPhysics(house, { from: START, weather }), hour * HOUR), "z.t");
    // By hand: the sun rises at 7:09; half a wave from there until 15:00, and another until the next morning.
    const rises = 7.15;
    const wave = (hour: number) =>
      hour < rises || hour > 15
        ? Math.cos((Math.PI * ((hour + 9) % 24)) / (24 - (15 - rises)))
        : -Math.cos((Math.PI * (hour - rises)) / (15 - rises));
    for (const hour of [3, 7.15, 9, 12, 15, 21]) expect(Math.abs(at(hour) - (10 + 4 * wave(hour)))).toBeLessThan(0.07);
  });
});

describe("units", () => {
  const heated = (unit: "°C" | "°F") => {
    const [target, slack] = unit === "°C" ? ["20 °C", "0.5 K"] : ["68 °F", "0.9 °F"];
    return houseOf(`zone z { sensor temperature: ${unit}, unknown after 15 min output heater: on/off }
      physics { zone z { volume 60 m³, loses 100 W/K, stores 2000 kJ/K, leaks 0.5 /h, soaks 100 g/%RH } z.heater gives 5 kW of heat }
      weather cold { outdoors 0 °C, swings 6 K }
      rule warm { keep z.temperature at ${target} ± ${slack} raise with z.heater }
      trial settled { from 2026-01-15 00:00 to 08:00 simulated, weather cold given z.temperature is ${target}
        expect z.temperature between ${unit === "°C" ? "19 °C and 21 °C" : "66.2 °F and 69.8 °F"} from 01:00 to 08:00 }`);
  };

  test("a room that is kept in °F is kept as warm as one in °C", () => {
    const [celsius, fahrenheit] = (["°C", "°F"] as const).map((unit) => measure(simulate(heated(unit))).outputs[0]);
    // To the rounding of the two scales.
    expect(Math.abs((celsius?.share ?? 0) - (fahrenheit?.share ?? 1))).toBeLessThan(0.01);
    expect(celsius?.share).toBeGreaterThan(0.2);
    for (const unit of ["°C", "°F"] as const) expect(runTrials(heated(unit)).map(({ passed }) => passed)).toEqual([true]);
  });

  test.each<[string, Value]>([
    ["°C", 20],
    ["°F", 68],
  ])("a room begins with what is given in %s", (unit, value) => {
    const house = houseOf(`zone z { sensor t: ${unit} } physics { zone z { volume 60 m³, loses 0 W/K, stores 1 MJ/K } }`);
    expect(pass(createPhysics(house, { from: START, weather: still, given: { "z.t": value } }), HOUR).reading("z.t")).toBe(value);
  });
});

describe("people", () => {
  const text = (people: string) => `zone z { sensor m: moving/still sensor door: open/closed }
    schedule am { daily 08:00 to 10:00 } schedule pm { daily 14:00 to 16:00 }
    physics { zone z { volume 50 m³, loses 100 W/K, stores 3.6 MJ/K } } people { ${people} }`;
  /** Hours in which a word is read. */
  const hours = (house: House, sensor: string, word: string, seed = 1) => {
    const run = simulate(house, { from: START, seed });
    return [
      ...new Set(
        run.past.records.flatMap(({ event, at }) =>
          event.kind === "value" && event.thing === sensor && event.value === word && at >= run.from
            ? [new Date(at).getUTCHours()]
            : [],
        ),
      ),
    ].sort((a, b) => a - b);
  };

  test("of two habits in one zone both live", () => {
    expect(hours(houseOf(text("z during am z during pm")), "z.m", "moving")).toEqual([8, 9, 14, 15]);
  });

  test("come and go by the door, stir and keep still, and another seed moves them otherwise", () => {
    const house = houseOf(text("z during am, comes and goes every 20 min"));
    expect(hours(house, "z.door", "open")).toEqual([8, 9, 10]);
    const moves = (seed: number) => {
      const { past } = simulate(house, { from: START, seed });
      return past.records.flatMap(({ event, at }) =>
        event.kind === "value" && event.thing === "z.m" && at >= START + 8 * HOUR && at < START + 10 * HOUR ? [at] : [],
      );
    };
    expect(moves(1).length).toBeGreaterThan(10);
    expect(moves(2)).not.toEqual(moves(1));
  });
});
