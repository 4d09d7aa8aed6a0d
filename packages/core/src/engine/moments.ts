// Moments of the clock: when a trigger is next due.
import { DAY, type FixedTime, nextOccurrence, type Sky, type Weekday, weekdayOf } from "../time/index.js";
import type { AtProgram } from "./program.js";

/** Strictly after an instant; infinite when it never comes, or its time is not known. */
export function nextAt(sky: Sky, { sun }: AtProgram, ms: number, days: readonly Weekday[], after: number): number {
  if (Number.isNaN(ms)) return Number.POSITIVE_INFINITY;
  const time: FixedTime = { ...(sun && { sun }), ms };
  return nextOccurrence(sky, time, days, after);
}

/** Whether a length has moments: up to a day, or so many whole days. */
export function hasMoments(every: number): boolean {
  return every > 0 && (every <= DAY || every % DAY === 0);
}

/**
 * The next multiple of a length since local midnight, strictly after an instant, on one of the days; of so many whole
 * days the midnights, counted from 1970-01-01. Infinite when there is none.
 */
export function nextEvery(sky: Sky, every: number, days: readonly Weekday[], after: number): number {
  if (!hasMoments(every)) return Number.POSITIVE_INFINITY;
  const today = sky.clock.local(after).day;
  if (every > DAY) {
    const step = every / DAY;
    // Within seven of its days each weekday comes, if it ever does.
    for (let day = Math.ceil(today / step) * step, tries = 0; tries <= 7; day += step, tries++) {
      const midnight = sky.clock.instant(day, 0);
      if (midnight > after && days.includes(weekdayOf(day))) return midnight;
    }
    return Number.POSITIVE_INFINITY;
  }
  for (let day = today; day <= today + 8; day++) {
    if (!days.includes(weekdayOf(day))) continue;
    const begins = sky.clock.instant(day, 0);
    const ends = sky.clock.instant(day + 1, 0);
    if (after < begins) return begins;
    const next =
      ends - begins === DAY ? begins + (Math.floor((after - begins) / every) + 1) * every : nextByClock(sky, every, day, after);
    // Of moments closer than the digits of an instant each is a millisecond after the other.
    if (next < ends) return Math.max(after + 1, Math.ceil(next));
  }
  return Number.POSITIVE_INFINITY;
}

/**
 * The same on a day on which the clock is changed. A time that the clock leaves out comes at the end of the gap, one that it
 * shows twice the first time: so none comes before an earlier one, and the first after an instant is found by halving.
 */
function nextByClock({ clock }: Sky, every: number, day: number, after: number): number {
  const instantOf = (count: number) => clock.instant(day, Math.ceil(count * every));
  let [before, behind] = [0, Math.ceil(DAY / every)];
  while (behind - before > 1) {
    const middle = Math.floor((before + behind) / 2);
    if (instantOf(middle) > after) behind = middle;
    else before = middle;
  }
  return behind * every < DAY ? instantOf(behind) : Number.POSITIVE_INFINITY;
}
