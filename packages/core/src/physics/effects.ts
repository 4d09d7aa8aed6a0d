// What acts on rooms: outputs, open doors, what passes through walls. Each effect has a share of its full strength, by what
// its output does or its contact is; what stands still is summed up once, and what moves at each step.
import { baseOfNumber, type Effect, type House, type Output, offWordOf, reachOf, type Value } from "../house/index.js";
import { dimensionOf, toBase } from "../units/index.js";
import { type Gains, gainsOf, type Link, type Rooms } from "./rooms.js";
import { Valve } from "./valve.js";

/** The share of its full effect that something has for a value: from 0 to 1. */
type Share = (value: Value | undefined) => number;

/** Adds what it gives to the sums of a step of so many milliseconds. */
type Moving = (ms: number, rooms: Rooms, sums: Gains) => void;

/** W for each g/h: evaporating a gram of water takes 0.68 Wh (ASHRAE Fundamentals, ch. 1). */
const LATENT = 0.68;

/** g/m³ of the air in which dehumidifiers are rated: 27 °C and 60 %RH (AHAM DH-1). */
const RATED = 15.5;

/** What may stand still. */
const STANDING = ["heat", "water", "leak", "light"] as const;

export class Effects {
  readonly links: readonly Link[];
  readonly #house: House;
  readonly #zones: readonly string[];
  readonly #links: Link[] = [];
  /** Told of each thing what it does now. */
  readonly #heard = new Map<string, ((value: Value | undefined) => void)[]>();
  readonly #still: ((sums: Gains) => void)[] = [];
  readonly #moving: Moving[] = [];
  /** What stands still, summed up. */
  readonly #sums: Gains;
  #changed = true;

  constructor(house: House) {
    this.#house = house;
    this.#zones = house.physics.zones.map(({ zone }) => zone);
    this.#sums = gainsOf(this.#zones.length);
    for (const effect of house.physics.effects) this.#act(effect);
    this.#warmByUse();
    this.links = this.#links;
  }

  /** Whether anything depends on what a thing does. */
  hears(name: string): boolean {
    return this.#heard.has(name);
  }

  /** What an output does, or a contact is, from now on. */
  put(name: string, value: Value | undefined): void {
    const heard = this.#heard.get(name);
    if (!heard) return;
    for (const one of heard) one(value);
    this.#changed = true;
  }

