export { measure } from "./measure.js";
export type { KeptMeasure, Lengths, Measures, OutputMeasure } from "./measures.js";
export { type MeasuredSimulation, measureSimulation } from "./simulation.js";
