export { aimsOf } from "./aims.js";
export { aimsInCommon, type Compared, type ComparedFigure, compare, type FigureName, type Variant } from "./compare.js";
export { type Difference, differences, type OutputDifferences } from "./differences.js";
export { type HeatLoss, type HeatLossOptions, heatLoss } from "./heat-loss.js";
export { type Knob, readKnob, sayKnob, turned } from "./knobs.js";
export { measure, sumsOf } from "./measure.js";
export type {
  Aim,
  CycleMeasure,
  KeptMeasure,
  Lengths,
  MeasureOptions,
  Measures,
  Mover,
  OutputMeasure,
  PeakPower,
  Spread,
} from "./measures.js";
export { shareOf } from "./output-gauge.js";
export { labelOfCompared, sayCompared, sayEnergy, sayLength, sayRounded, sayShare } from "./say.js";
export { type SignalFigures, signalFigures } from "./signals.js";
export { type MeasuredSimulation, measureSimulation } from "./simulation.js";
export {
  type ClockDifference,
  type SuggestedPair,
  type Threshold,
  type ThresholdOptions,
  type Thresholds,
  thresholds,
} from "./thresholds.js";
export {
  planTuning,
  settleTuning,
  type TriedSetting,
  type TuneOptions,
  type Tuning,
  type TuningPlan,
  trySetting,
  tune,
} from "./tune.js";
