export { aimsOf } from "./aims.js";
export { type Difference, differences, type OutputDifferences } from "./differences.js";
export { type HeatLoss, type HeatLossOptions, heatLoss } from "./heat-loss.js";
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
