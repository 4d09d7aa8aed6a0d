// One room: air, walls and what stands in it share one temperature and one store of water. Both follow linear equations
// whose inputs stand still between two instants, so that a step of any length is exact.
import { absoluteHumidity } from "../expression/index.js";
import type { ZonePhysics } from "../house/index.js";
import { HOUR, SECOND } from "../time/index.js";
import type { Outdoors } from "./sky.js";

/** What acts on a room from one instant to the next. */
export interface Drive {
  readonly outdoors: Outdoors;
  /** W */
  readonly heat: number;
  /** g/h, below zero where it is taken out */
  readonly water: number;
  /** air changes per hour beyond the room's own leaks */
  readonly leak: number;
}

/** J/(m³ K): air of 20 °C at sea level. */
export const AIR_HEAT = 1206;

export class Room {
  /** °C */
  temperature: number;
  /** %RH */
  humidity: number;

  constructor(
    readonly zone: ZonePhysics,
    temperature: number,
    humidity: number,
  ) {
    this.temperature = temperature;
    this.humidity = humidity;
  }

  advance(ms: number, { outdoors, heat, water, leak }: Drive): void {
    const { volume, loses, stores, leaks, soaks } = this.zone;
    const seconds = ms / SECOND;
    // m³/s of air that changes places with the air outdoors
    const flow = ((leaks + leak) * volume) / (HOUR / SECOND);
    const held = this.#water();
    const loss = loses + flow * AIR_HEAT;
    this.temperature = approach(this.temperature, outdoors.temperature, heat, loss, stores, seconds);
    // The water held is humidity × capacity; the air carries `flow` of it out, and that of the outdoors in.
    const perPercent = absoluteHumidity(this.temperature, 1);
    const capacity = perPercent * volume + soaks;
    const carriedIn = flow * absoluteHumidity(outdoors.temperature, outdoors.humidity);
    const gain = water / (HOUR / SECOND) + carriedIn;
    const humidity = approach(held / capacity, 0, gain, flow * perPercent, capacity, seconds);
    this.humidity = Math.min(100, Math.max(0, humidity));
  }

  /** g of water in air, walls and wood. */
  #water(): number {
    return this.humidity * (absoluteHumidity(this.temperature, 1) * this.zone.volume + this.zone.soaks);
  }
}

/** Solves capacity · dx/dt = gain - loss · (x - outside) over so many seconds. */
function approach(x: number, outside: number, gain: number, loss: number, capacity: number, seconds: number): number {
  if (loss <= 0) return x + (gain * seconds) / capacity;
  const end = outside + gain / loss;
  return end + (x - end) * Math.exp((-loss * seconds) / capacity);
}
