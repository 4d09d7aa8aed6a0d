export { compile } from "./compile.js";
export { createEngine } from "./engine.js";
export type { Change, Engine, EngineOptions, Message, Notice } from "./interface.js";
export type { AskingSentence, JournalEvent, JournalRecord, Reason, Recording, RunningProblem } from "./journal.js";
export { type Drawable, type DrawableRun, Lines } from "./lines.js";
export {
  Journal,
  lastNotAfter,
  type MessageRecord,
  type NoticeRecord,
  type Past,
  type ProblemRecord,
  type Run,
  type StoredJournal,
  type StoredRecord,
  sinceAt,
  storedRecord,
  valueAt,
} from "./past.js";
export type { PersonAction } from "./person-action.js";
export type { Program } from "./program.js";
export { claimKeyOf, readSnapshot, type Snapshot } from "./snapshot.js";
