export { type Dimension, type DimensionOf, isUnit, readUnit, spellings, type Unit, units } from "./catalogue.js";
export { greatest, least } from "./extremes.js";
export {
  convert,
  differenceInBase,
  differenceUnit,
  dimensionOf,
  equalNumbers,
  fromBase,
  type Quantity,
  quantity,
  toBase,
} from "./quantity.js";
export { plainMove, stepOf } from "./step.js";
export { writeDuration, writeFigure, writeNumber, writeQuantity, writeReading, writeTimeOfDay } from "./write.js";
