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

/** Several rooms that exchange something, with the eigenvalues and eigenvectors of what they were last found for. */
class Group {
  readonly rooms: readonly number[];
  /** The passages between them, by their places. */
  readonly #within: readonly number[];
  /** Capacities and losses of its rooms, then what passes. */
  readonly #of: Float64Array;
  readonly #roots: Float64Array;
  /** 1/√C of each. */
  readonly #parts: Float64Array;
  /** What each mode has come to. */
  readonly #ends: Float64Array;
  readonly #begin: Float64Array;
  readonly #drive: Float64Array;
  readonly #rates: Float64Array;
  readonly #matrix: Float64Array;
  readonly #known: Map<string, { readonly rates: Float64Array; readonly vectors: Float64Array }> | undefined;
  /** For steps of so many seconds: e^(λt) and (e^(λt) - 1)/λ of each rate. */
  #seconds = Number.NaN;
  readonly #left: Float64Array;
  readonly #come: Float64Array;
  /** One vector after the other, in the order of the rates. */
  readonly #vectors: Float64Array;

  /** `recurs` is whether it may come to be as it was before: with capacities that move with a temperature it never does. */
  constructor(rooms: readonly number[], passages: readonly Passage[], recurs: boolean) {
    this.rooms = rooms;
    this.#known = recurs ? new Map() : undefined;
    this.#within = passages.flatMap(({ one, passes }, place) => (passes > 0 && rooms.includes(one) ? [place] : []));
    this.#of = new Float64Array(2 * rooms.length + this.#within.length).fill(Number.NaN);
    this.#roots = new Float64Array(rooms.length);
    this.#parts = new Float64Array(rooms.length);
    this.#ends = new Float64Array(rooms.length);
    this.#vectors = new Float64Array(rooms.length ** 2);
    this.#matrix = new Float64Array(rooms.length ** 2);
    this.#rates = new Float64Array(rooms.length);
    this.#left = new Float64Array(rooms.length);
    this.#come = new Float64Array(rooms.length);
    this.#begin = new Float64Array(rooms.length);
    this.#drive = new Float64Array(rooms.length);
  }

  /** Puts the values after so many seconds in the place of those before. */
  advance(values: Float64Array, stores: Stores, passages: readonly Passage[], seconds: number): void {
    this.#refresh(stores, passages, seconds);
    const { gain, loss, outside } = stores;
    // Read once: in the loops each would be looked up at every turn.
    const rooms = this.rooms;
    const vectors = this.#vectors;
    const roots = this.#roots;
    const parts = this.#parts;
    const begin = this.#begin;
    const drive = this.#drive;
    const left = this.#left;
    const come = this.#come;
    const ends = this.#ends;
    const count = rooms.length;
    for (let place = 0; place < count; place++) {
      const room = rooms[place] as number;
      begin[place] = (roots[place] as number) * (values[room] as number);
      drive[place] = ((gain[room] as number) + (loss[room] as number) * (outside[room] as number)) * (parts[place] as number);
    }
    for (let mode = 0; mode < count; mode++) {
      let from = 0;
      let by = 0;
      for (let place = 0; place < count; place++) {
        const part = vectors[mode * count + place] as number;
        from += part * (begin[place] as number);
        by += part * (drive[place] as number);
      }
      ends[mode] = from * (left[mode] as number) + by * (come[mode] as number);
    }
    for (let place = 0; place < count; place++) {
      let sum = 0;
      for (let mode = 0; mode < count; mode++) sum += (vectors[mode * count + place] as number) * (ends[mode] as number);
      values[rooms[place] as number] = sum * (parts[place] as number);
    }
  }

