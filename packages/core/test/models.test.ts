// What stands around a single room, against published equations that are written out here: walls apart from the air, sun,
// heaters that lag, evaporation, wood, showers, solvent, devices of sensors, people who open windows.
import { type House, simulate } from "modrik";
import { describe, expect, test } from "vitest";
import { number as at, DAY, HOUR, houseOf, MINUTE, pass, problemsOf, roomsOf, START, weatherOf } from "./simulated.js";

/** Within so much of what it should be. */
const near = (measured: number, expected: number, by: number) =>
  expect([measured, Math.abs(measured - expected) <= by]).toEqual([measured, true]);

/** g in a cubic metre of air for each %RH: Magnus (Sonntag 1990) and the gas law. */
const perPercent = (t: number) => (6.112 * Math.exp((17.62 * t) / (243.12 + t)) * 1000) / (461.5 * (t + 273.15));

describe("walls apart from the air", () => {
  const house = houseOf(`zone z { sensor t: °C output heater: on/off }
    physics { zone z { volume 50 m³, loses 40 W/K, stores 5 MJ/K, walls pass 300 W/K } z.heater gives 2 kW of heat }`);

  // Ca dTa = H (Tw - Ta) + 0.6 Q; Cw dTw = H (Ta - Tw) - U Tw + 0.4 Q, outdoors 0 °C: by the classical method of Runge and Kutta.
  function reference(minutes: number): number {
    const [ca, cw, h, u, q] = [50 * 4000, 5e6 - 50 * 4000, 300, 40, 2000];
    const slope = ([a, w]: readonly [number, number]): readonly [number, number] => [
      (h * (w - a) + 0.6 * q) / ca,
      (h * (a - w) - u * w + 0.4 * q) / cw,
    ];
    const step = 5;
    let x: readonly [number, number] = [10, 10];
    const go = (by: readonly [number, number], far: number): readonly [number, number] => [
      x[0] + far * by[0],
      x[1] + far * by[1],
    ];
    for (let second = 0; second < minutes * 60; second += step) {
      const k1 = slope(x);
      const k2 = slope(go(k1, step / 2));
      const k3 = slope(go(k2, step / 2));
      const k4 = slope(go(k3, step));
      x = [0, 1].map((part) => {
        const [a, b, c, d] = [k1, k2, k3, k4].map((k) => k[part] as number) as [number, number, number, number];
        return (x[part] as number) + (step / 6) * (a + 2 * b + 2 * c + d);
      }) as [number, number];
    }
    return x[0];
  }

  test.each([
    [10, MINUTE],
    [60, MINUTE],
    [60, 15 * MINUTE],
    [600, MINUTE],
    [600, 10 * MINUTE],
  ])("after %d min, in steps of %d ms", (minutes, step) => {
    const physics = pass(roomsOf(house, { given: { "z.t": 10 } }), minutes * MINUTE, { "z.heater": "on" }, step);
    near(at(physics, "z.t"), reference(minutes), 0.051);
  });

  test("the air is warm long before the walls are, and both come to rest where one room would", () => {
    const one = houseOf(`zone z { sensor t: °C output heater: on/off }
      physics { zone z { volume 50 m³, loses 40 W/K, stores 5 MJ/K } z.heater gives 400 W of heat }`);
    const [both, single] = [house, one].map((each) => {
      const physics = roomsOf(each, { given: { "z.t": 10 } });
      return at(pass(physics, HOUR, { "z.heater": "on" }), "z.t");
    }) as [number, number];
    expect(both - 10).toBeGreaterThan(5 * (single - 10));
    const rest = pass(roomsOf(one), 400 * HOUR, { "z.heater": "on" }, 10 * MINUTE);
    near(at(rest, "z.t"), 400 / 40, 0.05);
  });

  test("walls that would store nothing are a problem", () => {
    const text = `zone z { sensor t: °C } physics { zone z { volume 50 m³, loses 40 W/K, stores 100 kJ/K, walls pass 300 W/K } }`;
    expect(problemsOf(text)).toEqual(["Walls of z store nothing: its air and furniture alone store 200 kJ/K."]);
  });
});

