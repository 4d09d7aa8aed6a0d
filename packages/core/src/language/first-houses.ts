// First houses, each from something that annoys people: one room, one rule, and a trial that shows it at work. The numbers
// they depend on are asked for, and their trials follow them.
import { writeDuration, writeQuantity, writeTimeOfDay } from "../units/index.js";
import { formatHouse } from "./format.js";

/** A number that a first rule depends on. */
export interface FirstNumber {
  readonly name: string;
  /** As one asks for it. */
  readonly asks: string;
  readonly unit: "°C" | "K" | "%RH" | "lx" | "ppm" | "min" | "s";
  readonly usual: number;
  readonly low: number;
  readonly high: number;
  readonly step: number;
  /** Another number that it is above, by so much at least. */
  readonly above?: { readonly name: string; readonly by: number };
}

type Numbers = Readonly<Record<string, number>>;

/** Where a first house starts: an annoyance, what is asked, and the texts that follow. `ROOM` stands for the room's name. */
export interface FirstHouse {
  readonly name: string;
  /** As people say it. */
  readonly annoyance: string;
  readonly numbers: readonly FirstNumber[];
  /** What is in the room. */
  readonly things: (numbers: Numbers) => string;
  /** What it does with it. */
  readonly rules: (numbers: Numbers) => string;
  /** How that is shown. */
  readonly trials: (numbers: Numbers) => string;
  /** What acts on the room where it is simulated. */
  readonly physics: string;
  /** Around it; left out: a frosty day. */
  readonly weather?: string;
  /** What people do in it in the evening. */
  readonly people?: string;
}

const MINUTE = 60_000;

/** `08:10`, so many minutes after a time of day. */
const later = (hour: number, minutes: number) => writeTimeOfDay((hour * 60 + minutes) * MINUTE);
const says = (value: number, unit: FirstNumber["unit"]) =>
  unit === "min" || unit === "s" ? `${value} ${unit}` : writeQuantity({ value: Number(value.toPrecision(9)), unit });

