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

/** Height of the sun above the horizon at an instant, in degrees, negative below it. */
export function sunElevation(place: Place, instant: number): number {
  return getPosition(new Date(instant), place.latitude, place.longitude).altitude;
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

/** The instant of an event of the sun on a local day, to the second; undefined on days without it. */
export function sunEventOn({ clock, place }: Sky, event: SunEvent, day: number): number | undefined {
  if (!place) return undefined;
  const noon = clock.instant(day, DAY / 2);
  const found = getTimes(new Date(noon), place.latitude, place.longitude)[event];
  return found ? Math.round(found.getTime() / SECOND) * SECOND : undefined;
}
