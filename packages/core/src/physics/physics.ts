// The simulated house: rooms that answer to outputs, doors, people and weather, and what its sensors would read.
import { absoluteHumidity } from "../expression/index.js";
import type { Effect, House, Output, Sensor, Value, Weather, WordType } from "../house/index.js";
import { type Clock, clockOf } from "../time/index.js";
import { Visitor } from "./people.js";
import { randomFrom } from "./random.js";
import { AIR_HEAT, Room } from "./room.js";
import { type Outdoors, outdoorsAt } from "./sky.js";

/** When the rooms begin, under which weather, from which values. */
export interface PhysicsOptions {
  /** Milliseconds since 1970 UTC. */
  readonly from: number;
  readonly weather: Weather;
  /** What people do depends on it. @default 1 */
  readonly seed?: number;
  /** Readings to begin with, by sensor, in the sensor's own unit; what is left out is in balance with the weather. */
  readonly given?: Readonly<Record<string, Value>>;
}

/** Simulated rooms: what their sensors read as time passes and outputs change. */
export interface Physics {
  /** The next instant at which people do something; infinite when they do nothing any more. */
  readonly next: number;
  /** Lets time pass. `valueNow` tells what an output or a sensor has had since the last call, in its own unit. */
  advance(to: number, valueNow: (name: string) => Value | undefined): void;
  /** What a sensor reads now, in its own unit and rounded as such sensors do; undefined for one that has no physics. */
  reading(sensor: string): Value | undefined;
  /** Sensors that have physics, in the order of the house. */
  readonly sensors: readonly string[];
  /** Whether a sensor tells of changes only, as a door does. */
  isContact(sensor: string): boolean;
}

/** A house stands somewhere: without a place, in the middle of Europe. */
const SOMEWHERE = { latitude: 47, longitude: 8 };

/**
 * The simulated house of `house.physics`, `house.people` and a weather. Exact between two calls as long as outputs,
 * doors and the weather stand still; call it at least once a minute.
 */
export function createPhysics(house: House, options: PhysicsOptions): Physics {
  return new SimulatedHouse(house, options);
}

/** What an effect adds to its room, at full share. */
interface Action {
  readonly what: "heat" | "water" | "light" | "leak";
  readonly amount: number;
  readonly share: (valueNow: ValueNow) => number;
}

type ValueNow = (name: string) => Value | undefined;

class SimulatedHouse implements Physics {
  readonly #house: House;
  readonly #clock: Clock;
  readonly #weather: Weather;
  readonly #rooms = new Map<string, Room>();
  readonly #visitors = new Map<string, Visitor>();
  readonly #light = new Map<string, number>();
  readonly #read = new Map<string, () => Value>();
  readonly #contacts = new Set<string>();
  readonly #effects = new Map<string, Action[]>();
  readonly sensors: readonly string[];
  #now: number;
  #outdoors: Outdoors;

