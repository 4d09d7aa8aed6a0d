// The same house in TypeScript as in text; what the compiler refuses stands after `@ts-expect-error`.
import { createEngine, parseHouse, quantity } from "modrik";
import {
  above,
  aggregate,
  all,
  any,
  atLeast,
  atTime,
  begins,
  below,
  between,
  branch,
  changes,
  choose,
  countdown,
  defineHouse,
  dial,
  during,
  ends,
  every,
  guard,
  held,
  hours,
  inTheLast,
  is,
  isPressed,
  isRunning,
  isUnknown,
  lasting,
  minutes,
  mode,
  not,
  output,
  outside,
  permit,
  permitBeyond,
  plus,
  release,
  rule,
  schedule,
  seconds,
  sensor,
  set,
  start,
  stop,
  tell,
  until,
  wait,
  waitUntil,
  zone,
} from "modrik/author";
import { describe, expect, test } from "vitest";

const bench = zone(
  "bench",
  {
    humidity: sensor("%RH", { range: [0, 100], unknownAfter: minutes(15) }),
    temperature: sensor("°C"),
    corner: sensor("°C", { title: "The corner" }),
    door: sensor(["open", "closed"]),
    grade: sensor(["poor", "fair", "good"], { ordered: true }),
    bell: sensor("press"),
    humidifier: output("on/off"),
    dryer: output("on/off", { title: "Dehumidifier", atLeast: { off: minutes(5) } }),
    heater: output("on/off"),
    lamps: output("%", { range: [0, 100], atRest: 0 }),
    moisture: dial(45, "%RH", { range: [35, 60], step: 0.5 }),
    linger: dial(10, "min", { range: [1, 60] }),
    lightsOut: dial("22:30", "time"),
  },
  { title: "Bench room" },
);
const shop = mode("shop", ["open", "closed", "away"], "closed");
const shopHours = schedule("shop_hours", [
  { on: ["Mon", "Tue", "Fri"], spans: [["08:00", "12:00"]] },
  { spans: [["22:00", "06:30"]] },
]);
const airing = countdown("airing", minutes(20));

const house = defineHouse({
  name: "Study",
  clock: "Europe/Zurich",
  place: { latitude: 46.95, longitude: 7.45 },
  handLasts: hours(2),
  zones: [bench],
  modes: [shop],
  schedules: [shopHours],
  countdowns: [airing],
  rules: [
    rule(
      "dry_wood",
      [
        {
          while: lasting(is(bench.door, "closed"), minutes(2)),
          keep: {
            value: bench.humidity,
            at: bench.moisture,
            tolerance: quantity(3, "%RH"),
            raiseWith: bench.humidifier,
            lowerWith: bench.dryer,
          },
        },
      ],
      { title: "Keep the bench air where the wood likes it" },
    ),
    rule("warm", [
      {
        keep: {
          value: bench.temperature,
          at: quantity(20, "°C"),
          tolerance: { below: quantity(0.2, "K"), above: quantity(0.4, "K") },
          raiseWith: bench.heater,
        },
      },
      {
        while: all(
          until(
            below(aggregate("mean", [bench.temperature, bench.corner]), quantity(18, "°C")),
            above(bench.temperature, plus(bench.corner, quantity(1, "K"))),
          ),
          any(during(shopHours), not(isRunning(airing)), inTheLast(isPressed(bench.bell), seconds(30))),
        ),
        hold: [held(bench.lamps, quantity(80, "%")), held(bench.heater, "on")],
      },
      { while: outside(shopHours), cycle: { output: bench.humidifier, on: minutes(10), off: minutes(20) } },
    ]),
    rule(
      "door_ajar",
      [
        {
          when: [
            lasting(is(bench.door, "open"), minutes(5)),
            atTime("07:30", ["Mon", "Fri"]),
            atTime(bench.lightsOut),
            every(minutes(15)),
            begins(shopHours),
            ends(airing),
            changes(shop),
            atLeast(bench.grade, "fair"),
          ],
          provided: not(is(shop, "away")),
          do: [
            tell(["The door is open, ", bench.temperature, "."], { through: "phone", onceIn: hours(1) }),
            set(bench.lamps, quantity(30, "%"), { for: bench.linger }),
            set(shop, "closed", { until: isUnknown(bench.humidity) }),
            wait(minutes(5)),
            waitUntil(between(bench.temperature, quantity(18, "°C"), quantity(20, "°C")), { atMost: hours(1) }),
            branch(is(shop, "open"), [start(airing)], [stop(airing), release(bench.lamps)]),
          ],
          ifTriggeredAgain: "ignore",
        },
      ],
      { as: "urgent" },
    ),
  ],
  guards: [
    guard("shut_door", [
      permit(bench.heater, "on", not(is(bench.door, "open"))),
      permitBeyond(bench.lamps, { above: quantity(40, "%") }, is(choosing(), "open")),
    ]),
  ],
});

