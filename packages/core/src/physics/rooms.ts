// The rooms of a house, advanced together: each has one temperature and one store of water for its air, walls and what
// stands in it. What leaves one room is what enters the other.
import { absoluteHumidity } from "../expression/index.js";
import type { ZonePhysics } from "../house/index.js";
import { HOUR, SECOND } from "../time/index.js";
import { Exchange, type Passage } from "./exchange.js";
import type { Outdoors } from "./sky.js";

/** °C and %RH. */
export interface Air {
  readonly temperature: number;
  readonly humidity: number;
}

/** What acts on one room: W, g/h (below zero where it is taken out), and air changes an hour beyond its own leaks. */
export interface Gain {
  readonly heat: number;
  readonly water: number;
  readonly leak: number;
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

const PER_SECOND = SECOND / HOUR;

export class Rooms {
  readonly #rooms: readonly ZonePhysics[];
  readonly #heat = new Exchange();
  readonly #water = new Exchange();
  #air: readonly Air[];

  constructor(rooms: readonly ZonePhysics[], air: readonly Air[]) {
    this.#rooms = rooms;
    this.#air = air;
  }

  air(room: number): Air {
    return this.#air[room] as Air;
  }

  /** Lets time pass; what acts on the rooms stands still meanwhile. */
  advance(ms: number, outdoors: Outdoors, gains: readonly Gain[], links: readonly Link[]): void {
    const seconds = ms / SECOND;
    // m³/s of air that changes places with the air outdoors.
    const flows = this.#rooms.map(({ leaks, volume }, room) => (leaks + (gains[room] as Gain).leak) * volume * PER_SECOND);
    const held = this.#air.map(({ temperature, humidity }, room) => humidity * this.#capacity(room, temperature));
    const temperatures = this.#heat.after(
      this.#air.map(({ temperature }) => temperature),
      this.#rooms.map(({ stores, loses }, room) => ({
        capacity: stores,
        loss: loses + (flows[room] as number) * AIR_HEAT,
        outside: outdoors.temperature,
        gain: (gains[room] as Gain).heat,
      })),
      links.map(({ one, other, conducts, air }): Passage => ({ one, other, passes: conducts + air * PER_SECOND * AIR_HEAT })),
      seconds,
    );
    // Water goes by how much of it a cubic metre of air holds: g/m³. Walls and wood hold theirs by the humidity.
    const perPercent = temperatures.map((temperature) => absoluteHumidity(temperature, 1));
    const capacities = temperatures.map((temperature, room) => this.#capacity(room, temperature));
    const densities = this.#water.after(
      held.map((water, room) => (water / (capacities[room] as number)) * (perPercent[room] as number)),
      this.#rooms.map((_, room) => ({
        capacity: (capacities[room] as number) / (perPercent[room] as number),
        loss: flows[room] as number,
        outside: absoluteHumidity(outdoors.temperature, outdoors.humidity),
        gain: (gains[room] as Gain).water * PER_SECOND,
      })),
      links.map(({ one, other, air }): Passage => ({ one, other, passes: air * PER_SECOND })),
      seconds,
    );
    this.#air = temperatures.map((temperature, room) => {
      const humidity = (densities[room] as number) / (perPercent[room] as number);
      return { temperature, humidity: Math.min(100, Math.max(0, humidity)) };
    });
  }

  /** g of water for each %RH, in the air and in what soaks it up. */
  #capacity(room: number, temperature: number): number {
    const { volume, soaks } = this.#rooms[room] as ZonePhysics;
    return absoluteHumidity(temperature, 1) * volume + soaks;
  }
}
