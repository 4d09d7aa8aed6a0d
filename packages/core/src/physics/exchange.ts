// Something that rooms store, lose to the outdoors and exchange with one another: heat, or water in the air. While what
// drives them stands still their equations are linear, so that a step of any length is exact, and what leaves one room is
// what enters the other.
//
//   C_i dx_i/dt = g_i - L_i (x_i - o_i) + Σ K_ij (x_j - x_i)
//
// With z_i = √C_i x_i the matrix is symmetric, A = V Λ Vᵀ, and z(t) = V (e^Λt Vᵀ z(0) + (e^Λt - 1)/Λ Vᵀ b): the method of
// eigenvalues for linear systems (e.g. Golub & Van Loan, Matrix Computations, 4th ed., 9.1 and 8.5 for Jacobi's rotations).

/** What each room is like, by its number: `capacity` C, `loss` L to what is `outside` o, and a steady `gain` g. */
export interface Stores {
  readonly capacity: Float64Array;
  readonly loss: Float64Array;
  readonly outside: Float64Array;
  readonly gain: Float64Array;
}

export function storesFor(rooms: number): Stores {
  const list = () => new Float64Array(rooms);
  return { capacity: list(), loss: list(), outside: list(), gain: list() };
}

/** What passes between two rooms for each unit by which they differ, K. */
export interface Passage {
  readonly one: number;
  readonly other: number;
  passes: number;
}

/** Rooms that exchange something, with the eigenvalues and eigenvectors of what they were last found for. */
class Group {
  readonly rooms: readonly number[];
  /** The passages between them, by their places. */
  readonly #within: readonly number[];
  /** Capacities and losses of its rooms, then what passes. */
  readonly #of: Float64Array;
  readonly #roots: Float64Array;
  readonly #begin: Float64Array;
  readonly #drive: Float64Array;
  #rates: readonly number[] = [];
  /** For steps of so many seconds: e^(λt) and (e^(λt) - 1)/λ of each rate; of one room alone 1 - e^(-λt). */
  #seconds = Number.NaN;
  readonly #left: Float64Array;
  readonly #come: Float64Array;
  #rate = Number.NaN;
  #gone = 0;
  /** One vector behind the other, in the order of the rates. */
  readonly #vectors: Float64Array;

  constructor(rooms: readonly number[], passages: readonly Passage[]) {
    this.rooms = rooms;
    this.#within = passages.flatMap(({ one, passes }, place) => (passes > 0 && rooms.includes(one) ? [place] : []));
    this.#of = new Float64Array(2 * rooms.length + this.#within.length).fill(Number.NaN);
    this.#roots = new Float64Array(rooms.length);
    this.#vectors = new Float64Array(rooms.length ** 2);
    this.#left = new Float64Array(rooms.length);
    this.#come = new Float64Array(rooms.length);
    this.#begin = new Float64Array(rooms.length);
    this.#drive = new Float64Array(rooms.length);
  }

