// A house set up on its simulated rooms, as if it had been lived in: the day before is run too, and not shown, from the air
// of rooms in use, so that memories are those of a house in use too.
import { createEngine, type Engine, type EngineOptions, type Run } from "../engine/index.js";
import { givenIn, type House, type Trial, type Value, type Weather } from "../house/index.js";
import { clockOf, DAY, dateOfDay, HOUR, MINUTE } from "../time/index.js";
import { type Dimension, dimensionOf, fromBase, writeTimeOfDay } from "../units/index.js";
import { withRooms } from "./assumed.js";
import { type Airs, type LivedDay, livedIn, meanOf } from "./lived-in.js";
import { outdoorsIn } from "./open-air.js";
import { stretchOfWeather } from "./outdoors.js";
import { createPhysics, type Physics, type PhysicsOptions } from "./physics.js";
import type { Air } from "./rooms.js";
import { type Listening, type Watcher, World } from "./world.js";

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
  /** How long the house has run before that, in milliseconds; nothing of it is shown. @default one day */
  readonly runUp?: number;
  /** Repeat that until its means repeat. @default true, for a day */
  readonly settles?: boolean;
  /** The air that rooms begin with, of another simulation: nothing is repeated then until it settles. */
  readonly airs?: ReadonlyMap<string, Air>;
  /** Keep the house as it is at this instant, to go on from. */
  readonly keepAt?: number;
  /** Called now and then with the share done, from 0 up to 1. */
  readonly onProgress?: (share: number) => void;
}

/** A day with nothing said about it. */
export const calm: Weather = { name: "calm", title: "Calm", outdoors: 8, swings: 6, humidity: 75, cloud: 50 };

/** A house on its rooms, at the beginning of the day before. */
export interface Stage {
  readonly house: House;
  readonly from: number;
  readonly to: number;
  readonly weather: Weather;
  readonly seed: number;
  /** Sensors that no room moves: they go on saying what the example begins with, or nothing. */
  readonly unmoved: readonly string[];
  /** The air that its rooms began with. */
  readonly airs: ReadonlyMap<string, Air>;
  /** Outputs that no room answers to. */
  readonly idle: readonly string[];
  /** Whether the house says nothing of its rooms, so that usual ones were taken. */
  readonly assumed: boolean;
  /** Zones that were then taken for the outdoors, by their names. */
  readonly takenOutdoors: readonly string[];
  readonly engine: Engine;
  readonly world: World;
  /** Runs it to its end, lets somebody look on, and things happen in it. */
  play(watcher?: Watcher, course?: Course): Run["kept"];
}

/** What happens in a stretch, in the order of its instants. */
export interface Course {
  readonly instants: readonly number[];
  /** Lets the one at a place happen. */
  happen(place: number): void;
  /** The one that lives: a restart begins a new one. */
  readonly engine: Engine;
}

/**
 * Sets a house up. A sensor that no room moves goes on saying what the house's example begins with: its first simulated
 * trial, else its first.
 * @throws RangeError when a name or value of `set` does not fit the house, `lasts` or `every` is not above zero, or a recorded
 * weather does not tell of all that time
 */
