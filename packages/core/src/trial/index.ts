export { runTrial, runTrials, type TrialResult, type Verdict } from "./run.js";
