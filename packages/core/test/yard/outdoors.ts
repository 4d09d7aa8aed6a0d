// The weather of Linden Yard through a year, worked out by hand: seasons, days and fronts, Seidelmann's light, without summer time.
import { seeded } from "../kit/generate.js";

const HOUR = 3600;
const DAY = 86_400;
const LATITUDE = (46.95 * Math.PI) / 180;
const COSINE = Math.cos(LATITUDE);

/** g/m³ for each %RH. */
export function perPercentAt(temperature: number): number {
  return (6.112 * Math.exp((17.62 * temperature) / (243.12 + temperature)) * 1000) / (461.5 * (temperature + 273.15));
}

/** A midnight to begin at. */
export interface When {
  /** Of the year. */
  readonly firstDay: number;
  /** Of the week, Monday being 0. */
  readonly weekday: number;
  /** The hour of the clock at which the sun is highest. */
  readonly noon: number;
  /** Whether the weather has any. */
  readonly fronts: boolean;
}

/** The air and the light outdoors: looked at every five minutes, straight lines between. */
export class Outdoors {
  temperature = 0.5;
  /** g/m³ at that temperature, times kelvin: what comes in thins out as it warms. */
  water = 0.5;
  humidity = 0.5;
  daylight = 0.5;
  readonly #begins = new Float64Array(3);
  readonly #ends = new Float64Array(3);
  readonly #random = seeded(7);
  readonly #firstDay: number;
  readonly #noon: number;
  readonly #fronts: boolean;
  #mean = 0.5;
  #holds = 0.5;
  #declination = 0.5;
  #coldest = 0.5;
  #front = 1e-9;
  #nextFront = 1e-9;

  constructor({ firstDay, noon, fronts }: When) {
    this.#firstDay = firstDay;
    this.#noon = noon;
    this.#fronts = fronts;
    this.#turnDay(firstDay);
    this.#look(0, this.#ends);
  }

  #turnDay(day: number): void {
    this.#mean = 9 - 9 * Math.cos((2 * Math.PI * (day - 20)) / 365.2425);
    this.#holds = 75 * perPercentAt(this.#mean);
    this.#declination = 0.4093 * Math.sin((2 * Math.PI * (284 + day)) / 365);
    const tangents = -Math.tan(LATITUDE) * Math.tan(this.#declination);
    this.#coldest = (this.#noon - (Math.acos(tangents) * 12) / Math.PI) * HOUR;
  }

  #turnHour(): void {
    const keeps = Math.exp(-1 / 96);
    const noise = Math.sqrt(-2 * Math.log(1 - this.#random())) * Math.cos(2 * Math.PI * this.#random());
    this.#front = this.#nextFront;
    this.#nextFront = this.#front * keeps + 4 * Math.sqrt(1 - keeps * keeps) * noise;
  }

  /** °C, %RH and lx at a second of the day. */
  #look(second: number, into: Float64Array): void {
    const rises = 15 * HOUR - this.#coldest;
    const since = second > 15 * HOUR ? second - 15 * HOUR : second + 9 * HOUR;
    const wave =
      second >= this.#coldest && second <= 15 * HOUR
        ? -Math.cos((Math.PI * (second - this.#coldest)) / rises)
        : Math.cos((Math.PI * since) / (DAY - rises));
    const share = (second % HOUR) / HOUR;
    const temperature = this.#mean + 4 * wave + this.#front + (this.#nextFront - this.#front) * share;
    into[0] = temperature;
    into[1] = Math.min(100, this.#holds / perPercentAt(temperature));
    into[2] = this.#light((second / HOUR - this.#noon) * (Math.PI / 12));
  }

  /** Seidelmann's clear sky and the overcast one, cloud 55 %. */
  #light(angle: number): number {
    const height = Math.sin(LATITUDE) * Math.sin(this.#declination) + COSINE * Math.cos(this.#declination) * Math.cos(angle);
    const elevation = (Math.asin(height) * 180) / Math.PI;
    const x = elevation / 90;
    let clear = 0;
    if (elevation >= 20) clear = 10 ** (3.74 + x * (3.97 + x * (-4.07 + 1.47 * x)));
    else if (elevation >= 5) clear = 10 ** (3.05 + x * (13.28 + x * (-45.98 + 64.33 * x)));
    else if (elevation >= -0.8) clear = 10 ** (2.88 + x * (22.26 + x * (-207.64 + 1034.3 * x)));
    else if (elevation >= -5) clear = 10 ** (2.88 + x * (21.81 + x * (-258.11 - 858.36 * x)));
    else if (elevation >= -12) clear = 10 ** (2.7 + x * (12.17 + x * (-431.69 - 1899.83 * x)));
    else if (elevation >= -18) clear = 10 ** (13.84 + x * (262.72 + x * (1447.42 + 2797.93 * x)));
    const overcast = elevation > 0 ? 300 + 21_000 * height : clear * (300 / 10 ** 2.88);
    return 0.45 * clear + 0.55 * Math.min(clear, overcast);
  }

  /** Goes on to a minute of the run. */
  advance(minute: number): void {
    const place = minute % 5;
    if (place === 0) {
      const ofDay = (minute * 60) % DAY;
      if (ofDay === 0) this.#turnDay(this.#firstDay + minute / 1440);
      this.#begins.set(this.#ends);
      if (this.#fronts && (minute + 5) % 60 === 0) this.#turnHour();
      this.#look((ofDay + 300) % DAY, this.#ends);
    }
    const [begins, ends, share] = [this.#begins, this.#ends, place / 5];
    this.temperature = (begins[0] as number) + ((ends[0] as number) - (begins[0] as number)) * share;
    this.humidity = (begins[1] as number) + ((ends[1] as number) - (begins[1] as number)) * share;
    this.daylight = (begins[2] as number) + ((ends[2] as number) - (begins[2] as number)) * share;
    this.water = this.humidity * perPercentAt(this.temperature) * (273.15 + this.temperature);
  }
}
