// Outputs that are told again what they were told, so that a device that missed it, or started again, learns of it.
import type { House } from "../house/index.js";

/** When each output of a house is told again: `again every` of its wiring. Instants are milliseconds since 1970 UTC. */
export class Repeats {
  readonly #every: ReadonlyMap<string, number>;
  readonly #due = new Map<string, number>();

  constructor(house: House) {
    const every = new Map<string, number>();
    for (const wiring of house.wirings) {
      if (wiring.kind !== "writing" || wiring.againEvery === undefined) continue;
      every.set(wiring.output, Math.min(wiring.againEvery, every.get(wiring.output) ?? Number.POSITIVE_INFINITY));
    }
    this.#every = every;
  }

  /** The next instant at which an output is told again; infinite when none is. */
  get next(): number {
    return Math.min(Number.POSITIVE_INFINITY, ...this.#due.values());
  }

  /** An output was told its value. */
  told(output: string, at: number): void {
    const every = this.#every.get(output);
    if (every !== undefined) this.#due.set(output, at + every);
  }

  /** Outputs to be told again by an instant; they count as told then, also where several times have gone by. */
  takeDue(at: number): string[] {
    const due = [...this.#due].filter(([, when]) => when <= at).map(([output]) => output);
    for (const output of due) this.told(output, at);
    return due;
  }
}
