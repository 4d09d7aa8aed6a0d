// Outputs that say what they do: told again when they do something else, and given up when they will not.
import type { House, Value } from "modrik";

/** An output is told so often, each time after twice as long, and then given up until something changes. */
const FIRST = 10_000;
const TIMES = 5;

interface Pending {
  readonly wanted: Value;
  times: number;
  due: number;
}

/** What has to be done about an output. */
export interface Reminder {
  readonly output: string;
  /** It is not told any more. */
  readonly isGivenUp: boolean;
  readonly times: number;
}

/** Follows the outputs of a house that confirm what they do. Instants are milliseconds since 1970 UTC. */
export class Obedience {
  readonly #first: number;
  readonly #confirms: ReadonlySet<string>;
  readonly #pending = new Map<string, Pending>();
  /** What each one said last that it does. */
  readonly #does = new Map<string, Value>();

  /** @param speed how many times as fast as real the house lives: a device is not faster */
  constructor({ wirings }: House, speed = 1) {
    this.#first = FIRST * speed;
    this.#confirms = new Set(
      wirings.flatMap((one) => (one.kind === "writing" && one.confirmedBy !== undefined ? [one.output] : [])),
    );
  }

  /** When something is next to be done; infinite when nothing is. */
  get next(): number {
    let next = Number.POSITIVE_INFINITY;
    for (const { due } of this.#pending.values()) next = Math.min(next, due);
    return next;
  }

  /** An output was told a value. */
  told(output: string, wanted: Value, at: number): void {
    if (!this.#confirms.has(output) || this.#does.get(output) === wanted) return;
    if (this.#pending.get(output)?.wanted === wanted) return;
    this.#pending.set(output, { wanted, times: 1, due: at + this.#first });
  }

  /** An output said what it does; what it was told stands as long as it does something else. */
  confirmed(output: string, value: Value, wanted: Value | undefined, at: number): void {
    this.#does.set(output, value);
    if (value === wanted) this.#pending.delete(output);
    else if (wanted !== undefined && !this.#pending.has(output))
      this.#pending.set(output, { wanted, times: 1, due: at + this.#first });
  }

  /** What is due by an instant. */
  takeDue(at: number): Reminder[] {
    return [...this.#pending].flatMap(([output, pending]): Reminder[] => {
      if (pending.due > at) return [];
      const isGivenUp = pending.times >= TIMES;
      pending.due = isGivenUp ? Number.POSITIVE_INFINITY : at + this.#first * 2 ** pending.times;
      if (!isGivenUp) pending.times += 1;
      return [{ output, isGivenUp, times: pending.times }];
    });
  }
}
