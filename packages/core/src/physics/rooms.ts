// The rooms of a house, advanced together: each has one temperature and one store of water for its air, walls and what
// stands in it. What leaves one room is what enters the other.
import { absoluteHumidity } from "../expression/index.js";
import type { ZonePhysics } from "../house/index.js";
import { HOUR, SECOND } from "../time/index.js";
import { Exchange, type Passage, type Stores, storesFor } from "./exchange.js";
import type { Outdoors } from "./sky.js";

/** °C, %RH and ppm of CO₂. */
export interface Air {
  readonly temperature: number;
  readonly humidity: number;
  /** @default that of the air outdoors */
  readonly carbon?: number;
}

/** What acts on one room: W, g/h (below zero where it is taken out), and air changes an hour beyond its own leaks. */
export interface Gain {
  readonly heat: number;
  readonly water: number;
  readonly leak: number;
  /** l/h of CO₂ */
  readonly carbon: number;
}

/** What two rooms exchange: heat through what is between them, W/K, and air that changes places, m³/h. */
export interface Link {
  readonly one: number;
  readonly other: number;
  readonly conducts: number;
  readonly air: number;
}

/** J/(m³ K): air of 20 °C at sea level. */
const AIR_HEAT = 1206;

/** K at 0 °C */
const KELVIN = 273.15;

const PER_SECOND = SECOND / HOUR;

/** ppm of CO₂ outdoors (NOAA, 2024). */
const CARBON_OUTDOORS = 420;

export class Rooms {
  readonly #rooms: readonly ZonePhysics[];
  readonly #heat: Exchange;
  readonly #water: Exchange;
  readonly #carbon: Exchange;
  readonly #stores: Stores;
  /** °C, %RH and ppm of each room. */
  readonly #temperatures: Float64Array;
  readonly #humidities: Float64Array;
  readonly #carbons: Float64Array;
  /** m³/s of air that changes places with the air outdoors; g/m³ of water. */
  readonly #flows: Float64Array;
  readonly #densities: Float64Array;

  constructor(rooms: readonly ZonePhysics[], airs: readonly Air[]) {
    const count = rooms.length;
    this.#rooms = rooms;
    [this.#heat, this.#water, this.#carbon] = [new Exchange(count), new Exchange(count), new Exchange(count)];
    this.#stores = storesFor(count);
    this.#temperatures = Float64Array.from(airs, ({ temperature }) => temperature);
    this.#humidities = Float64Array.from(airs, ({ humidity }) => humidity);
    this.#carbons = Float64Array.from(airs, ({ carbon }) => carbon ?? CARBON_OUTDOORS);
    this.#flows = new Float64Array(count);
    this.#densities = new Float64Array(count);
  }

  temperature(room: number): number {
    return this.#temperatures[room] as number;
  }

  air(room: number): Air {
    const humidity = this.#humidities[room] as number;
    return { temperature: this.temperature(room), humidity, carbon: this.#carbons[room] as number };
  }

  /** Lets time pass; what acts on the rooms stands still meanwhile. */
  advance(ms: number, outdoors: Outdoors, gains: readonly Gain[], links: readonly Link[]): void {
    const seconds = ms / SECOND;
    const { capacity, loss, outside, gain } = this.#stores;
    const passages = links.map(({ one, other }): Passage => ({ one, other, passes: 0 }));
    const passing = (passes: (link: Link) => number) => {
      links.forEach((link, place) => {
        (passages[place] as Passage).passes = passes(link);
      });
      return passages;
    };
    this.#rooms.forEach(({ leaks, volume, stores, loses }, room) => {
      const { heat, leak } = gains[room] as Gain;
      const flow = (leaks + leak) * volume * PER_SECOND;
      const temperature = this.#temperatures[room] as number;
      this.#flows[room] = flow;
      // Water goes by how much of it a cubic metre of air holds: g/m³. Walls and wood hold theirs by the humidity.
      this.#densities[room] = (this.#humidities[room] as number) * this.#capacity(room, temperature);
      capacity[room] = stores;
      loss[room] = loses + flow * AIR_HEAT;
      outside[room] = outdoors.temperature;
      gain[room] = heat;
    });
    this.#heat.advance(
      this.#temperatures,
      this.#stores,
      passing(({ conducts, air }) => conducts + air * PER_SECOND * AIR_HEAT),
      seconds,
    );
    const water = absoluteHumidity(outdoors.temperature, outdoors.humidity) * (KELVIN + outdoors.temperature);
    this.#rooms.forEach((_, room) => {
      const temperature = this.#temperatures[room] as number;
      const perPercent = absoluteHumidity(temperature, 1);
      const holds = this.#capacity(room, temperature);
      this.#densities[room] = ((this.#densities[room] as number) / holds) * perPercent;
      capacity[room] = holds / perPercent;
      loss[room] = this.#flows[room] as number;
      // Air that comes in and grows warmer takes more room: its water is thinned out (ideal gas).
      outside[room] = water / (KELVIN + temperature);
      gain[room] = (gains[room] as Gain).water * PER_SECOND;
    });
    const airs = passing(({ air }) => air * PER_SECOND);
    this.#water.advance(this.#densities, this.#stores, airs, seconds);
    this.#rooms.forEach(({ volume }, room) => {
      const humidity = (this.#densities[room] as number) / absoluteHumidity(this.#temperatures[room] as number, 1);
      this.#humidities[room] = Math.min(100, Math.max(0, humidity));
      // V dC/dt = G + q (Cout - C): ASTM D6245, 6.
      capacity[room] = volume;
      outside[room] = CARBON_OUTDOORS;
      gain[room] = ((gains[room] as Gain).carbon / 1000) * PER_SECOND * 1e6;
    });
    this.#carbon.advance(this.#carbons, this.#stores, airs, seconds);
  }

  /** g of water for each %RH, in the air and in what soaks it up. */
  #capacity(room: number, temperature: number): number {
    const { volume, soaks } = this.#rooms[room] as ZonePhysics;
    return absoluteHumidity(temperature, 1) * volume + soaks;
  }
}
