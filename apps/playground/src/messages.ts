// What the page and its two workers say to one another. All of it is plain data.
import type { ChartDescription, ThemeName } from "@modrik/charts";
import type { Dial, Explanation, Mode, Problem, Value, Weather, Zone } from "modrik";
import type { Completions, Description, Hint, SourceToken } from "modrik/language";

/** What is written and chosen: the latest wins. */
export interface Setup {
  readonly files: Readonly<Record<string, string>>;
  readonly weather?: string;
  readonly set: Readonly<Record<string, Value>>;
}

export interface Look {
  readonly theme: ThemeName;
  readonly width: number;
  readonly height: number;
  /** What is drawn and explained. */
  readonly zone: string | undefined;
}

/** What a writer asks at a place of a file, as its text is now. */
export interface Question {
  readonly kind: "complete" | "describe";
  readonly file: string;
  readonly text: string;
  readonly at: number;
}

export type Answer = Completions | Description | undefined;

/** Something said about a place of a text: found while reading it, or by reasoning about the house. */
export interface Remark extends Pick<Problem, "severity" | "place" | "reason" | "remedy" | "fix"> {
  readonly code: string;
}

/** What is known of the house after reading it. */
export interface Reading {
  readonly problems: readonly Remark[];
  readonly sound: boolean;
  readonly dials: readonly Dial[];
  readonly modes: readonly Mode[];
  readonly weathers: readonly Weather[];
  readonly zones: readonly Zone[];
  /** Of a house without errors. */
  readonly hints: readonly Hint[] | undefined;
}

/** A file by its tokens, as it was at one moment. */
export interface Colours {
  readonly file: string;
  readonly length: number;
  readonly tokens: readonly SourceToken[];
}

export interface TrialLine {
  readonly name: string;
  readonly title: string;
  readonly passed: boolean;
  /** The first expectation that was not met. */
  readonly failed: string;
}

// ── With the worker that reads ──────────────────────────────────────────────────────────────────────────────────────────

export type ToReader =
  | { readonly kind: "write"; readonly id: number; readonly setup: Setup; readonly file: string }
  | { readonly kind: "ask"; readonly id: number; readonly question: Question };

export type FromReader =
  | { readonly kind: "coloured"; readonly colours: Colours }
  | { readonly kind: "read"; readonly id: number; readonly reading: Reading }
  | { readonly kind: "answer"; readonly id: number; readonly answer: Answer };

// ── With the worker that runs ───────────────────────────────────────────────────────────────────────────────────────────

export type ToRunner =
  | { readonly kind: "run"; readonly id: number; readonly setup: Setup }
  | { readonly kind: "draw"; readonly look: Look }
  /** `share` of the day, from 0 to 1. */
  | { readonly kind: "explain"; readonly share: number };

export type FromRunner =
  | {
      readonly kind: "ran";
      readonly id: number;
      readonly about: string;
      readonly trials: readonly TrialLine[];
      readonly ms: number;
    }
  | { readonly kind: "checked"; readonly id: number; readonly findings: readonly Remark[] }
  | { readonly kind: "drawn"; readonly chart: ChartDescription }
  | { readonly kind: "explained"; readonly when: string; readonly outputs: readonly Explanation[] };
