// A bar for work that takes over a second, when somebody watches. It draws itself, at once and in the middle of work that
// never yields, and is gone when the work ends, however it ends.

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
export function whileShown<Result>(says: string, work: (progress: Progress) => Result): Result {
  const bar = new Bar(says);
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
  #drawnAt = Number.NEGATIVE_INFINITY;
  #isShown = false;

  constructor(says: string) {
    this.#says = says;
  }

  at(share: number): void {
    if (!process.stderr.isTTY) return;
    const now = performance.now();
    if (now - this.#begun < PATIENCE_MS || now - this.#drawnAt < REDRAW_MS) return;
    this.#drawnAt = now;
    this.#isShown = true;
    const full = Math.round(WIDTH * Math.min(1, Math.max(0, share)));
    const bar = "█".repeat(full) + "░".repeat(WIDTH - full);
    process.stderr.write(`${CLEAR}${this.#says} ${bar} ${Math.round(100 * share)} %`);
  }

  hide(): void {
    if (!this.#isShown) return;
    this.#isShown = false;
    this.#drawnAt = Number.NEGATIVE_INFINITY;
    process.stderr.write(CLEAR);
  }
}
