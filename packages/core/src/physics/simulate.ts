// A house's rules on its simulated rooms.
import { createEngine, Journal, type Run } from "../engine/index.js";
import { givenIn, type House, type Trial, type Value, type Weather } from "../house/index.js";
import { clockOf, DAY, HOUR, MINUTE } from "../time/index.js";
import { type Dimension, dimensionOf, fromBase } from "../units/index.js";
import { withRooms } from "./assumed.js";
import { createPhysics, type Physics } from "./physics.js";
import type { Air } from "./rooms.js";
import { World } from "./world.js";

/** Which stretch of time is simulated, under which weather, with which dials and seed. */
export interface SimulationOptions {
  /** Milliseconds since 1970 UTC. @default midnight of the house's own example date */
  readonly from?: number;
  /** Milliseconds. @default one day */
  readonly lasts?: number;
  /** @default the first of the house */
  readonly weather?: Weather;
  /** What people do depends on it. @default 1 */
  readonly seed?: number;
  /** Values of dials, and modes, instead of their first ones; in their own unit. */
  readonly set?: Readonly<Record<string, Value>>;
  /** How often sensors report, in milliseconds. @default one minute */
  readonly every?: number;
  /** Repeat the day before until rooms begin and end it alike. @default true */
  readonly settles?: boolean;
  /** Keep the house as it is at this instant, to go on from. */
  readonly keepAt?: number;
  /** Called now and then with the share done, from 0 up to 1. */
  readonly onProgress?: (share: number) => void;
}

export interface Simulation extends Run {
  readonly past: Journal;
  readonly weather: Weather;
  readonly seed: number;
  /** Sensors that no room moves: they go on saying what the example begins with, or nothing. */
  readonly unmoved: readonly string[];
  /** Whether the house says nothing of its rooms, so that usual ones were taken. */
  readonly assumed: boolean;
}

/** A day with nothing said about it. */
export const calm: Weather = { name: "calm", title: "Calm", outdoors: 8, swings: 6, humidity: 75, cloud: 50 };

/**
 * Runs the rules on the simulated house. The day before `from` is run too, and not shown, again and
 * again until it begins and ends alike, so that rooms and memories are those of a house that has been lived in. A sensor that no room moves goes on saying what the house's example begins
 * with: its first simulated trial, else its first.
 * @throws RangeError when a name or value of `set` does not fit the house, or `lasts` or `every` is not above zero
 */
export function simulate(own: House, options: SimulationOptions = {}): Simulation {
  const house = withRooms(own);
  const { lasts = DAY, weather = house.weathers[0] ?? calm, seed = 1, every = MINUTE, keepAt, onProgress } = options;
  if (!(lasts > 0) || !(every > 0)) throw new RangeError(`a simulation lasts, and reports, above zero: ${lasts}, ${every}`);
  const from = options.from ?? exampleDay(house);
  const to = from + lasts;
  const start = from - DAY;
  const journal = new Journal();
  const begin = (airs: Physics["airs"] | undefined, reports: number, written?: Journal) => {
    const physics = createPhysics(house, { from: start, weather, seed, given: homely(house), ...(airs && { airs }) });
    const engine = createEngine(house, { at: start, ...(written && { journal: written }) });
    for (const [name, value] of Object.entries(options.set ?? {})) engine.set(name, value, start);
    const world = new World(engine, start, reports, physics);
    const example = exampleTrial(house);
    for (const [name, value] of Object.entries(example ? givenIn(house, example) : {}))
      if (house.sensors.some((sensor) => sensor.name === name) && !physics.sensors.includes(name)) world.tell(name, value, start);
    return { physics, engine, world };
  };
  const { physics, engine, world } = begin(
    options.settles === false ? undefined : livedIn(from, (airs) => begin(airs, Math.max(every, SETTLING))),
    every,
    journal,
  );
  let kept: Run["kept"];
  for (let at = start; at < to; ) {
    onProgress?.((at - start) / (to - start));
    const stop = keepAt !== undefined && keepAt > at ? keepAt : to;
    at = Math.min(to, at + HOUR, stop);
    world.passTo(at);
    if (at === keepAt) kept = { at, snapshot: engine.snapshot() };
  }
  const moved = new Set(physics.sensors);
  const unmoved = house.sensors.flatMap(({ name, type }) => (type.kind === "press" || moved.has(name) ? [] : [name]));
  return { past: journal, from, to, weather, seed, unmoved, assumed: house !== own, ...(kept && { kept }) };
}

/** How often sensors report until rooms are as they are when lived in. */
const SETTLING = 5 * MINUTE;

/** Days that are tried, one after another, until rooms that have been lived in begin and end them alike. */
const RUN_UP = 12;

/** The air of rooms that have been lived in under this weather: the day before is run until it repeats itself. */
function livedIn(
  from: number,
  begin: (airs: Physics["airs"] | undefined) => { readonly physics: Physics; readonly world: World },
): Physics["airs"] | undefined {
  let airs: Physics["airs"] | undefined;
  for (let day = 0; day < RUN_UP; day++) {
    const { physics, world } = begin(airs);
    const before = physics.airs;
    if (before.size === 0) return undefined;
    world.passTo(from);
    airs = physics.airs;
    if ([...airs].every(([zone, air]) => isAlike(air, before.get(zone)))) break;
  }
  return airs;
}

/** Within 0.1 K and 0.5 %RH. */
function isAlike(one: Air, other: Air | undefined): boolean {
  if (!other) return false;
  return Math.abs(one.temperature - other.temperature) <= 0.1 && Math.abs(one.humidity - other.humidity) <= 0.5;
}

/** Local midnight of the first simulated trial, else of the first; without trials a day in winter. */
export function exampleDay(house: House): number {
  const clock = clockOf(house.clock);
  const from = exampleTrial(house)?.from;
  const date = from?.kind === "instant" ? from.date : "2026-01-15";
  return clock.instant(Date.parse(`${date}T00:00Z`) / DAY, 0);
}

function exampleTrial(house: House): Trial | undefined {
  return house.trials.find(({ simulated }) => simulated) ?? house.trials[0];
}

/** Rooms of a house that is lived in, a day before anybody looks: 18 °C and 45 %RH, in each sensor's own unit. */
function homely(house: House): Record<string, Value> {
  const lived: Partial<Record<Dimension, number>> = { temperature: 18, "relative humidity": 45 };
  return Object.fromEntries(
    house.sensors.flatMap(({ name, type }) => {
      const base = type.kind === "number" ? lived[dimensionOf(type.unit)] : undefined;
      return type.kind !== "number" || base === undefined ? [] : [[name, fromBase(base, type.unit)]];
    }),
  );
}
