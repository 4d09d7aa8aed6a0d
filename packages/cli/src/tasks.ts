// Work that can be shared out: trials, mutants against all trials, settings of a tuning.
import {
  type House,
  mutantsOf,
  passes,
  type Trial,
  type TriedSetting,
  type TuneOptions,
  type TuningPlan,
  trialsAgainst,
  trySetting,
} from "modrik";
import { reportOf, type TrialReport } from "./trial-report.js";

/** What a worker is given once: the house, in which order a mutant meets its trials, what is tuned. */
export interface WorkerHouse {
  readonly house: House;
  readonly order?: readonly string[];
  readonly chart?: boolean;
  readonly tuning?: { readonly plan: TuningPlan; readonly options: TuneOptions };
}

export type Task =
  /** Trials by their places in the house. */
  | { readonly kind: "trials"; readonly places: readonly number[] }
  /** One mutant by its place; whether all trials pass all the same. */
  | { readonly kind: "mutant"; readonly place: number }
  /** One setting of the plan by its place. */
  | { readonly kind: "setting"; readonly place: number };

/** Does one task after another of a house. */
export function worker({ house, order = [], chart = false, tuning }: WorkerHouse) {
  let mutants: ReturnType<typeof mutantsOf> | undefined;

  return (task: Task): readonly TrialReport[] | boolean | TriedSetting => {
    switch (task.kind) {
      case "trials":
        return task.places.map((place) => reportOf(house, house.trials[place] as Trial, chart));
      case "mutant":
        return survives(task.place);
      case "setting":
        if (!tuning) throw new RangeError("nothing is tuned");
        return trySetting(house, tuning.plan, task.place, tuning.options);
      default:
        throw new RangeError(`no such task: ${JSON.stringify(task satisfies never)}`);
    }
  };

  function survives(place: number): boolean {
    mutants ??= mutantsOf(house);
    const mutant = mutants[place] as ReturnType<typeof mutantsOf>[number];
    const { house: wrong } = mutant;
    const quickFirst = order.flatMap((name) => wrong.trials.filter((trial) => trial.name === name));
    return trialsAgainst(mutant, quickFirst).every((trial) => passes(wrong, trial));
  }
}
