// Weekly schedules and profiles. Spans are half open and may pass midnight; such a span belongs to the day it begins on.
import { DAY, dayOfYear, type Weekday, weekdayOf } from "./calendar.js";
import { isOfMorning, type Sky, type SunEvent, staysUp, sunEventOn } from "./sun.js";

/** A time of day: milliseconds since midnight, or so long after an event of the sun. */
export interface FixedTime {
  readonly sun?: SunEvent;
  readonly ms: number;
}

/** A stretch of local time; `to` at or before `from` ends on the next day. */
export interface Span {
  readonly from: FixedTime;
  readonly to: FixedTime;
}

/** Spans that open on some days of the week. */
export interface Opening {
  readonly days: readonly Weekday[];
  readonly spans: readonly Span[];
}

/** Days, both ends included: local days, or days of every year as [month 1..12, day]. */
export type DatesRange =
  | { readonly kind: "dates"; readonly from: number; readonly to: number }
  | { readonly kind: "yearly"; readonly from: readonly [number, number]; readonly to: readonly [number, number] };

/** What a schedule says. */
export interface Calendar {
  readonly openings: readonly Opening[];
  readonly except?: readonly DatesRange[];
  readonly only?: readonly DatesRange[];
  /** Name of the calendar file it is read from, and its events as [begin, end) instants. */
  readonly file?: string;
  readonly events?: readonly (readonly [from: number, to: number])[];
}

/** The stretch an instant lies in: open or not, and when that next changes. */
export interface Stretch {
  readonly open: boolean;
  /** The instant at which `open` next changes; infinite when it never does. */
  readonly until: number;
}

/** Days looked ahead: more than a year, for schedules of a season. */
const HORIZON = 400;

/** The instant of a time of day on a local day; undefined where the sun has no such event then. */
export function instantOn(sky: Sky, { sun, ms }: FixedTime, day: number): number | undefined {
  if (sun === undefined) return sky.clock.instant(day, ms);
  const event = sunEventOn(sky, sun, day);
  return event === undefined ? undefined : event + ms;
}

/** Whether the schedule is open at an instant, and until when. Spans that touch or overlap make one. */
export function stretchOf(calendar: Calendar, sky: Sky, instant: number): Stretch {
  if (calendar.events) return stretchOfEvents(calendar.events, instant);
  const today = sky.clock.local(instant).day;
  let end = instant;
  for (let day = today - 1; day <= today + HORIZON; day++) {
    // A later day begins after all that is open so far has ended.
    if (end > instant && sky.clock.instant(day, 0) > end) return { open: true, until: end };
    for (const [from, to] of spansOn(calendar, sky, day)) {
      if (to <= instant) continue;
      if (from > end) return end > instant ? { open: true, until: end } : { open: false, until: from };
      end = Math.max(end, to);
    }
  }
  return { open: end > instant, until: Number.POSITIVE_INFINITY };
}

function stretchOfEvents(events: readonly (readonly [number, number])[], instant: number): Stretch {
  let end = instant;
  for (const [from, to] of events) {
    if (to <= instant) continue;
    if (from > end) return end > instant ? { open: true, until: end } : { open: false, until: from };
    end = Math.max(end, to);
  }
  return end > instant ? { open: true, until: end } : { open: false, until: Number.POSITIVE_INFINITY };
}

/** What opens on a local day, in order of time. */
function spansOn({ openings, except, only }: Calendar, sky: Sky, day: number): [number, number][] {
  if (except?.some((dates) => isWithin(dates, day)) || (only && !only.some((dates) => isWithin(dates, day)))) return [];
  const spans: [number, number][] = [];
  const weekday = weekdayOf(day);
  for (const { days, spans: list } of openings) {
    if (!days.includes(weekday)) continue;
    for (const { from, to } of list) {
      const begin = neverComes(sky, from, day) ? undefined : edgeOn(sky, from, day);
      const same = edgeOn(sky, to, day);
      if (begin === undefined || same === undefined || neitherComes(sky, from, to, day)) continue;
      const end = passesMidnight(from, to, begin, same) ? edgeOn(sky, to, day + 1) : same;
      if (end !== undefined && end > begin) spans.push([begin, end]);
    }
  }
  return spans.sort((a, b) => a[0] - b[0]);
}