test("sun through glass warms a room by A g E / (110 lm/W)", () => {
  const house = houseOf(`zone z { sensor t: °C sensor l: lx }
    physics { zone z { volume 50 m³, loses 0 W/K, stores 1 MJ/K, glass 3 m², window 100 % of daylight } }`);
  const weather = weatherOf(10, { cloud: 0 });
  const physics = roomsOf(house, { weather, given: { "z.t": 10 } });
  let heat = 0;
  let before = at(physics, "z.l");
  for (let minute = 1; minute <= 24 * 60; minute++) {
    physics.advance(START + minute * MINUTE);
    const now = at(physics, "z.l");
    heat += (3 * 0.6 * ((before + now) / 2) * 60) / 110;
    before = now;
  }
  expect(heat / 1e6).toBeGreaterThan(3);
  near(at(physics, "z.t"), 10 + heat / 1e6, 0.06);
});

describe("daylight in a room of which only its glass is said", () => {
  const roomOf = (figures: string) => houseOf(`zone z { sensor l: lx } physics { zone z { ${figures} } }`);
  const shareOf = (house: House) => house.physics.zones[0]?.window as number;

  test.each([
    [24, 2.5],
    [24, 6],
    [12, 15],
    [100, 8],
  ])("%d m² of floor and %d m² of glass: the mean daylight factor of BS 8206-2", (floor, glass) => {
    // T W θ / (A (1 - R²)): T = 0.65, θ = 65°, R = 0.5, and A of a square room 2.5 m high.
    const side = Math.sqrt(floor);
    const expected = (0.65 * glass * 65) / ((2 * side * side + 4 * side * 2.5) * 0.75);
    near(shareOf(roomOf(`floor ${floor} m², built solid, glass ${glass} m²`)), expected, 0.051);
  });

  test("what is said of the window goes before it, and a room with figures of its own has those alone", () => {
    expect(shareOf(roomOf("floor 24 m², glass 6 m², window 1 % of daylight"))).toBe(1);
    expect(shareOf(roomOf("volume 50 m³, loses 40 W/K, stores 1 MJ/K, glass 6 m²"))).toBe(0);
    expect(shareOf(roomOf("floor 24 m², built solid"))).toBe(0);
    expect(shareOf(roomOf("floor 4 m², glass 400 m²"))).toBe(100);
  });

  test("the sensor reads that share of the daylight outdoors", () => {
    const weather = weatherOf(10, { cloud: 0 });
    const [inside, outside] = [roomOf("floor 24 m², glass 6 m²"), roomOf("floor 24 m², window 100 % of daylight")].map(
      (house) => {
        const physics = roomsOf(house, { weather });
        physics.advance(START + 12 * HOUR);
        return at(physics, "z.l");
      },
    ) as [number, number];
    near(inside / outside, shareOf(roomOf("floor 24 m², glass 6 m²")) / 100, 0.001);
  });
});

test.each([
  [10, 5],
  [10, 60],
  [120, 60],
])("a heater that lags by %d min has given after %d min what the first order says", (lag, minutes) => {
  const house = houseOf(`zone z { sensor t: °C output heater: on/off }
    physics { zone z { volume 50 m³, loses 0 W/K, stores 0.5 MJ/K } z.heater gives 1 kW of heat lagging ${lag} min }`);
  const physics = pass(roomsOf(house, { given: { "z.t": 10 } }), minutes * MINUTE, { "z.heater": "on" });
  const [t, tau] = [minutes * 60, lag * 60];
  near(at(physics, "z.t"), 10 + (1000 / 0.5e6) * (t - tau * (1 - Math.exp(-t / tau))), 0.051);
  // Switched off, it gives the rest: in all as much as it was on for.
  physics.put("z.heater", "off");
  for (let minute = 1; minute <= 20 * lag; minute++) physics.advance(START + (minutes + minute) * MINUTE);
  near(at(physics, "z.t"), 10 + (1000 * t) / 0.5e6, 0.051);
});

