// Where a cursor stands on an axis: for the page that draws it, and for whoever says what was so there.

/** How finely, in milliseconds: by minutes, and by seconds where the axis is no longer than two hours. */
export const fineness = (from: number, to: number) => (to - from > 7_200_000 ? 60_000 : 1000);

/** The moment at a share of an axis, from 0 to 1. */
export function momentAt(from: number, to: number, share: number): number {
  const step = fineness(from, to);
  return Math.min(to, Math.round((from + share * (to - from)) / step) * step);
}
