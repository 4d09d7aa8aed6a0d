// Cold surfaces of rooms: the corner of an outer wall, a pane. Each has a share of its room's warmth above the outdoors, its
// temperature factor, and the air that touches it is as warm as the surface and holds the room's water (ISO 13788):
//
//   Tsi = To + fRsi (T - To)        φsi = φ e_s(T) / e_s(Tsi), 100 %RH where water condenses
import { saturationPressure } from "../expression/index.js";
import type { House } from "../house/index.js";
import { zoneOf } from "./effects.js";
import type { Rooms } from "./rooms.js";

interface Surface {
  readonly sensor: string;
  readonly room: number;
  /** fRsi, from 0 to 1. */
  readonly factor: number;
}

/** Whether a sensor reads a cold surface, and not the air of its room. */
export function isAtSurface({ physics }: House, sensor: string): boolean {
  return physics.effects.some((effect) => effect.kind === "surface" && effect.sensor === sensor);
}

export class Surfaces {
  readonly #surfaces: readonly Surface[];
  readonly #rooms: Rooms;
  /** °C of each surface. */
  readonly temperatures: Float64Array;
  /** %RH of the air at each. */
  readonly humidities: Float64Array;

  constructor({ physics }: House, rooms: Rooms, roomOf: (zone: string) => number | undefined) {
    this.#rooms = rooms;
    this.#surfaces = physics.effects.flatMap((effect): Surface[] => {
      const room = effect.kind === "surface" ? roomOf(zoneOf(effect.sensor)) : undefined;
      return effect.kind === "surface" && room !== undefined
        ? [{ sensor: effect.sensor, room, factor: effect.warmth / 100 }]
        : [];
    });
    this.temperatures = new Float64Array(this.#surfaces.length);
    this.humidities = new Float64Array(this.#surfaces.length);
  }

  /** Where the surface stands that a sensor is at, if it is at one. */
  placeOf(sensor: string): number | undefined {
    const place = this.#surfaces.findIndex((one) => one.sensor === sensor);
    return place < 0 ? undefined : place;
  }

  /** Looks at them under so many °C outdoors. */
  look(outdoors: number): void {
    for (let place = 0; place < this.#surfaces.length; place++) {
      const { room, factor } = this.#surfaces[place] as Surface;
      const inside = this.#rooms.temperature(room);
      const surface = outdoors + factor * (inside - outdoors);
      this.temperatures[place] = surface;
      const humidity = this.#rooms.humidities[room] as number;
      this.humidities[place] = Math.min(100, (humidity * saturationPressure(inside)) / saturationPressure(surface));
    }
  }
}
