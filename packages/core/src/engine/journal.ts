// What happened and because of what, as an engine writes it down. Each record has an id, its instant and the ids of the
// records it came of, so that *why* is a walk along causes. Expressions stand in it by their keys, which are equal for
// equal expressions in every version of a house: a journal outlives the program that wrote it.
import type { House, Value } from "../house/index.js";

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
  /** An expression took a new value: its key by number, see {@link Recording.keyOf}; in the base unit, NaN when unknown. */
  | { readonly kind: "node"; readonly key: number; readonly value: number }
  | { readonly kind: "trigger"; readonly rule: string; readonly sentence: number }
  /** `asks`: the outputs it asks for something. */
  | {
      readonly kind: "step";
      readonly rule: string;
      readonly sentence: number;
      readonly step: number;
      readonly asks?: readonly string[];
    }
  /** A rule is paused, until an instant or permanently, or goes on. */
  | { readonly kind: "paused"; readonly rule: string; readonly until?: number }
  | { readonly kind: "resumed"; readonly rule: string }
  | { readonly kind: "decided"; readonly output: string; readonly value: Value | undefined; readonly reason: Reason }
  | { readonly kind: "sent"; readonly output: string; readonly value: Value | undefined }
  | { readonly kind: "notice"; readonly text: string; readonly through?: string }
  | { readonly kind: "message"; readonly text: string; readonly to: string }
  /** What a person did, in the language's own words. */
  | { readonly kind: "person"; readonly text: string }
  | { readonly kind: "problem"; readonly code: RunningProblem; readonly text: string };

/** Problems seen while running. */
export type RunningProblem =
  | "refused"
  | "late"
  | "missed"
  | "dose"
  | "ring"
  | "not-permitted"
  | "no-sun"
  | "unknown-time"
  | "silent"
  | "disobeys"
  | "crossing-targets";

/** One thing that happened, and the records it came of. */
export interface JournalRecord {
  readonly id: number;
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  readonly event: JournalEvent;
  /** Records this one came of. */
  readonly causes: readonly number[];
}

/** A sentence that may ask an output for something, and the key of what has to be true for it; none: it always asks. */
export interface AskingSentence {
  readonly rule: string;
  readonly sentence: number;
  readonly output: string;
  readonly when: number | undefined;
}

/** What an engine writes its journal into: one in memory, or a host's own over a store. */
export interface Recording {
  /** A house begins to be written down, or goes on in another version. */
  begin(house: House, asking: readonly AskingSentence[]): void;
  /** The number of the key of an expression, in this recording permanently. */
  keyOf(key: string): number;
  /** Writes a record and gives its id; ids count up by one. */
  write(at: number, event: JournalEvent, causes: readonly number[]): number;
  /** A sensor said again what it said last: no record, but it was heard. */
  heard(key: number, at: number): void;
  /** The id of the last record of each key that has one. */
  lastOfKeys(): ReadonlyMap<number, number>;
}
