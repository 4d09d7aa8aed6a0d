export { trialSpan } from "../house/index.js";
export { type Coverage, type CoveragePoint, coverage } from "./coverage.js";
export { type Hunted, type HuntOptions, hunt } from "./hunt.js";
export type { Margin } from "./margin.js";
export { distinguishes, type Mutant, mutantsOf, trialsAgainst } from "./mutants.js";
export { passes, runTrial, runTrials, type TrialOptions, type TrialResult, type Verdict } from "./run.js";
export { type Found, type Goal, isFound, Search } from "./search.js";
export { Settled, type Situation } from "./settled.js";
export { expressionOf } from "./situation.js";
