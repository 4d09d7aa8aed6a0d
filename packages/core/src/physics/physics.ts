// The simulated house: rooms that answer to outputs, doors, people and weather, and what its sensors would read.
import {
  baseOfNumber,
  type Effect,
  type House,
  type Output,
  type Sensor,
  type Value,
  type Weather,
  type WordType,
  type ZonePhysics,
} from "../house/index.js";
import { type Clock, clockOf } from "../time/index.js";
import { dimensionOf, fromBase, toBase, type Unit } from "../units/index.js";
import { Visitor } from "./people.js";
import { randomFrom } from "./random.js";
import { type Air, type Gain, type Link, Rooms } from "./rooms.js";
import { type Outdoors, Sky } from "./sky.js";
import { Valve } from "./valve.js";

/** When the rooms begin, under which weather, from which values. */
export interface PhysicsOptions {
  /** Milliseconds since 1970 UTC. */
  readonly from: number;
  readonly weather: Weather;
  /** What people do depends on it. @default 1 */
  readonly seed?: number;
  /** Readings to begin with, by sensor, in the sensor's own unit; what is left out is in balance with the weather. */
  readonly given?: Readonly<Record<string, Value>>;
  /** The air to begin with, by zone: that of rooms that have been lived in. */
  readonly airs?: ReadonlyMap<string, Air>;
}

/** Simulated rooms: what their sensors read as time passes and outputs change. */
export interface Physics {
  /** The next instant at which people do something; infinite when they do nothing any more. */
  readonly next: number;
  /** Lets time pass. `valueNow` tells what an output has done since the last call, in its own unit, and what a contact truly was. */
  advance(to: number, valueNow: (name: string) => Value | undefined): void;
  /** What a sensor reads now, in its own unit and rounded as such sensors do; undefined for one that has no physics. */
  reading(sensor: string): Value | undefined;
  /** Sensors that have physics, in the order of the house. */
  readonly sensors: readonly string[];
  /** Whether a sensor tells of changes only, as a door does. */
  isContact(sensor: string): boolean;
  /** The air of each zone now. */
  readonly airs: ReadonlyMap<string, Air>;
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

type ValueNow = (name: string) => Value | undefined;

/** How much of its full effect something has had since the last call, which is so many milliseconds ago. */
type Share = (valueNow: ValueNow, ms: number) => number;

/** All that acts on one room. */
interface Sums extends Gain {
  /** lx */
  readonly light: number;
}

/** W, g/h and l/h of CO₂ of a person who sits (ISO 7730; ASHRAE Fundamentals, ch. 18; Persily and de Jonge 2017). */
const PERSON = { heat: 70, water: 45, carbon: 18.7 };

/** What an effect adds to a room at full share. */
interface Source {
  readonly room: number;
  readonly what: keyof Sums;
  readonly amount: number;
  readonly share: Share;
}

/** What two rooms exchange at full share. */
interface Opening extends Omit<Link, "air"> {
  readonly air: number;
  readonly share: Share;
}

const always: Share = () => 1;

class SimulatedHouse implements Physics {
  readonly #house: House;
  readonly #clock: Clock;
  readonly #sky: Sky;
  readonly #zones: readonly ZonePhysics[];
  readonly #rooms: Rooms;
  readonly #sources: Source[] = [];
  readonly #openings: Opening[] = [];
  readonly #visitors = new Map<string, Visitor[]>();
  /** lx in each room. */
  readonly #light: number[];
  readonly #read = new Map<string, () => Value>();
  readonly #contacts = new Set<string>();
  readonly sensors: readonly string[];
  #now: number;
  #outdoors: Outdoors;

