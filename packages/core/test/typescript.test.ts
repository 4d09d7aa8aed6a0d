// A house goes into TypeScript and comes back the same; and that TypeScript compiles.
import { type House, isSound, parseHouse, writeHouse } from "modrik";
import { HouseError, writeInTypeScript } from "modrik/author";
import { houseText, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";
import { compileSources, runSource } from "./authored.js";
import { fallen, openExample, traps } from "./examples.js";

const HOUSES = Number(process.env.MODRIK_HOUSES ?? 150);
/** What a calendar file says is given next to the house, and not in it. */
const withoutEvents = (house: House): House => ({
  ...house,
  schedules: house.schedules.map((one) => (one.events ? { ...one, events: [] } : one)),
});

const emptyCalendars = (house: House) => ({
  calendars: Object.fromEntries(house.schedules.flatMap(({ file }) => (file === undefined ? [] : [[file, []]]))),
});

const examples = ["linden-yard", "heron-cottage", "night-oven"].map((name) => [name, openExample(name).house] as const);
const small = [...Object.entries(traps), ...Object.entries(fallen)].flatMap(([file, text]) => {
  const parsed = parseHouse({ [file]: text });
  return isSound(parsed) ? [[file, parsed.house] as const] : [];
});
const generated = (from: number, to: number) =>
  Array.from({ length: to - from }, (_, index) => parseHouse({ "a.modrik": houseText(seeded(from + index)) }).house);

// What TypeScript has its own mind about: names that are taken, things that are not there yet.
const head = 'house "H" { place 46.95 N, 7.45 E clock "Europe/Zurich" }';
const room = "zone room { sensor t: °C sensor door: open/closed output o: on/off dial linger: 1..60 min, at first 5 min }";
const odd = [
  "zone held { sensor minutes: °C output class: on/off } mode quantity: new/old, at first new rule rule_ { while held.minutes above 20 °C and quantity is old hold held.class at on }",
  "zone a { output o: on/off, on at least a.linger dial linger: 1..60 min, at first 5 min } rule r { hold a.o at on }",
  "zone a { output o: on/off, on at least b.least dial most: 1..60 min, at first 5 min } zone b { output o: on/off, off at least a.most dial least: 1..60 min, at first 2 min }",
  `${room} let late = early above 20 °C let early = room.t - 2 K rule r { while late hold room.o at on }`,
  `${room} zone hall { sensor u: °C let warm = hall.u above room.t countdown quiet = room.linger } rule r { while hall.warm and hall.quiet is running hold room.o at on }`,
  `${room} rule r { when at sunset - room.linger + 5 min do { wait until sunrise + room.linger set room.o to on } when at sunrise + 2 * room.linger do { toggle room.o } }`,
  `${room} rule r { while clock from sunset - room.linger to sunrise hold room.o at if room.door is unknown then unknown else on }`,
  `${room} rule r { hold room.o at pick by room.t { below 18 °C: on, between 18 °C and 19 °C: off, at least 25 °C: on, otherwise: off, unknown: unknown } }`,
  "zone z { sensor lamp: on/off sensor hue: colour sensor since: time output o: on/off } rule r { while z.hue is red and z.since above 07:30:15.5 and z.lamp is on hold z.o at on }",
];

describe("the same house again", () => {
  test.each([...examples, ...small])("%s", (_, house) => {
    const again = runSource(writeInTypeScript(house), emptyCalendars(house));
    expect(again).toEqual(withoutEvents(house));
    expect(writeHouse(again)).toBe(writeHouse(house));
  });

  test.each(odd)("%s", (text) => {
    const { house, problems } = parseHouse({ "a.modrik": `${head}\n${text}` });
    expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
    expect(runSource(writeInTypeScript(house))).toEqual(house);
    expect(parseHouse({ "a.modrik": writeHouse(house) }).house).toEqual(house);
  });

  test("of generated houses", forMany(HOUSES), () => {
    for (const [index, house] of generated(1, HOUSES).entries())
      expect(runSource(writeInTypeScript(house)), `seed ${index + 1}`).toEqual(house);
  });
});

// What is wrong only between things is left for the text to say; what is of one thing the compiler says.
const house = (rules: string, zone = "") => `
import { quantity } from "modrik";
import * as a from "modrik/author";
const z = a.zone("z", {
  t: a.sensor("°C"), damp: a.sensor("%RH"), door: a.sensor(["open", "closed"]), bell: a.sensor("press"),
  fan: a.output("on/off"), lamp: a.output("%", { range: [0, 100] }), warm: a.dial(20, "°C", { range: [10, 30] }), ${zone}
});
const stay = a.mode("stay", ["home", "away"], "home");
const slow = a.countdown("slow", a.minutes(10));
export default a.defineHouse({ name: "H", clock: "UTC", zones: [z], modes: [stay], countdowns: [slow], rules: [a.rule("r", [${rules}])] });
`;
const held = 'hold: [a.held(z.fan, "on")]';

const refused = [
  `{ while: a.above(z.t, quantity(20, "%RH")), ${held} }`,
  `{ while: a.is(z.door, "ajar"), ${held} }`,
  `{ while: a.isPressed(z.fan), ${held} }`,
  `{ while: a.above(a.minus(z.t, z.warm), quantity(2, "°C")), ${held} }`,
  `{ while: a.above(a.plus(z.t, quantity(2, "°C")), z.warm), ${held} }`,
  `{ while: a.above(a.times(z.t, quantity(2, "")), z.warm), ${held} }`,
  `{ while: a.above(a.over("rise", z.t, a.minutes(5)), quantity(2, "°C")), ${held} }`,
  `{ while: a.above(a.dewPoint(z.damp, z.t), z.t), ${held} }`,
  `{ while: a.above(a.remaining(z.fan), a.minutes(2)), ${held} }`,
  `{ while: a.clockBetween(quantity(7, "h"), "09:00"), ${held} }`,
  `{ when: [a.is(z.door, "open")], ${held} }`,
  `{ hold: [a.held(z.t, quantity(20, "°C"))] }`,
  `{ hold: [a.held(z.lamp, a.choose(a.is(stay, "home"), z.t, z.warm))] }`,
  `{ hold: [a.held(z.lamp, a.pick(stay, [{ is: "asleep", then: z.lamp }, { otherwise: true, then: z.lamp }]))] }`,
  `{ keep: { value: z.t, at: z.warm, tolerance: quantity(1, "°C"), raiseWith: z.fan } }`,
  `{ keep: { value: z.t, at: quantity(50, "%RH"), tolerance: quantity(1, "K"), raiseWith: z.fan } }`,
  `{ when: [a.changes(z.t, quantity(1, "°C"))], do: [] }`,
  `{ when: [a.becomes(stay, "asleep")], do: [] }`,
  `{ when: [a.atTime("07:00", ["Monday"])], do: [] }`,
  `{ when: [a.begins(slow)], do: [] }`,
  `{ when: [a.houseStarts()], do: [a.set(stay, "asleep")] }`,
  `{ when: [a.houseStarts()], do: [a.set(z.fan, "on", { until: "22:00" })] }`,
  `{ when: [a.houseStarts()], do: [a.apply(stay)] }`,
];

test("what was written compiles, and what does not fit is refused", () => {
  const written = [
    ...[...examples, ...small].map(([, one]) => one),
    ...odd.map((text) => parseHouse({ "a.modrik": `${head}\n${text}` }).house),
    ...generated(1, 40),
  ].map(writeInTypeScript);
  const fitting = [...written, house(`{ while: a.above(z.t, z.warm), ${held} }`)];
  const said = compileSources([...fitting, ...refused.map((rules) => house(rules))]);
  expect(said.slice(0, fitting.length).flat()).toEqual([]);
  expect(refused.filter((_, index) => said[fitting.length + index]?.length === 0)).toEqual([]);
});

test.each<[string, string, RegExp]>([
  ["a value out of its range", house(`{ hold: [a.held(z.lamp, quantity(300, "%"))] }`), /^rules\.r\[0\]: .*300 %/],
  ["an attribute of a thing", house(`{ ${held} }`, 'hot: a.output("on/off", { serves: ["attic"] })'), /^zones\.z\.hot: .*attic/],
  ["a name that is none", house(`{ ${held} }`, '"big lamp": a.output("on/off")'), /^zones\.z\.big_lamp: "big lamp"/],
  [
    "a place",
    house(`{ ${held} }`).replace('clock: "UTC"', 'clock: "UTC", place: { latitude: 95, longitude: 7 }'),
    /^place: .*95/,
  ],
  ["a clock", house(`{ ${held} }`).replace('"UTC"', '"Nowhere/Town"'), /^clock: .*Nowhere\/Town/],
])("what only the house can know is said with its path: %s", (_, source, says) => {
  expect(() => runSource(source)).toThrow(HouseError);
  expect(() => runSource(source)).toThrow(says);
});