  /** Puts the values after so many seconds in the place of those before. */
  advance(values: Float64Array, stores: Stores, passages: readonly Passage[], seconds: number): void {
    const { rooms } = this;
    if (rooms.length === 1) {
      this.#alone(values, stores, seconds);
      return;
    }
    this.#refresh(stores, passages, seconds);
    const count = rooms.length;
    for (let place = 0; place < count; place++) {
      const room = rooms[place] as number;
      const root = this.#roots[place] as number;
      this.#begin[place] = root * (values[room] as number);
      this.#drive[place] =
        ((stores.gain[room] as number) + (stores.loss[room] as number) * (stores.outside[room] as number)) / root;
      values[room] = 0;
    }
    for (let mode = 0; mode < count; mode++) {
      let from = 0;
      let by = 0;
      for (let place = 0; place < count; place++) {
        const part = this.#vectors[mode * count + place] as number;
        from += part * (this.#begin[place] as number);
        by += part * (this.#drive[place] as number);
      }
      const end = from * (this.#left[mode] as number) + by * (this.#come[mode] as number);
      for (let place = 0; place < count; place++) {
        const room = rooms[place] as number;
        values[room] =
          (values[room] as number) + ((this.#vectors[mode * count + place] as number) * end) / (this.#roots[place] as number);
      }
    }
  }

  /** Finds eigenvalues anew where a capacity, a loss or a passage has changed. */
  #refresh({ capacity, loss }: Stores, passages: readonly Passage[], seconds: number): void {
    let changed = false;
    const count = this.rooms.length;
    for (let place = 0; place < count; place++) {
      const room = this.rooms[place] as number;
      if (this.#note(2 * place, capacity[room] as number)) changed = true;
      if (this.#note(2 * place + 1, loss[room] as number)) changed = true;
    }
    for (let place = 0; place < this.#within.length; place++)
      if (this.#note(2 * count + place, (passages[this.#within[place] as number] as Passage).passes)) changed = true;
    if (changed) this.#solve(capacity, loss, passages);
    if (!changed && seconds === this.#seconds) return;
    this.#seconds = seconds;
    for (let mode = 0; mode < this.#rates.length; mode++) {
      const rate = this.#rates[mode] as number;
      this.#left[mode] = Math.exp(rate * seconds);
      this.#come[mode] = rate === 0 ? seconds : Math.expm1(rate * seconds) / rate;
    }
  }

  /** Whether a figure is another than before. */
  #note(place: number, figure: number): boolean {
    if (this.#of[place] === figure) return false;
    this.#of[place] = figure;
    return true;
  }

  /** One room by itself: x' = x + (o + g/l - x) (1 - e^(-l t/c)). */
  #alone(values: Float64Array, { capacity, loss, outside, gain }: Stores, seconds: number): void {
    const room = this.rooms[0] as number;
    const c = capacity[room] as number;
    const l = loss[room] as number;
    const g = gain[room] as number;
    const value = values[room] as number;
    if (l === 0) {
      values[room] = value + (g * seconds) / c;
      return;
    }
    const rate = l / c;
    if (rate !== this.#rate || seconds !== this.#seconds) {
      this.#rate = rate;
      this.#seconds = seconds;
      this.#gone = -Math.expm1(-rate * seconds);
    }
    values[room] = value + ((outside[room] as number) + g / l - value) * this.#gone;
  }

  #solve(capacity: Float64Array, loss: Float64Array, passages: readonly Passage[]): void {
    const { rooms } = this;
    rooms.forEach((room, index) => {
      this.#roots[index] = Math.sqrt(capacity[room] as number);
    });
    const matrix = rooms.map((room, row) =>
      rooms.map((_, column) => (row === column ? -(loss[room] as number) / (capacity[room] as number) : 0)),
    );
    const add = (row: number, column: number, amount: number) => {
      const line = matrix[row] as number[];
      line[column] = (line[column] as number) + amount / ((this.#roots[row] as number) * (this.#roots[column] as number));
    };
    for (const within of this.#within) {
      const { one, other, passes } = passages[within] as Passage;
      const [row, column] = [rooms.indexOf(one), rooms.indexOf(other)];
      add(row, row, -passes);
      add(column, column, -passes);
      add(row, column, passes);
      add(column, row, passes);
    }
    const { values, vectors } = modesOf(matrix);
    this.#rates = values;
    vectors.forEach((line, place) => {
      line.forEach((part, mode) => {
        this.#vectors[mode * rooms.length + place] = part;
      });
    });
  }
}

/** Rooms by their numbers. What was found for the same capacities, losses and passages is used again. */
export class Exchange {
  readonly #rooms: number;
  #groups: readonly Group[] = [];
  /** Which passages were open when the groups were found. */
  readonly #open: boolean[] = [];
  #begun = false;

  constructor(rooms: number) {
    this.#rooms = rooms;
  }

  /** Puts the values after so many seconds in the place of those before. */
  advance(values: Float64Array, stores: Stores, passages: readonly Passage[], seconds: number): void {
    if (this.#areOtherwise(passages)) this.#groups = groupsOf(this.#rooms, passages).map((group) => new Group(group, passages));
    for (const group of this.#groups) group.advance(values, stores, passages, seconds);
  }

  /** Whether other passages are open than when it was asked last. */
  #areOtherwise(passages: readonly Passage[]): boolean {
    let otherwise = !this.#begun;
    this.#begun = true;
    for (let place = 0; place < passages.length; place++) {
      const open = (passages[place] as Passage).passes > 0;
      if (open !== this.#open[place]) otherwise = true;
      this.#open[place] = open;
    }
    return otherwise;
  }
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
    let [beside, most] = [0, 0];
    for (let p = 0; p < size; p++) {
      most = Math.max(most, Math.abs(at(p, p)));
      for (let q = p + 1; q < size; q++) beside = Math.max(beside, Math.abs(at(p, q)));
    }
    if (beside <= 1e-18 * most) break;
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
