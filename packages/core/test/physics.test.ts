// The simulated house against published equations, written out here: valves, fans, water, light, breath, weather.
import { createPhysics, type House, parseHouse, runTrials, type SimulationOptions, simulate, type Weather } from "modrik";
import { describe, expect, test } from "vitest";
import { number as at, DAY, HOUR, houseOf, MINUTE, pass, roomsOf, START, weatherOf } from "./simulated.js";

describe("a valve heats towards its target, and no further", () => {
  const house = houseOf(`zone z { sensor t: °C output valve: 5..28 °C, at rest 5 °C } 
    physics { zone z { volume 60 m³, loses 70 W/K, stores 3 MJ/K } z.valve gives 3 kW of heat }`);

  test.each([12, 16, 20, 24])("set to %d °C", (target) => {
    const physics = pass(roomsOf(house), 400 * HOUR, { "z.valve": target });
    // Where it comes to rest: 70 T = 3000 · clamp((target - T) / 2 + 0.5) · ((70 - T) / 50)^1.3, solved by halving.
    let [low, high] = [0, 60];
    for (let round = 0; round < 60; round++) {
      const middle = (low + high) / 2;
      const opening = Math.min(1, Math.max(0, (target - middle) / 2 + 0.5));
      if (3000 * opening * ((70 - middle) / 50) ** 1.3 > 70 * middle) low = middle;
      else high = middle;
    }
    expect(Math.abs(at(physics, "z.t") - low)).toBeLessThanOrEqual(0.1);
    expect(at(physics, "z.t")).toBeLessThan(target + 1.1);
  });

  test("its head lags: after a step of the target it opens at once, and closes only as the head has warmed", () => {
    const physics = pass(roomsOf(house, { given: { "z.t": 15 } }), 20 * MINUTE, { "z.valve": 20 });
    // Fully open for a while: 3000 W · 1.1^1.3 less some 1050 W, 20 minutes, 3 MJ/K: about 0.95 K.
    expect(at(physics, "z.t")).toBeGreaterThan(15.8);
    expect(at(physics, "z.t")).toBeLessThan(16.2);
  });
});

test("an output of several words gives what each of them is said to give", () => {
  const house = houseOf(`zone z { sensor t: °C output fan: off/low/high }
    physics { zone z { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K } z.fan low gives 200 W of heat z.fan high gives 600 W of heat }`);
  for (const [word, expected] of [
    ["off", 0],
    ["low", 4],
    ["high", 12],
  ] as const)
    expect(at(pass(roomsOf(house), 50 * HOUR, { "z.fan": word }), "z.t")).toBe(expected);
  const silent = parseHouse({
    "a.modrik": `house "A" { clock "UTC" } zone z { output fan: off/low/high } physics { zone z { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K } z.fan gives 200 W of heat }`,
  });
  expect(silent.problems.map(({ reason, remedy }) => `${reason} ${remedy}`)).toEqual([
    "z.fan has no state on. Say it of each: z.fan low gives … of heat.",
  ]);
});

test("a fan moves air: what it blows in from outdoors takes heat with it, from a room it shares", () => {
  const text = (from: string) => `zone z { sensor t: °C output fan: on/off output heater: on/off } zone y { sensor t: °C }
    physics { zone z { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K } zone y { volume 50 m³, loses 20 W/K, stores 0.1 MJ/K }
      z.fan gives 120 m³/h of air from ${from} z.heater gives 1 kW of heat }`;
  const on = { "z.fan": "on", "z.heater": "on" };
  // 120 m³/h of air carry 120 / 3600 · 1206 = 40.2 W/K.
  expect(at(pass(roomsOf(houseOf(text("outdoors"))), 50 * HOUR, on), "z.t")).toBe(Math.round(10_000 / 90.2) / 10);
  const shared = pass(roomsOf(houseOf(text("y"))), 50 * HOUR, on);
  // 1000 = 50 T + 40.2 (T - U) and 40.2 (T - U) = 20 U.
  const u = (1000 * 40.2) / (50 * 40.2 + 50 * 20 + 40.2 * 20);
  expect([at(shared, "z.t"), at(shared, "y.t")]).toEqual([(u * 60.2) / 40.2, u].map((one) => Math.round(one * 10) / 10));
});

