// What a value was over a window of time that ends now: values with the instant from which each held, and running sums,
// so that a mean is two differences whatever the length of the window.
import type { Op } from "./ops.js";

/**
 * Of something that follows from the value, up to the time of each entry, from the second on: the first may have lasted for
 * ever, which would leave no digits for what came after it.
 */
interface Integral {
  readonly upTo: number[];
  of(value: number): number;
}

export class Window {
  readonly #times: number[] = [];
  readonly #values: number[] = [];
  readonly #value: Integral = { upTo: [], of: (value) => (Number.isNaN(value) ? 0 : value) };
  readonly #known: Integral = { upTo: [], of: (value) => (Number.isNaN(value) ? 0 : 1) };
  #head = 0;

  get isEmpty(): boolean {
    return this.#times.length === this.#head;
  }

  /** The value from an instant on; what is too old for a window of `over` is forgotten. */
  put(at: number, value: number, over: number): void {
    const last = this.#times.length - 1;
    if (last >= this.#head && this.#times[last] === at) {
      this.#values[last] = value;
      return;
    }
    for (const integral of [this.#value, this.#known])
      integral.upTo.push(
        last <= this.#head ? 0 : (integral.upTo[last] as number) + this.#part(integral, last, this.#times[last] as number, at),
      );
    this.#times.push(at);
    this.#values.push(value);
    this.#forget(at - over);
  }

  /** What a part of an entry adds to an integral. */
  #part(integral: Integral, entry: number, from: number, to: number): number {
    return integral.of(this.#values[entry] as number) * (to - from);
  }

  /** The entry that holds at an instant, or -1 before the first. */
  #entryAt(at: number): number {
    let low = this.#head;
    let high = this.#times.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.#times[middle] as number) <= at) low = middle + 1;
      else high = middle;
    }
    return low - 1 < this.#head ? -1 : low - 1;
  }

  #forget(before: number): void {
    let first = this.#entryAt(before);
    // What was last known before a silence decides whether what comes after it is a change.
    while (first > this.#head && Number.isNaN(this.#values[first] as number)) first--;
    if (first > this.#head) this.#head = first;
    if (this.#head < 1024 || this.#head * 2 < this.#times.length) return;
    for (const list of [this.#times, this.#values, this.#value.upTo, this.#known.upTo]) list.splice(0, this.#head);
    this.#head = 0;
  }

  /** An integral over (at - over, at]. */
  #within(integral: Integral, at: number, over: number): number {
    const last = this.#entryAt(at);
    if (last < 0) return 0;
    const begins = Math.max(at - over, this.#times[this.#head] as number);
    const first = this.#entryAt(begins);
    if (first === last) return this.#part(integral, last, begins, at);
    const second = first + 1;
    const middle = (integral.upTo[last] as number) - (integral.upTo[second] as number);
    const before = this.#part(integral, first, begins, this.#times[second] as number);
    return middle + before + this.#part(integral, last, this.#times[last] as number, at);
  }

  #present(at: number): number {
    const entry = this.#entryAt(at);
    return entry < 0 ? Number.NaN : (this.#values[entry] as number);
  }

  /** Whether anything is known of (at - over, at]. */
  isKnown(at: number, over: number): boolean {
    return this.#within(this.#known, at, over) > 0 || !Number.isNaN(this.#present(at));
  }

  /** Integral of the value over (at - over, at]. */
  sum(at: number, over: number): number {
    return this.#within(this.#value, at, over);
  }

  /** Weighted by time; just after the first report, which has no length yet, the value itself. */
  mean(at: number, over: number): number {
    const known = this.#within(this.#known, at, over);
    return known > 0 ? this.sum(at, over) / known : this.#present(at);
  }

  extreme(at: number, over: number, pick: (a: number, b: number) => number): number {
    let found = Number.NaN;
    for (
      let entry = Math.max(this.#head, this.#entryAt(at - over));
      entry < this.#times.length && (this.#times[entry] as number) <= at;
      entry++
    ) {
      const value = this.#values[entry] as number;
      if (!Number.isNaN(value)) found = Number.isNaN(found) ? value : pick(found, value);
    }
    return found;
  }

  /** The present minus the value at the window's beginning, or the earliest known after it. */
  rise(at: number, over: number): number {
    const last = this.#entryAt(at);
    if (last < 0) return Number.NaN;
    for (let entry = Math.max(this.#head, this.#entryAt(at - over)); entry <= last; entry++) {
      const value = this.#values[entry] as number;
      if (!Number.isNaN(value)) return (this.#values[last] as number) - value;
    }
    return Number.NaN;
  }

  /** How often the value became 1 within (at - over, at], from what it was last known to be. */
  rises(at: number, over: number): number {
    let count = 0;
    let before = this.#values[this.#head] as number;
    for (let entry = this.#head + 1; entry < this.#times.length; entry++) {
      const time = this.#times[entry] as number;
      const value = this.#values[entry] as number;
      if (Number.isNaN(value)) continue;
      if (time > at - over && time <= at && value === 1 && before !== 1) count++;
      before = value;
    }
    return count;
  }

  /** The next instant at which an entry passes the beginning of the window; infinite when none will. */
  corner(at: number, over: number): number {
    const begins = at - over;
    for (let entry = Math.max(this.#head, this.#entryAt(begins)); entry < this.#times.length; entry++) {
      const time = this.#times[entry] as number;
      if (time > begins) return time + over;
    }
    return Number.POSITIVE_INFINITY;
  }

  toJSON(): [number, number | null][] {
    return this.#times.slice(this.#head).map((time, index) => {
      const value = this.#values[this.#head + index] as number;
      return [time, Number.isNaN(value) ? null : value];
    });
  }

  restore(entries: readonly (readonly [number, number | null])[]): void {
    for (const [time, value] of entries) this.put(time, value ?? Number.NaN, Number.POSITIVE_INFINITY);
  }
}

/** What a windowed op is over a span that ends at an instant; unknown where too little of it is known. */
export function overWindow(op: Op, window: Window, instant: number, span: number): number {
  if (Number.isNaN(span) || window.isEmpty) return Number.NaN;
  switch (op) {
    case "mean over":
      return window.mean(instant, span);
    case "min over":
      return window.extreme(instant, span, Math.min);
    case "max over":
      return window.extreme(instant, span, Math.max);
    case "rise over":
      return window.rise(instant, span);
    case "time over":
      return window.isKnown(instant, span) ? window.sum(instant, span) : Number.NaN;
    default:
      return window.isKnown(instant, span) ? window.rises(instant, span) : Number.NaN;
  }
}
