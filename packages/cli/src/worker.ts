// Work that runs beside the main thread: trials, and mutants against all trials.
import { workerData } from "node:worker_threads";
import { type House, mutantsOf, passes, type Trial, trialsAgainst } from "modrik";
import { reportOf, type TrialReport } from "./trial-report.js";

/** What a worker is given once: the house, and in which order a mutant meets its trials. */
export interface WorkerHouse {
  readonly house: House;
  readonly order: readonly string[];
  readonly chart: boolean;
}

export type Task =
  /** Trials by their places in the house. */
  | { readonly kind: "trials"; readonly places: readonly number[] }
  /** One mutant by its place; whether all trials pass all the same. */
  | { readonly kind: "mutant"; readonly place: number };

// Piscina hands over its own data beside what it was given.
const { house, order, chart } = (Array.isArray(workerData) ? workerData[1] : workerData) as WorkerHouse;
let mutants: ReturnType<typeof mutantsOf> | undefined;

export default function work(task: Task): readonly TrialReport[] | boolean {
  if (task.kind === "trials") return task.places.map((place) => reportOf(house, house.trials[place] as Trial, chart));
  mutants ??= mutantsOf(house);
  const mutant = mutants[task.place] as ReturnType<typeof mutantsOf>[number];
  const { house: wrong } = mutant;
  const quickFirst = order.flatMap((name) => wrong.trials.filter((trial) => trial.name === name));
  return trialsAgainst(mutant, quickFirst).every((trial) => passes(wrong, trial));
}
