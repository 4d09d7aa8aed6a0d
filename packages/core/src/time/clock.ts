// Local time of a place. Instants are whole milliseconds since 1970 UTC; a local day is counted in days since
// 1970-01-01 on the local calendar. The offset to UTC is looked up once for each stretch between two changes of the
// zone, so that a conversion is one subtraction.
import { Temporal } from "temporal-polyfill";
import { DAY } from "./calendar.js";

/** A moment on the local calendar. */
export interface LocalTime {
  /** Days since 1970-01-01. */
  readonly day: number;
  /** Milliseconds since local midnight, as a wall clock shows them. */
  readonly ms: number;
}

interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly offset: number;
}

/** Local time of a zone: instants to days and milliseconds since midnight, and back. */
export interface Clock {
  readonly zone: string;
  /** What the wall clock shows at an instant. */
  local(instant: number): LocalTime;
  /**
   * The instant of a local time. A time that the spring change leaves out is the first instant after the gap; of one
   * that the autumn change brings twice, the first. `ms` may reach 24 h, the next midnight.
   */
  instant(day: number, ms: number): number;
}

const clocks = new Map<string, Clock>();

/**
 * The clock of an IANA time zone.
 * @throws RangeError when the zone is unknown
 */
export function clockOf(zone: string): Clock {
  let clock = clocks.get(zone);
  if (!clock) {
    clock = makeClock(zone);
    clocks.set(zone, clock);
  }
  return clock;
}

/** Zones that were asked about: to ask takes longer than to read a file. */
const zones = new Map<string, boolean>();

/** Whether `zone` is a time zone this machine knows by name, such as `Europe/Zurich`. */
export function isZone(zone: string): boolean {
  let isKnown = zones.get(zone);
  if (isKnown === undefined) {
    isKnown = knows(zone);
    zones.set(zone, isKnown);
  }
  return isKnown;
}

function knows(zone: string): boolean {
  try {
    new Intl.DateTimeFormat("en", { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

function makeClock(zone: string): Clock {
  let latest = stretchAt(zone, 0);
  const known: Stretch[] = [latest];

  function stretch(instant: number): Stretch {
    if (instant >= latest.from && instant < latest.to) return latest;
    let found = known.find(({ from, to }) => instant >= from && instant < to);
    if (!found) {
      found = stretchAt(zone, instant);
      known.push(found);
    }
    latest = found;
    return found;
  }

  return {
    zone,
    local(instant) {
      const wall = instant + stretch(instant).offset;
      const day = Math.floor(wall / DAY);
      return { day, ms: wall - day * DAY };
    },
    instant(day, ms) {
      const wall = day * DAY + ms;
      const before = stretch(wall - DAY);
      const after = stretch(wall + DAY);
      const early = wall - before.offset;
      if (before.offset === after.offset || early < after.from) return early;
      return Math.max(wall - after.offset, after.from);
    },
  };
}

function stretchAt(zone: string, instant: number): Stretch {
  const there = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone);
  // The change at or before the instant: the one before the next millisecond.
  const previous = there.add({ milliseconds: 1 }).getTimeZoneTransition("previous");
  const next = there.getTimeZoneTransition("next");
  return {
    from: previous?.epochMilliseconds ?? Number.NEGATIVE_INFINITY,
    to: next?.epochMilliseconds ?? Number.POSITIVE_INFINITY,
    offset: there.offsetNanoseconds / 1e6,
  };
}
