export type { Deed } from "./deed.js";
export { createEngine } from "./engine.js";
export { History, lastNotAfter, type Run, type Series } from "./history.js";
export type { Change, Engine, EngineOptions, Message, Notice } from "./interface.js";
export { Journal, type JournalEvent, type JournalRecord, type Reason, type RunningProblem } from "./journal.js";
export { baseOf, type ClaimProgram, type OutputProgram, ownOf, type Program, restOf } from "./program.js";
export { readSnapshot, type Snapshot } from "./snapshot.js";
