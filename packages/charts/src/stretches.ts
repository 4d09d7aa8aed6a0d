// Lines of a run as what charts draw: points of a curve, and stretches of one value.
import { type Clock, type DrawableRun, type Expression, movesByItself, type Run, type Series } from "modrik";

/** Times as the house's clock shows them at the beginning of the run, so that an axis in UTC reads local time. */
export function wallTime(clock: Clock, run: Pick<Run, "from">): (instant: number) => number {
  const { day, ms } = clock.local(run.from);
  const offset = day * 86400e3 + ms - run.from;
  return (instant) => instant + offset;
}

/** A line is looked at so often in a run, where it moves between what is written down of it. */
const LOOKS = 288;

/** The line of an expression over a run; of a ramp, a window, an age or the sun as it moves. */
export function lineOver({ past, from, to }: DrawableRun, expression: Expression): Series {
  const line = past.line(expression);
  if (line.times.length === 0 || !movesByItself(past.house, expression)) return line;
  const looks = Array.from({ length: LOOKS }, (_, place) => from + Math.round((place * (to - from)) / LOOKS));
  const times = [...new Set([...line.times.filter((at) => at > from && at < to), ...looks])].sort((a, b) => a - b);
  return { times, values: times.map((at) => past.value(expression, at)) };
}

export interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly value: number;
}

/** What a line had from when to when within a run, the value before its beginning included. */
export function stretchesOf({ times, values }: Series, { from, to }: Pick<Run, "from" | "to">): Stretch[] {
  const stretches: Stretch[] = [];
  times.forEach((time, index) => {
    const begin = Math.max(from, time);
    const end = Math.min(to, times[index + 1] ?? to);
    if (end > begin) stretches.push({ from: begin, to: end, value: values[index] as number });
  });
  return stretches;
}

export type Point = [time: number, value: number | null];

/** Corner points of a line that stays at a value until it takes the next; unknown is a gap. */
export function steps(
  series: Series,
  run: Pick<Run, "from" | "to">,
  time: (instant: number) => number,
  scale: (value: number) => number,
): Point[] {
  const points: Point[] = [];
  // Points within two pixels of the last are left out as it is drawn: a second one, a little later, keeps the line level.
  const apart = (run.to - run.from) / 200;
  for (const { from, to, value } of stretchesOf(series, run)) {
    const shown = Number.isNaN(value) ? null : scale(value);
    points.push([time(from), shown]);
    if (to - from > 2 * apart) points.push([time(from + apart), shown]);
    points.push([time(to), shown]);
  }
  return points;
}

/** From when to when something is so, on the axis of a chart. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** ms: what was reported further apart stood still meanwhile, as the same reading again is not a record. */
const REPORTS = 60e3;

/** Points of a curve through what was reported; what stood still is flat, up to the report of the next. */
export function curve(
  series: Series,
  run: Pick<Run, "from" | "to">,
  time: (instant: number) => number,
  scale: (value: number) => number,
): Point[] {
  const stretches = stretchesOf(series, run);
  return stretches.flatMap(({ from, to, value }, place): Point[] => {
    const shown = Number.isNaN(value) ? null : scale(value);
    const isLast = place === stretches.length - 1;
    const until = isLast ? to : to - REPORTS;
    return until > from
      ? [
          [time(from), shown],
          [time(until), shown],
        ]
      : [[time(from), shown]];
  });
}
