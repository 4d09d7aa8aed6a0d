// Times that are asked for while they are not known. What is asked for such a time is not asked, a wait of it ends at
// once, a limit does not limit and a protection does not protect: each is told as a problem, once until it is known.
import type { Recorder } from "./recorder.js";

export class UnknownTimes {
  /** Places in the house where the time was last unknown. */
  readonly #places = new Set<string>();

  constructor(readonly recorder: Recorder) {}

  /** A time in milliseconds; undefined where it is not known, with what comes of that: `it is not set`. */
  of(time: number, place: string, what: string, comesOfIt: string): number | undefined {
    if (!Number.isNaN(time)) {
      if (this.#places.size > 0) this.#places.delete(place);
      return time;
    }
    if (!this.#places.has(place)) this.recorder.problem("unknown-time", `${what} is not known: ${comesOfIt}`);
    this.#places.add(place);
    return undefined;
  }

  get told(): string[] {
    return [...this.#places];
  }

  restore(places: readonly string[]): void {
    for (const place of places) this.#places.add(place);
  }
}
