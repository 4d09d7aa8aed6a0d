// Something that rooms store, lose to the outdoors and exchange with one another: heat, or water in the air. While what
// drives them stands still their equations are linear, so that a step of any length is exact, and what leaves one room is
// what enters the other.
//
//   C_i dx_i/dt = g_i - L_i (x_i - o_i) + Σ K_ij (x_j - x_i)
//
// With z_i = √C_i x_i the matrix is symmetric, A = V Λ Vᵀ, and z(t) = V (e^Λt Vᵀ z(0) + (e^Λt - 1)/Λ Vᵀ b): the method of
// eigenvalues for linear systems (e.g. Golub & Van Loan, Matrix Computations, 4th ed., 9.1 and 8.5 for Jacobi's rotations).

/** One room: `capacity` C, `loss` L to what is `outside` o, and a steady `gain` g. */
export interface Store {
  readonly capacity: number;
  readonly loss: number;
  readonly outside: number;
  readonly gain: number;
}

/** What passes between two rooms for each unit by which they differ, K. */
export interface Passage {
  readonly one: number;
  readonly other: number;
  readonly passes: number;
}

/** The eigenvalues and eigenvectors of rooms that exchange something, and what they were found for. */
interface Modes {
  readonly of: readonly number[];
  readonly values: readonly number[];
  /** Column k is the vector of value k. */
  readonly vectors: readonly (readonly number[])[];
}

/** Rooms by their numbers. What was found for the same capacities, losses and passages is used again. */
export class Exchange {
  readonly #known = new Map<number, Modes>();

  /** The values after so many seconds. */
  after(values: readonly number[], stores: readonly Store[], passages: readonly Passage[], seconds: number): number[] {
    const after = [...values];
    for (const group of groupsOf(stores.length, passages)) {
      const [first] = group as [number];
      if (group.length === 1) after[first] = alone(values[first] as number, stores[first] as Store, seconds);
      else this.#together(group, values, stores, passages, seconds, after);
    }
    return after;
  }

  #together(
    group: readonly number[],
    values: readonly number[],
    stores: readonly Store[],
    passages: readonly Passage[],
    seconds: number,
    after: number[],
  ): void {
    const roots = group.map((room) => Math.sqrt((stores[room] as Store).capacity));
    const { values: rates, vectors } = this.#modes(group, stores, passages, roots);
    const begin = group.map((room, place) => (roots[place] as number) * (values[room] as number));
    const drive = group.map((room, place) => {
      const { gain, loss, outside } = stores[room] as Store;
      return (gain + loss * outside) / (roots[place] as number);
    });
    const along = (vector: readonly number[], of: readonly number[]) =>
      vector.reduce((sum, part, place) => sum + part * (of[place] as number), 0);
    const ends = rates.map((rate, mode) => {
      const vector = vectors.map((row) => row[mode] as number);
      const grows = rate === 0 ? seconds : Math.expm1(rate * seconds) / rate;
      return along(vector, begin) * Math.exp(rate * seconds) + along(vector, drive) * grows;
    });
    group.forEach((room, place) => {
      after[room] = along(vectors[place] as readonly number[], ends) / (roots[place] as number);
    });
  }

  #modes(group: readonly number[], stores: readonly Store[], passages: readonly Passage[], roots: readonly number[]): Modes {
    const within = passages.filter(({ one }) => group.includes(one));
    const of = [
      ...group.flatMap((room) => [room, (stores[room] as Store).capacity, (stores[room] as Store).loss]),
      ...within.flatMap(({ one, other, passes }) => [one, other, passes]),
    ];
    const first = group[0] as number;
    const known = this.#known.get(first);
    if (known && known.of.length === of.length && known.of.every((figure, place) => figure === of[place])) return known;
    const matrix = group.map((room, row) => {
      const { loss, capacity } = stores[room] as Store;
      return group.map((_, column) => (row === column ? -loss / capacity : 0));
    });
    const add = (row: number, column: number, amount: number) => {
      (matrix[row] as number[])[column] =
        (matrix[row]?.[column] ?? 0) + amount / ((roots[row] as number) * (roots[column] as number));
    };
    for (const { one, other, passes } of within) {
      const [row, column] = [group.indexOf(one), group.indexOf(other)];
      add(row, row, -passes);
      add(column, column, -passes);
      add(row, column, passes);
      add(column, row, passes);
    }
    const found = { of, ...modesOf(matrix) };
    this.#known.set(first, found);
    return found;
  }
}

function alone(value: number, { capacity, loss, outside, gain }: Store, seconds: number): number {
  if (loss === 0) return value + (gain * seconds) / capacity;
  const rate = loss / capacity;
  return value + (outside + gain / loss - value) * -Math.expm1(-rate * seconds);
}

/** Rooms that exchange something, each group in the order of their numbers. */
function groupsOf(count: number, passages: readonly Passage[]): number[][] {
  const leads = Array.from({ length: count }, (_, room) => room);
  const lead = (room: number): number => (leads[room] === room ? room : lead(leads[room] as number));
  for (const { one, other, passes } of passages) {
    if (passes <= 0) continue;
    const [a, b] = [lead(one), lead(other)];
    leads[Math.max(a, b)] = Math.min(a, b);
  }
  const groups = new Map<number, number[]>();
  for (const room of leads.keys()) groups.set(lead(room), [...(groups.get(lead(room)) ?? []), room]);
  return [...groups.values()];
}

/** Eigenvalues and eigenvectors of a symmetric matrix by Jacobi's rotations; the matrix is used up. */
function modesOf(matrix: number[][]): { values: number[]; vectors: number[][] } {
  const size = matrix.length;
  const at = (row: number, column: number) => (matrix[row] as number[])[column] as number;
  const vectors = matrix.map((_, row) => matrix.map((__, column) => (row === column ? 1 : 0)));
  const turn = (rows: number[][], row: number, p: number, q: number, cos: number, sin: number) => {
    const line = rows[row] as number[];
    const [a, b] = [line[p] as number, line[q] as number];
    line[p] = cos * a - sin * b;
    line[q] = sin * a + cos * b;
  };
  for (let sweep = 0; sweep < 60; sweep++) {
    let beside = 0;
    for (let p = 0; p < size; p++) for (let q = p + 1; q < size; q++) beside = Math.max(beside, Math.abs(at(p, q)));
    if (beside < 1e-300) break;
    for (let p = 0; p < size; p++) {
      for (let q = p + 1; q < size; q++) {
        if (at(p, q) === 0) continue;
        const ratio = (at(q, q) - at(p, p)) / (2 * at(p, q));
        const tan = (ratio < 0 ? -1 : 1) / (Math.abs(ratio) + Math.sqrt(ratio * ratio + 1));
        const cos = 1 / Math.sqrt(tan * tan + 1);
        const sin = tan * cos;
        for (let row = 0; row < size; row++) turn(matrix, row, p, q, cos, sin);
        turnRows(matrix, p, q, cos, sin);
        for (let row = 0; row < size; row++) turn(vectors, row, p, q, cos, sin);
      }
    }
  }
  return { values: matrix.map((row, place) => row[place] as number), vectors };
}

function turnRows(matrix: number[][], p: number, q: number, cos: number, sin: number): void {
  const [first, second] = [matrix[p] as number[], matrix[q] as number[]];
  for (const column of first.keys()) {
    const [a, b] = [first[column] as number, second[column] as number];
    first[column] = cos * a - sin * b;
    second[column] = sin * a + cos * b;
  }
}
