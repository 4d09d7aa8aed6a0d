// Deadlines in order of time: a binary heap of timers, each known by its number, so that one can be moved or taken out.

/** Timers 0 … size-1, each with at most one deadline. Equal instants come in the order of their numbers. */
export class Agenda {
  readonly #at: Float64Array;
  /** Timer numbers, a heap by (instant, number). */
  readonly #heap: Int32Array;
  /** Place of each timer in the heap, -1 when it has no deadline. */
  readonly #place: Int32Array;
  #size = 0;
  /** The next deadline, infinite when there is none. Kept, as it is asked for on every event. */
  next = Number.POSITIVE_INFINITY;

  constructor(size: number) {
    this.#at = new Float64Array(size).fill(Number.POSITIVE_INFINITY);
    this.#heap = new Int32Array(size);
    this.#place = new Int32Array(size).fill(-1);
  }

  /** When a timer is due, infinite when it is not set. */
  due(timer: number): number {
    return this.#at[timer] as number;
  }

  /** The timer that is due next, -1 when there is none. */
  get first(): number {
    return this.#size === 0 ? -1 : (this.#heap[0] as number);
  }

  /** @throws RangeError when `at` is not a number: whoever asks for a time has to know it */
  set(timer: number, at: number): void {
    if (at === Number.POSITIVE_INFINITY) return this.clear(timer);
    if (Number.isNaN(at)) throw new RangeError(`timer ${timer} cannot be due at an unknown time`);
    const before = this.#at[timer] as number;
    this.#at[timer] = at;
    if (this.#place[timer] === -1) {
      this.#heap[this.#size] = timer;
      this.#place[timer] = this.#size;
      this.#up(this.#size++);
    } else if (at < before) this.#up(this.#place[timer] as number);
    else this.#down(this.#place[timer] as number);
    this.next = this.#at[this.#heap[0] as number] as number;
  }

  clear(timer: number): void {
    const place = this.#place[timer] as number;
    if (place === -1) return;
    this.#at[timer] = Number.POSITIVE_INFINITY;
    this.#place[timer] = -1;
    const last = this.#heap[--this.#size] as number;
    if (last !== timer) {
      this.#heap[place] = last;
      this.#place[last] = place;
      this.#up(place);
      this.#down(this.#place[last] as number);
    }
    this.next = this.#size === 0 ? Number.POSITIVE_INFINITY : (this.#at[this.#heap[0] as number] as number);
  }

  /** Takes the first timer that is due at or before an instant, or -1. */
  take(instant: number): number {
    if (this.next > instant) return -1;
    const timer = this.#heap[0] as number;
    this.clear(timer);
    return timer;
  }

  #before(a: number, b: number): boolean {
    const at = this.#at[a] as number;
    const other = this.#at[b] as number;
    return at < other || (at === other && a < b);
  }

  #up(from: number): void {
    const heap = this.#heap;
    const timer = heap[from] as number;
    let place = from;
    while (place > 0) {
      const parent = (place - 1) >> 1;
      const above = heap[parent] as number;
      if (!this.#before(timer, above)) break;
      heap[place] = above;
      this.#place[above] = place;
      place = parent;
    }
    heap[place] = timer;
    this.#place[timer] = place;
  }

  #down(from: number): void {
    const heap = this.#heap;
    const timer = heap[from] as number;
    let place = from;
    for (;;) {
      let child = 2 * place + 1;
      if (child >= this.#size) break;
      if (child + 1 < this.#size && this.#before(heap[child + 1] as number, heap[child] as number)) child++;
      const below = heap[child] as number;
      if (!this.#before(below, timer)) break;
      heap[place] = below;
      this.#place[below] = place;
      place = child;
    }
    heap[place] = timer;
    this.#place[timer] = place;
  }
}
