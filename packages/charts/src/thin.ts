// Fewer points of a line where there are more than a screen can show: of each column of pixels the first, the least, the
// greatest and the last, which draws the same line ("M4: A Visualization-Oriented Time Series Data Aggregation", Jugel,
// Jerzak, Hackenbroich and Markl, 2014).
import type { Point } from "./stretches.js";

/**
 * The places of the points of a line that are kept; a gap is kept with its ends.
 * @param columns of pixels, from the first instant to the last
 */
export function placesKept(points: readonly Point[], from: number, to: number, columns: number): readonly number[] {
  const all = points.map((_, place) => place);
  if (points.length <= 4 * columns) return all;
  const columnOf = ([at]: Point) => Math.floor(((at - from) / (to - from)) * columns);
  const kept: number[] = [];
  for (let first = 0; first < points.length; ) {
    const column = columnOf(points[first] as Point);
    let last = first;
    const chosen = new Set([first]);
    let [least, greatest] = [first, first];
    for (; last < points.length && columnOf(points[last] as Point) === column; last++) {
      const value = points[last]?.[1] ?? null;
      if (value === null || (last > 0 && points[last - 1]?.[1] === null)) chosen.add(last);
      if (value === null) continue;
      if (value < (points[least]?.[1] ?? Number.POSITIVE_INFINITY)) least = last;
      if (value > (points[greatest]?.[1] ?? Number.NEGATIVE_INFINITY)) greatest = last;
    }
    for (const place of [least, greatest, last - 1]) chosen.add(place);
    for (const place of [...chosen].sort((a, b) => a - b)) kept.push(place);
    first = last;
  }
  return kept;
}

/** Those points. */
export function thinned(points: readonly Point[], from: number, to: number, columns: number): readonly Point[] {
  return placesKept(points, from, to, columns).map((place) => points[place] as Point);
}
