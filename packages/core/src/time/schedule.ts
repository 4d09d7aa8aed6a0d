// Weekly schedules: spans of local time, half open, that may pass midnight. A span past midnight belongs to the day it
// begins on.
import { type Weekday, weekdayOf } from "./calendar.js";
import type { Clock } from "./clock.js";

/** A stretch of wall time, in milliseconds since midnight; `to` at or before `from` ends on the next day. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** Spans that open on some days of the week. */
export interface Opening {
  readonly days: readonly Weekday[];
  readonly spans: readonly Span[];
}

/** The stretch an instant lies in: open or not, and when that next changes. */
export interface Stretch {
  readonly open: boolean;
  /** The instant at which `open` next changes; infinite when it never does. */
  readonly until: number;
}

/** Days looked ahead: a week, and one for a span that passes midnight at its end. */
const HORIZON = 9;

/** Whether the schedule is open at an instant, and until when. Spans that touch or overlap make one. */
export function stretchOf(openings: readonly Opening[], clock: Clock, instant: number): Stretch {
  const today = clock.local(instant).day;
  const spans = spansBetween(openings, clock, today - 1, today + HORIZON);
  let end = instant;
  for (const [from, to] of spans) {
    if (from > end) return end > instant ? { open: true, until: end } : { open: false, until: from };
    end = Math.max(end, to);
  }
  if (end > instant) return { open: true, until: end > clock.instant(today + HORIZON - 1, 0) ? Number.POSITIVE_INFINITY : end };
  return { open: false, until: Number.POSITIVE_INFINITY };
}

function spansBetween(openings: readonly Opening[], clock: Clock, first: number, last: number): [number, number][] {
  const spans: [number, number][] = [];
  for (let day = first; day <= last; day++) {
    for (const opening of openings) {
      if (!opening.days.includes(weekdayOf(day))) continue;
      for (const { from, to } of opening.spans) {
        const end = to > from ? clock.instant(day, to) : clock.instant(day + 1, to);
        const begin = clock.instant(day, from);
        if (end > begin) spans.push([begin, end]);
      }
    }
  }
  return spans.sort((a, b) => a[0] - b[0]);
}

/**
 * The first instant strictly after `instant` at which the wall clock shows `ms` on one of `days`.
 * A moment that the spring change leaves out comes right after the gap, one that comes twice comes the first time.
 */
export function nextOccurrence(clock: Clock, ms: number, days: readonly Weekday[], instant: number): number {
  const today = clock.local(instant).day;
  for (let day = today; day <= today + 8; day++) {
    if (!days.includes(weekdayOf(day))) continue;
    const moment = clock.instant(day, ms);
    if (moment > instant) return moment;
  }
  return Number.POSITIVE_INFINITY;
}
