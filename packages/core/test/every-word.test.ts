// Every word of the language once, through all that knows it: read, written, laid out, as JSON, offered while it is
// written, told in sentences, run. The compiler asks for a sample of each kind of the model.
import { readHouseJson, writeHouseJson } from "@modrik/formats";
import {
  createEngine,
  type Dial,
  type Effect,
  type Expression,
  formatHouse,
  type Guard,
  type House,
  type KeepSentence,
  type Named,
  type Occasion,
  type Output,
  type PeopleHabit,
  runTrials,
  type Sensor,
  type Sentence,
  type Step,
  type Trigger,
  tellHouse,
  type Until,
  type Weather,
  type Wiring,
  writeHouse,
  type ZonePhysics,
} from "modrik";
import { writeInTypeScript } from "modrik/author";
import { openHouse } from "modrik/language";
import { describe, expect, test } from "vitest";
import { compileSources, runSource } from "./authored.js";

const base = `house "H" {
  place 46.95 N, 7.45 E
  clock "Europe/Zurich"
}
zone z {
  sensor x: °C, unknown after 10 min
  sensor y: °C
  sensor damp: %RH
  sensor lux: lx
  sensor door: open/closed
  sensor wet: %
  sensor bell: press
  output o: on/off
  output p: 0..100 %
  output lamp: 0..100 %
  output tint: colour of lamp
  output pump: on/off, delivers 10 ml/s
  dial target: 10..30 °C, at first 20 °C
  dial evening: time, at first 22:30
}
zone w {
  sensor x: °C
}
mode m: day/night, at first day
countdown c = 10 min
group both = z.o, z.pump
preset cosy { z.o at on, z.target at 25 °C }
schedule hours { Mon..Fri 08:00 to 12:00 }
profile wanted: °C { daily 18 °C from 00:00, 21 °C from 07:00 }
rule first { while m is day hold z.pump at off }
`;

const at = Date.parse("2026-03-14T12:00Z");

/** What must be found in the house that a sample makes. */
type Has = (house: House) => boolean;

/** Whether something in a house is of a kind. */
const kindOf =
  (kind: string): Has =>
  (house) =>
    JSON.stringify(house).includes(`"kind":${JSON.stringify(kind)}`);

const condition = (text: string) => `rule r { while ${text} hold z.o at on }`;
const inTrial = (text: string) => `trial t { from 2026-03-14 08:00 to 2026-03-14 09:00 given z.x is 20 °C expect ${text} }`;

const expressions: Readonly<Record<Expression["kind"], string>> = {
  number: condition("z.x above 20.5 °C"),
  word: condition("z.door is open"),
  time: condition("clock.time above 07:30"),
  date: condition("clock.date is 2026-03-14"),
  instant: inTrial("z.o is off at 2026-03-14 08:05"),
  colour: "rule r { hold z.tint at warm_white }",
  unknown: condition("z.x is unknown"),
  value: condition("z.x above z.target"),
  age: condition("z.x.age above 5 min"),
  remaining: condition("c.remaining at most 5 min"),
  "last amount": condition("z.pump.last_amount below 40 ml"),
  rest: "rule r { hold z.p at rest }",
  "begins in": condition("hours.begins_in below 1 h"),
  "ends in": condition("hours.ends_in below 1 h"),
  sun: condition("sun.elevation below -3 °"),
  "sun time": condition("clock.time above sunset - 30 min"),
  clock: condition("clock.weekday is Mon"),
  plus: condition("z.x above z.target + 2 K"),
  minus: condition("z.x above z.y - 2 K"),
  times: condition("z.damp above 2 * 20 %RH"),
  divided: condition("z.damp above 80 %RH / 2"),
  negative: condition("z.x above -z.y"),
  if: "rule r { hold z.p at if m is day then 80 % else 20 % }",
  pick: "rule r { hold z.p at pick by m { day: 80 %, night: 20 % } }",
  "of several": condition("mean(z.x, z.y, at least 2 known) above 20 °C"),
  call: condition("dew_point(z.x, z.damp) above 12 °C"),
  clamp: "rule r { hold z.p at clamp(z.damp / 1 %RH * 1 %, 10 %..90 %) }".replace("z.damp / 1 %RH * 1 %", "z.lamp"),
  scale: "rule r { hold z.p at scale(z.x, 15 °C..25 °C to 0 %..100 %) }",
  over: condition("mean(z.x over 10 min) above 20 °C"),
  above: condition("z.x above 20 °C"),
  below: condition("z.x below 20 °C"),
  "at least": condition("z.x at least 20 °C"),
  "at most": condition("z.x at most 20 °C"),
  between: condition("z.x between 19 °C and 21 °C"),
  is: condition("m is not day"),
  pressed: 'rule r { when z.bell is pressed do { tell "x" } }',
  running: condition("c is running"),
  disobeys: condition("z.pump disobeys"),
  not: condition("not z.door is open"),
  and: condition("z.door is open and m is day"),
  or: condition("z.door is open or m is day"),
  for: condition("z.door has been open for 5 min"),
  "in the last": condition("z.door was open in the last 5 min"),
  until: condition("z.x above 20 °C until below 18 °C for 1 min"),
  during: condition("outside hours"),
  "clock between": condition("clock from sunset + 10 min to 23:00"),
  count: inTrial("count(z.o is on) at most 2"),
  "time true": inTrial("time(z.o is on) at most 2 min"),
  share: inTrial("share(z.o is off) at least 20 %"),
  told: inTrial('never told "x"'),
  problem: inTrial('never problem "dose"'),
  sent: inTrial('never sent "x" to "y"'),
};

