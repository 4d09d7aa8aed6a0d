// Days, weekdays and dates: plain arithmetic on a calendar without zones.

/** In milliseconds. */
export const SECOND = 1000;
/** In milliseconds. */
export const MINUTE = 60 * SECOND;
/** In milliseconds. */
export const HOUR = 60 * MINUTE;
/** A day of 24 hours, in milliseconds. */
export const DAY = 24 * HOUR;

/** 0 = Monday … 6 = Sunday. */
export type Weekday = 0 | 1 | 2 | 3 | 4 | 5 | 6;

export const EVERY_DAY: readonly Weekday[] = [0, 1, 2, 3, 4, 5, 6];

export function weekdayOf(day: number): Weekday {
  return ((((day + 3) % 7) + 7) % 7) as Weekday;
}

/** The local day of a date of the Gregorian calendar, or nothing where there is no such date (2026-02-30). */
export function dayOfDate(year: number, month: number, date: number): number | undefined {
  const ms = Date.UTC(year, month - 1, date);
  const back = new Date(ms);
  if (back.getUTCMonth() !== month - 1 || back.getUTCDate() !== date) return undefined;
  return ms / DAY;
}

/** `2026-03-14` for a local day. */
export function dateOfDay(day: number): string {
  return new Date(day * DAY).toISOString().slice(0, 10);
}

/** Month and day of a local day as one number, 101 for the first of January, 1231 for the last of December. */
export function dayOfYear(day: number): number {
  const date = new Date(day * DAY);
  return (date.getUTCMonth() + 1) * 100 + date.getUTCDate();
}

/** Which day of its year a day is: 1 for 1 January. */
export function dayInYear(day: number): number {
  return day - Date.UTC(new Date(day * DAY).getUTCFullYear(), 0, 1) / DAY + 1;
}

/** Short names of the days of the week, from Monday on. */
export const weekdayNames = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"] as const;

/** Short names of the months. */
export const monthNames = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"] as const;

/** Names of the months in full. */
export const longMonthNames = "January February March April May June July August September October November December".split(" ");

/** How many days a month has, from 1 for January on. */
export function daysOf(month: number, year: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate();
}

/** `Mon..Fri`, `Sat, Sun`, `daily`: runs of three or more days as a range; 0 is Monday. */
export function writeDays(days: readonly number[]): string {
  if (days.length === 7) return "daily";
  const runs: number[][] = [];
  for (const day of days) {
    const run = runs.at(-1);
    if (run && day === (run.at(-1) as number) + 1) run.push(day);
    else runs.push([day]);
  }
  const name = (day: number | undefined) => weekdayNames[day ?? 0] as string;
  return runs.flatMap((run) => (run.length > 2 ? [`${name(run[0])}..${name(run.at(-1))}`] : run.map(name))).join(", ");
}