  /** Sums up what acts on the rooms through a step. */
  sumUp(ms: number, rooms: Rooms, into: Gains): void {
    if (this.#changed) {
      this.#changed = false;
      for (const what of STANDING) this.#sums[what].fill(0);
      for (const add of this.#still) add(this.#sums);
    }
    const { heat, water, leak, light } = this.#sums;
    for (let room = 0; room < this.#zones.length; room++) {
      into.heat[room] = heat[room] as number;
      into.water[room] = water[room] as number;
      into.leak[room] = leak[room] as number;
      into.light[room] = light[room] as number;
      into.carbon[room] = 0;
      into.fumes[room] = 0;
    }
    for (const add of this.#moving) add(ms, rooms, into);
  }

  /** An effect acts on the room of its output or sensor; what passes between two rooms acts on both. */
  #act(effect: Effect): void {
    switch (effect.kind) {
      case "passes":
        this.#link(effect.zone, effect.other, effect.amount);
        return;
      case "gives":
      case "word gives": {
        const output = this.#house.outputs.find(({ name }) => name === effect.output);
        if (output) this.#give(effect, output);
        return;
      }
      case "leak": {
        const zone = zoneOf(effect.sensor);
        const share: Share = (value) => (value === effect.word ? 1 : 0);
        if (effect.to === "outdoors") this.#add(zone, "leak", effect.perHour, effect.sensor, share);
        else this.#open(zone, effect.to, effect.perHour * this.#volumeOf(zone), effect.sensor, share);
        return;
      }
      // Tanks and soil are stores of their own, see `water`; surfaces and the outdoors are looked at and moved by nothing here.
      case "holds":
      case "float":
      case "gains":
      case "soil":
      case "surface":
      case "outdoors":
      case "draws":
      case "waters":
        return;
      default:
        throw new RangeError(`no such effect: ${JSON.stringify(effect satisfies never)}`);
    }
  }

  #give(effect: Extract<Effect, { readonly what: unknown }>, output: Output): void {
    const { what, amount, from } = effect;
    const zone = zoneOf(output.name);
    const share: Share = "word" in effect ? (value) => (value === effect.word ? 1 : 0) : shareOf(output);
    if (what === "air") {
      // What is blown in from outdoors joins the leak (ISO 13789).
      const outdoors = from === undefined || from === "outdoors";
      if (outdoors) this.#add(zone, "leak", amount / this.#volumeOf(zone), output.name, share);
      else this.#open(zone, from, amount, output.name, share);
      return;
    }
    if (what === "light") return this.#add(zone, "light", amount, output.name, share);
    for (const [one, part] of this.#partsOf(zone, output))
      if (what === "heat") this.#heat(one, amount * part, effect, output, share);
      else this.#moisten(one, amount * part, output, share);
  }

  /** One furnace for several rooms: each has its part by what it loses. */
  #partsOf(zone: string, { serves = [] }: Output): (readonly [zone: string, part: number])[] {
    const rooms = [zone, ...serves].flatMap((one) => this.#house.physics.zones.find((known) => known.zone === one) ?? []);
    const all = rooms.reduce((sum, { loses }) => sum + loses, 0);
    return rooms.map((room) => [room.zone, all > 0 ? room.loses / all : 1 / rooms.length]);
  }

  /** Heat comes at once, as slowly as what gives it warms up, or by a valve of its own. */
  #heat(zone: string, amount: number, { lagging = 0 }: { readonly lagging?: number }, output: Output, share: Share): void {
    const room = this.#roomOf(zone);
    if (room === undefined) return;
    const { type } = output;
    if (type.kind === "number" && dimensionOf(type.unit) === "temperature") {
      const felt = this.#roomOf(zoneOf(output.name)) ?? room;
      const valve = new Valve();
      const now = this.#hear(output.name, (value) =>
        typeof value === "number" ? toBase({ value, unit: type.unit }) : Number.NaN,
      );
      this.#moving.push((ms, rooms, { heat }) => {
        const temperature = rooms.temperature(felt);
        valve.advance(ms, temperature);
        if (!Number.isNaN(now.share)) add(heat, room, amount * valve.share(now.share, temperature));
      });
    } else if (lagging > 0) {
      const now = this.#hear(output.name, share);
      let warm = 0;
      this.#moving.push((ms, _, { heat }) => {
        // First order, exact: its mean over the step, then what it has come to.
        const left = Math.exp(-ms / lagging);
        const mean = ms > 0 ? now.share + ((warm - now.share) * (1 - left) * lagging) / ms : warm;
        warm = now.share + (warm - now.share) * left;
        add(heat, room, amount * mean);
      });
    } else this.#add(zone, "heat", amount, output.name, share);
  }

  /** Water that evaporates takes heat from the air; what is condensed gives it back, and less comes of dry air. */
  #moisten(zone: string, amount: number, output: Output, share: Share): void {
    const room = this.#roomOf(zone);
    if (room === undefined) return;
    if (amount >= 0) {
      this.#add(zone, "water", amount, output.name, share);
      this.#add(zone, "heat", -LATENT * amount, output.name, share);
      return;
    }
    const now = this.#hear(output.name, share);
    this.#moving.push((_, rooms, { heat, water }) => {
      if (now.share === 0) return;
      const dried = amount * now.share * Math.min(1, rooms.density(room) / RATED);
      add(water, room, dried);
      add(heat, room, -LATENT * dried);
    });
  }

  /** What is not said to give heat turns what it uses into heat. */
  #warmByUse(): void {
    const heats = new Set(
      this.#house.physics.effects.flatMap((effect) => ("what" in effect && effect.what === "heat" ? [effect.output] : [])),
    );
    for (const output of this.#house.outputs) {
      const uses = heats.has(output.name) ? undefined : baseOfNumber(output.uses);
      if (uses) this.#heat(zoneOf(output.name), uses, {}, output, shareOf(output));
    }
  }

  /** The share of a thing as it is now. */
  #hear(name: string, share: Share): { share: number } {
    const now = { share: share(undefined) };
    const all = this.#heard.get(name) ?? [];
    this.#heard.set(name, all);
    all.push((value) => {
      now.share = share(value);
    });
    return now;
  }

  #add(zone: string, what: (typeof STANDING)[number], amount: number, name: string, share: Share): void {
    const room = this.#roomOf(zone);
    if (room === undefined) return;
    const now = this.#hear(name, share);
    this.#still.push((sums) => add(sums[what], room, amount * now.share));
  }

  #open(zone: string, beside: string, air: number, name: string, share: Share): void {
    const link = this.#link(zone, beside, 0);
    if (!link) return;
    const now = this.#hear(name, share);
    this.#still.push(() => {
      link.air = air * now.share;
    });
  }

  #link(zone: string, beside: string, conducts: number): Link | undefined {
    const [one, other] = [this.#roomOf(zone), this.#roomOf(beside)];
    if (one === undefined || other === undefined || one === other) return undefined;
    const link = { one, other, conducts, air: 0 };
    this.#links.push(link);
    return link;
  }

  #roomOf(zone: string): number | undefined {
    const room = this.#zones.indexOf(zone);
    return room < 0 ? undefined : room;
  }

  #volumeOf(zone: string): number {
    return this.#house.physics.zones.find((one) => one.zone === zone)?.volume ?? 0;
  }
}

function add(sum: Float64Array, room: number, amount: number): void {
  sum[room] = (sum[room] as number) + amount;
}

/** On, or so much of its range; of what has none, all that is not 0. */
function shareOf(output: Output): Share {
  const [low, high] = reachOf(output) ?? [0, Number.NaN];
  const off = offWordOf(output);
  return (value) => {
    if (typeof value !== "number") return off === undefined || value === undefined || value === off ? 0 : 1;
    return Number.isNaN(high) ? Number(value !== 0) : (value - low) / (high - low);
  };
}

/** The zone that a thing is in. */
export function zoneOf(name: string): string {
  return name.slice(0, Math.max(0, name.indexOf(".")));
}
