// The sun over a place, after suncalc (astronomy after Meeus, low precision: about a minute in rise and set).
import { getPosition } from "suncalc";

export interface Place {
  /** Degrees, north positive. */
  readonly latitude: number;
  /** Degrees, east positive. */
  readonly longitude: number;
}

/** Height of the sun above the horizon at an instant, in degrees, negative below it. */
export function sunElevation(place: Place, instant: number): number {
  return getPosition(new Date(instant), place.latitude, place.longitude).altitude;
}
