export { type KeptMeasure, type Lengths, type Measures, measure, type OutputMeasure } from "./measure.js";
