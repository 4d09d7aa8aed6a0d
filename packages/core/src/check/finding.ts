// What reasoning about a house finds: as data, with what it is about, the reason, the way out, and where it can be shown
// the timeline that shows it.
import type { Trial } from "../house/index.js";
import type { SourcePlace, SpokenOf } from "../language/index.js";

/** Codes of what can be found by reasoning: stable, and the same in every surface. */
export const findingCodes = [
  "gap",
  "overlap",
  "conflict",
  "ordered-word",
  "no-way-back",
  "chatter",
  "already-past",
  "looked-at-once",
  "one-sided-wait",
  "slow-report",
  "no-unknown-case",
  "lasts-for-ever",
  "mirrored-permits",
  "loop",
  "unreachable",
  "always",
  "never-happens",
  "working-against",
  "alternating",
  "short-cycles",
  "wrong-zone",
  "one-source-twice",
  "one-topic-twice",
  "half-set",
  "toggle",
  "rests-on",
  "near-names",
  "unused",
  "shared-order",
  "loose-for",
  "allows-nothing",
  "crossing-targets",
] as const;

/** The code of a problem that reasoning can find. */
export type FindingCode = (typeof findingCodes)[number];

/** What a check says; where it stands and whether it is allowed is added by `checkHouse`. */
export interface Draft {
  readonly code: FindingCode;
  readonly about: SpokenOf;
  /** What is wrong, in one sentence, with numbers. */
  readonly reason: string;
  /** What to do about it. */
  readonly remedy: string;
  /** Other things that have to do with it. */
  readonly related?: readonly { readonly about: SpokenOf; readonly says: string }[];
  /** A timeline that shows it: each of its expectations is met. */
  readonly shows?: Trial;
}

/** A problem found by reasoning. Each is a warning: the house may run. */
export interface Finding extends Omit<Draft, "related" | "about"> {
  /** Left out where it is about a comment. */
  readonly about?: SpokenOf;
  readonly severity: "warning";
  /** Whether a timeline, run by the tool itself, shows it. */
  readonly certain: boolean;
  /** Where it stands; left out where the house's texts are not given. */
  readonly place?: SourcePlace;
  readonly related: readonly { readonly about: SpokenOf; readonly says: string; readonly place?: SourcePlace }[];
  /** The reason somebody gave to allow it there. */
  readonly allowed?: string;
}
