// First houses, each from something that annoys people: one room, one rule, and a trial that shows it at work.
import { formatHouse } from "modrik";

export interface Recipe {
  readonly name: string;
  /** As people say it. */
  readonly annoyance: string;
  /** What is in the room `ROOM`. */
  readonly things: string;
  readonly rules: string;
  readonly trials: string;
  /** What acts on the room where it is simulated. */
  readonly physics?: string;
  /** Around it; left out: a frosty day. */
  readonly weather?: string;
  /** What people do in it in the evening. */
  readonly people?: string;
}

export const recipes: readonly Recipe[] = [
  {
    name: "dry_air",
    annoyance: "The air is too dry",
    things: `  sensor humidity: %RH, 0..100 %RH, unknown after 15 min
  output humidifier: on/off, on at least 2 min
  dial moisture "Humidity wanted": 35..60 %RH, at first 45 %RH, step 0.5 %RH
  dial slack "Tolerance": 0.5..8 %RH, at first 3 %RH, step 0.5 %RH`,
    rules: `rule moist_air "Keep the air from drying" {
  keep ROOM.humidity at ROOM.moisture ± ROOM.slack
    raise with ROOM.humidifier
}`,
    physics: "  ROOM.humidifier gives 300 g/h of water",
    weather: 'weather heated "As in a heated house on a dry winter day" { outdoors 20 °C, swings 2 K, humidity 25 %RH }',
    trials: `trial air_dries "The humidifier starts below 42 %RH and stops above 48 %RH" {
  from 2026-01-15 08:00
  given ROOM.humidity is 45 %RH
  at 08:10 ROOM.humidity is 42 %RH
  at 08:20 ROOM.humidity is 41.5 %RH
  at 08:50 ROOM.humidity is 48.5 %RH
  expect ROOM.humidifier is off from 08:00 to 08:20
  expect ROOM.humidifier is on from 08:20 to 08:50
  expect ROOM.humidifier is off at 08:50
}`,
  },
  {
    name: "cold_room",
    annoyance: "A room is too cold when it is used, or heated when it is not",
    things: `  sensor temperature: °C, -20..60 °C, unknown after 15 min
  output heater: on/off, on at least 4 min, off at least 6 min
  dial warmth "Warmth wanted": 14..24 °C, at first 20 °C, step 0.5 °C`,
    rules: `schedule in_use "The room is used" {
  Mon..Fri 07:00 to 22:00
  Sat, Sun 08:00 to 23:00
}

rule warm "Warm while the room is used" {
  while during in_use
  keep ROOM.temperature at ROOM.warmth ± 0.5 °C
    raise with ROOM.heater
}

rule frost_free "Never below 10 °C otherwise" {
  while outside in_use
  keep ROOM.temperature at 11 °C ± 1 °C
    raise with ROOM.heater
}`,
    physics: "  ROOM.heater gives 1.5 kW of heat",
    trials: `trial thursday_morning "It heats from seven on, not before" {
  from 2026-01-15 06:00 to 09:00
  given ROOM.temperature is 14 °C
  at 08:30 ROOM.temperature is 20.6 °C
  expect ROOM.heater is off from 06:00 to 07:00
  expect ROOM.heater is on from 07:00 to 08:30
  expect ROOM.heater is off at 08:30
}`,
  },
  {
    name: "dark_room",
    annoyance: "The light goes off while somebody is still there",
    things: `  sensor motion: moving/still
  sensor daylight: lx
  output lamp: on/off
  dial linger "Light stays on": 1..60 min, at first 10 min, step 1 min`,
    rules: `rule light "Light while somebody is there and it is dark" {
  while ROOM.motion was moving in the last ROOM.linger
    and ROOM.daylight below 100 lx until above 300 lx
  hold ROOM.lamp at on
}`,
    physics: "  ROOM.lamp gives 150 lx of light",
    people: "comes and goes every 40 min",
    trials: `trial sits_still "The light stays on for ten minutes after the last motion" {
  from 2026-01-15 18:00 to 18:30
  given ROOM.motion is still, ROOM.daylight is 20 lx
  at 18:05 ROOM.motion is moving
  at 18:06 ROOM.motion is still
  expect ROOM.lamp is on from 18:05 to 18:16
  expect ROOM.lamp is off at 18:16
}

trial by_day "By day it stays off" {
  from 2026-06-15 12:00 to 12:30
  given ROOM.motion is still, ROOM.daylight is 800 lx
  at 12:05 ROOM.motion is moving
  expect always ROOM.lamp is off
}`,
  },
  {
    name: "stale_air",
    annoyance: "The air is stale before anybody notices",
    things: `  sensor carbon "CO₂": ppm, 0..5000 ppm, unknown after 10 min
  output fan: on/off, on at least 3 min`,
    rules: `rule fresh_air "Air the room" {
  while ROOM.carbon above 1200 ppm until below 900 ppm
  hold ROOM.fan at on
}`,
    physics: "  ROOM.fan gives 120 m³/h of air from outdoors",
    people: "breathes 75 l/h",
    trials: `trial many_guests "The fan runs until the air is good again" {
  from 2026-01-15 19:00 to 21:00
  given ROOM.carbon is 700 ppm
  from 19:00 to 20:00 ROOM.carbon moves to 1300 ppm
  from 20:10 to 20:30 ROOM.carbon moves to 850 ppm
  expect ROOM.fan is off from 19:00 to 19:50
  expect ROOM.fan is on from 19:51 to 20:27
  expect ROOM.fan is off at 20:30
}`,
  },
  {
    name: "open_door",
    annoyance: "A door stands open and nobody notices",
    things: `  sensor door: open/closed
  sensor temperature: °C, -20..60 °C, unknown after 15 min`,
    rules: `rule door_ajar "Say so when the door is left open" {
  when ROOM.door has been open for 5 min
  do { tell "The door has been open for 5 minutes, {ROOM.temperature} inside.", at most once in 1 h }
}`,
    physics: "  ROOM.door open adds 5 /h of leak to outdoors",
    trials: `trial left_open "It is told once, and not for a short while" {
  from 2026-01-15 08:00 to 09:00
  given ROOM.door is closed, ROOM.temperature is 19 °C
  at 08:10 ROOM.door is open
  at 08:14 ROOM.door is closed
  at 08:20 ROOM.door is open
  expect never told "open" from 08:00 to 08:25
  expect told "open for 5 minutes, 19 °C" at 08:25
}`,
  },
  {
    name: "dry_pump",
    annoyance: "A pump may run dry",
    things: `  sensor level: wet/dry
  sensor button: press
  output pump: on/off, delivers 10 ml/s, off when control is lost`,
    rules: `rule fill "Fill when the button is pressed" {
  when ROOM.button is pressed
  do { set ROOM.pump to on for 40 s }

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
    trials: `trial tank_empties "The pump stops at the very moment" {
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

export interface FirstHouse {
  readonly house: string;
  /** IANA time zone. */
  readonly clock: string;
  /** As people call the room. */
  readonly room: string;
}

/** The files of a first house, by name. */
export function filesOf(
  { things, rules, trials, physics, weather = FROST, people }: Recipe,
  { house, clock, room }: FirstHouse,
): Record<string, string> {
  const zone = nameOf(room);
  const inRoom = (text: string) => text.replaceAll("ROOM", zone);
  const quoted = (text: string) => JSON.stringify(text.replace(/[{}]/g, "$&$&"));
  const files = {
    "house.modrik": `house ${quoted(house)} { clock ${quoted(clock)} readings last 15 min }\n\nzone ${zone} ${quoted(room)} {\n${things}\n}`,
    "rules.modrik": inRoom(rules),
    "trials/first.modrik": inRoom(trials),
    ...(physics && {
      "physics.modrik": inRoom(
        `physics {\n  zone ROOM { floor 20 m², built solid, window 2 % of daylight }\n${physics}\n}\n${weather}${people ? inTheEvening(people) : ""}`,
      ),
    }),
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