describe("heat of what is used, and of people", () => {
  test("what is not said to heat turns what it uses into heat; a heater does not heat twice", () => {
    const house = houseOf(`zone z { sensor t: °C output lamp: on/off, uses 100 W output heater: on/off, uses 1 kW }
      physics { zone z { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K } z.heater gives 1 kW of heat }`);
    expect(at(pass(roomsOf(house), 50 * HOUR, { "z.lamp": "on" }), "z.t")).toBe(2);
    expect(at(pass(roomsOf(house), 50 * HOUR, { "z.heater": "on" }), "z.t")).toBe(20);
  });

  test("a person warms, moistens and breathes: 70 W, 45 g/h, 18.7 l/h of CO₂", () => {
    const house = houseOf(`zone z { sensor t: °C sensor h: %RH sensor carbon: ppm } schedule there { daily 00:00 to 24:00 }
      physics { zone z { volume 40 m³, loses 35 W/K, stores 0.1 MJ/K, leaks 0.5 /h } } people { z during there }`);
    const physics = pass(roomsOf(house, { weather: weatherOf(10) }), 100 * HOUR);
    // 70 W over 35 + 0.5 · 40 / 3600 · 1206 = 41.7 W/K above 10 °C; 18.7 l/h into 20 m³/h: 935 ppm above 420.
    expect(at(physics, "z.t")).toBe(11.7);
    expect(at(physics, "z.carbon")).toBe(1355);
    // 45 g/h into 20 m³/h are 2.25 g/m³ above the 60 % of 9.4 g/m³ outdoors, thinned by 283.15/284.83.
    const saturated = (celsius: number) =>
      (216.7 * 6.112 * Math.exp((17.62 * celsius) / (243.12 + celsius))) / (273.15 + celsius);
    const water = (0.6 * saturated(10) * 283.15) / 284.83 + 2.25;
    expect(Math.abs(at(physics, "z.h") - (100 * water) / saturated(11.68))).toBeLessThan(0.4);
  });

  test("CO₂ rises as its equation says, from what is given", () => {
    const house = houseOf(`zone z { sensor carbon: ppm } schedule there { daily 00:00 to 24:00 }
      physics { zone z { volume 40 m³, loses 35 W/K, stores 0.1 MJ/K, leaks 0.5 /h } } people { z during there, breathes 30 l/h }`);
    const physics = roomsOf(house, { given: { "z.carbon": 600 } });
    for (const hours of [1, 2, 4]) {
      pass(physics, HOUR * (hours === 1 ? 1 : hours / 2), {}, MINUTE, START + (hours === 1 ? 0 : (hours / 2) * HOUR));
      // C = C∞ + (C0 - C∞) e^(-0.5 t), C∞ = 420 + 30e-3 / 20 · 1e6.
      const expected = 1920 + (600 - 1920) * Math.exp(-0.5 * hours);
      expect(Math.abs(at(physics, "z.carbon") - expected)).toBeLessThanOrEqual(1);
    }
  });

  test("each zone has its own: one more room does not move the people of another", () => {
    const text = (more: string) => `zone z { sensor m: moving/still } ${more}
      schedule s { daily 08:00 to 18:00 } physics { zone z { volume 50 m³, loses 100 W/K, stores 3.6 MJ/K } }
      people { ${more ? "a during s" : ""} z during s, comes and goes every 30 min }`;
    const moves = (house: House) => {
      const { past, from } = simulate(house, { from: START });
      return past.records.flatMap(({ event, at: when }) =>
        event.kind === "value" && event.thing === "z.m" && when >= from ? [when] : [],
      );
    };
    const alone = moves(houseOf(text("")));
    expect(alone.length).toBeGreaterThan(20);
    expect(moves(houseOf(text("zone a { sensor m: moving/still }")))).toEqual(alone);
  });
});

