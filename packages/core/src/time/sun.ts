// The sun over a place, after suncalc (astronomy after Meeus, low precision: about a minute in rise and set).
import { getPosition, getTimes } from "suncalc";
import { DAY, SECOND } from "./calendar.js";
import type { Clock } from "./clock.js";

export interface Place {
  /** Degrees, north positive. */
  readonly latitude: number;
  /** Degrees, east positive. */
  readonly longitude: number;
}

/** Rise and set of the sun's upper edge, and civil twilight. */
export type SunEvent = "sunrise" | "sunset" | "dawn" | "dusk";

export const SUN_EVENTS: readonly SunEvent[] = ["sunrise", "sunset", "dawn", "dusk"];

/** What the library adds for refraction to every height below the horizon, in degrees: Meeus 16.4 at 0°. */
const HORIZON_LIFT = 0.48395;

/**
 * Height of the sun above the horizon at an instant as it is seen, with refraction, in degrees; negative below it.
 * Within 0.05° of the formulas of NOAA's Global Monitoring Laboratory, from -18° to 90°.
 */
export function sunElevation(place: Place, instant: number): number {
  const seen = getPosition(new Date(instant), place.latitude, place.longitude).altitude;
  if (seen >= HORIZON_LIFT) return seen;
  const height = seen - HORIZON_LIFT;
  return height + liftBelow(height);
}

/** Refraction at and below the horizon, in degrees, after NOAA's solar calculator. */
function liftBelow(height: number): number {
  if (height > -0.575) return (1735 + height * (-518.2 + height * (103.4 + height * (-12.79 + height * 0.711)))) / 3600;
  return -20.774 / Math.tan((height * Math.PI) / 180) / 3600;
}

/** Direction of the sun at an instant, in degrees clockwise from north. */
export function sunAzimuth(place: Place, instant: number): number {
  return getPosition(new Date(instant), place.latitude, place.longitude).azimuth;
}

/** Where and by which clock a house lives. */
export interface Sky {
  readonly clock: Clock;
  /** Without a place the sun is not known. */
  readonly place: Place | undefined;
}

/** Height at which an event comes, in degrees: the upper edge at the horizon, or the end of civil twilight. */
const heights: Readonly<Record<SunEvent, number>> = { sunrise: -0.833, sunset: -0.833, dawn: -6, dusk: -6 };

/** Whether an event belongs to the morning, before noon, or to the evening. */
export function isOfMorning(event: SunEvent): boolean {
  return event === "sunrise" || event === "dawn";
}

/** On a day without an event: whether the sun stays above its height all day, or below it. */
export function staysUp({ clock, place }: Sky, event: SunEvent, day: number): boolean {
  return place !== undefined && sunElevation(place, clock.instant(day, DAY / 2)) > heights[event];
}

/** The time of an event as the clock shows it, in milliseconds since the midnight its day begins with: 24 h and more where it comes after the next one. */
export function sunTimeOn(sky: Sky, event: SunEvent, day: number): number | undefined {
  const instant = sunEventOn(sky, event, day);
  if (instant === undefined) return undefined;
  const local = sky.clock.local(instant);
  return (local.day - day) * DAY + local.ms;
}

/** The instant of an event of the sun on a local day, to the second; undefined on days without it. */
export function sunEventOn({ clock, place }: Sky, event: SunEvent, day: number): number | undefined {
  if (!place) return undefined;
  const noon = clock.instant(day, DAY / 2);
  const found = getTimes(new Date(noon), place.latitude, place.longitude)[event];
  return found ? Math.round(found.getTime() / SECOND) * SECOND : undefined;
}