describe("water and its heat", () => {
  test("what evaporates cools the air by 0.68 Wh a gram", () => {
    const house = houseOf(`zone z { sensor t: °C sensor h: %RH output mist: on/off }
      physics { zone z { volume 50 m³, loses 0 W/K, stores 0.5 MJ/K, soaks 50 g/%RH } z.mist gives 300 g/h of water }`);
    const physics = pass(roomsOf(house, { given: { "z.t": 20, "z.h": 40 } }), 2 * HOUR, { "z.mist": "on" });
    near(at(physics, "z.t"), 20 - (0.68 * 600 * 3600) / 0.5e6, 0.051);
  });

  test("a dryer takes less from drier air, and gives back the heat of what it condenses", () => {
    const house = houseOf(`zone z { sensor t: °C sensor h: %RH output dryer: on/off }
      physics { zone z { volume 50 m³, loses 0 W/K, stores 50 MJ/K, soaks 200 g/%RH } z.dryer gives -600 g/h of water }`);
    const dried = (humidity: number) => {
      const physics = pass(roomsOf(house, { given: { "z.t": 20, "z.h": humidity } }), 2 * HOUR, { "z.dryer": "on" });
      return (humidity - at(physics, "z.h")) * (200 + 50 * perPercent(20));
    };
    for (const humidity of [80, 60, 40]) {
      // By what the air held at first and at last: rated at 15.5 g/m³.
      const rate = (600 * humidity * perPercent(20)) / 15.5;
      expect(dried(humidity)).toBeGreaterThan(2 * rate * 0.9);
      expect(dried(humidity)).toBeLessThan(2 * rate * 1.05);
    }
    expect(dried(40) / dried(80)).toBeLessThan(0.6);
  });

  test("wood follows in its own time, and no water is lost between it and the air", () => {
    const house = houseOf(`zone z { sensor t: °C sensor h: %RH output mist: on/off }
      physics { zone z { volume 100 m³, loses 0 W/K, stores 5000 MJ/K, soaks 100 g/%RH, wood follows in 8 h }
        z.mist gives 200 g/h of water }`);
    const physics = roomsOf(house, { given: { "z.t": 20, "z.h": 40 } });
    pass(physics, HOUR, { "z.mist": "on" });
    const air = 100 * perPercent(20);
    // x' = (G - (x - w) 100/8)/air; w' = (x - w)/8, by small steps.
    let [x, w] = [40, 40];
    for (let second = 0; second < 3600; second++) {
      const flow = ((x - w) * 100) / 8;
      x += (200 - flow) / air / 3600;
      w += flow / 100 / 3600;
    }
    near(at(physics, "z.h"), x, 0.2);
    physics.put("z.mist", "off");
    for (let hour = 2; hour <= 200; hour++) physics.advance(START + hour * HOUR);
    near(at(physics, "z.h"), 40 + 200 / (air + 100), 0.06);
  });
});

