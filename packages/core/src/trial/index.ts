export type { Margin } from "./margin.js";
export { passes, runTrial, runTrials, type TrialResult, type Verdict } from "./run.js";
