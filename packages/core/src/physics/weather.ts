// The air outdoors through a day, a year and its fronts, before the sun lights it.
import type { Weather } from "../house/index.js";
import { type Clock, DAY, dayInYear, HOUR, type Place, sunEventOn } from "../time/index.js";
import { randomFrom } from "./random.js";

/** The warmest hour of the day, by the wall clock; where the sun does not rise, the coldest. */
const WARMEST = 15 * HOUR;
const COLDEST = 6 * HOUR;

/** The coldest day of the year north of the equator, about a month after the shortest. */
const COLDEST_DAY = 20;
const YEAR = 365.2425;

/** K, the standard deviation of the air around its mean through fronts. */
const FRONTS = 4;

/** °C at an instant. */
export class AirOutdoors {
  readonly #weather: Weather;
  readonly #clock: Clock;
  readonly #place: Place;
  /** Deviations by the hour since 1970, K. */
  readonly #fronts = new Map<number, number>();
  #mean = { day: Number.NaN, is: 0 };
  #sunrise: { readonly day: number; readonly ms: number } | undefined;

  constructor(weather: Weather, clock: Clock, place: Place) {
    this.#weather = weather;
    this.#clock = clock;
    this.#place = place;
  }

  temperature(instant: number): number {
    const { day, ms } = this.#clock.local(instant);
    return this.mean(day) + (this.#weather.swings / 2) * this.#ofDay(day, ms) + this.#ofFronts(instant);
  }

  /** The mean of a day without fronts: through the year a cosine (as in ASHRAE Fundamentals, ch. 14). */
  mean(day: number): number {
    if (this.#mean.day !== day) this.#mean = { day, is: this.#meanOn(day) };
    return this.#mean.is;
  }

  #meanOn(day: number): number {
    const { outdoors, seasons = 0 } = this.#weather;
    const south = this.#place.latitude < 0 ? -1 : 1;
    return outdoors - ((south * seasons) / 2) * Math.cos((2 * Math.PI * (dayInYear(day) - COLDEST_DAY)) / YEAR);
  }

  /** From -1 at sunrise to 1 in the afternoon and back, in two half waves. */
  #ofDay(day: number, ms: number): number {
    const coldest = this.#coldestOf(day);
    const rises = WARMEST - coldest;
    if (ms >= coldest && ms <= WARMEST) return -Math.cos((Math.PI * (ms - coldest)) / rises);
    const since = ms > WARMEST ? ms - WARMEST : ms + DAY - WARMEST;
    return Math.cos((Math.PI * since) / (DAY - rises));
  }

  #coldestOf(day: number): number {
    if (this.#sunrise?.day === day) return this.#sunrise.ms;
    const sunrise = sunEventOn({ clock: this.#clock, place: this.#place }, "sunrise", day);
    const local = sunrise === undefined ? undefined : this.#clock.local(sunrise);
    const ms = local?.day === day && local.ms < WARMEST ? local.ms : COLDEST;
    this.#sunrise = { day, ms };
    return ms;
  }

  /**
   * A random walk that is drawn back to its mean (Ornstein and Uhlenbeck 1930), hour by hour, a straight line between:
   * x' = x e^(-h/τ) + σ √(1 - e^(-2h/τ)) n. Each hour has its own random number, so that it does not matter where one begins.
   */
  #ofFronts(instant: number): number {
    if (this.#weather.fronts === undefined) return 0;
    const hours = instant / HOUR;
    const before = Math.floor(hours);
    const [from, to] = [this.#frontAt(before), this.#frontAt(before + 1)];
    return from + (to - from) * (hours - before);
  }

  #frontAt(hour: number): number {
    const known = this.#fronts.get(hour);
    if (known !== undefined) return known;
    const keeps = Math.exp(-HOUR / Math.max(HOUR, this.#weather.fronts as number));
    // What is longer ago than ten time constants has been forgotten.
    const memory = Math.ceil((10 * Math.max(HOUR, this.#weather.fronts as number)) / HOUR);
    const begins = this.#fronts.has(hour - 1) ? hour : hour - memory;
    let value = this.#fronts.get(hour - 1) ?? 0;
    for (let at = begins; at <= hour; at++) value = value * keeps + FRONTS * Math.sqrt(1 - keeps * keeps) * this.#noise(at);
    this.#fronts.set(hour, value);
    return value;
  }

  /** A number from the normal distribution (Box and Muller 1958). */
  #noise(hour: number): number {
    const random = randomFrom(Math.imul(hour, 2_654_435_761) ^ Math.imul((this.#weather.seed ?? 1) + 1, 40_503));
    return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  }
}