function choosing() {
  return choose(is(shop, "away"), bench.door, "closed");
}

const text = `house "Study" { clock "Europe/Zurich" place 46.95 N, 7.45 E hand lasts 2 h }
zone bench "Bench room" {
  sensor humidity: %RH, 0..100 %RH, unknown after 15 min
  sensor temperature: °C
  sensor corner "The corner": °C
  sensor door: open/closed
  sensor grade: poor < fair < good
  sensor bell: press
  output humidifier: on/off
  output dryer "Dehumidifier": on/off, off at least 5 min
  output heater: on/off
  output lamps: 0..100 %, at rest 0 %
  dial moisture: 35..60 %RH, at first 45 %RH, step 0.5 %RH
  dial linger: 1..60 min, at first 10 min
  dial lightsOut: time, at first 22:30
}
mode shop: open/closed/away, at first closed
schedule shop_hours { Mon, Tue, Fri 08:00 to 12:00 daily 22:00 to 06:30 }
countdown airing = 20 min
rule dry_wood "Keep the bench air where the wood likes it" {
  while bench.door has been closed for 2 min
  keep bench.humidity at bench.moisture ± 3 %RH raise with bench.humidifier lower with bench.dryer
}
rule warm {
  keep bench.temperature at 20 °C ± -0.2..+0.4 K raise with bench.heater
  while (mean(bench.temperature, bench.corner) below 18 °C) until (bench.temperature above bench.corner + 1 K)
    and (during shop_hours or not (airing is running) or bench.bell was pressed in the last 30 s)
  hold bench.lamps at 80 %, bench.heater at on
  while outside shop_hours
  cycle bench.humidifier on 10 min off 20 min
}
rule door_ajar as urgent {
  when bench.door has been open for 5 min
  or when at 07:30 on Mon, Fri
  or when at bench.lightsOut
  or when every 15 min
  or when shop_hours begins
  or when airing ends
  or when shop changes
  or when bench.grade at least fair
  provided shop is not away
  do {
    tell "The door is open, {bench.temperature}." through phone, at most once in 1 h
    set bench.lamps to 30 % for bench.linger
    set shop to closed until bench.humidity is unknown
    wait 5 min
    wait until bench.temperature between 18 °C and 20 °C, at most 1 h
    if shop is open { start airing } else { stop airing release bench.lamps }
  }
  if triggered again, ignore
}
guard shut_door {
  permit bench.heater on only while not (bench.door is open)
  permit bench.lamps above 40 % only while (if shop is away then bench.door else closed) is open
}`;

test("the same house from text and from TypeScript is the same", () => {
  const { house: parsed, problems } = parseHouse({ "house.modrik": text });
  expect(problems).toEqual([]);
  expect(house).toEqual(parsed);
});

test("it runs", () => {
  const engine = createEngine(house, { at: 0, given: { "bench.door": "closed", "bench.humidity": 45 } });
  engine.report("bench.humidity", 41, 60_000);
  engine.advanceTo(60_000);
  expect(engine.value("bench.humidifier")).toBe("on");
});

