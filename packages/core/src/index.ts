// The public API of Modrik.

// Instants are milliseconds since 1970 UTC; values are in the thing's own unit, or one of its words.

// ── Running it ────────────────────────────────────────────────────────────────────────────────────────────────────────
export {
  type Change,
  createEngine,
  type Deed,
  type Engine,
  type EngineOptions,
  type Event,
  History,
  Journal,
  type JournalRecord,
  type Message,
  type Notice,
  type Program,
  type Reason,
  type Run,
  type RunningProblem,
  readSnapshot,
  type Series,
  type Snapshot,
} from "./engine/index.js";
// ── A house ───────────────────────────────────────────────────────────────────────────────────────────────────────────
export type * from "./house/index.js";
export { calibrate, isIn, thingsIn, titleOf, writeExpression, writePermit, writeSentence } from "./house/index.js";
export {
  type CalendarEvent,
  type Completion,
  type Completions,
  complete,
  type EventMoment,
  type Formatted,
  formatHouse,
  isSound,
  type Mended,
  type MendedLine,
  mendHouse,
  type NameUse,
  nearest,
  type ParsedHouse,
  type ParseOptions,
  type Place,
  type Problem,
  type ProblemCode,
  parseHouse,
  problemCodes,
  type Renamed,
  renameThing,
} from "./language/index.js";
// ── Judging and explaining a run ──────────────────────────────────────────────────────────────────────────────────────
export { type KeptMeasure, type Lengths, type Measures, measure, type OutputMeasure } from "./measure/index.js";
export {
  createPhysics,
  exampleDay,
  type Physics,
  type PhysicsOptions,
  type Simulation,
  type SimulationOptions,
  simulate,
} from "./physics/index.js";
// ── Quantities and time ───────────────────────────────────────────────────────────────────────────────────────────────
export { type Clock, clockOf, DAY, dayOfDate, HOUR, MINUTE, SECOND } from "./time/index.js";
export { runTrial, runTrials, type TrialResult, type Verdict } from "./trial/index.js";
export {
  convert,
  fromBase,
  type Quantity,
  quantity,
  toBase,
  type Unit,
  writeDuration,
  writeQuantity,
  writeReading,
} from "./units/index.js";
export {
  type Description,
  describe,
  type Explanation,
  type Hint,
  hints,
  readingOf,
  sayDate,
  sayInstant,
  sayValue,
  type TellOptions,
  tellHouse,
  why,
} from "./why/index.js";