// Nobody's moving about is felt by a room: to bring it up to each motion, or only to what it feels, is the same.
test("rooms that come up to people only where they feel them end as rooms that are looked at at each motion", () => {
  const house =
    houseOf(`zone z { sensor t: °C sensor h: %RH sensor ppm: ppm sensor m: moving/still sensor door: open/closed sensor window: open/closed }
    zone y { sensor t: °C } schedule there { daily 06:00 to 22:00 }
    physics { zone z { volume 50 m³, loses 40 W/K, stores 1 MJ/K, leaks 0.5 /h } zone y { volume 30 m³, loses 20 W/K, stores 1 MJ/K }
      z.door open adds 8 /h of leak to y z.window open adds 6 /h of leak to outdoors }
    people { z during there, comes and goes every 30 min, airs every 2 h z during there, showers for 10 min }`);
  const lived = (look: (physics: ReturnType<typeof roomsOf>, at: number) => void) => {
    // A weather that stands still, as it does through each step; water depends on the warmth at its end.
    const physics = roomsOf(house, { weather: weatherOf(2, { humidity: 70 }) });
    const motions: string[] = [];
    for (let minute = START; minute < START + DAY; minute += MINUTE) {
      for (; physics.next <= minute; ) {
        const { next } = physics;
        look(physics, next);
        motions.push(`${next} ${physics.reading("z.m")} ${physics.reading("z.door")} ${physics.reading("z.window")}`);
      }
      physics.advance(minute);
    }
    return { airs: physics.airs, motions };
  };
  const often = lived((physics, at) => physics.advance(at));
  const seldom = lived((physics, at) => physics.letPeople(at));
  expect(seldom.motions).toEqual(often.motions);
  expect(often.motions.length).toBeGreaterThan(200);
  for (const [zone, air] of often.airs)
    for (const [what, value] of Object.entries(air))
      expect(seldom.airs.get(zone)?.[what as keyof typeof air], `${zone} ${what}`).toBeCloseTo(value, 4);
});

describe("the water of air", () => {
  test("is what came in with it, thinned as it grows warm", () => {
    const house = houseOf(`zone z { sensor t: °C sensor h: %RH output heater: on/off }
      physics { zone z { volume 50 m³, loses 40 W/K, stores 0.1 MJ/K, leaks 1 /h } z.heater gives 1.4 kW of heat }`);
    const physics = pass(roomsOf(house, { weather: weatherOf(-4, { humidity: 80 }) }), 200 * HOUR, { "z.heater": "on" });
    const celsius = -4 + 1400 / (40 + (50 / 3600) * 1206);
    expect(at(physics, "z.t")).toBe(Math.round(celsius * 10) / 10);
    // Vapour pressure is kept: RH = 80 % · e(-4) / e(T); Magnus (Sonntag 1990).
    const pressure = (t: number) => Math.exp((17.62 * t) / (243.12 + t));
    expect(Math.abs(at(physics, "z.h") - (80 * pressure(-4)) / pressure(celsius))).toBeLessThan(0.15);
  });
});

