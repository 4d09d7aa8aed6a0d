// Days on which the sun does not rise, or not set: a trigger at it waits, which is reported once and not every day.
import { type House, visitParts } from "../house/index.js";
import { type Sky, SUN_EVENTS, type SunEvent, sunEventOn } from "../time/index.js";

/** Events of the sun that a house depends on. */
export function sunEventsOf({ lets, schedules, profiles, rules, guards }: House): readonly SunEvent[] {
  const found = new Set<unknown>();
  visitParts([lets, schedules, profiles, rules, guards], (part) => {
    if ("sun" in part) found.add(part.sun);
    if (part.kind === "sun time") found.add(part.event);
  });
  return SUN_EVENTS.filter((event) => found.has(event));
}

export class Sunless {
  readonly #events: readonly SunEvent[];
  #missing: readonly SunEvent[] = [];

  /** `events` are those that the house depends on. */
  constructor(events: readonly SunEvent[]) {
    this.#events = events;
  }

  get watches(): boolean {
    return this.#events.length > 0;
  }

  /** The events that stay away on the day of an instant and came on the day it was last looked at. */
  newly(sky: Sky, now: number): SunEvent[] {
    const { day } = sky.clock.local(now);
    const missing = this.#events.filter((event) => sunEventOn(sky, event, day) === undefined);
    const newly = missing.filter((event) => !this.#missing.includes(event));
    this.#missing = missing;
    return newly;
  }
}
