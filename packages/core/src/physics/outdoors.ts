// The weather outdoors at instants: as a sky makes it, or as a recording tells it.
import type { Recorded, Weather } from "../house/index.js";
import { type Clock, DAY, type Place, sunElevation } from "../time/index.js";
import { convert, type Unit } from "../units/index.js";
import { daylightAt, type Outdoors, Sky } from "./sky.js";

/** What tells the weather at an instant. */
export interface Weatherglass {
  /** The weather at an instant; what is given stays as it is until it is asked for the second time after that. */
  at(instant: number): Outdoors;
}

/** The one that tells a weather. */
export function weatherglass(weather: Weather, clock: Clock, place: Place): Weatherglass {
  return weather.recorded ? new RecordedSky(weather, weather.recorded, place) : new Sky(weather, clock, place);
}

/** When a recorded weather begins and ends; nothing of one that is not. */
export function stretchOfWeather({ recorded }: Weather): { readonly from: number; readonly to: number } | undefined {
  const times = (recorded ?? []).filter(({ name }) => name === "outdoors").map(({ at }) => at);
  return recorded && { from: times[0] ?? Number.NaN, to: times.at(-1) ?? Number.NaN };
}

/** Straight lines between what was recorded. Before it begins every day is like its first. */
class RecordedSky implements Weatherglass {
  readonly #weather: Weather;
  readonly #place: Place;
  readonly #from: number;
  readonly #temperature: Line;
  readonly #humidity: Line;
  readonly #daylight: Line;
  readonly #cloud: Line;

  constructor(weather: Weather, recorded: readonly Recorded[], place: Place) {
    this.#weather = weather;
    this.#place = place;
    this.#from = stretchOfWeather(weather)?.from as number;
    this.#temperature = new Line(recorded, "outdoors", "°C");
    this.#humidity = new Line(recorded, "humidity", "%RH");
    this.#daylight = new Line(recorded, "daylight", "lx");
    this.#cloud = new Line(recorded, "cloud", "%");
  }

  at(instant: number): Outdoors {
    const then = instant < this.#from ? instant + Math.ceil((this.#from - instant) / DAY) * DAY : instant;
    const cloud = this.#cloud.at(then) ?? this.#weather.cloud;
    return {
      temperature: this.#temperature.at(then) ?? this.#weather.outdoors,
      humidity: Math.min(100, Math.max(0, this.#humidity.at(then) ?? this.#weather.humidity)),
      daylight: Math.max(0, this.#daylight.at(then) ?? daylightAt(sunElevation(this.#place, instant), cloud / 100)),
    };
  }
}

/** What was recorded of one quantity. */
class Line {
  readonly #times: readonly number[];
  readonly #values: readonly number[];
  /** Where it was last looked at: time goes on. */
  #place = 0;

  constructor(recorded: readonly Recorded[], name: string, unit: Unit) {
    const own = recorded.filter((one) => one.name === name && typeof one.value === "number");
    this.#times = own.map(({ at }) => at);
    this.#values = own.map((one) => convert({ value: one.value as number, unit: one.unit ?? unit }, unit).value);
  }

  /** Nothing where it was never recorded; at its ends as it was there. */
  at(instant: number): number | undefined {
    const [times, values] = [this.#times, this.#values];
    if (times.length === 0) return undefined;
    if ((times[this.#place] as number) > instant) this.#place = 0;
    while (this.#place + 1 < times.length && (times[this.#place + 1] as number) <= instant) this.#place++;
    const [from, to] = [times[this.#place] as number, times[this.#place + 1]];
    const before = values[this.#place] as number;
    if (to === undefined || instant <= from) return before;
    return before + (((values[this.#place + 1] as number) - before) * (instant - from)) / (to - from);
  }
}
