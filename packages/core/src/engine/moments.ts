// Moments of the clock: when a trigger is next due.
import { type FixedTime, nextOccurrence, type Sky, type Weekday, weekdayOf } from "../time/index.js";
import type { AtProgram } from "./program.js";

/** Strictly after an instant; infinite when it never comes, or its time is not known. */
export function nextAt(sky: Sky, { sun }: AtProgram, ms: number, days: readonly Weekday[], after: number): number {
  if (Number.isNaN(ms)) return Number.POSITIVE_INFINITY;
  const time: FixedTime = { ...(sun && { sun }), ms };
  return nextOccurrence(sky, time, days, after);
}

/** The next multiple of a length since local midnight, strictly after an instant, on one of the days. */
export function nextEvery(sky: Sky, every: number, days: readonly Weekday[], after: number): number {
  if (!(every > 0)) return Number.POSITIVE_INFINITY;
  const today = sky.clock.local(after).day;
  for (let day = today; day <= today + 8; day++) {
    if (!days.includes(weekdayOf(day))) continue;
    const begins = sky.clock.instant(day, 0);
    const ends = sky.clock.instant(day + 1, 0);
    const next = Math.ceil(after < begins ? begins : begins + (Math.floor((after - begins) / every) + 1) * every);
    if (next < ends) return next;
  }
  return Number.POSITIVE_INFINITY;
}
