// The rooms of a house, advanced together: each has one temperature, one store of water and one of CO₂ and fumes for its
// air, walls and what stands in it; or walls and wood of their own, that follow the air. What leaves one room is what enters
// the other.
import { absoluteHumidity } from "../expression/index.js";
import { FURNISHED, type ZonePhysics } from "../house/index.js";
import { HOUR, SECOND } from "../time/index.js";
import { Exchange, type Passage, type Stores, storesFor } from "./exchange.js";
import type { Outdoors } from "./sky.js";

/** °C, %RH and ppm of CO₂; of what follows the air, °C of walls and %RH of wood. */
export interface Air {
  readonly temperature: number;
  readonly humidity: number;
  /** @default that of the air outdoors */
  readonly carbon?: number;
  /** ppm of solvent @default none */
  readonly fumes?: number;
  /** @default that of the air */
  readonly walls?: number;
  readonly wood?: number;
}

/** What acts on each room, by its number, summed up again for each step. */
export interface Gains {
  /** W to the air and what stands in it */
  readonly heat: Float64Array;
  /** W of sun, to the walls where they stand apart */
  readonly sun: Float64Array;
  /** g/h, below zero where it is taken out */
  readonly water: Float64Array;
  /** air changes an hour beyond its own leaks */
  readonly leak: Float64Array;
  /** l/h of CO₂, and of vapour of solvent */
  readonly carbon: Float64Array;
  readonly fumes: Float64Array;
  /** lx */
  readonly light: Float64Array;
}

export function gainsOf(rooms: number): Gains {
  const list = () => new Float64Array(rooms);
  return { heat: list(), sun: list(), water: list(), leak: list(), carbon: list(), fumes: list(), light: list() };
}

/** What two rooms exchange: heat through what is between them, W/K, and air that changes places, m³/h, for now. */
export interface Link {
  readonly one: number;
  readonly other: number;
  readonly conducts: number;
  air: number;
}

/** J/(m³ K): air of 20 °C at sea level. */
export const AIR_HEAT = 1206;

/** The part of heat that goes to the air; the rest warms the walls by radiation (half and half in ISO 13790; here 60 to 40). */
const TO_AIR = 0.6;

/** K at 0 °C */
const KELVIN = 273.15;

const PER_SECOND = SECOND / HOUR;

/** ppm m³/s for each l/h. */
const PPM_PER_LITRE = (1e6 / 1000) * PER_SECOND;

/** ppm of CO₂ outdoors (NOAA, 2024). */
export const CARBON_OUTDOORS = 420;

/** A room whose walls, or whose wood, stand apart from its air: the number of that store, after those of the rooms. */
interface Apart {
  readonly room: number;
  readonly store: number;
  readonly passage: Passage;
}

/** What is in the air besides water. */
interface Gas {
  readonly name: "carbon" | "fumes";
  /** ppm of each room, and outdoors */
  readonly ppm: Float64Array;
  readonly outdoors: number;
}

export class Rooms {
  readonly #rooms: readonly ZonePhysics[];
  /** Of each: m³, W/K to the outdoors, and air changes an hour. */
  readonly #volumes: Float64Array;
  readonly #loses: Float64Array;
  readonly #leaks: Float64Array;
  /** g of water for each %RH that is soaked up at once. */
  readonly #soaks: Float64Array;
  readonly #links: readonly Link[];
  /** What of each changed places when it was last looked at. */
  readonly #air: Float64Array;
  readonly #walls: readonly Apart[];
  readonly #wood: readonly Apart[];
  /** The store of each room's walls: that of its air where they are one. */
  readonly #wallOf: readonly number[];
  readonly #heat: Exchange;
  readonly #water: Exchange;
  readonly #gas: Exchange;
  /** Those that something gives off. */
  readonly #gases: readonly Gas[];
  readonly #heatStores: Stores;
  readonly #waterStores: Stores;
  readonly #gasStores: Stores;
  readonly #heatPassages: readonly Passage[];
  readonly #waterPassages: readonly Passage[];
  readonly #gasPassages: readonly Passage[];
  /** °C of each room, then of walls. */
  readonly temperatures: Float64Array;
  /** %RH of each room, then of wood. */
  readonly humidities: Float64Array;
  /** ppm of CO₂, and of solvent. */
  readonly carbons: Float64Array;
  readonly solvents: Float64Array;
  /** g/m³ of each room, then of wood. */
  readonly #densities: Float64Array;
  /** m³/s of air that changes places with the air outdoors. */
  readonly #flows: Float64Array;
  /** g in a cubic metre of each room's air for each %RH, at the temperature it has. */
  readonly #perPercent: Float64Array;