describe("what people do", () => {
  const morning = `schedule morning { daily 06:00 to 08:00 }`;
  const text = (habit: string) => `zone z { sensor t: °C sensor h: %RH sensor window: open/closed } ${morning}
    physics { zone z { volume 20 m³, loses 0 W/K, stores 50 MJ/K, soaks 400 g/%RH } } people { z during morning, ${habit} }`;
  const bath = (habit: string) => houseOf(text(habit));
  const day = (house: House, given = { "z.t": 22, "z.h": 30 }) => pass(roomsOf(house, { given }), 12 * HOUR);
  const held = 400 + 20 * perPercent(22);

  test.each([
    ["showers for 8 min", (2600 * 8) / 60],
    ["cooks for 30 min", 1000 / 2],
    ["breathes 20 l/h", 0],
  ])("%s", (habit, grams) => {
    // A person gives 45 g/h as well, for two hours.
    near((at(day(bath(habit)), "z.h") - 30) * held, grams + 90, 0.06 * held);
  });

  test("cooking gives a kilowatt beside 70 W of the cook", () => {
    near(at(day(bath("cooks for 30 min")), "z.t"), 22 + (1000 * 1800 + 70 * 7200) / 50e6, 0.051);
  });

  test("windows are opened to air, and where it is too warm", () => {
    const opened = (habit: string, outdoors: number, inside: number) => {
      const house = bath(habit);
      const physics = roomsOf(house, { weather: weatherOf(outdoors), given: { "z.t": inside, "z.h": 40 } });
      let minutes = 0;
      for (let minute = 1; minute <= 12 * 60; minute++) {
        physics.advance(START + minute * MINUTE);
        if (physics.reading("z.window") === "open") minutes++;
      }
      return minutes;
    };
    expect(opened("airs every 30 min", 5, 20)).toBeGreaterThanOrEqual(30);
    expect(opened("airs every 30 min", 5, 20)).toBeLessThanOrEqual(60);
    expect(opened("opens windows above 26 °C", 5, 24)).toBe(0);
    expect(opened("opens windows above 26 °C", 15, 30)).toBeGreaterThan(100);
    expect(opened("opens windows above 26 °C", 35, 30)).toBe(0);
  });

  test("doors are left open for a quarter of an hour, and not by who is not there", () => {
    const house = houseOf(`zone z { sensor door: open/closed } schedule work { daily 08:00 to 16:00 }
      physics { zone z { volume 30 m³, loses 20 W/K, stores 1 MJ/K } }
      people { z during work, props doors open every 2 h }`);
    const physics = roomsOf(house, {});
    const opened: number[] = [];
    for (let minute = 1; minute <= 24 * 60; minute++) {
      physics.advance(START + minute * MINUTE);
      if (physics.reading("z.door") === "open") opened.push(minute / 60);
    }
    // Some four times, for 7.5 to 22.5 minutes each.
    expect(opened.length).toBeGreaterThan(20);
    expect(opened.length).toBeLessThan(120);
    expect(opened.filter((hour) => hour < 8 || hour > 16.5)).toEqual([]);
  });

  test("one habit either showers or cooks", () => {
    expect(problemsOf(text("showers for 8 min, cooks for 8 min"))).toEqual(["One habit either showers or cooks."]);
  });

  test("a coat gives off its solvent, e^(-t/40 min), and a fan draws it out", () => {
    const booth = (effects: string) =>
      houseOf(`zone z { sensor fumes: ppm output fan: on/off } schedule work { daily 10:00 to 11:00 }
        physics { zone z { volume 18 m³, loses 20 W/K, stores 1 MJ/K } ${effects} } people { z during work, lays a coat of 30 g }`);
    const ppm = (30 * 0.522) / 1000 / 18 / 1e-6;
    const closed = pass(roomsOf(booth("")), 24 * HOUR);
    near(at(closed, "z.fumes"), ppm, 1);
    const physics = pass(roomsOf(booth("z.fan gives 120 m³/h of air from outdoors")), 24 * HOUR, { "z.fan": "on" });
    expect(at(physics, "z.fumes")).toBe(0);
  });
});

