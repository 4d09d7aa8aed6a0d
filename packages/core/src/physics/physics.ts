// The simulated house: rooms that answer to outputs, doors, people and weather, and what its sensors would read.
import type { House, Sensor, Value, Weather, ZonePhysics } from "../house/index.js";
import { clockOf } from "../time/index.js";
import { Effects, zoneOf } from "./effects.js";
import { OpenAir } from "./open-air.js";
import { type Weatherglass, weatherglass } from "./outdoors.js";
import { COAT, PERSON, Visitor } from "./people.js";
import { randomFrom, seedOf } from "./random.js";
import { type Air, type Gains, gainsOf, Rooms } from "./rooms.js";
import { givenTo, modelOf, type Reading, readingsOf, type Scene } from "./sensors.js";
import type { Outdoors } from "./sky.js";
import { isAtSurface, Surfaces } from "./surfaces.js";
import { type Climate, type Store, Water } from "./water.js";

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
  /**
   * What an output does, or a contact truly is, from now on, in its own unit. A contact that is told so no longer follows
   * what people do. What nothing acts by is ignored.
   */
  put(name: string, value: Value | undefined): void;
  /** Lets time pass; what is put stands still meanwhile. */
  advance(to: number): void;
  /** Lets people do what is due at an instant; rooms come up to it only where they feel that. */
  letPeople(at: number): void;
  /** What a sensor reads now, in its own unit and rounded as such sensors do; undefined for one that has no physics. */
  reading(sensor: string): Value | undefined;
  /** The same as a number: in the base unit, or the place of a word. By its place in `sensors`. */
  readingNumber(place: number): number;
  /** Sensors that have physics, in the order of the house. */
  readonly sensors: readonly string[];
  /** Whether a sensor tells of changes only, as a door does. */
  isContact(sensor: string): boolean;
  /** Whether something in the rooms depends on what an output does. */
  answersTo(output: string): boolean;
  /** The air of each zone now. */
  readonly airs: ReadonlyMap<string, Air>;
}

/** A house stands somewhere: without a place, in the middle of Europe. */
const SOMEWHERE = { latitude: 47, longitude: 8 };

/** The part of the sun's heat that comes through a pane of two sheets (g of ISO 52022-1), and lm/W of daylight (Littlefair 1985). */
const PANE = 0.6;
const LUMENS = 110;

/**
 * The simulated house of `house.physics`, `house.people` and a weather. Exact between two calls as long as outputs,
 * doors and the weather stand still; call it at least once a minute.
 */
export function createPhysics(house: House, options: PhysicsOptions): Physics {
  return new SimulatedHouse(house, options);
}

class SimulatedHouse implements Physics, Scene {
  readonly #sky: Weatherglass;
  readonly #zones: readonly ZonePhysics[];
  readonly #effects: Effects;
  readonly #water: Water;
  readonly #roomsOfStores: readonly (number | undefined)[];
  /** What one of them is told for a moment. */
  readonly #climate = { temperature: 0.5, humidity: 0.5, daylight: 0.5 };
  readonly #gains: Gains;
  readonly #visitors = new Map<string, Visitor[]>();
  /** Those of all zones. */
  readonly #everybody: readonly Visitor[];
  /** The room each is in; -1 where it has no physics. */
  readonly #roomsOf: readonly number[];
  readonly #readings: readonly Reading[];
  readonly #contacts: readonly Reading[];
  /** What contacts were when rooms were last told. */
  readonly #were: Float64Array;
  readonly #lagging: readonly Reading[];
  /** Rooms with panes. */
  readonly #sunny: readonly number[];
  readonly #byName: ReadonlyMap<string, Reading>;
  /** What contacts are that were put. */
  readonly #told = new Set<string>();
  readonly sensors: readonly string[];
  readonly rooms: Rooms;
  readonly light: Float64Array;
  readonly surfaces: Surfaces;
  readonly openAir: OpenAir;
  /** Whether a tank or soil is outdoors. */
  readonly #openStores: readonly boolean[];
  next = Number.NEGATIVE_INFINITY;
  turns = 0;
  /** The next instant at which people do what rooms feel. */
  #acts = Number.NEGATIVE_INFINITY;
  #now: number;
  #outdoors: Outdoors;
  /** A room feels whether somebody moves. */
  readonly #feelsMotion: boolean;

