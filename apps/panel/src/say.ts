// Times and lengths as people read them.
const SECOND = 1000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** `4 s`, `12 min`, `3 h 20 min`, `2 d`. */
export function lengthOf(ms: number): string {
  if (ms < MINUTE) return `${Math.max(0, Math.round(ms / SECOND))} s`;
  const minutes = Math.round(ms / MINUTE);
  if (minutes < 60) return `${minutes} min`;
  if (ms < 2 * DAY) {
    return minutes % 60 === 0 ? `${minutes / 60} h` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
  }
  return `${Math.round(ms / DAY)} d`;
}

/** How long ago, by its largest unit: `4 s`, `12 min`, `3 h`, `2 d`. */
export function ageOf(ms: number): string {
  if (ms < MINUTE || ms >= 2 * DAY) return lengthOf(ms);
  if (ms < 90 * MINUTE) return `${Math.round(ms / MINUTE)} min`;
  return `${Math.round(ms / HOUR)} h`;
}

/** Within so much of now, a time of day is clear. */
const NEAR = 12 * HOUR;

/** `14:02` of today and of what is near, `Fri 16 Jan, 14:02` of another day. */
export function momentOf(instant: string | number, zone: string, now: number): string {
  const at = new Date(instant);
  const day = (one: Date) => new Intl.DateTimeFormat("en-GB", { dateStyle: "short", timeZone: zone }).format(one);
  const time = clockOf(instant, zone);
  const isNear = Math.abs(at.getTime() - now) < NEAR || day(at) === day(new Date(now));
  return isNear ? time : `${dayOf(instant, zone)}, ${time}`;
}

/** `14:02`. */
export function clockOf(instant: string | number, zone: string, seconds = false): string {
  return new Intl.DateTimeFormat("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    ...(seconds && { second: "2-digit" }),
    timeZone: zone,
  }).format(new Date(instant));
}

/** `Fri 16 Jan`. */
export function dayOf(instant: string | number, zone: string): string {
  const parts = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: zone })
    .formatToParts(new Date(instant))
    .filter(({ type }) => type !== "literal");
  return parts.map(({ value }) => value).join(" ");
}

/** Two numbers of a range with its unit, `35..60 %RH`. */
export function rangeOf([low, high]: readonly [string | number, string | number], unit = ""): string {
  return `${low}..${high}${unit && ` ${unit}`}`;
}

/** A number of three digits or so, as readings are. */
export function figureOf(value: number): string {
  const size = Math.abs(value);
  return Number.isInteger(value) ? String(value) : value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2);
}