const moments: Readonly<Record<Occasion["kind"], string>> = {
  "becomes true": "z.door is open",
  begins: "hours begins",
  ends: "hours ends",
  "runs out": "c ends",
  changes: "z.x changes by 2 K",
};

const triggers: Readonly<Record<Trigger["kind"], string>> = {
  ...moments,
  at: "at z.evening on Sat, Sun",
  every: "every 15 min on Mon..Fri",
  "the house starts": "the house starts",
};

const untils: Readonly<Record<Until["kind"], string>> = {
  ...moments,
  "becomes true": "z.door becomes open",
  state: "z.door is open",
  at: "22:00",
};

const steps: Readonly<Record<Step["kind"], string>> = {
  set: "set z.o to on until z.door is open, at most 5 min",
  toggle: "toggle z.o",
  raise: "raise z.target by 0.5 K",
  lower: "lower z.p by 10 %",
  ramp: "ramp z.p from 0 % to 80 % over 10 min",
  dose: 'dose z.pump 50 ml otherwise { tell "Gave {z.pump.last_amount}." end here }',
  release: "release both",
  apply: "apply cosy for 20 min",
  start: "start c with 5 min",
  stop: "stop c",
  wait: "wait 5 s",
  "wait until": "wait until z.door is closed, at most 5 min",
  if: "if z.door is open { toggle z.o } else if m is day { stop c } else { wait 1 s }",
  tell: 'tell "It is {z.x}." through phone, at most once in 1 h',
  send: 'send "{z.x}" to "a/b"',
  "end here": "end here",
};

type FieldsOf<Thing> = Readonly<Record<Exclude<keyof Thing, keyof Named | "type" | "range">, string>>;

const sensors: FieldsOf<Sensor> = {
  unknownAfter: "°C, unknown after 15 min",
  lastsForEver: "°C, lasts for ever",
  scale: "°C, scale 0.1",
  offset: "°C, offset -0.5 K",
  reads: "%RH, reads 200 as 0 %RH and 1000 as 100 %RH",
  smoothOver: "°C, smooth over 10 min",
  reportsEvery: "°C, reports every 5 min",
  reportsOnChangeOf: "°C, reports on change of 0.5 K",
  lags: "°C, lags 2 min",
  wobblesBy: "°C, wobbles by 0.2 K",
  movesAtMost: "°C, moves at most 3 K in 1 min",
  deviceHealth: "%, device health",
};

const outputs: FieldsOf<Output> = {
  colourOf: "colour of z.lamp",
  atRest: "0..100 %, at rest 10 %",
  atLeast: "on/off, on at least 5 min",
  atMost: "on/off, on at most 3 h then off at least 20 min",
  uses: "on/off, uses 300 W",
  delivers: "on/off, delivers 12 ml/s after 0.4 s",
  withoutControl: "on/off, off when control is lost",
  serves: "on/off, serves w and z",
};

const dials: FieldsOf<Dial> = { atFirst: "1..5 K, at first 2 K", step: "1..5 K, at first 2 K, step 0.5 K" };

type SentenceFields<Of = Sentence> = Of extends unknown ? Exclude<keyof Of, "while"> : never;

const sentences: Readonly<Record<SentenceFields, string>> = {
  hold: "while m is day hold z.o at on, z.p at 50 %",
  keep: "keep z.x at z.target ± -0.5 K..1 K raise with z.o",
  cycle: "while m is day cycle z.o on 5 min off 10 min",
  when: 'when m becomes day do { tell "x" }',
  provided: 'when m becomes day provided z.door is open do { tell "x" }',
  do: "when m becomes day do { toggle z.o wait 5 s }",
  ifTriggeredAgain: "when m becomes day do { wait 5 s } if triggered again, ignore",
};

