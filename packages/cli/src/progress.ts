// A bar for work that takes over a second, when somebody watches. It draws itself, at once and in the middle of work that
// never yields, and is gone when the work ends, however it ends.

import type { Io, Sink } from "./io.js";

const PATIENCE_MS = 1000;
const REDRAW_MS = 100;
const WIDTH = 30;
const CLEAR = "\r\u001b[K";

/** How far work has come, as shown to those who watch. */
export interface Progress {
  /** `share` is from 0 to 1. */
  at(share: number): void;
  /** Takes the bar away until the next share, so that something else may be printed. */
  hide(): void;
}

/** Does work that says how far it is; what it throws or rejects with goes on to the caller. */
export function whileShown<Result>({ err }: Io, says: string, work: (progress: Progress) => Result): Result {
  const bar = new Bar(says, err);
  let result: Result;
  try {
    result = work(bar);
  } catch (error) {
    bar.hide();
    throw error;
  }
  if (!(result instanceof Promise)) {
    bar.hide();
    return result;
  }
  return result.finally(() => bar.hide()) as Result;
}

class Bar implements Progress {
  readonly #begun = performance.now();
  readonly #says: string;
  readonly #err: Sink;
  #drawnAt = Number.NEGATIVE_INFINITY;
  #isShown = false;

  constructor(says: string, err: Sink) {
    this.#says = says;
    this.#err = err;
  }

  at(share: number): void {
    if (!this.#err.isTTY) return;
    const now = performance.now();
    if (now - this.#begun < PATIENCE_MS || now - this.#drawnAt < REDRAW_MS) return;
    this.#drawnAt = now;
    this.#isShown = true;
    const full = Math.round(WIDTH * Math.min(1, Math.max(0, share)));
    const bar = "█".repeat(full) + "░".repeat(WIDTH - full);
    this.#err.write(`${CLEAR}${this.#says} ${bar} ${Math.round(100 * share)} %`);
  }

  hide(): void {
    if (!this.#isShown) return;
    this.#isShown = false;
    this.#drawnAt = Number.NEGATIVE_INFINITY;
    this.#err.write(CLEAR);
  }
}
