// A house written in TypeScript. It is read as its text is, so that it is the same house, and what is wrong in it is what would
// be wrong there.

import type { Expression, Guard, House, Rule, Trial } from "../house/index.js";
import { type Beside, dataPaths, parseHouse, writeHouse } from "../language/index.js";
import type { Place } from "../time/index.js";
import { amount, type Lasting } from "./kinds.js";
import type { NamedPreset } from "./sentences.js";
import { byName, type EffectData, type HabitData, type RoomData, type WeatherData, type WiringData } from "./simulated.js";
import type { Reckoned } from "./terms.js";
import { type NamedGroup, ofZone, type Specs, type Thing, type Zone } from "./things.js";
import type { NamedCountdown, NamedProfile, NamedSchedule } from "./times.js";

/** What a house is made of: zones with their things, rules and guards, and what belongs to the whole house. */
export interface HouseDefinition {
  readonly name: string;
  /** IANA time zone. */
  readonly clock: string;
  /** Where it stands, for the sun. */
  readonly place?: Place;
  /** How long what a person switched by hand stays so. @default 2 h */
  readonly handLasts?: Lasting;
  /** How long a reading of a number counts, of every sensor that does not say so itself. */
  readonly readingsLast?: Lasting;
  readonly note?: string;
  readonly zones: readonly Zone<Specs>[];
  readonly modes?: readonly Thing<"mode", unknown>[];
  /** Dials of the whole house. */
  readonly dials?: readonly Thing<"dial", unknown>[];
  readonly groups?: readonly NamedGroup<unknown>[];
  readonly schedules?: readonly NamedSchedule[];
  readonly profiles?: readonly NamedProfile<unknown>[];
  readonly countdowns?: readonly NamedCountdown[];
  /** Values with a name of their own. */
  readonly lets?: readonly Reckoned<unknown>[];
  readonly presets?: readonly NamedPreset[];
  readonly rules?: readonly Rule[];
  readonly guards?: readonly Guard[];
  readonly trials?: readonly Trial[];
  readonly physics?: { readonly rooms?: readonly RoomData[]; readonly effects?: readonly EffectData[] };
  readonly weathers?: readonly WeatherData[];
  readonly people?: readonly HabitData[];
  readonly wirings?: readonly WiringData[];
  /** What calendar files and recordings say, by the names it calls them. */
  readonly beside?: Beside;
}

/** One thing that is wrong in a house written in TypeScript. */
export interface HouseProblem {
  /** Where: `rules.light[0]`, `zones.bench.lamp`, `trials.cold.expectations[1]`. */
  readonly path: string;
  readonly reason: string;
  readonly remedy?: string;
}

/** All that is wrong in a house written in TypeScript: its message has a line for each problem. */
export class HouseError extends RangeError {
  override readonly name = "HouseError";

  constructor(readonly problems: readonly HouseProblem[]) {
    super(
      problems.map(({ path, reason, remedy }) => `${path}: ${remedy === undefined ? reason : `${reason} ${remedy}`}`).join("\n"),
    );
  }
}

/**
 * The house that its definition says; equal to what `parseHouse` makes of the same house as text.
 * @throws HouseError with everything that would be wrong as text: a thing that is spoken of and not part of the house, a clock
 * that is none, a value out of its range
 */
export function defineHouse(definition: HouseDefinition): House {
  const text = writeHouse(dataOf(definition));
  const { house, problems } = parseHouse({ "house.modrik": text }, definition.beside);
  const errors = problems.filter(({ severity }) => severity === "error");
  if (errors.length > 0) {
    const pathAt = dataPaths(text);
    throw new HouseError(
      errors.map(({ place, reason, remedy }) => ({
        path: pathAt(place.from),
        reason,
        ...(remedy !== undefined && { remedy }),
      })),
    );
  }
  return house;
}

/** The definition as data; what is not said is left out, as in a text. */
function dataOf(definition: HouseDefinition): House {
  const { name, note, place, clock, handLasts, readingsLast, zones, modes = [], dials = [], groups = [] } = definition;
  const { schedules = [], profiles = [], countdowns = [], lets = [], presets = [], rules = [], guards = [] } = definition;
  const { trials = [], physics: { rooms = [], effects = [] } = {}, weathers = [], people = [], wirings = [] } = definition;
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
  const lasting = (lasts: Lasting | undefined): Expression | undefined => lasts && amount(lasts);
  const [hand, readings] = [lasting(handLasts), lasting(readingsLast)];
  return {
    name,
    ...(note !== undefined && { note }),
    ...(place && { place }),
    clock,
    ...(hand && { handLasts: hand }),
    ...(readings && { readingsLast: readings }),
    zones: zones.map((zone) => zone[ofZone]),
    sensors: of("sensors"),
    outputs: of("outputs"),
    dials: of("dials"),
    modes: of("modes"),
    groups: groups.map(({ group }) => group),
    // Of which type each is, its text says once it is read.
    lets: lets.map(({ reckoned }) => ({ ...reckoned, type: { kind: "truth" } })),
    countdowns: countdowns.map(({ countdown }) => countdown),
    presets: presets.map(({ preset }) => preset),
    schedules: schedules.map(({ schedule }) => schedule),
    profiles: profiles.map(({ profile }) => profile),
    rules,
    guards,
    trials,
    // Figures that are not said are added as the text is read.
    physics: { zones: byName(rooms), effects: byName(effects) },
    weathers: weathers as House["weathers"],
    people: byName(people),
    wirings: byName(wirings),
  };
}
