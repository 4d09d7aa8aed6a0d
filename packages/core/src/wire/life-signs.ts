// Zones that say whether they are there: what a zone's devices read counts only while its life sign is as wired.
import type { House } from "../house/index.js";

/** A zone that went silent, or came back. */
export interface LifeSign {
  readonly zone: string;
  readonly isThere: boolean;
  /** Its sensors but for those that are pressed: unknown from now on where it went; heard again, from their next reading, where it came back. */
  readonly sensors: readonly string[];
}

/** Follows the life signs of a house. A zone is there until it says otherwise. */
export class LifeSigns {
  readonly #house: House;
  readonly #gone = new Set<string>();

  constructor(house: House) {
    this.#house = house;
  }

  /** What a message on a topic tells of zones; only what turned. */
  hear(topic: string, text: string): LifeSign[] {
    return this.#house.wirings.flatMap((wiring) => {
      if (wiring.kind !== "alive" || wiring.topic !== topic) return [];
      const { zone } = wiring;
      const isThere = text === wiring.reads;
      if (isThere !== this.#gone.has(zone)) return [];
      if (isThere) this.#gone.delete(zone);
      else this.#gone.add(zone);
      const within = this.#house.sensors.filter(({ name, type }) => zoneOf(name) === zone && type.kind !== "press");
      return [{ zone, isThere, sensors: within.map(({ name }) => name) }];
    });
  }

  /** Whether a sensor's readings count: its zone has not gone silent. */
  isHeard(sensor: string): boolean {
    return !this.#gone.has(zoneOf(sensor));
  }
}

const zoneOf = (name: string) => name.slice(0, Math.max(0, name.indexOf(".")));