describe("daylight", () => {
  /** Seidelmann 1992, Explanatory Supplement, table 9.331: lx on level ground by the height of the sun, clear sky. */
  const seidelmann: [from: number, a: number, b: number, c: number, d: number][] = [
    [20, 3.74, 3.97, -4.07, 1.47],
    [5, 3.05, 13.28, -45.98, 64.33],
    [-0.8, 2.88, 22.26, -207.64, 1034.3],
    [-5, 2.88, 21.81, -258.11, -858.36],
    [-12, 2.7, 12.17, -431.69, -1899.83],
    [-18, 13.84, 262.72, 1447.42, 2797.93],
  ];
  const clear = (height: number) => {
    const row = seidelmann.find(([from]) => height >= from);
    const x = height / 90;
    return row ? 10 ** (row[1] + row[2] * x + row[3] * x * x + row[4] * x * x * x) : 0;
  };
  const house =
    houseOf(`zone z { sensor l: lx } physics { zone z { volume 1 m³, loses 1 W/K, stores 1 MJ/K, window 100 % of daylight } }
    let height = sun.elevation rule r { when height above 90 ° do { tell "never" } }`);

  test("of a clear day is that of the sun's height", () => {
    const from = Date.parse("2026-06-21T00:00Z");
    const physics = createPhysics(house, { from, weather: weatherOf(20, { cloud: 0 }) });
    const { past } = simulate(house, { from, lasts: DAY });
    let looked = 0;
    for (let minutes = 5; minutes < 24 * 60; minutes += 5) {
      physics.advance(from + minutes * MINUTE);
      const height = past.value({ kind: "sun", what: "elevation" }, from + minutes * MINUTE);
      const expected = clear(height);
      if (expected < 20) continue;
      looked++;
      expect([minutes, Math.abs(at(physics, "z.l") / expected - 1) < 0.03]).toEqual([minutes, true]);
    }
    expect(looked).toBeGreaterThan(180);
  });

  test("under cloud is less, and none at night", () => {
    const noon = Date.parse("2026-06-21T11:30Z");
    const light = (cloud: number, from = noon) => at(createPhysics(house, { from, weather: weatherOf(20, { cloud }) }), "z.l");
    const [bright, half, dull] = [light(0), light(50), light(100)];
    expect(Math.abs(half - (bright + dull) / 2)).toBeLessThan(1);
    expect(dull).toBeLessThan(0.25 * bright);
    expect(light(0, Date.parse("2026-12-21T00:00Z"))).toBe(0);
  });
});

describe("weather", () => {
  const house = (place?: string) =>
    houseOf("zone z { sensor t: °C } physics { zone z { volume 1 m³, loses 1000 W/K, stores 0.00001 MJ/K } }", place);
  /** Mean temperatures of days. */
  const means = (weather: Weather, days: readonly number[], place?: string) =>
    days.map((day) => {
      const physics = createPhysics(house(place), { from: START + day * DAY, weather });
      let sum = 0;
      for (let hour = 1; hour <= 24; hour++) {
        physics.advance(START + day * DAY + hour * HOUR);
        sum += at(physics, "z.t");
      }
      return sum / 24;
    });

  test("has seasons: coldest in January, warmest in July, the other way round in the south", () => {
    const year = weatherOf(9, { seasons: 18 });
    const days = [5, 96, 187, 278];
    for (const [place, expected] of [
      ["place 47 N, 8 E", [0, 9, 18, 9]],
      ["place 33 S, 151 E", [18, 9, 0, 9]],
    ] as const)
      means(year, days, place).forEach((mean, index) => expect(Math.abs(mean - (expected[index] as number))).toBeLessThan(0.3));
  });

  test("has fronts: around its mean by some 4 K, slowly, and the same for the same seed", () => {
    const fronts = (seed: number) => weatherOf(9, { fronts: 4 * DAY, seed });
    const days = Array.from({ length: 300 }, (_, index) => index);
    const found = means(fronts(1), days);
    const mean = found.reduce((sum, one) => sum + one, 0) / found.length;
    const deviation = Math.sqrt(found.reduce((sum, one) => sum + (one - mean) ** 2, 0) / found.length);
    expect(Math.abs(mean - 9)).toBeLessThan(1.5);
    expect(deviation).toBeGreaterThan(2.5);
    expect(deviation).toBeLessThan(5);
    // From one day to the next it keeps e^(-1/4) of its deviation.
    const kept =
      found.slice(1).reduce((sum, one, index) => sum + (one - mean) * ((found[index] as number) - mean), 0) / found.length;
    expect(Math.abs(kept / deviation ** 2 - Math.exp(-1 / 4))).toBeLessThan(0.12);
    expect(means(fronts(1), [7])).toEqual([found[7]]);
    expect(means(fronts(2), [7])).not.toEqual([found[7]]);
  });
});

