// How rooms behave, the weather, people and the wiring, written in TypeScript: the data of the house, with things where it has
// their names. Figures are plain numbers, each in the unit its field says.

import type { Effect, PeopleHabit, Weather, Wiring, ZonePhysics } from "../house/index.js";
import { ofZone, type Specs, type Thing, type Zone } from "./things.js";
import type { NamedSchedule } from "./times.js";

type AnyZone = Zone<Specs> | string;

/** What stands for a name, by the field it stands in. */
interface Spoken {
  readonly sensor: Thing<"sensor", unknown>;
  readonly output: Thing<"output", unknown>;
  readonly zone: AnyZone;
  readonly other: AnyZone;
  /** A zone, or `"outdoors"`. */
  readonly from: AnyZone;
  readonly to: AnyZone;
  readonly during: NamedSchedule;
}

/** Data of a house with things in place of their names. */
export type ByThing<Of> = Of extends unknown
  ? { readonly [Name in keyof Of]: Name extends keyof Spoken ? Spoken[Name] : Of[Name] }
  : never;

/** A room: what is not said follows from how it is built, or is that of a usual room. */
export type RoomData = ByThing<Pick<ZonePhysics, "zone"> & Partial<Omit<ZonePhysics, "zone">>>;
/** What acts on rooms, tanks and soil. */
export type EffectData = ByThing<Effect>;
/** Somebody who is in a zone during a schedule. */
export type HabitData = ByThing<PeopleHabit>;
/** Which topic a sensor or an output is. */
export type WiringData = ByThing<Wiring>;
/** A weather: figures that are not said are usual ones; or a recording by its file. */
export type WeatherData = Pick<Weather, "name"> & Partial<Omit<Weather, "name" | "recorded">>;

/** The data of the house, with names again. */
export function byName<Of>(all: readonly object[]): readonly Of[] {
  return all.map((data) => Object.fromEntries(Object.entries(data).map(([field, value]) => [field, named(value)])) as Of);
}

function named(value: unknown): unknown {
  if (typeof value !== "object" || value === null) return value;
  if (ofZone in value) return (value as Zone<Specs>)[ofZone].name;
  if ("schedule" in value) return (value as NamedSchedule).schedule.name;
  return "declaration" in value ? (value as Thing<"sensor", unknown>).name : value;
}
