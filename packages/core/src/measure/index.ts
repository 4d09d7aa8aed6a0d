export { aimsOf } from "./aims.js";
export { type Difference, differences, type OutputDifferences } from "./differences.js";
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
export { type MeasuredSimulation, measureSimulation } from "./simulation.js";
