// What happened and because of what. Each record has an id, its instant and the ids of the records it came of, so that
// *why* is a walk along causes.
import type { Value } from "../house/index.js";

/** Why an output is as it is: what won, and what kept a stronger wish from winning. */
export interface Reason {
  /** The rule whose claim won; none when the output is at rest. */
  readonly rule?: string;
  /** Which of its sentences, from 0. */
  readonly sentence?: number;
  /** The guard that refused what a stronger claim, or the rest, wanted. */
  readonly guard?: string;
  /** A person switched it by hand. */
  readonly hand?: true;
  /** It rests after a run that lasted its longest. */
  readonly rests?: { readonly until: number };
  /** What protection keeps back, and until when. */
  readonly delayed?: { readonly wanted: Value; readonly until: number };
}

/** What happened. `value` is in the thing's own unit, undefined when unknown. */
export type JournalEvent =
  | { readonly kind: "value"; readonly thing: string; readonly value: Value | undefined }
  /** A node of the house's graph took a new value. */
  | { readonly kind: "node"; readonly node: number; readonly value: number }
  | { readonly kind: "trigger"; readonly rule: string; readonly sentence: number }
  | { readonly kind: "step"; readonly rule: string; readonly sentence: number; readonly step: number }
  | { readonly kind: "decided"; readonly output: string; readonly value: Value | undefined; readonly reason: Reason }
  | { readonly kind: "sent"; readonly output: string; readonly value: Value | undefined }
  | { readonly kind: "notice"; readonly text: string; readonly through?: string }
  | { readonly kind: "message"; readonly text: string; readonly to: string }
  /** What a person did, in the language's own words. */
  | { readonly kind: "person"; readonly text: string }
  | { readonly kind: "problem"; readonly code: RunningProblem; readonly text: string };

/** Problems seen while running. */
export type RunningProblem = "refused" | "late" | "missed" | "dose" | "ring" | "not-permitted" | "no-sun" | "unknown-time";

/** One thing that happened, and the records it came of. */
export interface JournalRecord {
  readonly id: number;
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  readonly event: JournalEvent;
  /** Records this one came of. */
  readonly causes: readonly number[];
}

/** Records in the order in which they came, ids from 0. */
export class Journal {
  readonly records: JournalRecord[] = [];

  /** Adds a record and gives its id. */
  add(at: number, event: JournalEvent, causes: readonly number[]): number {
    const id = this.records.length;
    this.records.push({ id, at, event, causes });
    return id;
  }
}