  constructor(house: House, { from, weather, seed = 1, given = {}, airs }: PhysicsOptions) {
    const clock = clockOf(house.clock);
    this.#now = from;
    this.#sky = weatherglass(weather, clock, house.place ?? SOMEWHERE);
    this.#outdoors = this.#sky.at(from);
    const streams = new Map<string, () => number>();
    const sky = { clock, place: house.place };
    for (const habit of house.people) {
      const calendar = house.schedules.find(({ name }) => name === habit.during) ?? { openings: [] };
      const random = streams.get(habit.zone) ?? randomFrom(seedOf(habit.zone, seed));
      streams.set(habit.zone, random);
      this.#visitors.set(habit.zone, [...this.visitorsOf(habit.zone), new Visitor(habit, calendar, sky, from, random)]);
    }
    this.#zones = house.physics.zones;
    this.openAir = new OpenAir(house);
    this.#everybody = [...this.#visitors.values()].flat();
    this.#roomsOf = [...this.#visitors].flatMap(([zone, all]) => all.map(() => this.roomOf(zone) ?? -1));
    this.light = new Float64Array(this.#zones.length);
    this.#gains = gainsOf(this.#zones.length);
    this.#effects = new Effects(house);
    this.#water = new Water(house, given);
    this.#roomsOfStores = this.#water.stores.map(({ sensor }) => this.roomOf(zoneOf(sensor)));
    this.#openStores = this.#water.stores.map(({ sensor }) => this.openAir.has(zoneOf(sensor)));
    const inAir = house.sensors.filter(({ name }) => !isAtSurface(house, name));
    const begin = ({ zone }: ZonePhysics) => airs?.get(zone) ?? this.#begin(zone, inAir, given);
    const breathed = this.#everybody.length > 0 ? (["carbon"] as const) : [];
    const coated = this.#everybody.some(({ coat }) => coat !== undefined) ? (["fumes"] as const) : [];
    this.rooms = new Rooms(this.#zones, this.#zones.map(begin), this.#effects.links, [...breathed, ...coated]);
    this.surfaces = new Surfaces(house, this.rooms, (zone) => this.roomOf(zone));
    this.#lookOutdoors();
    this.#readings = readingsOf(house, this, this.#water.stores, seed);
    this.#lagging = this.#readings.filter(({ follow }) => follow !== undefined);
    this.#sunny = this.#zones.flatMap(({ glass = 0 }, room) => (glass > 0 ? [room] : []));
    this.#contacts = this.#readings.filter(({ isContact, name }) => isContact && this.#effects.hears(name));
    this.#were = new Float64Array(this.#contacts.length).fill(Number.NaN);
    this.#feelsMotion = house.sensors.some((sensor) => modelOf(sensor) === "motion" && this.#effects.hears(sensor.name));
    this.#byName = new Map(this.#readings.map((one) => [one.name, one]));
    this.sensors = this.#readings.map(({ name }) => name);
    this.advance(from);
  }

  get airs(): ReadonlyMap<string, Air> {
    return new Map(this.#zones.map(({ zone }, room) => [zone, this.rooms.air(room)]));
  }

  isContact(sensor: string): boolean {
    return this.#byName.get(sensor)?.isContact === true;
  }

  reading(sensor: string): Value | undefined {
    const reading = this.#byName.get(sensor);
    return reading?.own(reading.now());
  }

  readingNumber(place: number): number {
    return this.#readings[place]?.now() ?? Number.NaN;
  }

  roomOf(zone: string): number | undefined {
    const room = this.#zones.findIndex((one) => one.zone === zone);
    return room < 0 ? undefined : room;
  }

  visitorsOf(zone: string): readonly Visitor[] {
    return this.#visitors.get(zone) ?? [];
  }

  windowsOpen(room: number): boolean {
    return this.#everybody.some(({ airs }, one) => airs && this.#roomsOf[one] === room);
  }

  /** What sensors of a room are given it begins with; the rest is in balance with the weather. */
  #begin(zone: string, sensors: readonly Sensor[], given: Readonly<Record<string, Value>>): Air {
    const begin = (kind: "temperature" | "humidity" | "carbon") => {
      const told = sensors.find(
        (sensor) => zoneOf(sensor.name) === zone && modelOf(sensor) === kind && Object.hasOwn(given, sensor.name),
      );
      return told && givenTo(told, given[told.name] as Value);
    };
    const { temperature, humidity } = this.#outdoors;
    const visitors = this.visitorsOf(zone);
    const ppm = visitors.length > 0 ? begin("carbon") : undefined;
    const gas = visitors.some(({ coat }) => coat !== undefined) ? "fumes" : "carbon";
    return {
      temperature: begin("temperature") ?? temperature,
      humidity: begin("humidity") ?? humidity,
      ...(ppm !== undefined && { [gas]: ppm }),
    };
  }

  answersTo(output: string): boolean {
    return this.#effects.hears(output) || this.#water.hears(output);
  }

  put(name: string, value: Value | undefined): void {
    if (this.isContact(name)) this.#told.add(name);
    this.#effects.put(name, value);
    this.#water.put(name, value);
  }

  advance(to: number): void {
    const before = this.#outdoors;
    this.#outdoors = this.#sky.at(to);
    const ms = to - this.#now;
    if (ms > 0) this.#advanceWater(ms);
    this.#effects.sumUp(ms, this.rooms, this.#gains);
    this.#addSun(before);
    this.#addPeople(ms);
    if (ms > 0) this.rooms.advance(ms, before, this.#gains);
    for (let room = 0; room < this.#zones.length; room++)
      this.light[room] =
        (this.#outdoors.daylight * (this.#zones[room] as ZonePhysics).window) / 100 + (this.#gains.light[room] as number);
    this.#lookOutdoors();
    if (ms > 0) for (const reading of this.#lagging) reading.follow?.(ms);
    this.#now = to;
    if (this.next <= to) this.#letPeople(to);
  }

  #lookOutdoors(): void {
    this.openAir.look(this.#outdoors);
    this.surfaces.look(this.#outdoors.temperature);
  }

  letPeople(at: number): void {
    if (this.#acts <= at) this.advance(at);
    else this.#letPeople(at);
  }

  #letPeople(to: number): void {
    this.next = Number.POSITIVE_INFINITY;
    this.#acts = Number.POSITIVE_INFINITY;
    this.turns++;
    for (let one = 0; one < this.#everybody.length; one++) {
      const visitor = this.#everybody[one] as Visitor;
      visitor.advance(to, this.rooms, this.#roomsOf[one] as number, this.#outdoors);
      this.next = Math.min(this.next, visitor.next);
      this.#acts = Math.min(this.#acts, this.#feelsMotion ? visitor.next : visitor.acts);
    }
    // Doors and windows that people open are open, whatever their sensors say; what was put is stronger.
    for (let place = 0; place < this.#contacts.length; place++) this.#open(this.#contacts[place] as Reading, place);
  }

  #open({ name, now, own }: Reading, place: number): void {
    const is = now();
    if (is === this.#were[place] || this.#told.has(name)) return;
    this.#were[place] = is;
    this.#effects.put(name, own(is));
  }

  #advanceWater(ms: number): void {
    const { stores } = this.#water;
    for (let place = 0; place < stores.length; place++) (stores[place] as Store).advance(ms, this.#climateOf(place));
  }

  /** The air and the light over soil: those of its zone. */
  #climateOf(store: number): Climate | undefined {
    if (this.#openStores[store]) return this.#outdoors;
    const room = this.#roomsOfStores[store];
    if (room === undefined) return undefined;
    const climate = this.#climate;
    climate.temperature = this.rooms.temperature(room);
    climate.humidity = this.rooms.humidities[room] as number;
    climate.daylight = this.light[room] as number;
    return climate;
  }

  /** Daylight through glass warms the walls it falls on: Q = A g I. */
  #addSun({ daylight }: Outdoors): void {
    for (const room of this.#sunny)
      this.#gains.sun[room] = ((this.#zones[room] as ZonePhysics).glass as number) * (PANE / LUMENS) * daylight;
  }

  #addPeople(ms: number): void {
    const { heat, water, carbon, fumes } = this.#gains;
    for (let one = 0; one < this.#everybody.length; one++) {
      const room = this.#roomsOf[one] as number;
      if (room < 0) continue;
      const visitor = this.#everybody[one] as Visitor;
      if (visitor.present) {
        heat[room] = (heat[room] as number) + PERSON.heat;
        water[room] = (water[room] as number) + PERSON.water;
        carbon[room] = (carbon[room] as number) + (visitor.breathes ?? PERSON.carbon);
      }
      const { does } = visitor;
      if (does) {
        heat[room] = (heat[room] as number) + does.heat;
        water[room] = (water[room] as number) + does.water;
      }
      if (visitor.coat !== undefined) fumes[room] = (fumes[room] as number) + visitor.evaporate(ms) * COAT.litres;
    }
  }
}
