// The past of a house, asked next to it: the rules do not wait for a month that is put together.
import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { Piscina } from "piscina";
import type { HouseFile } from "../storage/house-file.js";
import { type ArchiveTask, doTask } from "./tasks.js";

/** ms after which a thread that nobody asks ends. */
const IDLE = 30_000;
/** So many wait for it at most. */
const QUEUE = 8;

/** Too many ask at once. */
export class ArchiveBusy extends Error {}

/** Answers from the file of a house. */
export class Archive {
  #pool: Piscina | undefined;

  constructor(readonly file: HouseFile) {}

  /**
   * As JSON or CSV; nothing where nothing is remembered of that time.
   * @throws ArchiveBusy when too many ask at once
   */
  async ask(task: ArchiveTask): Promise<string | undefined> {
    const filename = fileURLToPath(new URL("./archive-worker.js", import.meta.url));
    // From sources that are not built, and of a file that is in memory alone, in this thread.
    if (this.file.path === ":memory:" || !existsSync(filename)) return doTask(this.file, task);
    this.#pool ??= new Piscina({ filename, maxThreads: 1, idleTimeout: IDLE });
    if (this.#pool.queueSize >= QUEUE) throw new ArchiveBusy("too many ask about the past at once");
    return (await this.#pool.run({ path: this.file.path, task })) as string | undefined;
  }

  async end(): Promise<void> {
    await this.#pool?.destroy();
  }
}