  /** Finds eigenvalues again where a capacity, a loss or a passage has changed. */
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
      const grows = Math.expm1(rate * seconds);
      this.#left[mode] = 1 + grows;
      this.#come[mode] = rate === 0 ? seconds : grows / rate;
    }
  }

  /** Whether a figure is another than before. */
  #note(place: number, figure: number): boolean {
    if (this.#of[place] === figure) return false;
    this.#of[place] = figure;
    return true;
  }

  /** What was found for the same figures is used again: doors open and close. */
  #solve(capacity: Float64Array, loss: Float64Array, passages: readonly Passage[]): void {
    const count = this.rooms.length;
    if (count === 2) {
      this.#solvePair(capacity, loss, passages);
      return;
    }
    for (let place = 0; place < count; place++) this.#root(place, capacity[this.rooms[place] as number] as number);
    const key = this.#known ? this.#of.join(" ") : "";
    const known = this.#known?.get(key);
    if (known) {
      this.#rates.set(known.rates);
      this.#vectors.set(known.vectors);
      return;
    }
    this.#fill(capacity, loss, passages);
    findModes(this.#matrix, this.#vectors, count);
    for (let mode = 0; mode < count; mode++) this.#rates[mode] = this.#matrix[mode * count + mode] as number;
    if (!this.#known) return;
    if (this.#known.size >= MOST_KNOWN) this.#known.clear();
    this.#known.set(key, { rates: this.#rates.slice(), vectors: this.#vectors.slice() });
  }

  /** Two stores: one rotation, as for `findModes`. */
  #solvePair(capacity: Float64Array, loss: Float64Array, passages: readonly Passage[]): void {
    const one = this.rooms[0] as number;
    const other = this.rooms[1] as number;
    const [c1, c2] = [capacity[one] as number, capacity[other] as number];
    let passes = 0;
    for (let place = 0; place < this.#within.length; place++)
      passes += (passages[this.#within[place] as number] as Passage).passes;
    this.#root(0, c1);
    this.#root(1, c2);
    const a = -((loss[one] as number) + passes) / c1;
    const b = -((loss[other] as number) + passes) / c2;
    const off = passes / Math.sqrt(c1 * c2);
    const ratio = (b - a) / (2 * off);
    const tan = (ratio < 0 ? -1 : 1) / (Math.abs(ratio) + Math.sqrt(ratio * ratio + 1));
    const cos = 1 / Math.sqrt(tan * tan + 1);
    const sin = tan * cos;
    this.#rates[0] = a - tan * off;
    this.#rates[1] = b + tan * off;
    this.#vectors[0] = cos;
    this.#vectors[1] = -sin;
    this.#vectors[2] = sin;
    this.#vectors[3] = cos;
  }

  #root(place: number, capacity: number): void {
    const root = Math.sqrt(capacity);
    this.#roots[place] = root;
    this.#parts[place] = 1 / root;
  }

  /** The symmetric matrix of what its rooms lose and exchange. */
  #fill(capacity: Float64Array, loss: Float64Array, passages: readonly Passage[]): void {
    const matrix = this.#matrix.fill(0);
    const count = this.rooms.length;
    const add = (row: number, column: number, amount: number) => {
      const at = row * count + column;
      matrix[at] = (matrix[at] as number) + amount / ((this.#roots[row] as number) * (this.#roots[column] as number));
    };
    this.rooms.forEach((room, place) => {
      matrix[place * count + place] = -(loss[room] as number) / (capacity[room] as number);
    });
    for (const within of this.#within) {
      const { one, other, passes } = passages[within] as Passage;
      const [row, column] = [this.rooms.indexOf(one), this.rooms.indexOf(other)];
      add(row, row, -passes);
      add(column, column, -passes);
      add(row, column, passes);
      add(column, row, passes);
    }
  }
}

/** So many sets of figures of one group are known. */
const MOST_KNOWN = 64;

/** Which rooms exchange something now, and which stand alone. */
interface Grouping {
  readonly groups: readonly Group[];
  readonly alone: readonly number[];
}

/** Rooms by their numbers. What was found for the same capacities, losses and passages is used again. */
export class Exchange {
  readonly #rooms: number;
  readonly #passages: readonly Passage[];
  readonly #recurs: boolean;
  #grouping: Grouping = { groups: [], alone: [] };
  readonly #known = new Map<string, Grouping>();
  /** Of rooms alone: for which rate and how many seconds 1 - e^(-λt) was found last. */
  readonly #rates: Float64Array;
  readonly #seconds: Float64Array;
  readonly #gone: Float64Array;

  /** `recurs` is whether capacities stand still, so that rooms may come to be as they were before. */
  constructor(rooms: number, passages: readonly Passage[], recurs: boolean) {
    this.#rooms = rooms;
    this.#passages = passages;
    this.#recurs = recurs;
    this.#rates = new Float64Array(rooms).fill(Number.NaN);
    this.#seconds = new Float64Array(rooms).fill(Number.NaN);
    this.#gone = new Float64Array(rooms);
  }

  /** Looks again which passages are open: to be called first, and when one has opened or closed. */
  regroup(): void {
    const open = this.#passages.map(({ passes }) => Number(passes > 0)).join("");
    this.#grouping = this.#known.get(open) ?? this.#group();
    this.#known.set(open, this.#grouping);
  }

  #group(): Grouping {
    const all = groupsOf(this.#rooms, this.#passages);
    return {
      groups: all.filter(({ length }) => length > 1).map((rooms) => new Group(rooms, this.#passages, this.#recurs)),
      alone: all.flatMap((rooms) => (rooms.length === 1 ? rooms : [])),
    };
  }

  /** Puts the values after so many seconds in the place of those before. */
  advance(values: Float64Array, stores: Stores, seconds: number): void {
    const { groups, alone } = this.#grouping;
    for (let place = 0; place < groups.length; place++) (groups[place] as Group).advance(values, stores, this.#passages, seconds);
    for (let place = 0; place < alone.length; place++) this.#advanceAlone(alone[place] as number, values, stores, seconds);
  }

  /** One room by itself: x' = x + (o + g/l - x) (1 - e^(-l t/c)). */
  #advanceAlone(room: number, values: Float64Array, { capacity, loss, outside, gain }: Stores, seconds: number): void {
    const c = capacity[room] as number;
    const l = loss[room] as number;
    const g = gain[room] as number;
    const value = values[room] as number;
    if (l === 0) {
      values[room] = value + (g * seconds) / c;
      return;
    }
    const rate = l / c;
    if (rate !== this.#rates[room] || seconds !== this.#seconds[room]) {
      this.#rates[room] = rate;
      this.#seconds[room] = seconds;
      this.#gone[room] = -Math.expm1(-rate * seconds);
    }
    values[room] = value + ((outside[room] as number) + g / l - value) * (this.#gone[room] as number);
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

/**
 * Eigenvectors of a symmetric matrix by Jacobi's rotations, one after the other; its eigenvalues are then on its diagonal.
 */
function findModes(matrix: Float64Array, vectors: Float64Array, size: number): void {
  vectors.fill(0);
  for (let place = 0; place < size; place++) vectors[place * size + place] = 1;
  for (let sweep = 0; sweep < 60; sweep++) {
    let [beside, most] = [0, 0];
    for (let p = 0; p < size; p++) {
      most = Math.max(most, Math.abs(matrix[p * size + p] as number));
      for (let q = p + 1; q < size; q++) beside = Math.max(beside, Math.abs(matrix[p * size + q] as number));
    }
    if (beside <= 1e-18 * most) break;
    for (let p = 0; p < size; p++) {
      for (let q = p + 1; q < size; q++) {
        const off = matrix[p * size + q] as number;
        if (off === 0) continue;
        const ratio = ((matrix[q * size + q] as number) - (matrix[p * size + p] as number)) / (2 * off);
        const tan = (ratio < 0 ? -1 : 1) / (Math.abs(ratio) + Math.sqrt(ratio * ratio + 1));
        const cos = 1 / Math.sqrt(tan * tan + 1);
        const sin = tan * cos;
        // Columns p and q, then rows p and q; a vector is a row of its own.
        turn(matrix, p, q, size, size, cos, sin);
        turn(matrix, p * size, q * size, 1, size, cos, sin);
        turn(vectors, p * size, q * size, 1, size, cos, sin);
      }
    }
  }
}

/** Turns two lines of numbers into one another: from `p` and `q` on, `step` apart. */
function turn(list: Float64Array, p: number, q: number, step: number, count: number, cos: number, sin: number): void {
  for (let place = 0; place < count; place++) {
    const [first, second] = [p + place * step, q + place * step];
    const [a, b] = [list[first] as number, list[second] as number];
    list[first] = cos * a - sin * b;
    list[second] = sin * a + cos * b;
  }
}
