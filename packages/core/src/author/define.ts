// A house written in TypeScript, as the plain data that the parser makes of a text. It has the rules, guards, schedules and
// things of every day, lets and presets; groups, profiles, trials, physics and wiring are of the language alone.

import type { Guard, House, Rule } from "../house/index.js";
import { thingsIn } from "../house/index.js";
import { parseHouse, writeHouse } from "../language/index.js";
import type { Place } from "../time/index.js";
import type { NamedPreset } from "./sentences.js";
import { amount, type Lasting, type Reckoned } from "./terms.js";
import { type NamedCountdown, type NamedSchedule, ofZone, type Specs, type Thing, type Zone } from "./things.js";

/** What a house is made of: zones with their things, rules and guards, and what belongs to the whole house. */
export interface HouseDefinition {
  readonly name: string;
  /** IANA time zone. */
  readonly clock: string;
  /** Where it stands, for the sun. */
  readonly place?: Place;
  /** How long what a person switched by hand stays so. @default 2 h */
  readonly handLasts?: Lasting;
  readonly note?: string;
  readonly zones: readonly Zone<Specs>[];
  readonly modes?: readonly Thing<"mode", unknown>[];
  /** Dials of the whole house. */
  readonly dials?: readonly Thing<"dial", unknown>[];
  readonly schedules?: readonly NamedSchedule[];
  readonly countdowns?: readonly NamedCountdown[];
  /** Values with a name of their own. */
  readonly lets?: readonly Reckoned<unknown>[];
  readonly presets?: readonly NamedPreset[];
  readonly rules: readonly Rule[];
  readonly guards?: readonly Guard[];
}

/**
 * The house that its definition says; equal to what `parseHouse` makes of the same house as text.
 * @throws RangeError when a name is given twice, a rule or guard speaks of a thing that is not among the zones, modes,
 * dials and lets, or something is said that would be wrong as text: a clock that is none, a value out of its range
 */
export function defineHouse(definition: HouseDefinition): House {
  const { name, note, place, clock, handLasts, zones, modes = [], dials = [], schedules = [], countdowns = [] } = definition;
  const { rules, guards = [], lets = [], presets = [] } = definition;
  const things = [
    ...zones.flatMap((zone) => Object.values(zone) as Thing<"sensor" | "output" | "dial", unknown>[]),
    ...dials,
    ...modes,
  ];
  const of = <List extends Thing<"sensor", unknown>["declaration"]["list"]>(list: List) =>
    things.flatMap(({ declaration }) => (declaration.list === list ? [declaration.thing] : [])) as Extract<
      Thing<"sensor", unknown>["declaration"],
      { list: List }
    >["thing"][];
  const house: House = {
    name,
    ...(note !== undefined && { note }),
    ...(place && { place }),
    clock,
    ...(handLasts && { handLasts: amount(handLasts) }),
    zones: zones.map((zone) => zone[ofZone]),
    sensors: of("sensors"),
    outputs: of("outputs"),
    dials: of("dials"),
    modes: of("modes"),
    groups: [],
    // Of which type each is, its text says once it is read.
    lets: lets.map(({ reckoned }) => ({ ...reckoned, type: { kind: "truth" } })),
    countdowns: countdowns.map(({ countdown }) => countdown),
    presets: presets.map(({ preset }) => preset),
    schedules: schedules.map(({ schedule }) => schedule),
    profiles: [],
    rules,
    guards,
    trials: [],
    physics: { zones: [], effects: [] },
    weathers: [],
    people: [],
    wirings: [],
  };
  checkNames(house);
  return { ...house, lets: meaningOf(house).lets };
}

/** The house as its text is read: what is wrong in it is what would be wrong there, all of it in one error. */
function meaningOf(house: House): House {
  const { house: read, problems } = parseHouse({ "house.modrik": writeHouse(house) });
  const said = problems
    .filter(({ severity }) => severity === "error")
    .map(({ reason, remedy }) => (remedy === undefined ? reason : `${reason} ${remedy}`));
  if (said.length > 0) throw new RangeError([...new Set(said)].join("\n"));
  return read;
}

function checkNames(house: House): void {
  const { zones, sensors, outputs, dials, modes, lets, presets, countdowns, schedules, rules, guards } = house;
  const names = [zones, sensors, outputs, dials, modes, lets, presets, countdowns, schedules, rules, guards]
    .flat()
    .map(({ name }) => name);
  const known = new Set<string>();
  for (const name of names) {
    if (known.has(name)) throw new RangeError(`"${name}" means two things`);
    known.add(name);
  }
  const missing = thingsIn([rules, guards, lets, presets]).find((name) => !known.has(name));
  if (missing !== undefined) throw new RangeError(`"${missing}" is spoken of, but not among the zones, modes, dials and lets`);
}