describe("a simulated day begins as one that has been lived in for months", () => {
  test.each([
    ["a heavy room", "loses 60 W/K, stores 20 MJ/K, leaks 0.3 /h, soaks 60 g/%RH", ""],
    ["one that no fortnight cools", "loses 30 W/K, stores 40 MJ/K, leaks 0.3 /h, soaks 60 g/%RH", ""],
    [
      "thick walls, and wood",
      "loses 60 W/K, stores 30 MJ/K, walls pass 200 W/K, leaks 0.2 /h, soaks 150 g/%RH, wood follows in 24 h",
      "",
    ],
    [
      "a heater that switches",
      "loses 60 W/K, stores 2 MJ/K, soaks 300 g/%RH, wood follows in 12 h",
      "keep t at 19 °C ± 1 K raise with heater",
    ],
  ])("%s", (_, room, keeps) => {
    const house = houseOf(`zone z { sensor t: °C sensor h: %RH output heater: on/off ${keeps && `rule warm { ${keeps} }`} }
      physics { zone z { volume 50 m³, ${room} } z.heater gives 3 kW of heat } weather w { outdoors 4 °C, swings 8 K }`);
    /** What the rooms are like through the first day that is shown. */
    const mean = (options: SimulationOptions) => {
      const { past, from, to } = simulate(house, { from: START, ...options });
      const hours = Array.from({ length: 96 }, (_, quarter) => from + ((to - from) * quarter) / 96);
      return ["z.t", "z.h"].map(
        (of) => hours.reduce((sum, at) => sum + (past.value({ kind: "value", of }, at) as number), 0) / hours.length,
      );
    };
    const [[warm, damp], [warmAtLast, dampAtLast]] = [mean({}), mean({ runUp: 90 * DAY })] as [number[], number[]];
    expect(Math.abs((warm as number) - (warmAtLast as number))).toBeLessThanOrEqual(0.3);
    expect(Math.abs((damp as number) - (dampAtLast as number))).toBeLessThanOrEqual(1.5);
  });
});

test("one furnace that serves several rooms heats each by what it loses", () => {
  const house = houseOf(`zone a { sensor t: °C output furnace: on/off, serves b } zone b { sensor t: °C }
    physics { zone a { volume 50 m³, loses 100 W/K, stores 0.1 MJ/K } zone b { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K }
      a.furnace gives 3 kW of heat }`);
  const physics = pass(roomsOf(house), 50 * HOUR, { "a.furnace": "on" });
  expect([at(physics, "a.t"), at(physics, "b.t")]).toEqual([20, 20]);
});

test("a zone is described once, and is not beside itself", () => {
  const room = "zone z { volume 50 m³, loses 100 W/K, stores 1 MJ/K }";
  for (const [physics, reason] of [
    [`${room} ${room}`, "Zone z is described twice."],
    [`${room} z beside z passes 5 W/K`, "z is beside itself."],
  ] as const) {
    const text = `house "A" { clock "UTC" } zone z { sensor t: °C } physics { ${physics} }`;
    expect(parseHouse({ "a.modrik": text }).problems.map((one) => one.reason)).toEqual([reason]);
  }
});