const guards: Readonly<Record<Exclude<keyof Guard, keyof Named>, string>> = {
  permits: "permit z.o on only while m is day",
  neverTogether: "never together z.o, z.p, z.pump, 3 min apart",
};

const keeps: Readonly<Record<keyof KeepSentence["keep"], string>> = {
  value: "keep z.x at 20 °C ± 1 K raise with z.o",
  at: "keep z.x between 18 °C and 22 °C ± 1 K raise with z.o lower with z.pump",
  tolerance: "keep z.x at 20 °C ± 1 K raise with z.o",
  raiseWith: "keep z.x at 20 °C raise with z.p in proportion over 5 K",
  lowerWith: "keep z.x at 20 °C lower with z.o in proportion over 5 K, cycle 10 min",
};

const wirings: Readonly<Record<Wiring["kind"], string>> = {
  alive: 'zone z alive while "z/here" reads "yes"',
  notices: 'notices phone to "phone"',
  reading: 'z.door from "z/door" at "/a/0" reading "1" as open, "0" as closed',
  writing: 'z.o to "z/o" writing on as "1", off as "0" confirmed by "z/o/is" again every 10 min retained',
};

const effects: Readonly<Record<Effect["kind"], string>> = {
  gives: "z.o gives 800 W of heat lagging 10 min",
  "word gives": "z.o on gives 90 m³/h of air from outdoors",
  leak: "z.door open adds 7 /h of leak to outdoors",
  holds: "z.door holds 90 l z.door turns open at 9 l",
  float: "z.door holds 90 l z.door turns open at 9 l",
  gains: "z.door holds 90 l z.door turns open at 9 l z.door gains 3 l/h",
  soil: "zone z { floor 20 m² } z.wet is 0.5 m² of soil 20 cm deep",
  draws: "z.door holds 90 l z.door turns open at 9 l z.pump draws from z.door",
  surface: "zone z { floor 20 m² } z.x is a surface with 65 % of the warmth",
  outdoors: "w is outdoors",
  waters: "zone z { floor 20 m² } z.wet is 0.5 m² of soil 20 cm deep z.pump waters z.wet",
  passes: "z beside w passes 30 W/K",
};

const rooms: Readonly<Record<Exclude<keyof ZonePhysics, "zone">, string>> = {
  volume: "volume 40 m³",
  loses: "loses 90 W/K",
  stores: "stores 2 MJ/K",
  leaks: "leaks 0.4 /h",
  soaks: "soaks 60 g/%RH",
  built: "built light",
  floor: "floor 18 m²",
  window: "window 2 % of daylight",
  glass: "glass 3 m²",
  couples: "walls pass 300 W/K",
  wood: "wood follows in 8 h",
};

/** A room has each of its figures. */
const roomWith = (text: string) => {
  const others = Object.values(rooms).filter((one) => one !== text);
  return [text, ...others].join(", ");
};

const habits: Readonly<Record<Exclude<keyof PeopleHabit, "zone" | "during">, string>> = {
  every: "comes and goes every 40 min",
  breathes: "breathes 30 l/h",
  showers: "showers for 8 min",
  cooks: "cooks for 30 min",
  airs: "airs every 4 h",
  props: "props doors open every 9 h",
  opensAbove: "opens windows above 26 °C",
  coat: "lays a coat of 30 g",
};

const weathers: Readonly<Record<Exclude<keyof Weather, keyof Named | "recorded">, string>> = {
  outdoors: "weather cold { outdoors -3 °C }",
  swings: "weather cold { outdoors -3 °C, swings 6 K }",
  seasons: "weather cold { outdoors 9 °C, seasons 18 K }",
  humidity: "weather cold { outdoors -3 °C, humidity 80 %RH }",
  cloud: "weather cold { outdoors -3 °C, cloud 40 % }",
  fronts: "weather cold { outdoors -3 °C, fronts every 4 d }",
  seed: "weather cold { outdoors -3 °C, seed 7 }",
  recording: 'weather cold from "station.csv"',
};

const field =
  (list: keyof House, name: string): Has =>
  (house) =>
    (house[list] as readonly object[]).some((one) => name in one);

/** What is said, and what the house must then have. */
type Row = readonly [what: string, piece: string, has: Has];

const of = (
  table: Readonly<Record<string, string>>,
  what: string,
  place: (text: string) => string,
  has: (kind: string) => Has = kindOf,
): Row[] => Object.entries(table).map(([kind, text]) => [`${what}: ${kind}`, place(text), has(kind)]);