describe("sensors tell what their device makes of the room", () => {
  const room = (sensor: string) =>
    houseOf(`zone z { sensor t: °C${sensor} output heater: on/off } weather w { outdoors 0 °C }
      physics { zone z { volume 50 m³, loses 50 W/K, stores 0.02 MJ/K } z.heater gives 1 kW of heat }`);
  const reports = (sensor: string) => {
    const run = simulate(room(sensor), { from: START, lasts: DAY });
    return run.past.records.filter(({ at: when, event }) => when > START && event.kind === "value" && event.thing === "z.t");
  };

  test("lags: after the lag it has come 63 % of the way", () => {
    const house = houseOf(`zone z { sensor t: °C, lags 10 min output heater: on/off }
      physics { zone z { volume 50 m³, loses 1000 W/K, stores 0.001 MJ/K } z.heater gives 20 kW of heat }`);
    const physics = pass(roomsOf(house), 10 * MINUTE, { "z.heater": "on" });
    near(at(physics, "z.t"), 20 * (1 - Math.exp(-1)), 0.1);
  });

  test("wobbles by: a standard deviation of so much, the same for the same seed", () => {
    const house = room(", wobbles by 0.5 K");
    const readings = (seed: number) => {
      const physics = roomsOf(house, { seed });
      return Array.from({ length: 2000 }, () => Number(physics.reading("z.t")));
    };
    const [one, again, other] = [readings(1), readings(1), readings(2)];
    expect(one).toEqual(again);
    expect(one).not.toEqual(other);
    const mean = one.reduce((sum, x) => sum + x, 0) / one.length;
    near(mean, 0, 0.05);
    near(Math.sqrt(one.reduce((sum, x) => sum + (x - mean) ** 2, 0) / one.length), 0.5, 0.03);
  });

  test("reports every, and on change of", () => {
    const swings = (attributes: string) => {
      const house = houseOf(`zone z { sensor t: °C${attributes} } weather w { outdoors 10 °C, swings 8 K }
        physics { zone z { volume 50 m³, loses 500 W/K, stores 0.01 MJ/K } }`);
      const { past } = simulate(house, { from: START, lasts: DAY, settles: false });
      const { times, values } = past.line({ kind: "value", of: "z.t" });
      return times.flatMap((when, place) => (when > START ? [[when, values[place] as number] as const] : []));
    };
    expect(swings(", reports every 10 min").every(([when]) => (when - START) % (10 * MINUTE) === 0)).toBe(true);
    const changes = swings(", reports on change of 1 K");
    expect(changes.length).toBeGreaterThanOrEqual(14);
    expect(changes.length).toBeLessThanOrEqual(17);
    changes.slice(1).forEach(([, value], place) => {
      expect(Math.abs(value - (changes[place]?.[1] as number))).toBeGreaterThanOrEqual(1 - 1e-9);
    });
  });

  test("none of it is without effect on what rules do", () => {
    expect(reports("").length).toBeLessThan(reports(", wobbles by 0.3 K").length);
  });
});

