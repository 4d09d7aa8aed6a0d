// Least squares of a few unknowns.

/** Rows of what is seen, and what it adds up to. */
export interface Observation {
  readonly row: readonly number[];
  readonly sum: number;
}

/** The unknowns that fit best, and the sum of squares that is left; nothing where they cannot be told apart. */
export function leastSquares(
  observations: readonly Observation[],
): { readonly unknowns: readonly number[]; readonly left: number } | undefined {
  const count = observations[0]?.row.length ?? 0;
  if (observations.length < count || count === 0) return undefined;
  // Columns of about one size.
  const sizes = Array.from({ length: count }, (_, column) =>
    Math.sqrt(observations.reduce((sum, { row }) => sum + (row[column] as number) ** 2, 0)),
  );
  if (sizes.some((size) => !(size > 0))) return undefined;
  const matrix = Array.from({ length: count }, (_, line) =>
    Array.from({ length: count + 1 }, (_, column) =>
      observations.reduce((sum, { row, sum: seen }) => {
        const other = column === count ? seen : (row[column] as number) / (sizes[column] as number);
        return sum + ((row[line] as number) / (sizes[line] as number)) * other;
      }, 0),
    ),
  );
  const scaled = solved(matrix);
  if (!scaled) return undefined;
  const unknowns = scaled.map((value, column) => value / (sizes[column] as number));
  const left = observations.reduce(
    (sum, { row, sum: seen }) =>
      sum + (seen - row.reduce((fit, value, column) => fit + value * (unknowns[column] as number), 0)) ** 2,
    0,
  );
  return { unknowns, left };
}

/** Of columns of length one: below this they are as good as one. */
const SINGULAR = 1e-9;

/** By elimination, the largest first. */
function solved(matrix: number[][]): number[] | undefined {
  const count = matrix.length;
  for (let column = 0; column < count; column++) {
    let best = column;
    for (let line = column + 1; line < count; line++)
      if (Math.abs(matrix[line]?.[column] as number) > Math.abs(matrix[best]?.[column] as number)) best = line;
    const pivot = matrix[best] as number[];
    if (Math.abs(pivot[column] as number) < SINGULAR) return undefined;
    [matrix[best], matrix[column]] = [matrix[column] as number[], pivot];
    for (let line = 0; line < count; line++) {
      if (line === column) continue;
      const own = matrix[line] as number[];
      const factor = (own[column] as number) / (pivot[column] as number);
      for (let at = column; at <= count; at++) own[at] = (own[at] as number) - factor * (pivot[at] as number);
    }
  }
  return matrix.map((line, place) => (line[count] as number) / (line[place] as number));
}
