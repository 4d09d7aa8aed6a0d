// Work spread over the cores of the machine.
import { setMaxListeners } from "node:events";
import { existsSync } from "node:fs";
import { availableParallelism } from "node:os";
import { setImmediate, setTimeout } from "node:timers/promises";
import { fileURLToPath } from "node:url";
import { Piscina } from "piscina";
import { type Task, type WorkerHouse, worker } from "./tasks.js";

/**
 * Runs tasks in parallel, `onDone` as each is done; on one core, or from sources that are not built, one after another.
 * Once the signal says so, no more begin, and those under way are given up.
 */
export async function inParallel<Result>(
  workerData: WorkerHouse,
  tasks: readonly Task[],
  onDone: (result: Result, place: number) => void,
  signal?: AbortSignal,
): Promise<void> {
  const filename = fileURLToPath(new URL("./worker.js", import.meta.url));
  const maxThreads = Math.max(1, Math.min(availableParallelism(), tasks.length));
  if (maxThreads === 1 || !existsSync(filename)) return await oneByOne(workerData, tasks, onDone, signal);
  const pool = new Piscina({ filename, maxThreads, workerData });
  // Each task listens.
  if (signal) setMaxListeners(0, signal);
  const givenUp = new Promise<void>((told) => signal?.addEventListener("abort", () => told(), { once: true }));
  try {
    const all = Promise.all(
      tasks.map(async (task, place) => {
        try {
          onDone((await pool.run(task, signal ? { signal } : {})) as Result, place);
        } catch (error) {
          if (!signal?.aborted) throw error;
        }
      }),
    );
    await Promise.race([all, givenUp]);
  } finally {
    // A thread that is given up may end without saying so, and nothing would keep the process until its last line is written.
    const ended = new AbortController();
    const grace = setTimeout(GRACE_MS, undefined, { signal: ended.signal }).catch(() => {});
    await Promise.race([pool.destroy(), grace]);
    ended.abort();
  }
}

/** How long threads have to end. */
const GRACE_MS = 2000;

async function oneByOne<Result>(
  workerData: WorkerHouse,
  tasks: readonly Task[],
  onDone: (result: Result, place: number) => void,
  signal?: AbortSignal,
): Promise<void> {
  const work = worker(workerData);
  for (const [place, task] of tasks.entries()) {
    if (signal?.aborted) return;
    onDone(work(task) as Result, place);
    // Whoever wants it to stop is heard in between.
    await setImmediate();
  }
}