const rows: Row[] = [
  ...of(expressions, "expression", (text) => text),
  ...of(triggers, "trigger", (text) => `rule r { when ${text} do { tell "x" } }`),
  ...of(untils, "until", (text) => `rule r { when m becomes day do { wait until ${text} } }`),
  ...of(steps, "step", (text) => `rule r { when m becomes day do { ${text} } }`),
  ...of(
    sensors,
    "sensor",
    (text) => `zone k { sensor s: ${text} }`,
    (name) => field("sensors", name),
  ),
  ...of(
    outputs,
    "output",
    (text) => `zone k { output s: ${text} }`,
    (name) => field("outputs", name),
  ),
  ...of(
    dials,
    "dial",
    (text) => `zone k { dial s: ${text} }`,
    (name) => field("dials", name),
  ),
  ...of(
    sentences,
    "sentence",
    (text) => `rule r { ${text} }`,
    (name) => (house) => house.rules.some((rule) => rule.sentences.some((one) => name in one)),
  ),
  ...of(
    keeps,
    "keep",
    (text) => `rule r { ${text} }`,
    (name) => (house) => house.rules.some((rule) => rule.sentences.some((one) => "keep" in one && name in one.keep)),
  ),
  ...of(
    guards,
    "guard",
    (text) => `guard g { ${text} }`,
    (name) => field("guards", name),
  ),
  ...of(wirings, "wiring", (text) => `wire mqtt { ${text} }`),
  ...of(effects, "effect", (text) => `physics { ${text} }`),
  ...of(
    rooms,
    "room",
    (text) => `physics { zone z { ${roomWith(text)} } }`,
    (name) => (house) => house.physics.zones.some((zone) => name in zone),
  ),
  ...of(
    weathers,
    "weather",
    (text) => text,
    (name) => field("weathers", name),
  ),
  ...of(
    habits,
    "habit",
    (text) => `people { z during hours, ${text} }`,
    (name) => field("people", name),
  ),
];

/** What a file says of the weather. */
const recordings = {
  "station.csv": [0, 1].map((hour) => ({ at: at + hour * 3_600_000, name: "outdoors", value: 5 })),
};

describe.each(rows)("%s", (_, piece, has) => {
  const text = `${base}${piece}\n`;
  const open = openHouse({ "a.modrik": text }, { recordings });
  const { house } = open;

  test("is read", () => {
    expect(open.problems.flatMap(({ severity, reason }) => (severity === "error" ? [reason] : []))).toEqual([]);
    expect(has(house)).toBe(true);
  });

  test("is the same house when it is written, laid out, and read again: as text, as JSON, as TypeScript", () => {
    const again = (written: string) => openHouse({ "a.modrik": written }, { recordings }).house;
    expect(again(writeHouse(house))).toEqual(house);
    const laid = formatHouse(text);
    expect(again(laid.text)).toEqual(house);
    expect(formatHouse(laid.text).text).toBe(laid.text);
    expect(readHouseJson(writeHouseJson(house))).toEqual(house);
    expect(runSource(writeInTypeScript(house), { recordings })).toEqual(house);
  });

  test("was offered, word by word", () => {
    const words = open.tokens("a.modrik").filter(({ from, kind }) => kind === "keyword" && from >= base.length);
    expect(words.length).toBeGreaterThan(0);
    for (const { from, to } of words) {
      const word = text.slice(from, to);
      const labels = open.completions("a.modrik", from).options.map(({ label }) => label);
      const offered = labels.some((label) => label === word || label.startsWith(`${word} `));
      expect(offered, `${text.slice(base.length, to)} ← ${labels.join("/")}`).toBe(true);
    }
  });

  test("is told in sentences, and runs", () => {
    expect(tellHouse(house, { at })).not.toEqual([]);
    const engine = createEngine(house, { at });
    engine.report("z.x", 21, at + 1000);
    engine.report("z.door", "open", at + 2000);
    engine.set("m", "night", at + 3000);
    engine.set("m", "day", at + 4000);
    engine.press("z.bell", at + 5000);
    engine.advanceTo(at + 86_400_000);
    expect(engine.now).toBe(at + 86_400_000);
    for (const { verdicts } of runTrials(house)) expect(verdicts.map(({ passed }) => passed)).toEqual([true]);
  });
});

test("each of them compiles as TypeScript", () => {
  const houses = rows.map(([, piece]) => openHouse({ "a.modrik": `${base}${piece}\n` }, { recordings }).house);
  expect(compileSources(houses.map(writeInTypeScript)).flat()).toEqual([]);
});