/** What first houses start from, in the order in which they are offered. */
export const firstHouses: readonly FirstHouse[] = [
  {
    name: "dry_air",
    annoyance: "The air is too dry",
    numbers: [
      { name: "wanted", asks: "Humidity wanted", unit: "%RH", usual: 45, low: 35, high: 60, step: 0.5 },
      { name: "slack", asks: "It may be off by", unit: "%RH", usual: 3, low: 0.5, high: 8, step: 0.5 },
    ],
    things: ({ wanted = 0, slack = 0 }) => `  sensor humidity: %RH, 0..100 %RH, unknown after 15 min
  output humidifier: on/off, on at least 2 min
  dial moisture "Humidity wanted": 35..60 %RH, at first ${says(wanted, "%RH")}, step 0.5 %RH
  dial slack "Tolerance": 0.5..8 %RH, at first ${says(slack, "%RH")}, step 0.5 %RH`,
    rules: () => `rule moist_air "Keep the air from drying" {
  keep ROOM.humidity at ROOM.moisture ± ROOM.slack
    raise with ROOM.humidifier
}`,
    physics: "  ROOM.humidifier gives 300 g/h of water",
    weather: 'weather heated "As in a heated house on a dry winter day" { outdoors 20 °C, swings 2 K, humidity 25 %RH }',
    trials: ({ wanted = 0, slack = 0 }) => {
      const [low, high] = [wanted - slack, wanted + slack];
      return `trial air_dries "The humidifier starts below ${says(low, "%RH")} and stops above ${says(high, "%RH")}" {
  from 2026-01-15 08:00
  given ROOM.humidity is ${says(wanted, "%RH")}
  at 08:10 ROOM.humidity is ${says(low, "%RH")}
  at 08:20 ROOM.humidity is ${says(low - 0.5, "%RH")}
  at 08:50 ROOM.humidity is ${says(high + 0.5, "%RH")}
  expect ROOM.humidifier is off from 08:00 to 08:20
  expect ROOM.humidifier is on from 08:20 to 08:50
  expect ROOM.humidifier is off at 08:50
}`;
    },
  },
  {
    name: "cold_room",
    annoyance: "A room is too cold when it is used, or heated when it is not",
    numbers: [
      {
        name: "warmth",
        asks: "Warmth wanted while it is used",
        unit: "°C",
        usual: 20,
        low: 14,
        high: 24,
        step: 0.5,
        above: { name: "least", by: 2 },
      },
      { name: "least", asks: "Never below, otherwise", unit: "°C", usual: 10, low: 5, high: 16, step: 0.5 },
    ],
    things: ({ warmth = 0 }) => `  sensor temperature: °C, -20..60 °C, unknown after 15 min
  output heater: on/off, on at least 4 min, off at least 6 min
  dial warmth "Warmth wanted": 14..24 °C, at first ${says(warmth, "°C")}, step 0.5 °C`,
    rules: ({ least = 0 }) => `schedule in_use "The room is used" {
  Mon..Fri 07:00 to 22:00
  Sat, Sun 08:00 to 23:00
}

rule warm "Warm while the room is used" {
  while during in_use
  keep ROOM.temperature at ROOM.warmth ± 0.5 °C
    raise with ROOM.heater
}

rule frost_free "Never below ${says(least, "°C")} otherwise" {
  while outside in_use
  keep ROOM.temperature at ${says(least + 1, "°C")} ± 1 °C
    raise with ROOM.heater
}`,
    physics: "  ROOM.heater gives 1.5 kW of heat",
    trials: ({ warmth = 0, least = 0 }) => `trial thursday_morning "It heats from seven on, not before" {
  from 2026-01-15 06:00 to 09:00
  given ROOM.temperature is ${says(least + 1, "°C")}
  at 08:30 ROOM.temperature is ${says(warmth + 0.6, "°C")}
  expect ROOM.heater is off from 06:00 to 07:00
  expect ROOM.heater is on from 07:00 to 08:30
  expect ROOM.heater is off at 08:30
}`,
  },
  {
    name: "dark_room",
    annoyance: "The light goes off while somebody is still there",
    numbers: [
      { name: "linger", asks: "The light stays on after the last motion for", unit: "min", usual: 10, low: 1, high: 60, step: 1 },
      { name: "dark", asks: "It is dark below", unit: "lx", usual: 100, low: 10, high: 500, step: 10 },
      {
        name: "bright",
        asks: "It is bright again above",
        unit: "lx",
        usual: 300,
        low: 20,
        high: 2000,
        step: 10,
        // The lamp itself adds 150 lx.
        above: { name: "dark", by: 160 },
      },
    ],
    things: ({ linger = 0 }) => `  sensor motion: moving/still
  sensor daylight: lx
  output lamp: on/off
  dial linger "Light stays on": 1..60 min, at first ${says(linger, "min")}, step 1 min`,
    rules: ({ dark = 0, bright = 0 }) => `rule light "Light while somebody is there and it is dark" {
  while ROOM.motion was moving in the last ROOM.linger
    and ROOM.daylight below ${says(dark, "lx")} until above ${says(bright, "lx")}
  hold ROOM.lamp at on
}`,
    physics: "  ROOM.lamp gives 150 lx of light",
    people: "comes and goes every 40 min",
    trials: ({
      linger = 0,
      dark = 0,
      bright = 0,
    }) => `trial sits_still "The light stays on for ${writeDuration(linger * MINUTE)} after the last motion" {
  from 2026-01-15 18:00 to ${later(18, linger + 20)}
  given ROOM.motion is still, ROOM.daylight is ${says(dark / 5, "lx")}
  at 18:05 ROOM.motion is moving
  at 18:06 ROOM.motion is still
  expect ROOM.lamp is on from 18:05 to ${later(18, linger + 6)}
  expect ROOM.lamp is off at ${later(18, linger + 6)}
}

trial by_day "By day it stays off" {
  from 2026-06-15 12:00 to 12:30
  given ROOM.motion is still, ROOM.daylight is ${says(bright + 500, "lx")}
  at 12:05 ROOM.motion is moving
  expect always ROOM.lamp is off
}`,
  },
  {
    name: "stale_air",
    annoyance: "The air is stale before anybody notices",
    numbers: [
      {
        name: "stale",
        asks: "The air is stale above",
        unit: "ppm",
        usual: 1200,
        low: 700,
        high: 2500,
        step: 50,
        above: { name: "good", by: 50 },
      },
      { name: "good", asks: "It is good again below", unit: "ppm", usual: 900, low: 600, high: 2000, step: 50 },
    ],
    things: () => `  sensor carbon "CO₂": ppm, 0..5000 ppm, unknown after 10 min
  output fan: on/off, on at least 3 min`,
    rules: ({ stale = 0, good = 0 }) => `rule fresh_air "Air the room" {
  while ROOM.carbon above ${says(stale, "ppm")} until below ${says(good, "ppm")}
  hold ROOM.fan at on
}`,
    physics: "  ROOM.fan gives 120 m³/h of air from outdoors",
    people: "breathes 75 l/h",
    trials: ({ stale = 0, good = 0 }) => {
      // On straight lines: up within an hour, down within twenty minutes.
      const begins = Math.floor((60 * (stale - good + 200)) / (stale - good + 300));
      const ends = Math.floor((20 * (stale + 100 - good)) / (stale - good + 150));
      return `trial many_guests "The fan runs until the air is good again" {
  from 2026-01-15 19:00 to 21:00
  given ROOM.carbon is ${says(good - 200, "ppm")}
  from 19:00 to 20:00 ROOM.carbon moves to ${says(stale + 100, "ppm")}
  from 20:10 to 20:30 ROOM.carbon moves to ${says(good - 50, "ppm")}
  expect ROOM.fan is off from 19:00 to ${later(19, begins)}
  expect ROOM.fan is on from ${later(19, begins + 1)} to ${later(20, 10 + ends)}
  expect ROOM.fan is off at 20:30
}`;
    },
  },
  {
    name: "open_door",
    annoyance: "A door stands open and nobody notices",
    numbers: [{ name: "minutes", asks: "Say so after", unit: "min", usual: 5, low: 1, high: 60, step: 1 }],
    things: () => `  sensor door: open/closed
  sensor temperature: °C, -20..60 °C, unknown after 15 min`,
    rules: ({ minutes = 0 }) => `rule door_ajar "Say so when the door is left open" {
  when ROOM.door has been open for ${says(minutes, "min")}
  do { tell "The door has been open for ${writeDuration(minutes * MINUTE)}, {ROOM.temperature} inside.", at most once in 1 h }
}`,
    physics: "  ROOM.door open adds 5 /h of leak to outdoors",
    trials: ({ minutes = 0 }) => `trial left_open "It is told once, and not for a short while" {
  from 2026-01-15 08:00 to ${later(8, 2 * minutes + 50)}
  given ROOM.door is closed, ROOM.temperature is 19 °C
  at 08:10 ROOM.door is open
  at ${later(8, 9.5 + minutes)} ROOM.door is closed
  at ${later(8, 20 + minutes)} ROOM.door is open
  expect never told "open" from 08:00 to ${later(8, 20 + 2 * minutes)}
  expect told "open for ${writeDuration(minutes * MINUTE)}, 19 °C" at ${later(8, 20 + 2 * minutes)}
}`,
  },
  {
    name: "dry_pump",
    annoyance: "A pump may run dry",
    numbers: [{ name: "seconds", asks: "A press of the button runs it for", unit: "s", usual: 40, low: 5, high: 300, step: 5 }],
    things: () => `  sensor level: wet/dry
  sensor button: press
  output pump: on/off, delivers 10 ml/s, off when control is lost`,
    rules: ({ seconds = 0 }) => `rule fill "Fill when the button is pressed" {
  when ROOM.button is pressed
  do { set ROOM.pump to on for ${says(seconds, "s")} }

  when ROOM.level becomes dry
  do { tell "The tank is dry." }
}

guard dry_run "The pump never runs dry" {
  permit ROOM.pump on only while ROOM.level is wet
}`,
    physics: `  ROOM.level holds 20 l
  ROOM.level turns dry at 2 l
  ROOM.level gains 0.2 l/h
  ROOM.pump draws from ROOM.level`,
    trials: () => `trial tank_empties "The pump stops at the very moment" {
  from 2026-01-15 08:00 to 08:05
  given ROOM.level is wet
  at 08:01:00 ROOM.button is pressed
  at 08:01:04 ROOM.level is dry
  expect ROOM.pump is on from 08:01:00 to 08:01:04
  expect ROOM.pump is off from 08:01:04
  expect told "dry" at 08:01:04
}`,
  },
];