  constructor(house: House, { from, weather, seed = 1, given = {}, airs }: PhysicsOptions) {
    this.#house = house;
    this.#clock = clockOf(house.clock);
    this.#now = from;
    this.#sky = new Sky(weather, this.#clock, house.place ?? SOMEWHERE);
    this.#outdoors = this.#sky.at(from);
    const streams = new Map<string, () => number>();
    const sky = { clock: this.#clock, place: house.place };
    for (const habit of house.people) {
      const calendar = house.schedules.find(({ name }) => name === habit.during) ?? { openings: [] };
      const there = this.#visitors.get(habit.zone) ?? [];
      const random = streams.get(habit.zone) ?? randomFrom(seedOf(habit.zone, seed));
      streams.set(habit.zone, random);
      this.#visitors.set(habit.zone, [...there, new Visitor(habit, calendar, sky, from, random)]);
    }
    this.#zones = house.physics.zones;
    this.#light = this.#zones.map(() => 0);
    this.#rooms = new Rooms(
      this.#zones,
      this.#zones.map(({ zone }) => airs?.get(zone) ?? this.#begin(zone, given)),
    );
    for (const effect of house.physics.effects) this.#act(effect);
    this.#warmByUse();
    for (const sensor of house.sensors) this.#place(sensor);
    this.sensors = [...this.#read.keys()];
    this.advance(from, () => undefined);
  }

  get next(): number {
    let next = Number.POSITIVE_INFINITY;
    for (const visitor of this.#everybody()) next = Math.min(next, visitor.next);
    return next;
  }

  isContact(sensor: string): boolean {
    return this.#contacts.has(sensor);
  }

  reading(sensor: string): Value | undefined {
    return this.#read.get(sensor)?.();
  }

  get airs(): ReadonlyMap<string, Air> {
    return new Map(this.#zones.map(({ zone }, room) => [zone, this.#rooms.air(room)]));
  }

  *#everybody(): Iterable<Visitor> {
    for (const visitors of this.#visitors.values()) yield* visitors;
  }

  /** What sensors of a room are given it begins with; the rest is in balance with the weather. */
  #begin(zone: string, given: Readonly<Record<string, Value>>): Air {
    const begin = (kind: "temperature" | "humidity" | "carbon") => {
      const told = this.#house.sensors.find(
        (sensor) => zoneOf(sensor.name) === zone && modelOf(sensor) === kind && Object.hasOwn(given, sensor.name),
      );
      return told ? toBase({ value: Number(given[told.name]), unit: unitOf(told) }) : undefined;
    };
    const { temperature, humidity } = this.#outdoors;
    const carbon = this.#visitors.has(zone) ? begin("carbon") : undefined;
    return {
      temperature: begin("temperature") ?? temperature,
      humidity: begin("humidity") ?? humidity,
      ...(carbon !== undefined && { carbon }),
    };
  }

  /** What a sensor reads is told by what it measures or by its words, and by the zone it is in. */
  #place(sensor: Sensor): void {
    const zone = zoneOf(sensor.name);
    const room = this.#roomOf(zone);
    const model = modelOf(sensor);
    if (room === undefined || model === undefined) return;
    // Other fumes than the breath of people are not known.
    if (model === "carbon" && !this.#visitors.has(zone)) return;
    const { range } = sensor;
    const kept = (value: number) => (range ? Math.min(range[1], Math.max(range[0], value)) : value);
    if (model === "temperature" || model === "humidity" || model === "light" || model === "carbon") {
      const { parts, of } = measured[model];
      const unit = unitOf(sensor);
      this.#read.set(sensor.name, () => {
        const base = of(this.#rooms.air(room), this.#light[room] as number);
        // Nothing below zero reads 0 as well.
        return kept(Math.round(fromBase(base, unit) * parts) / parts + 0);
      });
      return;
    }
    const [yes = "", no = ""] = (sensor.type as WordType).words;
    const visitors = this.#visitors.get(zone) ?? [];
    this.#contacts.add(sensor.name);
    this.#read.set(sensor.name, () => (noticed[model](visitors) ? yes : no));
  }

  #roomOf(zone: string): number | undefined {
    const room = this.#zones.findIndex((one) => one.zone === zone);
    return room < 0 ? undefined : room;
  }

  advance(to: number, valueNow: ValueNow): void {
    const before = this.#outdoors;
    this.#outdoors = this.#sky.at(to);
    const ms = to - this.#now;
    const sums = this.#zones.map(() => ({ heat: 0, water: 0, light: 0, leak: 0, carbon: 0 }));
    for (const { room, what, amount, share } of this.#sources)
      (sums[room] as (typeof sums)[number])[what] += amount * share(valueNow, ms);
    for (const [zone, visitors] of this.#visitors) {
      const sum = sums[this.#roomOf(zone) ?? -1];
      if (!sum) continue;
      for (const { present, breathes = PERSON.carbon } of visitors) {
        if (!present) continue;
        sum.heat += PERSON.heat;
        sum.water += PERSON.water;
        sum.carbon += breathes;
      }
    }
    const links = this.#openings.map(({ share, ...link }): Link => ({ ...link, air: link.air * share(valueNow, ms) }));
    if (to > this.#now) this.#rooms.advance(to - this.#now, before, sums satisfies Gain[], links);
    this.#zones.forEach(({ window }, room) => {
      this.#light[room] = (this.#outdoors.daylight * window) / 100 + (sums[room]?.light ?? 0);
    });
    for (const visitor of this.#everybody()) visitor.advance(to);
    this.#now = to;
  }

  /** An effect acts on the room of its output or sensor; what passes between two rooms acts on both. */
  #act(effect: Effect): void {
    switch (effect.kind) {
      case "passes":
        return this.#open(effect.zone, effect.other, { conducts: effect.amount, air: 0, share: always });
      case "gives":
      case "word gives": {
        const output = this.#house.outputs.find(({ name }) => name === effect.output);
        if (output) this.#give(effect, output, "word" in effect ? ofWord(output, effect.word) : this.#shareOf(output));
        return;
      }
      case "leak": {
        const zone = zoneOf(effect.sensor);
        const share: Share = (now) => (now(effect.sensor) === effect.word ? 1 : 0);
        if (effect.to === "outdoors") return this.#add(zone, "leak", effect.perHour, share);
        const volume = this.#zones.find((one) => one.zone === zone)?.volume ?? 0;
        return this.#open(zone, effect.to, { conducts: 0, air: effect.perHour * volume, share });
      }
      default:
        throw new RangeError(`no such effect: ${JSON.stringify(effect satisfies never)}`);
    }
  }

  #give({ what, amount, from }: Extract<Effect, { readonly what: unknown }>, { name, serves = [] }: Output, share: Share): void {
    const zone = zoneOf(name);
    if (what === "air") {
      const volume = this.#zones.find((one) => one.zone === zone)?.volume ?? 0;
      // What is blown in from outdoors joins the leak (ISO 13789).
      if (from === undefined || from === "outdoors") return this.#add(zone, "leak", amount / volume, share);
      return this.#open(zone, from, { conducts: 0, air: amount, share });
    }
    // One furnace for several rooms: each has its part by what it loses.
    const rooms = [zone, ...serves].flatMap((one) => this.#zones.find((known) => known.zone === one) ?? []);
    const all = rooms.reduce((sum, { loses }) => sum + loses, 0);
    for (const room of rooms) {
      const part = all > 0 ? room.loses / all : 1 / rooms.length;
      this.#add(room.zone, what, what === "light" ? amount : amount * part, share);
    }
  }

  /** What is not said to give heat turns what it uses into heat. */
  #warmByUse(): void {
    const heats = new Set(
      this.#house.physics.effects.flatMap((effect) => ("what" in effect && effect.what === "heat" ? [effect.output] : [])),
    );
    for (const output of this.#house.outputs) {
      const uses = heats.has(output.name) ? undefined : baseOfNumber(output.uses);
      if (uses) this.#add(zoneOf(output.name), "heat", uses, this.#shareOf(output));
    }
  }