describe("tanks and soil", () => {
  const text = (
    effects: string,
    level = "low/ok",
  ) => `zone z { sensor t: °C sensor h: %RH sensor l: lx sensor level: ${level} sensor soil: %
    output pump: on/off, delivers 10 ml/s }
    physics { zone z { volume 50 m³, loses 5000 W/K, stores 0.01 MJ/K, leaks 50 /h, window 100 % of daylight } ${effects} }`;

  test("a tank loses what is drawn from it and gains what runs in; its float has a gap", () => {
    const words = "z.level holds 100 l z.level turns low at 20 l z.level gains 6 l/h z.pump draws from z.level";
    const physics = roomsOf(houseOf(text(words)));
    const litres = roomsOf(houseOf(text("z.level holds 100 l z.level gains 6 l/h z.pump draws from z.level", "l")));
    const share = roomsOf(houseOf(text("z.level holds 100 l z.level gains 6 l/h z.pump draws from z.level", "%")));
    const all = [physics, litres, share];
    const letRun = (pump: string, from: number, minutes: number) => {
      for (const one of all) {
        one.put("z.pump", pump);
        for (let minute = 1; minute <= minutes; minute++) one.advance(START + (from + minute) * MINUTE);
      }
      return all.map((one) => one.reading("z.level"));
    };
    // 36 l/h out, 6 l/h in.
    expect(letRun("on", 0, 60)).toEqual(["ok", 70, 70]);
    expect(letRun("on", 60, 99)).toEqual(["ok", 20.5, 20.5]);
    expect(letRun("on", 159, 2)).toEqual(["low", 19.5, 19.5]);
    expect(letRun("off", 161, 20)).toEqual(["low", 21.5, 21.5]);
    expect(letRun("off", 181, 10)).toEqual(["ok", 22.5, 22.5]);
    expect(letRun("on", 191, 60)).toEqual(["low", 0, 0]);
    expect(letRun("off", 251, 60 * 24)).toEqual(["ok", 100, 100]);
  });

  test("soil dries by Penman and Monteith, is watered by what is delivered, and drains what it cannot hold", () => {
    const house = houseOf(text("z.soil is 0.5 m² of soil 20 cm deep z.pump waters z.soil"));
    const weather = weatherOf(20, { cloud: 0, humidity: 50 });
    const physics = roomsOf(house, { weather, given: { "z.t": 20, "z.h": 50 } });
    expect(at(physics, "z.soil")).toBe(30);
    let lost = 0;
    for (let minute = 1; minute <= 24 * 60; minute++) {
      // FAO-56, 53, by the hour, of what the sensors of the zone read.
      const [t, h, lux] = [at(physics, "z.t"), at(physics, "z.h"), at(physics, "z.l")];
      const saturated = 0.6108 * Math.exp((17.27 * t) / (t + 237.3));
      const slope = (4098 * saturated) / (t + 237.3) ** 2;
      const dries = 0.408 * slope * 0.77 * ((lux / 110) * 0.0036) + ((0.0674 * 37) / (t + 273)) * 2 * saturated * (1 - h / 100);
      lost += dries / (slope + 0.0674 * 1.68) / 60;
      physics.advance(START + minute * MINUTE);
    }
    // Millimetres of 200 mm; a clear winter day at 20 °C and half the humidity.
    expect(lost).toBeGreaterThan(1.5);
    near(at(physics, "z.soil"), 30 - (lost / 200) * 100, 0.06);
    // Six litres on half a square metre are 12 mm.
    const before = at(physics, "z.soil");
    physics.put("z.pump", "on");
    for (let minute = 1; minute <= 10; minute++) physics.advance(START + DAY + minute * MINUTE);
    expect(at(physics, "z.soil")).toBeGreaterThan(before + 5);
    physics.put("z.pump", "off");
    for (let hour = 1; hour <= 12; hour++) physics.advance(START + DAY + hour * HOUR);
    expect(at(physics, "z.soil")).toBeLessThanOrEqual(30.1);
  });

  test("a float is heard though nothing else reports, and what is given is what there is at first", () => {
    const house = houseOf(`zone z { sensor level: low/ok output pump: on/off, delivers 10 ml/s }
      rule run { hold z.pump at on } weather w { outdoors 5 °C }
      physics { zone z { floor 20 m² } z.level holds 600 l z.level turns low at 300 l z.pump draws from z.level }`);
    const { past } = simulate(house, { from: START, lasts: DAY, runUp: 0 });
    const { times, values } = past.line({ kind: "value", of: "z.level" });
    // 36 l/h: 300 l are gone after eight hours and twenty minutes.
    const low = times[values.lastIndexOf(0)] as number;
    near((low - START) / MINUTE, 500, 1.1);
    const litres = houseOf(text("z.level holds 100 l z.soil is 1 m² of soil 10 cm deep", "l"));
    const physics = roomsOf(litres, { given: { "z.level": 40, "z.soil": 21 } });
    expect([physics.reading("z.level"), physics.reading("z.soil")]).toEqual([40, 21]);
  });

  test.each([
    ["z.level holds 90 l z.level holds 80 l z.level turns low at 9 l", "z.level is described twice."],
    ["z.pump draws from z.level", "How much z.level can hold is not said."],
    ["z.pump waters z.soil", "z.soil is not soil."],
    ["z.level holds 100 l", "z.level does not measure what a tank holds."],
    ["z.t holds 100 l", "z.t does not measure what a tank holds."],
    ["z.t is 0.5 m² of soil 20 cm deep", "z.t does not measure the water in soil."],
    ["z.level holds 0 l z.level turns low at 5 l", "0 l is not above zero."],
  ])("%s is told", (effects, says) => {
    expect(problemsOf(text(effects))).toContain(says);
  });

  test("a pump that does not say how much it delivers is told", () => {
    const silent = text("z.level holds 9 l z.level turns low at 2 l z.pump draws from z.level").replace(", delivers 10 ml/s", "");
    expect(problemsOf(silent)).toEqual(["z.pump does not say how much it delivers."]);
  });
});