describe("what is not of one house throws", () => {
  const store = zone("store", { fan: output("on/off"), door: sensor(["open", "closed"]) });
  const define = (rules: NonNullable<Parameters<typeof defineHouse>[0]["rules"]>, zones = [store, store]) =>
    defineHouse({ name: "A", clock: "UTC", zones: zones.slice(0, 1), rules });
  const airs = rule("airs", [{ while: is(bench.door, "open"), hold: [held(store.fan, "on")] }]);

  test("a thing of another zone", () =>
    expect(() => define([airs])).toThrow(/^rules\.airs\[0\]: There is no thing called "bench\.door"/));
  test("a name twice", () => {
    const same = rule("airs", [{ hold: [held(store.fan, "on")] }]);
    expect(() => define([same, same])).toThrow(/^rules\.airs: "airs" is the name of two things/);
  });
  test.each<[string, () => unknown, RegExp]>([
    [
      "a clock that is none",
      () => defineHouse({ name: "A", clock: "Europe/Berlinn", zones: [store], rules: [] }),
      /"Europe\/Berlinn" is not a valid time zone/,
    ],
    [
      "a value beyond a range",
      () => define([rule("r", [{ hold: [held(bench.lamps, quantity(150, "%"))] }])], [bench as never]),
      /150 % is outside 0..100 %/,
    ],
    [
      "a name that is none",
      () => define([rule("my rule", [{ hold: [held(store.fan, "on")] }])]),
      /"my rule" is not part of the language. Write my_rule/,
    ],
    [
      "a wait of less than nothing",
      () => define([rule("r", [{ when: [is(store.door, "open")], do: [wait(minutes(-5))] }])]),
      /below|above zero|nothing/,
    ],
  ])("%s", (_, make, says) => expect(make).toThrow(says));
  test("no time of day", () => expect(() => atTime("25:00")).toThrow(/no time of day/));
});

test("the compiler refuses what cannot be meant", () => {
  const refused = () => {
    // @ts-expect-error a word that the door has not
    is(bench.door, "ajar");
    // @ts-expect-error a number is not a word
    is(bench.humidity, "open");
    // @ts-expect-error a humidity against a temperature
    above(bench.humidity, quantity(20, "°C"));
    // @ts-expect-error a bare number
    above(bench.humidity, 45);
    // @ts-expect-error no such unit
    quantity(45, "%HR");
    // @ts-expect-error no such thing in the zone
    bench.humidty;
    const warm = { value: bench.temperature, at: quantity(20, "°C"), raiseWith: bench.heater };
    // @ts-expect-error a tolerance is a difference, 0.5 K
    rule("r", [{ keep: { ...warm, tolerance: quantity(0.5, "°C") } }]);
    const moist = { value: bench.humidity, at: bench.moisture, tolerance: quantity(3, "%RH") };
    // @ts-expect-error a target of another kind
    rule("r", [{ keep: { ...moist, at: quantity(20, "°C") } }]);
    // @ts-expect-error a sensor is not driven
    rule("r", [{ keep: { ...moist, raiseWith: bench.door } }]);
    // What has a range is full or nothing.
    rule("r", [{ keep: { ...moist, raiseWith: bench.lamps } }]);
    // @ts-expect-error a sensor is not held
    held(bench.door, "open");
    // @ts-expect-error a lamp is set to a share
    held(bench.lamps, "on");
    // @ts-expect-error a mode has words of its own
    set(shop, "shut");
    // @ts-expect-error a duration, not a share
    wait(quantity(5, "%"));
    // @ts-expect-error a first value that is none of its words
    mode("m", ["a", "b"], "c");
    // @ts-expect-error a rest that is none of its words
    output(["up", "down"], { atRest: "left" });
    // @ts-expect-error what comes at a moment is done, not held
    rule("r", [{ when: [is(bench.door, "open")], hold: [held(bench.heater, "on")] }]);
    // @ts-expect-error a condition, not a value
    not(bench.humidity);
    // @ts-expect-error a press is not a state
    is(bench.bell, "pressed");
    // @ts-expect-error a permitted word that the output has not
    permit(bench.heater, "open", is(bench.door, "closed"));
  };
  expect(refused).toBeTypeOf("function");
});