  constructor(rooms: readonly ZonePhysics[], airs: readonly Air[], links: readonly Link[], gases: readonly Gas["name"][]) {
    const count = rooms.length;
    this.#rooms = rooms;
    this.#volumes = Float64Array.from(rooms, ({ volume }) => volume);
    this.#loses = Float64Array.from(rooms, ({ loses }) => loses);
    this.#leaks = Float64Array.from(rooms, ({ leaks }) => leaks);
    this.#soaks = Float64Array.from(rooms, ({ soaks, wood = 0 }) => (wood > 0 ? 0 : soaks));
    this.#links = links;
    this.#walls = apart(rooms, ({ couples = 0 }) => couples > 0);
    this.#wood = apart(rooms, ({ soaks, wood = 0 }) => soaks > 0 && wood > 0);
    this.#wallOf = rooms.map((_, room) => this.#walls.find((one) => one.room === room)?.store ?? room);
    const passage = ({ one, other }: Link): Passage => ({ one, other, passes: 0 });
    const through = (link: Link): Passage => ({
      one: this.#wallOf[link.one] as number,
      other: this.#wallOf[link.other] as number,
      passes: link.conducts,
    });
    for (const { room, passage: wall } of this.#walls) wall.passes = (rooms[room] as ZonePhysics).couples as number;
    this.#gasPassages = links.map(passage);
    this.#heatPassages = [...links.map(passage), ...links.map(through), ...this.#walls.map((one) => one.passage)];
    this.#waterPassages = [...links.map(passage), ...this.#wood.map((one) => one.passage)];
    this.#heat = new Exchange(count + this.#walls.length, this.#heatPassages, true);
    this.#water = new Exchange(count + this.#wood.length, this.#waterPassages, false);
    this.#gas = new Exchange(count, this.#gasPassages, true);
    this.#air = new Float64Array(links.length).fill(Number.NaN);
    this.#heatStores = storesFor(count + this.#walls.length);
    this.#waterStores = storesFor(count + this.#wood.length);
    this.#gasStores = storesFor(count);
    for (const [room, { stores, volume }] of rooms.entries()) {
      this.#heatStores.capacity[room] = stores;
      this.#gasStores.capacity[room] = volume;
    }
    for (const { room, store } of this.#walls) {
      const { stores, volume } = rooms[room] as ZonePhysics;
      this.#heatStores.capacity[room] = volume * FURNISHED;
      this.#heatStores.capacity[store] = stores - volume * FURNISHED;
    }
    this.temperatures = Float64Array.from([
      ...airs.map(({ temperature }) => temperature),
      ...this.#walls.map(({ room }) => airs[room]?.walls ?? (airs[room] as Air).temperature),
    ]);
    this.humidities = Float64Array.from([
      ...airs.map(({ humidity }) => within(humidity)),
      ...this.#wood.map(({ room }) => within(airs[room]?.wood ?? (airs[room] as Air).humidity)),
    ]);
    this.carbons = Float64Array.from(airs, ({ carbon }) => carbon ?? CARBON_OUTDOORS);
    this.solvents = Float64Array.from(airs, ({ fumes }) => fumes ?? 0);
    this.#gases = gases.map((name) => ({
      name,
      ...(name === "carbon" ? { ppm: this.carbons, outdoors: CARBON_OUTDOORS } : { ppm: this.solvents, outdoors: 0 }),
    }));
    this.#flows = new Float64Array(count);
    this.#densities = new Float64Array(count + this.#wood.length);
    this.#perPercent = Float64Array.from(airs, ({ temperature }) => absoluteHumidity(temperature, 1));
    for (const one of this.#wood) this.#letWoodBreathe(one);
    for (const exchange of this.#exchanges) exchange.regroup();
  }

  temperature(room: number): number {
    return this.temperatures[room] as number;
  }

  /** g/m³ */
  density(room: number): number {
    return (this.humidities[room] as number) * (this.#perPercent[room] as number);
  }

  air(room: number): Air {
    const wall = this.#walls.find((one) => one.room === room);
    const wood = this.#wood.find((one) => one.room === room);
    return {
      temperature: this.temperature(room),
      humidity: this.humidities[room] as number,
      carbon: this.carbons[room] as number,
      fumes: this.solvents[room] as number,
      ...(wall && { walls: this.temperatures[wall.store] as number }),
      ...(wood && { wood: this.humidities[wood.store] as number }),
    };
  }

  /** Lets time pass; what acts on the rooms stands still meanwhile. */
  advance(ms: number, outdoors: Outdoors, gains: Gains): void {
    const seconds = ms / SECOND;
    if (this.#airTurns()) this.#letAirPass();
    this.#beginWith(outdoors, gains);
    this.#heat.advance(this.temperatures, this.#heatStores, seconds);
    this.#goOnWithWater(outdoors, gains);
    this.#water.advance(this.#densities, this.#waterStores, seconds);
    this.#endWithHumidity();
    for (const gas of this.#gases) this.#goOnWithGas(gas, gains[gas.name], seconds);
  }

  get #exchanges(): readonly Exchange[] {
    return [this.#heat, this.#water, this.#gas];
  }

  /** Whether doors, or what blows, have turned since it was last asked. */
  #airTurns(): boolean {
    let turned = false;
    for (let place = 0; place < this.#links.length; place++) {
      const { air } = this.#links[place] as Link;
      if (air === this.#air[place]) continue;
      this.#air[place] = air;
      turned = true;
    }
    return turned;
  }

  #letAirPass(): void {
    for (let place = 0; place < this.#links.length; place++) {
      const air = (this.#air[place] as number) * PER_SECOND;
      (this.#heatPassages[place] as Passage).passes = air * AIR_HEAT;
      (this.#waterPassages[place] as Passage).passes = air;
      (this.#gasPassages[place] as Passage).passes = air;
    }
    for (const exchange of this.#exchanges) exchange.regroup();
  }

  #beginWith(outdoors: Outdoors, gains: Gains): void {
    const { loss, outside, gain } = this.#heatStores;
    const { heat, sun, leak } = gains;
    const flows = this.#flows;
    for (let room = 0; room < flows.length; room++) {
      const changes = (this.#leaks[room] as number) + (leak[room] as number);
      const flow = changes * (this.#volumes[room] as number) * PER_SECOND;
      flows[room] = flow;
      // Water is counted in g/m³ of air; what walls and wood hold depends on the humidity.
      this.#densities[room] = (this.humidities[room] as number) * this.#holds(room);
      loss[room] = (this.#loses[room] as number) + flow * AIR_HEAT;
      outside[room] = outdoors.temperature;
      gain[room] = (heat[room] as number) + (sun[room] as number);
    }
    for (let place = 0; place < this.#walls.length; place++) this.#parted(this.#walls[place] as Apart, outdoors, gains);
  }

  /** Air and walls as two stores: Ca dTa/dt = H (Tw - Ta) + …, Cw dTw/dt = H (Ta - Tw) + U (To - Tw) + … (Bacher and Madsen 2011). */
  #parted({ room, store }: Apart, outdoors: Outdoors, gains: Gains): void {
    const { loss, outside, gain } = this.#heatStores;
    const heat = gains.heat[room] as number;
    loss[room] = (this.#flows[room] as number) * AIR_HEAT;
    gain[room] = heat * TO_AIR;
    loss[store] = this.#loses[room] as number;
    outside[store] = outdoors.temperature;
    gain[store] = heat * (1 - TO_AIR) + (gains.sun[room] as number);
  }

  #goOnWithWater(outdoors: Outdoors, gains: Gains): void {
    const { capacity, loss, outside, gain } = this.#waterStores;
    const water = absoluteHumidity(outdoors.temperature, outdoors.humidity) * (KELVIN + outdoors.temperature);
    for (let room = 0; room < this.#rooms.length; room++) {
      const perPercent = absoluteHumidity(this.temperatures[room] as number, 1);
      this.#perPercent[room] = perPercent;
      const holds = this.#holds(room);
      this.#densities[room] = ((this.#densities[room] as number) / holds) * perPercent;
      capacity[room] = holds / perPercent;
      loss[room] = this.#flows[room] as number;
      // Air that comes in and grows warmer takes more room: its water is thinned out (ideal gas).
      outside[room] = water / (KELVIN + (this.temperatures[room] as number));
      gain[room] = (gains.water[room] as number) * PER_SECOND;
    }
    for (let place = 0; place < this.#wood.length; place++) this.#letWoodBreathe(this.#wood[place] as Apart);
  }

  /** Wood takes up water by the humidity of the air next to it: G = h A (p - p of the wood), Cunningham 1988. */
  #letWoodBreathe({ room, store, passage }: Apart): void {
    const { soaks, wood = 0 } = this.#rooms[room] as ZonePhysics;
    const perPercent = this.#perPercent[room] as number;
    this.#densities[store] = (this.humidities[store] as number) * perPercent;
    this.#waterStores.capacity[store] = soaks / perPercent;
    passage.passes = soaks / (wood / SECOND) / perPercent;
  }

  #endWithHumidity(): void {
    for (let room = 0; room < this.#rooms.length; room++)
      this.humidities[room] = within((this.#densities[room] as number) / (this.#perPercent[room] as number));
    for (let place = 0; place < this.#wood.length; place++) {
      const { room, store } = this.#wood[place] as Apart;
      this.humidities[store] = within((this.#densities[store] as number) / (this.#perPercent[room] as number));
    }
  }

  /** V dC/dt = G + q (Cout - C): ASTM D6245, 6. */
  #goOnWithGas({ outdoors, ppm }: Gas, gains: Float64Array, seconds: number): void {
    const { loss, outside, gain } = this.#gasStores;
    for (let room = 0; room < this.#rooms.length; room++) {
      loss[room] = this.#flows[room] as number;
      outside[room] = outdoors;
      gain[room] = (gains[room] as number) * PPM_PER_LITRE;
    }
    this.#gas.advance(ppm, this.#gasStores, seconds);
  }

  /** g of water for each %RH, in the air and in what soaks it up at once. */
  #holds(room: number): number {
    return (this.#perPercent[room] as number) * (this.#volumes[room] as number) + (this.#soaks[room] as number);
  }
}

function within(humidity: number): number {
  return Math.min(100, Math.max(0, humidity));
}

function apart(rooms: readonly ZonePhysics[], is: (room: ZonePhysics) => boolean): Apart[] {
  let store = rooms.length;
  return rooms.flatMap((one, room) => {
    if (!is(one)) return [];
    const passage = { one: room, other: store, passes: 0 };
    return [{ room, store: store++, passage }];
  });
}
