// A bar for work that takes over a second, when somebody watches.
import type { SingleBar } from "cli-progress";

const PATIENCE_MS = 1000;

export class Progress {
  readonly #begun = performance.now();
  readonly #says: string;
  #bar: SingleBar | undefined;
  #loading = false;

  constructor(says: string) {
    this.#says = says;
  }

  /** `share` is from 0 to 1. */
  at(share: number): void {
    if (this.#bar) this.#bar.update(share);
    else if (process.stderr.isTTY && !this.#loading && performance.now() - this.#begun > PATIENCE_MS) void this.#show();
  }

  async #show(): Promise<void> {
    this.#loading = true;
    const { default: bars } = await import("cli-progress");
    this.#bar = new bars.SingleBar(
      { format: `${this.#says} {bar} {percentage} %`, stream: process.stderr, clearOnComplete: true },
      bars.Presets.rect,
    );
    this.#bar.start(1, 0);
  }

  end(): void {
    this.#bar?.stop();
  }
}
