// The air and the light outdoors at an instant.
import { absoluteHumidity, relativeHumidity } from "../expression/index.js";
import type { Weather } from "../house/index.js";
import { type Clock, MINUTE, type Place, sunElevation } from "../time/index.js";
import { AirOutdoors } from "./weather.js";

export interface Outdoors {
  /** °C */
  readonly temperature: number;
  /** %RH */
  readonly humidity: number;
  /** lx on level ground */
  readonly daylight: number;
}

/** What a weather is at instants of a place: a straight line between two looks at it. */
export class Sky {
  readonly #weather: Weather;
  readonly #clock: Clock;
  readonly #place: Place;
  readonly #air: AirOutdoors;
  #from = Number.NaN;
  #begins: Outdoors = { temperature: 0, humidity: 0, daylight: 0 };
  #ends: Outdoors = this.#begins;
  /** What was given last, and before that. */
  #latest = { temperature: 0.5, humidity: 0.5, daylight: 0.5 };
  #former = { temperature: 0.5, humidity: 0.5, daylight: 0.5 };
  /** g/m³ of a day. */
  #water = { day: Number.NaN, holds: 0 };

  constructor(weather: Weather, clock: Clock, place: Place) {
    this.#weather = weather;
    this.#clock = clock;
    this.#place = place;
    this.#air = new AirOutdoors(weather, clock, place);
  }

  at(instant: number): Outdoors {
    const from = instant - (instant % LOOK);
    if (from !== this.#from) {
      this.#begins = from === this.#from + LOOK ? this.#ends : this.#look(from);
      this.#ends = this.#look(from + LOOK);
      this.#from = from;
    }
    const begins = this.#begins;
    const ends = this.#ends;
    const share = (instant - from) / LOOK;
    const outdoors = this.#former;
    this.#former = this.#latest;
    this.#latest = outdoors;
    outdoors.temperature = begins.temperature + (ends.temperature - begins.temperature) * share;
    outdoors.humidity = begins.humidity + (ends.humidity - begins.humidity) * share;
    outdoors.daylight = begins.daylight + (ends.daylight - begins.daylight) * share;
    return outdoors;
  }

  #look(instant: number): Outdoors {
    const { humidity, cloud } = this.#weather;
    const temperature = this.#air.temperature(instant);
    return {
      temperature,
      humidity: Math.min(100, relativeHumidity(temperature, this.#waterOn(this.#clock.local(instant).day, humidity))),
      daylight: daylightAt(sunElevation(this.#place, instant), cloud / 100),
    };
  }

  /** The air keeps its water through the day, as far as it can hold it. */
  #waterOn(day: number, humidity: number): number {
    if (this.#water.day !== day) this.#water = { day, holds: absoluteHumidity(this.#air.mean(day), humidity) };
    return this.#water.holds;
  }
}

/** How often the weather is looked at, ms: in between it moves by less than a sensor reads. */
const LOOK = 5 * MINUTE;

/** lg of the light of a clear sky, sun and all, on level ground, by the height of the sun from which on it counts. */
const clear: readonly (readonly [from: number, ...terms: number[]])[] = [
  [20, 3.74, 3.97, -4.07, 1.47],
  [5, 3.05, 13.28, -45.98, 64.33],
  [-0.8, 2.88, 22.26, -207.64, 1034.3],
  [-5, 2.88, 21.81, -258.11, -858.36],
  [-12, 2.7, 12.17, -431.69, -1899.83],
  [-18, 13.84, 262.72, 1447.42, 2797.93],
];

/**
 * lx on level ground for a height of the sun in degrees and a share of cloud from 0 to 1.
 * Clear sky: lg E = a0 + a1 x + a2 x² + a3 x³ with x = h/90 (Seidelmann 1992, Explanatory Supplement to the Astronomical
 * Almanac, 9.33). Overcast: 300 + 21,000 sin h (IESNA Lighting Handbook, after Gillette and Pierpoint 1982); below the horizon
 * as much less than the clear sky as there.
 */
export function daylightAt(elevation: number, cloud: number): number {
  const light = clearSky(elevation);
  const height = Math.sin((elevation * Math.PI) / 180);
  const overcast = elevation > 0 ? 300 + 21_000 * height : light * (300 / clearSky(0));
  return (1 - cloud) * light + cloud * Math.min(light, overcast);
}

function clearSky(elevation: number): number {
  const row = clear.find(([from]) => elevation >= from);
  if (!row) return 0;
  const x = elevation / 90;
  const [, a = 0, b = 0, c = 0, d = 0] = row;
  return 10 ** (a + x * (b + x * (c + x * d)));
}