/** The sun stays up all evening, or down all morning: nothing begins then. */
function neverComes(sky: Sky, { sun }: FixedTime, day: number): boolean {
  return sun !== undefined && sunEventOn(sky, sun, day) === undefined && staysUp(sky, sun, day) !== isOfMorning(sun);
}

/** Both ends are of one half of the day, as sunset and dusk, and the sun does neither. */
function neitherComes(sky: Sky, from: FixedTime, to: FixedTime, day: number): boolean {
  if (!from.sun || !to.sun || isOfMorning(from.sun) !== isOfMorning(to.sun)) return false;
  return sunEventOn(sky, from.sun, day) === undefined && sunEventOn(sky, to.sun, day) === undefined;
}

/** A span whose end is not after its beginning ends on the next day; but what goes from morning to evening is over by then. */
function passesMidnight(from: FixedTime, to: FixedTime, begin: number, end: number): boolean {
  if (from.sun === undefined && to.sun === undefined) return to.ms <= from.ms;
  if (from.sun && to.sun && isOfMorning(from.sun) && !isOfMorning(to.sun)) return false;
  return end <= begin;
}

/**
 * An end of a span on a local day. Where the sun has no such event then, its half of the day is all before it or all after
 * it: mornings last until noon, evenings begin there. So `sunset to sunrise` goes on all through a polar night, and does not
 * begin in a polar day. Undefined without a place.
 */
function edgeOn(sky: Sky, time: FixedTime, day: number): number | undefined {
  const { sun } = time;
  const known = instantOn(sky, time, day);
  if (known !== undefined || sun === undefined || !sky.place) return known;
  const up = staysUp(sky, sun, day);
  return sky.clock.instant(day, !up ? DAY / 2 : isOfMorning(sun) ? 0 : DAY);
}

function isWithin(dates: DatesRange, day: number): boolean {
  if (dates.kind === "dates") return day >= dates.from && day <= dates.to;
  const of = ([month, date]: readonly [number, number]) => month * 100 + date;
  const [from, to, at] = [of(dates.from), of(dates.to), dayOfYear(day)];
  // A season that passes the turn of the year.
  return from <= to ? at >= from && at <= to : at >= from || at <= to;
}

/**
 * The first instant strictly after `instant` at which it is a time of day on one of `days`. A moment that the spring
 * change leaves out comes right after the gap, one that comes twice comes the first time; a day on which the sun has no
 * such event is passed over.
 */
export function nextOccurrence(sky: Sky, time: FixedTime, days: readonly Weekday[], instant: number): number {
  const today = sky.clock.local(instant).day;
  for (let day = today - 1; day <= today + HORIZON; day++) {
    if (!days.includes(weekdayOf(day))) continue;
    const moment = instantOn(sky, time, day);
    if (moment !== undefined && moment > instant) return moment;
  }
  return Number.POSITIVE_INFINITY;
}

/** A time of day and what holds from then on. */
export interface ProfilePoint<Held> {
  readonly from: FixedTime;
  readonly value: Held;
}

export interface ProfileDay<Held> {
  readonly days: readonly Weekday[];
  readonly points: readonly ProfilePoint<Held>[];
}

/** The point of a profile in force at an instant, and the next one. */
export interface ProfileStretch<Held> {
  readonly value: Held;
  readonly since: number;
  readonly next: Held;
  /** Infinite when there is none. */
  readonly until: number;
}

/** Undefined when no point comes within a week before the instant. */
export function profileAt<Held>(
  profile: readonly ProfileDay<Held>[],
  sky: Sky,
  instant: number,
): ProfileStretch<Held> | undefined {
  const today = sky.clock.local(instant).day;
  const points: { at: number; value: Held }[] = [];
  for (let day = today - 8; day <= today + 8; day++) {
    for (const { days, points: list } of profile) {
      if (!days.includes(weekdayOf(day))) continue;
      for (const { from, value } of list) {
        const at = instantOn(sky, from, day);
        if (at !== undefined) points.push({ at, value });
      }
    }
  }
  points.sort((a, b) => a.at - b.at);
  const index = points.findLastIndex(({ at }) => at <= instant);
  const point = points[index];
  if (!point) return undefined;
  const next = points[index + 1] ?? point;
  return { value: point.value, since: point.at, next: next.value, until: next.at > instant ? next.at : Number.POSITIVE_INFINITY };
}
