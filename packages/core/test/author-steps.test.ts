// Lets, presets and every step, written in TypeScript: the same data as of the same house as text; and all that is wrong said
// at once.
import { parseHouse, quantity } from "modrik";
import {
  above,
  apply,
  at,
  atLeast,
  atTime,
  choose,
  defineHouse,
  dial,
  dose,
  endHere,
  held,
  is,
  lower,
  minus,
  minutes,
  mode,
  output,
  preset,
  raise,
  ramp,
  reckoned,
  rule,
  type Steps,
  send,
  sensor,
  set,
  tell,
  toggle,
  zone,
} from "modrik/author";
import { describe, expect, test } from "vitest";

const room = zone("room", {
  temperature: sensor("°C"),
  door: sensor(["open", "closed"]),
  lamp: output("%", { range: [0, 100] }),
  fan: output("on/off"),
  pump: output("on/off"),
  wanted: dial(20, "°C", { range: [10, 30] }),
});
const stay = mode("stay", ["home", "away"], "home");
const missing = reckoned("missing", minus(room.wanted, room.temperature), { title: "Missing warmth" });
const cold = reckoned("cold", above(missing, quantity(2, "K")));
const target = reckoned("target", choose(is(stay, "home"), room.wanted, quantity(12, "°C")));
const evening = preset("evening", [at(room.lamp, quantity(30, "%")), at(room.wanted, quantity(18, "°C")), at(stay, "home")], {
  title: "Evening",
});

const head = `house "H" { clock "UTC" }
zone room {
  sensor temperature: °C
  sensor door: open/closed
  output lamp: 0..100 %
  output fan: on/off
  output pump: on/off
  dial wanted: 10..30 °C, at first 20 °C
}
mode stay: home/away, at first home
let missing "Missing warmth" = room.wanted - room.temperature
let cold = missing above 2 K
let target = if stay is home then room.wanted else 12 °C
preset evening "Evening" { room.lamp at 30 %, room.wanted at 18 °C, stay at home }`;

const written = (steps: Steps) =>
  defineHouse({
    name: "H",
    clock: "UTC",
    zones: [room],
    modes: [stay],
    lets: [missing, cold, target],
    presets: [evening],
    rules: [rule("r", [{ when: [atTime("07:00")], do: steps }]), rule("h", [{ while: cold, hold: [held(room.fan, "on")] }])],
  });

describe("as of the same house as text", () => {
  test.each<[string, Steps]>([
    ["toggle room.fan", [toggle(room.fan)]],
    ["raise room.lamp by 5 %", [raise(room.lamp, quantity(5, "%"))]],
    ["lower room.wanted by 0.5 K", [lower(room.wanted, quantity(0.5, "K"))]],
    [
      "ramp room.lamp from 0 % to 80 % over 10 min",
      [ramp(room.lamp, { from: quantity(0, "%"), to: quantity(80, "%"), over: minutes(10) })],
    ],
    ["apply evening", [apply(evening)]],
    ["apply evening for 10 min", [apply(evening, { for: minutes(10) })]],
    ["apply evening until room.door is open", [apply(evening, { until: is(room.door, "open") })]],
    ["set room.wanted to target for 10 min", [set(room.wanted, target, { for: minutes(10) })]],
    ['send "1" to "room/bell"', [send("1", "room/bell")]],
    ['tell "Now." end here', [tell("Now."), endHere()]],
  ])("%s", (text, steps) => {
    const { house, problems } = parseHouse({
      "a.modrik": `${head}\nrule r { when at 07:00 do { ${text} } } rule h { while cold hold room.fan at on }`,
    });
    expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
    expect(written(steps)).toEqual(house);
  });

  test("a dose, of an output that does not deliver, is refused as its text is", () => {
    expect(() => written([dose(room.pump, quantity(200, "ml"), [tell("Too little.")])])).toThrow(/deliver/);
  });
});

test("what is wrong is said at once, and not only the first of it", () => {
  const wrong = () =>
    defineHouse({
      name: "H",
      clock: "Nowhere/Town",
      zones: [room],
      modes: [stay],
      rules: [rule("r", [{ while: atLeast(room.wanted, quantity(99, "°C")), hold: [held(room.lamp, quantity(300, "%"))] }])],
    });
  expect(wrong).toThrow(/Nowhere\/Town[\s\S]*\n[\s\S]*300 %/);
});

test("a let that is spoken of and not among those of the house is missed", () => {
  const forgotten = () =>
    defineHouse({ name: "H", clock: "UTC", zones: [room], rules: [rule("r", [{ while: cold, hold: [held(room.fan, "on")] }])] });
  expect(forgotten).toThrow('rules.r[0]: There is no thing called "cold".');
});

test("units and words are known to the compiler", () => {
  const refused = () => {
    // @ts-expect-error a lamp in % has no second word
    toggle(room.lamp);
    // @ts-expect-error a temperature is raised by kelvins
    raise(room.wanted, quantity(5, "%"));
    // @ts-expect-error a ramp of another dimension
    ramp(room.lamp, { from: quantity(0, "°C"), to: quantity(80, "%"), over: minutes(1) });
    // @ts-expect-error a volume is dosed
    dose(room.pump, quantity(200, "W"));
    // @ts-expect-error a word that the mode has not
    at(stay, "asleep");
    // @ts-expect-error a let keeps its kind
    set(room.lamp, target);
  };
  expect(refused).toBeTypeOf("function");
});