export function stage(own: House, options: SimulationOptions, recorded: Pick<EngineOptions, "journal" | "watch">): Stage {
  const house = withRooms(own);
  const { lasts = DAY, weather = house.weathers[0] ?? calm, seed = 1, every = MINUTE, keepAt, onProgress, runUp = DAY } = options;
  const settles = options.settles ?? (runUp === DAY && options.airs === undefined);
  if (!(lasts > 0) || !(every > 0) || !(runUp >= 0))
    throw new RangeError(`a simulation lasts, reports and runs up above zero: ${lasts}, ${every}, ${runUp}`);
  const from = options.from ?? beginningOf(house, weather);
  const to = from + lasts;
  checkWeather(house, weather, from, to);
  const start = from - runUp;
  const begin = (airs: Physics["airs"] | undefined, reports: number, written: typeof recorded = {}) => {
    const engine = createEngine(house, { at: start, ...written });
    for (const [name, value] of Object.entries(options.set ?? {})) engine.set(name, value, start);
    return { engine, ...furnish(engine, { from: start, weather, seed, every: reports, ...(airs && { airs }) }) };
  };
  const lived = !settles ? options.airs : livedIn((airs) => livedDay(begin(airs, Math.max(every, SETTLING)), start, from));
  const { physics, engine, world } = begin(lived, every, recorded);
  const { airs } = physics;
  const moved = new Set(physics.sensors);
  const unmoved = house.sensors.flatMap(({ name, type }) => (type.kind === "press" || moved.has(name) ? [] : [name]));
  const idle = house.outputs.flatMap(({ name }) => (physics.answersTo(name) ? [] : [name]));
  const play: Stage["play"] = (watcher, course = { instants: [], happen: () => {}, engine }) => {
    world.watcher = watcher;
    let kept: Run["kept"];
    let place = 0;
    for (let at = start; at < to; ) {
      onProgress?.((at - start) / (to - start));
      const next = course.instants[place] ?? to;
      const stops = [from, keepAt ?? to].filter((one) => one > at);
      at = Math.min(to, at + HOUR, next, ...stops);
      if (course.instants[place] === at) world.passTo(at, true);
      for (; course.instants[place] === at; place++) course.happen(place);
      world.passTo(at);
      if (at === keepAt) kept = { at, snapshot: course.engine.snapshot() };
    }
    return kept;
  };
  const said = outdoorsIn(own);
  const takenOutdoors = [...outdoorsIn(house)].filter((zone) => !said.has(zone));
  return { house, from, to, weather, seed, unmoved, airs, idle, assumed: house !== own, takenOutdoors, engine, world, play };
}

/** Rooms and all that reports in them, before whoever listens. */
export function furnish(
  listening: Listening,
  {
    from,
    weather,
    seed,
    every,
    airs,
  }: Pick<PhysicsOptions, "from" | "weather" | "airs"> & { readonly seed: number; readonly every: number },
): { readonly physics: Physics; readonly world: World } {
  const { house } = listening;
  const physics = createPhysics(house, { from, weather, seed, given: homely(house), ...(airs && { airs }) });
  const world = new World(listening, from, every, physics);
  const example = exampleTrial(house);
  for (const [name, value] of Object.entries(example ? givenIn(house, example) : {}))
    if (house.sensors.some((sensor) => sensor.name === name) && !physics.sensors.includes(name)) world.tell(name, value, from);
  return { physics, world };
}

/** Where a simulation begins: the house's example date, or the first whole day of a recorded weather. */
export function beginningOf(house: House, weather: Weather | undefined): number {
  const recorded = weather && stretchOfWeather(weather);
  if (!recorded) return exampleDay(house);
  const clock = clockOf(house.clock);
  const { day, ms } = clock.local(recorded.from);
  return clock.instant(ms === 0 ? day : day + 1, 0);
}

/**
 * A recorded weather has to be there for all that is simulated, another one has to have its figures.
 * @throws RangeError when it is not, or has not
 */
export function checkWeather(house: House, weather: Weather, from: number, to: number): void {
  const { outdoors, swings, humidity, cloud, recorded: said } = weather;
  // Said by name, it would be nothing, and all that follows from it unknown.
  if (!said && ![outdoors, swings, humidity, cloud].every(Number.isFinite))
    throw new RangeError("a simulation goes by a weather as data, such as house.weathers[0]: outdoors, swings, humidity, cloud");
  const recorded = stretchOfWeather(weather);
  if (!recorded || (from >= recorded.from && to <= recorded.to)) return;
  const clock = clockOf(house.clock);
  const say = (at: number) => {
    const { day, ms } = clock.local(at);
    return `${dateOfDay(day)} ${writeTimeOfDay(ms)}`;
  };
  const teller = weather.recording === undefined ? `weather ${weather.name}` : `the recording ${weather.recording}`;
  throw new RangeError(
    `${teller} tells the weather from ${say(recorded.from)} to ${say(recorded.to)}, and not from ${say(from)} to ${say(to)}`,
  );
}

/** How often sensors report until rooms are as they are when lived in, and how often these are looked at for their mean. */
const SETTLING = 5 * MINUTE;
const LOOKS = 30 * MINUTE;

/** The day before as it is lived in from some air. */
function livedDay({ physics, world }: ReturnType<typeof furnish>, start: number, from: number): LivedDay {
  const airs: Airs[] = [];
  for (let at = start; at < from; ) {
    at = Math.min(from, at + LOOKS);
    world.passTo(at);
    airs.push(physics.airs);
  }
  return { mean: meanOf(airs), ends: physics.airs };
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