  /** How much of its full effect an output has: on, so many per cent of its range, or as a target that it heats towards. */
  #shareOf(output: Output): Share {
    const room = this.#roomOf(zoneOf(output.name));
    const { type, range } = output;
    if (type.kind !== "number" || dimensionOf(type.unit) !== "temperature" || room === undefined)
      return (now) => shareOf(range, now(output.name));
    const valve = new Valve();
    return (now, ms) => {
      const temperature = this.#rooms.temperature(room);
      valve.advance(ms, temperature);
      const target = now(output.name);
      return typeof target === "number" ? valve.share(toBase({ value: target, unit: type.unit }), temperature) : 0;
    };
  }

  #add(zone: string, what: Source["what"], amount: number, share: Share): void {
    const room = this.#roomOf(zone);
    if (room !== undefined) this.#sources.push({ room, what, amount, share });
  }

  #open(zone: string, beside: string, opening: Omit<Opening, "one" | "other">): void {
    const [one, other] = [this.#roomOf(zone), this.#roomOf(beside)];
    if (one !== undefined && other !== undefined && one !== other) this.#openings.push({ one, other, ...opening });
  }
}

/** The same for the same zone and seed, and another for each zone (FNV-1a, Fowler, Noll and Vo). */
function seedOf(zone: string, seed: number): number {
  let hash = 0x811c9dc5 ^ seed;
  for (const char of zone) hash = Math.imul(hash ^ (char.codePointAt(0) as number), 0x01000193);
  return hash;
}

function ofWord({ name }: Output, word: string): Share {
  return (now) => (now(name) === word ? 1 : 0);
}

/** What a sensor of a number reads of its room, in the base unit, and into how many parts its own unit is divided. */
const measured = {
  temperature: { parts: 10, of: ({ temperature }: Air) => temperature },
  humidity: { parts: 10, of: ({ humidity }: Air) => humidity },
  light: { parts: 1, of: (_: Air, light: number) => light },
  carbon: { parts: 1, of: ({ carbon = 0 }: Air) => carbon },
};

/** What a sensor of two words notices of those who are there. People come and go by doors; a window stays closed. */
const noticed = {
  motion: (visitors: readonly Visitor[]) => visitors.some(({ moving }) => moving),
  door: (visitors: readonly Visitor[]) => visitors.some(({ doorOpen }) => doorOpen),
  window: () => false,
};

function modelOf({ name, type }: Sensor): keyof typeof measured | keyof typeof noticed | undefined {
  if (type.kind === "number") {
    const dimension = dimensionOf(type.unit);
    if (dimension === "temperature") return "temperature";
    if (dimension === "relative humidity") return "humidity";
    if (dimension === "concentration") return "carbon";
    return dimension === "light" ? "light" : undefined;
  }
  if (type.kind !== "words" || type.words.length !== 2) return undefined;
  if (type.words[0] === "moving") return "motion";
  if (type.words[0] !== "open") return undefined;
  return /\.window[^.]*$/.test(name) ? "window" : "door";
}

function unitOf({ type }: Sensor): Unit {
  return type.kind === "number" ? type.unit : "";
}

function shareOf(range: Output["range"], value: Value | undefined): number {
  if (typeof value !== "number") return value === "on" ? 1 : 0;
  const [low, high] = range ?? [0, 100];
  return (value - low) / (high - low);
}

function zoneOf(name: string): string {
  return name.slice(0, Math.max(0, name.indexOf(".")));
}