  constructor(house: House, { from, weather, seed = 1, given = {} }: PhysicsOptions) {
    this.#house = house;
    this.#weather = weather;
    this.#clock = clockOf(house.clock);
    this.#now = from;
    this.#outdoors = this.#sky(from);
    const random = randomFrom(seed);
    for (const habit of house.people) {
      const calendar = house.schedules.find(({ name }) => name === habit.during) ?? { openings: [] };
      this.#visitors.set(habit.zone, new Visitor(habit, calendar, { clock: this.#clock, place: house.place }, from, random));
    }
    for (const zone of house.physics.zones) {
      const begin = (kind: "temperature" | "humidity") => {
        const told = house.sensors.find(
          (sensor) => zoneOf(sensor.name) === zone.zone && kindOf(sensor) === kind && sensor.name in given,
        );
        return told ? Number(given[told.name]) : this.#outdoors[kind];
      };
      this.#rooms.set(zone.zone, new Room(zone, begin("temperature"), begin("humidity")));
    }
    for (const effect of house.physics.effects) this.#act(effect);
    for (const sensor of house.sensors) this.#place(sensor);
    this.sensors = [...this.#read.keys()];
    this.advance(from, () => undefined);
  }

  get next(): number {
    let next = Number.POSITIVE_INFINITY;
    for (const visitor of this.#visitors.values()) next = Math.min(next, visitor.next);
    return next;
  }

  isContact(sensor: string): boolean {
    return this.#contacts.has(sensor);
  }

  reading(sensor: string): Value | undefined {
    return this.#read.get(sensor)?.();
  }

  /** What a sensor reads is told by its unit or its words, and by the zone it is in. */
  #place(sensor: Sensor): void {
    const zone = zoneOf(sensor.name);
    const room = this.#rooms.get(zone);
    if (!room) return;
    const kind = kindOf(sensor);
    const kept = (value: number) => (sensor.range ? Math.min(sensor.range[1], Math.max(sensor.range[0], value)) : value);
    if (kind === "temperature") this.#read.set(sensor.name, () => kept(rounded(room.temperature, 10)));
    if (kind === "humidity") this.#read.set(sensor.name, () => kept(rounded(room.humidity, 10)));
    if (kind === "daylight") this.#read.set(sensor.name, () => kept(rounded(this.#light.get(zone) ?? 0, 1)));
    if (kind !== "motion" && kind !== "door" && kind !== "window") return;
    const [yes = "", no = ""] = (sensor.type as WordType).words;
    const visitor = this.#visitors.get(zone);
    const isYes = { motion: () => visitor?.moving, door: () => visitor?.doorOpen, window: () => false }[kind];
    this.#contacts.add(sensor.name);
    this.#read.set(sensor.name, () => (isYes() ? yes : no));
  }

  advance(to: number, valueNow: (name: string) => Value | undefined): void {
    const before = this.#outdoors;
    this.#outdoors = this.#sky(to);
    for (const [zone, room] of this.#rooms) {
      const sums = { heat: 0, water: 0, light: 0, leak: 0 };
      for (const effect of this.#effects.get(zone) ?? []) sums[effect.what] += effect.amount * effect.share(valueNow);
      if (to > this.#now) room.advance(to - this.#now, { outdoors: before, ...sums });
      this.#light.set(zone, (this.#outdoors.daylight * room.zone.window) / 100 + sums.light);
    }
    for (const visitor of this.#visitors.values()) visitor.advance(to);
    this.#now = to;
  }

  /** An effect acts on the zone of its output or sensor; what passes between two zones acts on both. */
  #act(effect: Effect): void {
    if (effect.kind === "passes") {
      for (const [zone, other] of [
        [effect.zone, effect.other],
        [effect.other, effect.zone],
      ] as const) {
        this.#add(zone, {
          what: "heat",
          amount: effect.amount,
          share: () => this.#between(zone, other, (room) => room.temperature),
        });
      }
      return;
    }
    if (effect.kind === "gives") {
      const output = this.#house.outputs.find(({ name }) => name === effect.output);
      const share = (valueNow: ValueNow) => (output ? shareOf(output, valueNow(effect.output)) : 0);
      this.#add(zoneOf(effect.output), { what: effect.what, amount: effect.amount, share });
      return;
    }
    const zone = zoneOf(effect.sensor);
    const share = (valueNow: ValueNow) => (valueNow(effect.sensor) === effect.word ? 1 : 0);
    if (effect.to === "outdoors") {
      this.#add(zone, { what: "leak", amount: effect.perHour, share });
      return;
    }
    // Air that changes places with that of another zone carries heat and water.
    const volume = this.#rooms.get(zone)?.zone.volume ?? 0;
    for (const [one, other] of [
      [zone, effect.to],
      [effect.to, zone],
    ] as const) {
      const heat = (valueNow: ValueNow) => share(valueNow) * this.#between(one, other, (room) => room.temperature);
      const water = (valueNow: ValueNow) =>
        share(valueNow) * this.#between(one, other, (room) => absoluteHumidity(room.temperature, room.humidity));
      this.#add(one, { what: "heat", amount: (effect.perHour * volume * AIR_HEAT) / 3600, share: heat });
      this.#add(one, { what: "water", amount: effect.perHour * volume, share: water });
    }
  }

  #add(zone: string, action: Action): void {
    this.#effects.set(zone, [...(this.#effects.get(zone) ?? []), action]);
  }

  /** How much more of something another room has. */
  #between(zone: string, other: string, of: (room: Room) => number): number {
    const [here, there] = [this.#rooms.get(zone), this.#rooms.get(other)];
    return here && there ? of(there) - of(here) : 0;
  }

  #sky(instant: number): Outdoors {
    return outdoorsAt(this.#weather, this.#clock, this.#house.place ?? SOMEWHERE, instant);
  }
}

type SensorKind = "temperature" | "humidity" | "daylight" | "motion" | "door" | "window";

/** People come and go by doors; a window stays closed until a trial opens it. */
function kindOf({ name, type }: Sensor): SensorKind | undefined {
  if (type.kind === "number") {
    if (type.unit === "°C" || type.unit === "°F") return "temperature";
    if (type.unit === "%RH") return "humidity";
    return type.unit === "lx" ? "daylight" : undefined;
  }
  if (type.kind !== "words" || type.words.length !== 2) return undefined;
  if (type.words[0] === "moving") return "motion";
  if (type.words[0] !== "open") return undefined;
  return /\.window[^.]*$/.test(name) ? "window" : "door";
}

/** How much of its full effect an output has: on, or so many per cent of its range. */
function shareOf({ range }: Output, value: Value | undefined): number {
  if (typeof value !== "number") return value === "on" ? 1 : 0;
  const [low, high] = range ?? [0, 100];
  return (value - low) / (high - low);
}

function zoneOf(name: string): string {
  return name.slice(0, Math.max(0, name.indexOf(".")));
}

function rounded(value: number, parts: number): number {
  return Math.round(value * parts) / parts;
}
