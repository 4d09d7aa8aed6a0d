// What sensors of simulated rooms read: what their room is like, as their device tells it. A device follows what it measures
// with a lag, wobbles about it, and rounds.
import { baseOfNumber, type House, type Sensor, type Value, type WordType } from "../house/index.js";
import { dimensionOf, toBase, type Unit, units } from "../units/index.js";
import { zoneOf } from "./effects.js";
import type { OpenAir } from "./open-air.js";
import type { Visitor } from "./people.js";
import { randomFrom, seedOf } from "./random.js";
import type { Rooms } from "./rooms.js";
import type { Surfaces } from "./surfaces.js";
import type { Store } from "./water.js";

/** The state of rooms, as far as sensors read it. */
export interface Scene {
  readonly rooms: Rooms;
  /** lx in each room. */
  readonly light: Float64Array;
  readonly surfaces: Surfaces;
  readonly openAir: OpenAir;
  roomOf(zone: string): number | undefined;
  visitorsOf(zone: string): readonly Visitor[];
  /** How often people have done something so far: until it grows, contacts are as they were. */
  readonly turns: number;
  /** Whether somebody opened the windows of a room. */
  windowsOpen(room: number): boolean;
}

/** A sensor that has physics. */
export interface Reading {
  readonly name: string;
  /** Whether it tells of changes only, as a door does. */
  readonly isContact: boolean;
  /** Lets a device that lags follow what it measures for so many milliseconds. */
  readonly follow?: (ms: number) => void;
  /** In the base unit as its device says it, or the place of its word. */
  now(): number;
  /** A number of that kind in its own unit, or its word. */
  own(base: number): Value;
}

/** Sensors of a house that its rooms move, in its order. */
export function readingsOf(house: House, scene: Scene, stores: readonly Store[], seed: number): Reading[] {
  return house.sensors.flatMap((sensor) => {
    const store = stores.find((one) => one.sensor === sensor.name);
    if (store) return [gauge(sensor, store)];
    const zone = zoneOf(sensor.name);
    const room = scene.roomOf(zone);
    const model = modelOf(sensor);
    if (scene.openAir.has(zone)) {
      const air = model && scene.openAir.of(model);
      return air ? [device(sensor, measured[model as keyof typeof measured].parts, air, 0, seed)] : [];
    }
    if (room === undefined || model === undefined) return [];
    const surface = scene.surfaces.placeOf(sensor.name);
    if (surface !== undefined) {
      const { temperatures, humidities } = scene.surfaces;
      return [device(sensor, measured.temperature.parts, model === "humidity" ? humidities : temperatures, surface, seed)];
    }
    if (model in noticed) return [contact(sensor, model as keyof typeof noticed, zone, room, scene)];
    // ppm are of solvent where people varnish, else of their breath, and of nothing where nobody is.
    const visitors = scene.visitorsOf(zone);
    if (model === "carbon" && visitors.length === 0) return [];
    const gas = visitors.some(({ coat }) => coat !== undefined) ? "fumes" : "carbon";
    const { parts, of } = measured[model === "carbon" ? gas : (model as keyof typeof measured)];
    return [device(sensor, parts, of(scene), room, seed)];
  });
}

/** What a sensor of a number reads, by room, in the base unit, and into how many parts its own unit is divided. */
const measured = {
  temperature: { parts: 10, of: ({ rooms }: Scene) => rooms.temperatures },
  humidity: { parts: 10, of: ({ rooms }: Scene) => rooms.humidities },
  light: { parts: 1, of: ({ light }: Scene) => light },
  carbon: { parts: 1, of: ({ rooms }: Scene) => rooms.carbons },
  fumes: { parts: 1, of: ({ rooms }: Scene) => rooms.solvents },
};

/** What reads a place of a list: a room's, or a surface's. */
function device(sensor: Sensor, parts: number, air: Float64Array, place: number, seed: number): Reading {
  const { factor, zero } = units[unitOf(sensor)];
  const [low, high] = sensor.range ?? [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
  const lags = baseOfNumber(sensor.lags) ?? 0;
  const wobbles = baseOfNumber(sensor.wobblesBy) ?? 0;
  const random = randomFrom(seedOf(sensor.name, seed));
  // In an array, as a number that closures change is a new one each time.
  const felt = Float64Array.of(air[place] as number);
  return {
    name: sensor.name,
    isContact: false,
    // First order, exact while what it measures stands still.
    ...(lags > 0 && {
      follow: (ms: number) => {
        const is = air[place] as number;
        felt[0] = is + ((felt[0] as number) - is) * Math.exp(-ms / lags);
      },
    }),
    now() {
      const base = lags > 0 ? (felt[0] as number) : (air[place] as number);
      const noisy = wobbles > 0 ? base + wobbles * normal(random) : base;
      // Nothing below zero reads 0 as well.
      const said = Math.floor((noisy / factor + zero) * parts + 0.5) / parts;
      return (Math.min(high, Math.max(low, said)) - zero) * factor;
    },
    own: (base) => Math.round((base / factor + zero) * 1e6) / 1e6 + 0,
  };
}

/** What a tank holds, or how wet soil is; a float tells of changes only. */
function gauge(sensor: Sensor, store: Store): Reading {
  if (sensor.type.kind === "words") {
    const { words } = sensor.type;
    return { name: sensor.name, isContact: true, now: () => store.now(), own: (place) => words[place] ?? "" };
  }
  const { factor, zero } = units[unitOf(sensor)];
  const now = () => (Math.round((store.now() / factor + zero) * 10) / 10 - zero) * factor;
  return { name: sensor.name, isContact: false, now, own: (base) => Math.round((base / factor + zero) * 1e6) / 1e6 };
}

/** A number from the normal distribution (Box and Muller 1958). */
export function normal(random: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

/** What a sensor of two words notices of those who are there. People come and go through doors. */
const noticed = {
  motion: (visitors: readonly Visitor[]) => visitors.some(({ moving }) => moving),
  door: (visitors: readonly Visitor[]) => visitors.some(({ doorOpen }) => doorOpen),
  window: (_: readonly Visitor[], room: number, scene: Scene) => scene.windowsOpen(room),
};

function contact(sensor: Sensor, model: keyof typeof noticed, zone: string, room: number, scene: Scene): Reading {
  const { words } = sensor.type as WordType;
  const visitors = scene.visitorsOf(zone);
  const look = () => (noticed[model](visitors, room, scene) ? 0 : 1);
  let seen = Number.NaN;
  let place = 1;
  return {
    name: sensor.name,
    isContact: true,
    now: () => {
      if (seen !== scene.turns) {
        seen = scene.turns;
        place = look();
      }
      return place;
    },
    own: (one) => words[one] ?? "",
  };
}

/** What a sensor measures is told by its unit or by its words. */
export function modelOf({ name, type }: Sensor): Exclude<keyof typeof measured, "fumes"> | keyof typeof noticed | undefined {
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

export function unitOf({ type }: Sensor): Unit {
  return type.kind === "number" ? type.unit : "";
}

/** What a sensor of a number is given, in the base unit. */
export function givenTo(sensor: Sensor, value: Value): number {
  return toBase({ value: Number(value), unit: unitOf(sensor) });
}
