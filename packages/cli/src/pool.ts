// Work spread over the cores of the machine.
import { setMaxListeners } from "node:events";
import { availableParallelism } from "node:os";
import { fileURLToPath } from "node:url";
import { Piscina } from "piscina";
import type { Task, WorkerHouse } from "./worker.js";

/** Runs tasks beside each other; results come in the order of the tasks, `onDone` as each is done. */
export async function inParallel<Result>(
  workerData: WorkerHouse,
  tasks: readonly Task[],
  onDone: (result: Result, place: number) => void,
  signal?: AbortSignal,
): Promise<void> {
  const pool = new Piscina({
    filename: fileURLToPath(new URL("./worker.js", import.meta.url)),
    maxThreads: Math.max(1, Math.min(availableParallelism(), tasks.length)),
    workerData,
  });
  // Each task listens.
  if (signal) setMaxListeners(0, signal);
  try {
    await Promise.all(
      tasks.map(async (task, place) => {
        try {
          onDone((await pool.run(task, signal ? { signal } : {})) as Result, place);
        } catch (error) {
          if (!signal?.aborted) throw error;
        }
      }),
    );
  } finally {
    await pool.destroy();
  }
}
