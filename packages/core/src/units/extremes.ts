// The least and the greatest of any number of values: spread into the arguments of a call, as many as a long run has
// would be too many.

/** Infinite where there are none. */
export function least(values: Iterable<number>): number {
  let found = Number.POSITIVE_INFINITY;
  for (const value of values) if (value < found || Number.isNaN(value)) found = value;
  return found;
}

/** Infinite, below zero, where there are none. */
export function greatest(values: Iterable<number>): number {
  let found = Number.NEGATIVE_INFINITY;
  for (const value of values) if (value > found || Number.isNaN(value)) found = value;
  return found;
}
