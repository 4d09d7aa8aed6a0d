// The air and the light outdoors at an instant.
import { absoluteHumidity, relativeHumidity } from "../expression/index.js";
import type { Weather } from "../house/index.js";
import { type Clock, DAY, HOUR, type Place, sunElevation } from "../time/index.js";

export interface Outdoors {
  /** °C */
  readonly temperature: number;
  /** %RH */
  readonly humidity: number;
  /** lx on level ground */
  readonly daylight: number;
}

/** The warmest hour of the day, by the wall clock. */
const WARMEST = 15 * HOUR;

export function outdoorsAt(weather: Weather, clock: Clock, place: Place, instant: number): Outdoors {
  const { outdoors, swings, humidity, cloud } = weather;
  const day = (2 * Math.PI * (clock.local(instant).ms - WARMEST)) / DAY;
  const temperature = outdoors + (swings / 2) * Math.cos(day);
  // The air keeps its water through the day, as far as it can hold it.
  const water = absoluteHumidity(outdoors, humidity);
  return {
    temperature,
    humidity: Math.min(100, relativeHumidity(temperature, water)),
    daylight: daylightAt(sunElevation(place, instant), cloud / 100),
  };
}

interface Sky {
  readonly extinction: number;
  readonly base: number;
  readonly gain: number;
  readonly power: number;
  /** Whether the sun's disc is seen. */
  readonly sun: boolean;
}

const clear: Sky = { extinction: 0.21, base: 0.8, gain: 15.5, power: 0.5, sun: true };
const overcast: Sky = { extinction: 0, base: 0.3, gain: 21, power: 1, sun: false };

/**
 * lx on level ground for a height of the sun in degrees and a share of cloud.
 * Source: IESNA Lighting Handbook, daylight availability (Gillette and Pierpoint 1982), clear and overcast skies mixed
 * by cloud; twilight fades out in a straight line down to 6° below the horizon.
 */
export function daylightAt(elevation: number, cloud: number): number {
  if (elevation <= -6) return 0;
  if (elevation <= 0) return ((elevation + 6) / 6) * mixed(0, cloud);
  return mixed(Math.sin((elevation * Math.PI) / 180), cloud);
}

function mixed(height: number, cloud: number): number {
  return (1 - cloud) * skyLight(clear, height) + cloud * skyLight(overcast, height);
}

function skyLight({ extinction, base, gain, power, sun }: Sky, height: number): number {
  const direct = sun && height > 0 ? 127500 * Math.exp(-extinction / height) * height : 0;
  return direct + 1000 * (base + gain * height ** power);
}