describe("a zone outdoors", () => {
  const text = (
    said: string,
    rest = "",
  ) => `zone garden { sensor t: °C sensor h: %RH sensor lux: lx sensor co2: ppm sensor gate: open/closed sensor soil: % }
    zone z { sensor t: °C sensor lux: lx output heater: on/off }
    ${rest}
    physics { zone z { volume 40 m³, loses 50 W/K, stores 2 MJ/K, window 100 % of daylight } z.heater gives 1 kW of heat ${said} }`;

  test("its sensors read the weather, and nothing in the rooms moves them", () => {
    const physics = roomsOf(houseOf(text("garden is outdoors")), {
      weather: weatherOf(8, { swings: 6, humidity: 70, cloud: 40 }),
    });
    const warmth: number[] = [];
    for (let hour = 1; hour <= 24; hour++) {
      pass(physics, HOUR, { "z.heater": "on" }, MINUTE, START + (hour - 1) * HOUR);
      warmth.push(at(physics, "garden.t"));
      // A room without a wall towards the sky has the same light.
      expect(at(physics, "garden.lux")).toBe(at(physics, "z.lux"));
      expect(at(physics, "garden.co2")).toBe(420);
    }
    near(Math.max(...warmth) - Math.min(...warmth), 6, 0.11);
    near(warmth.reduce((sum, one) => sum + one, 0) / 24, 8, 0.11);
    expect(physics.reading("garden.gate")).toBeUndefined();
    // As much water in the air all day: damp by night, dry by day.
    near(at(physics, "garden.h") * perPercent(at(physics, "garden.t")), 70 * perPercent(8), 0.1);
  });

  test("soil there dries into the weather, and is watered", () => {
    const house = houseOf(
      `zone y { sensor soil: % output pump: on/off, delivers 50 ml/s }
       physics { y is outdoors y.soil is 1 m² of soil 20 cm deep y.pump waters y.soil }`,
    );
    const physics = roomsOf(house, { weather: weatherOf(24, { swings: 10, humidity: 40, cloud: 0 }), given: { "y.soil": 20 } });
    const dry = at(pass(physics, 3 * DAY), "y.soil");
    expect(dry).toBeLessThan(19.5);
    // 50 ml/s for four minutes are 12 l, in 200 l of soil 6 %.
    near(at(pass(physics, 4 * MINUTE, { "y.pump": "on" }, MINUTE, START + 3 * DAY), "y.soil"), dry + 6, 0.11);
  });

  test("in a house that says nothing of its rooms, one called outside is taken for it, and that is told", () => {
    const house = houseOf(
      "zone outside { sensor t: °C } zone z { sensor t: °C output heater: on/off } rule r { keep z.t at 20 °C ± 1 K raise with z.heater }",
    );
    const run = simulate(house, { from: START, lasts: HOUR, weather: weatherOf(3) });
    expect([run.assumed, run.takenOutdoors, run.unmoved]).toEqual([true, ["outside"], []]);
    expect(run.past.line({ kind: "value", of: "outside.t" }).values.at(-1)).toBe(3);
  });

  test.each([
    ["garden is outdoors garden is outdoors", "garden is described twice."],
    ["z is outdoors", "z is a room and outdoors."],
    ["garden is outdoors z beside garden passes 9 W/K", "What acts on garden, which is outdoors,"],
    ["garden is outdoors z.heater gives 30 m³/h of air from garden", "What acts on garden, which is outdoors,"],
    ["garden is outdoors garden.t is a surface with 60 % of the warmth", "What acts on garden, which is outdoors,"],
    ["nowhere is outdoors", "nowhere"],
  ])("%s is told", (said, says) => {
    expect(problemsOf(text(said)).join()).toContain(says);
  });
});

