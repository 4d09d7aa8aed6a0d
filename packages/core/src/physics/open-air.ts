// Zones that are no rooms: what their sensors read is the weather.
import type { House } from "../house/index.js";
import { CARBON_OUTDOORS } from "./rooms.js";
import type { Outdoors } from "./sky.js";

/** What can be read of it. */
type Measured = "temperature" | "humidity" | "light" | "carbon";

/** The zones that a house says are outdoors. */
export function outdoorsIn({ physics }: Pick<House, "physics">): ReadonlySet<string> {
  return new Set(physics.effects.flatMap((effect) => (effect.kind === "outdoors" ? [effect.zone] : [])));
}

export class OpenAir {
  readonly #zones: ReadonlySet<string>;
  /** °C, %RH, lx and ppm of CO₂, each in a list of one, as those of rooms are in lists. */
  readonly #air: Readonly<Record<Measured, Float64Array>> = {
    temperature: new Float64Array(1),
    humidity: new Float64Array(1),
    light: new Float64Array(1),
    carbon: Float64Array.of(CARBON_OUTDOORS),
  };

  constructor(house: House) {
    this.#zones = outdoorsIn(house);
  }

  has(zone: string): boolean {
    return this.#zones.has(zone);
  }

  /** What a sensor reads there; undefined where it is not of the weather. */
  of(model: string): Float64Array | undefined {
    return Object.hasOwn(this.#air, model) ? this.#air[model as Measured] : undefined;
  }

  /** Looks at the weather as it is now. */
  look({ temperature, humidity, daylight }: Outdoors): void {
    this.#air.temperature[0] = temperature;
    this.#air.humidity[0] = humidity;
    this.#air.light[0] = daylight;
  }
}