test("in a simulated trial what is given of doors and people stays so, and rooms follow the true door, not what is heard of it", () => {
  const text = (
    happens: string,
    expects: string,
  ) => `zone z { sensor t: °C sensor door: open/closed sensor m: moving/still output o: on/off }
    rule r { while z.m is moving hold z.o at on } schedule s { daily 00:00 to 24:00 } people { z during s, comes and goes every 20 min }
    physics { zone z { volume 50 m³, loses 10 W/K, stores 0.1 MJ/K } z.door open adds 20 /h of leak to outdoors }
    weather cold { outdoors 0 °C }
    trial t { from 2026-01-15 08:00 to 09:00 simulated, weather cold given z.t is 20 °C, z.door is closed, z.m is still ${happens} expect ${expects} }`;
  for (const [happens, expects] of [
    ["", "always z.m is still"],
    ["", "z.t above 14 °C"],
    ["at 08:10 z.door is open", "z.t below 5 °C"],
    // The contact sticks, and the door opens all the same.
    ["at 08:05 z.door sticks at 08:10 z.door is open", "z.t below 5 °C"],
    ["at 08:05 z.door sticks at 08:10 z.door is open", "always z.door is closed"],
    ["at 08:10 z.door jumps to open for 30 min", "z.t above 14 °C"],
  ] as const)
    expect([happens, expects, runTrials(houseOf(text(happens, expects)))[0]?.passed]).toEqual([happens, expects, true]);
});

describe("rooms are described in a few words", () => {
  const physics = (facts: string) =>
    houseOf(`zone z { sensor t: °C } physics { zone z { ${facts} } }`).physics.zones.map(({ zone: _, ...figures }) => figures);

  const solid = { window: 0, couples: 310, wood: 2 * HOUR, built: "solid" };

  test.each<[string, object]>([
    ["floor 20 m², built solid", { floor: 20, volume: 50, loses: 36, stores: 3.3e6, leaks: 0.4, soaks: 40, ...solid }],
    ["floor 20 m²", { floor: 20, volume: 50, loses: 36, stores: 3.3e6, leaks: 0.4, soaks: 40, ...solid }],
    [
      "built insulated",
      { volume: 50, loses: 16, stores: 3.3e6, leaks: 0.2, soaks: 40, ...solid, couples: 310, built: "insulated" },
    ],
    [
      "floor 10 m², built light, loses 40 W/K, window 3 % of daylight",
      {
        volume: 25,
        loses: 40,
        stores: 1.1e6,
        leaks: 0.6,
        soaks: 15,
        window: 3,
        couples: 155,
        wood: 2 * HOUR,
        floor: 10,
        built: "light",
      },
    ],
    ["volume 50 m³, loses 45 W/K, stores 1 MJ/K", { volume: 50, loses: 45, stores: 1e6, leaks: 0, soaks: 0, window: 0 }],
  ])("%s", (facts, expected) => {
    const [found] = physics(facts);
    expect(Object.keys(found ?? {}).sort()).toEqual(Object.keys(expected).sort());
    for (const [name, value] of Object.entries(expected))
      expect([name, (found as unknown as Record<string, unknown>)[name]]).toEqual([
        name,
        typeof value === "number" ? expect.closeTo(value, 6) : value,
      ]);
  });

  test("a house without physics has usual rooms, and what its rules drive acts on them", () => {
    const house = houseOf(`zone z { sensor t: °C sensor level: low/ok output heater: on/off } weather w { outdoors 0 °C }
      rule r { keep z.t at 20 °C ± 1 K raise with z.heater }`);
    const run = simulate(house, { from: START });
    expect([run.assumed, run.unmoved]).toEqual([true, ["z.level"]]);
    const values = [0, 6, 12, 18].map((hour) => run.past.value({ kind: "value", of: "z.t" }, START + hour * HOUR));
    for (const value of values) expect(Math.abs(value - 20)).toBeLessThan(1.5);
  });

  test("a furnace stands where no room is simulated, and heats those that it serves", () => {
    const house = houseOf(`zone cellar { output furnace: on/off, serves a and b } zone a { sensor t: °C } zone b { sensor t: °C }
      physics { zone a { volume 50 m³, loses 100 W/K, stores 0.1 MJ/K } zone b { volume 50 m³, loses 50 W/K, stores 0.1 MJ/K }
        cellar.furnace gives 3 kW of heat }`);
    const physics = pass(roomsOf(house), 50 * HOUR, { "cellar.furnace": "on" });
    expect([at(physics, "a.t"), at(physics, "b.t")]).toEqual([20, 20]);
  });
});