describe("cold surfaces", () => {
  const text = (surface: string, rest = "") => `zone z {
      sensor corner: °C
      sensor damp: %RH
      sensor t: °C
      sensor h: %RH
      sensor lux: lx
      output heater: on/off
      output mister: on/off
    }
    ${rest}
    physics {
      zone z { volume 40 m³, loses 50 W/K, stores 2 MJ/K, leaks 0.5 /h, window 2 % of daylight }
      z.heater gives 1.2 kW of heat
      z.mister gives 400 g/h of water
      ${surface}
    }`;
  const at65 = "z.corner is a surface with 65 % of the warmth z.damp is a surface with 65 % of the warmth";

  /** What ISO 13788 says of a surface: its temperature, and the humidity at it, with Magnus for the pressure (Sonntag 1990). */
  const surfaceOf = (factor: number, inside: number, humidity: number, outdoors: number) => {
    const pressure = (t: number) => 611.2 * Math.exp((17.62 * t) / (243.12 + t));
    const surface = inside - (1 - factor) * (inside - outdoors);
    return [surface, Math.min(100, (humidity * pressure(inside)) / pressure(surface))] as const;
  };

  test.each([
    [-10, 40, 100],
    [-10, 40, 60],
    [0, 55, 65],
    [8, 70, 30],
    [30, 50, 65],
  ])("outdoors %d °C, inside %d %RH, a surface with %d per cent of the warmth", (outdoors, humidity, warmth) => {
    const house = houseOf(text(at65.replaceAll("65", String(warmth))));
    const weather = weatherOf(outdoors);
    const physics = roomsOf(house, { weather, given: { "z.t": 20, "z.h": humidity, "z.corner": -3, "z.damp": 99 } });
    const [surface, damp] = surfaceOf(warmth / 100, 20, humidity, outdoors);
    near(at(physics, "z.t"), 20, 0.051);
    near(at(physics, "z.corner"), surface, 0.051);
    near(at(physics, "z.damp"), damp, 0.051);
  });

  test("follow their room and the weather, and take nothing from either", () => {
    const weather = weatherOf(-5, { swings: 10 });
    const [plain, beside] = [houseOf(text("")), houseOf(text(at65))].map((house) => {
      const physics = roomsOf(house, { weather, given: { "z.t": 15, "z.h": 40 } });
      return pass(physics, 7 * HOUR, { "z.heater": "on" });
    }) as [ReturnType<typeof roomsOf>, ReturnType<typeof roomsOf>];
    for (const name of ["z.t", "z.h"]) expect(beside.reading(name)).toBe(plain.reading(name));
    expect(at(beside, "z.corner")).toBeLessThan(at(beside, "z.t") - 5);
    expect(at(beside, "z.damp")).toBeGreaterThan(at(beside, "z.h") + 10);
    expect(at(pass(beside, 40 * HOUR, { "z.mister": "on" }), "z.damp")).toBe(100);
  });

  test("rules are told of the corner before the air is damp", () => {
    const rules = `rule wet { hold z.mister at on } rule dry { while z.damp above 80 %RH until below 70 %RH hold z.heater at on }
      weather w { outdoors -5 °C }`;
    const airs = new Map([["z", { temperature: 18, humidity: 30 }]]);
    const run = simulate(houseOf(text(at65, rules)), { from: START, lasts: DAY, runUp: 0, settles: false, airs });
    expect(run.unmoved).toEqual([]);
    const { times, values } = run.past.line({ kind: "value", of: "z.heater" });
    // By the places of its words: on stands first.
    const on = times[values.indexOf(0)] as number;
    expect(on).toBeGreaterThan(START + 10 * MINUTE);
    const air = run.past.line({ kind: "value", of: "z.h" });
    const then = air.values[air.times.filter((at) => at <= on).length - 1] as number;
    expect(then).toBeLessThan(65);
  });

  test.each([
    [`${at65} z.damp is a surface with 70 % of the warmth`, "z.damp is described twice."],
    ["z.lux is a surface with 70 % of the warmth", "z.lux does not measure a cold surface."],
    ["z.corner is a surface with 170 % of the warmth", "170 % is outside 0..100 %."],
    ["z.corner is a surface with -5 % of the warmth", "-5 % is not above zero."],
    ["z.corner is at 70 %", "Unexpected"],
  ])("%s is told", (surface, says) => {
    expect(problemsOf(text(surface)).join()).toContain(says);
  });

  test("one of a zone without a room is told", () => {
    const [says] = problemsOf(`zone z { sensor t: °C } zone y { sensor t: °C }
      physics { zone y { floor 9 m² } z.t is a surface with 70 % of the warmth }`);
    expect(says).toMatch(/z/);
  });
});
