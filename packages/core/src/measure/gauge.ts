// What is measured of one thing, fed with one stretch of time after another: over each, every value it reads stands still
// or goes in a straight line. So a run is measured as it goes, and nothing of it need be kept.
import type { Expression } from "../house/index.js";
import type { Lengths, Spread } from "./measures.js";

export interface Gauge<Measure> {
  /** What it reads, in its order. */
  readonly reads: readonly Expression[];
  /** Whether something it reads moves by itself. */
  readonly moves: boolean;
  /** What it reads, at the beginning of a stretch and, just before what comes after, at its end; in base units. */
  add(from: number, to: number, begins: ArrayLike<number>, ends: ArrayLike<number>): void;
  /** The whole stretch is over; nothing where there was nothing to measure. */
  end(): Measure;
}

/** Sizes one after another: how many, their mean, the smallest and the largest; of all of them or of the latest. */
export class Tally {
  readonly #latest: number[] = [];
  readonly #most: number;
  #count = 0;
  #sum = 0;
  #min = Number.POSITIVE_INFINITY;
  #max = Number.NEGATIVE_INFINITY;

  /** @param most how many of the latest count; all where it is left out */
  constructor(most = Number.POSITIVE_INFINITY) {
    this.#most = most;
  }

  add(size: number): void {
    if (this.#most < Number.POSITIVE_INFINITY) {
      this.#latest.push(size);
      if (this.#latest.length > this.#most) this.#latest.shift();
      return;
    }
    this.#count++;
    this.#sum += size;
    this.#min = Math.min(this.#min, size);
    this.#max = Math.max(this.#max, size);
  }

  get lengths(): Lengths | undefined {
    const latest = this.#latest;
    if (latest.length > 0) {
      const sum = latest.reduce((all, one) => all + one, 0);
      const min = latest.reduce((least, one) => Math.min(least, one));
      return { count: latest.length, mean: sum / latest.length, min, max: latest.reduce((most, one) => Math.max(most, one)) };
    }
    if (this.#count === 0) return undefined;
    return { count: this.#count, mean: this.#sum / this.#count, min: this.#min, max: this.#max };
  }

  /** Of differences, in a unit's own size. */
  spread(factor: number): Spread | undefined {
    const { lengths } = this;
    return lengths && { count: lengths.count, mean: lengths.mean / factor, max: lengths.max / factor };
  }
}