/** What is answered about a first house. */
export interface FirstAnswers {
  readonly house: string;
  /** IANA time zone. */
  readonly clock: string;
  /** As people call the room. */
  readonly room: string;
  /** By name; usual ones where they are left out. */
  readonly numbers?: Numbers;
}

/** What is wrong with numbers that were answered, a sentence each; nothing where they fit. */
export function misfitsOfNumbers({ numbers }: FirstHouse, answered: Numbers = {}): string[] {
  const values = usualWith(numbers, answered);
  const unknown = Object.keys(answered).filter((name) => !numbers.some((one) => one.name === name));
  return [
    ...unknown.map((name) => `There is no number called "${name}".`),
    ...numbers.flatMap(({ name, asks, unit, low, high, above }) => {
      const value = values[name] as number;
      if (!(value >= low && value <= high))
        return [`${asks}: ${says(low, unit)} to ${says(high, unit)}, not ${says(value, unit)}.`];
      const other = above && numbers.find((one) => one.name === above.name);
      if (!above || !other || value - (values[above.name] as number) >= above.by) return [];
      return [`${asks}: at least ${says(above.by, unit === "°C" ? "K" : unit)} more than "${other.asks}".`];
    }),
  ];
}

const usualWith = (numbers: readonly FirstNumber[], answered: Numbers): Numbers => ({
  ...Object.fromEntries(numbers.map(({ name, usual }) => [name, usual])),
  ...answered,
});

/**
 * The files of a first house, by name.
 * @throws RangeError when a number does not fit; see `misfitsOfNumbers`
 */
export function writeFirstHouse(start: FirstHouse, { house, clock, room, numbers = {} }: FirstAnswers): Record<string, string> {
  const [misfit] = misfitsOfNumbers(start, numbers);
  if (misfit !== undefined) throw new RangeError(misfit);
  const values = usualWith(start.numbers, numbers);
  const zone = nameOf(room);
  const inRoom = (text: string) => text.replaceAll("ROOM", zone);
  const quoted = (text: string) => JSON.stringify(text.replace(/[{}]/g, "$&$&"));
  const { physics, weather = FROST, people } = start;
  const files = {
    "house.modrik": `house ${quoted(house)} { clock ${quoted(clock)} readings last 15 min }\n\nzone ${zone} ${quoted(room)} {\n${start.things(values)}\n}`,
    "rules.modrik": inRoom(start.rules(values)),
    "trials/first.modrik": inRoom(start.trials(values)),
    "physics.modrik": inRoom(
      `physics {\n  zone ROOM { floor 20 m², built solid, window 2 % of daylight }\n${physics}\n}\n${weather}${people ? inTheEvening(people) : ""}`,
    ),
  };
  return Object.fromEntries(Object.entries(files).map(([name, text]) => [name, formatHouse(text).text]));
}

const FROST = 'weather frost "A clear frosty day" { outdoors -4 °C, swings 8 K, cloud 20 % }';

const inTheEvening = (people: string) =>
  `\nschedule evening "Somebody is there" { daily 18:00 to 22:30 }\npeople { ROOM during evening, ${people} }`;

/** `Living room` as the language has names: `living_room`. */
function nameOf(room: string): string {
  const name = room
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "_")
    .replace(/^_+|_+$/g, "");
  return /^\p{L}/u.test(name) && !/^(and|or|not|is|if|then|else|pick|until|for|when|unknown|otherwise|note)$/.test(name)
    ? name
    : `room_${name}`;
}
