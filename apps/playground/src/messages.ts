// What the page and its three workers say to one another. All of it is plain data.
import type { Chart, ThemeName } from "@modrik/charts";
import type {
  CoveragePoint,
  Dial,
  Explanation,
  Mode,
  NumberLine,
  Preset,
  Problem,
  SignalFigures,
  Thresholds,
  Value,
  Weather,
  Zone,
} from "modrik";
import type { Completions, Description, Hint, SourceToken } from "modrik/language";

/** The texts of a house, and of calendars and recordings along with it, by name. */
export type Files = Readonly<Record<string, string>>;

/** What is written and chosen: the latest wins. */
export interface Setup {
  readonly files: Files;
  readonly weather?: string | undefined;
  readonly set: Readonly<Record<string, Value>>;
  /** A local date; left out: the house's own example. */
  readonly from?: string | undefined;
  readonly days: number;
  /** Lines of a timeline that are let happen. */
  readonly acts: string;
}

/** What is run: simulated days, a trial, or a recording with its columns given to things of the house. */
export type Subject =
  | { readonly kind: "days" }
  | { readonly kind: "trial"; readonly name: string }
  | { readonly kind: "recording"; readonly columns: Readonly<Record<string, string>> };

export interface Look {
  readonly theme: ThemeName;
  readonly width: number;
  readonly height: number;
  /** What is drawn and explained. */
  readonly zone: string | undefined;
}

/** A part of a text, to go to. */
export interface Place {
  readonly file: string;
  readonly from: number;
  readonly line: number;
}

export interface Link {
  readonly label: string;
  readonly place: Place;
}

// ── With the worker that reads ──────────────────────────────────────────────────────────────────────────────────────────

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

/** A thing that can be acted upon. */
export interface ThingInfo {
  readonly name: string;
  readonly title: string;
  readonly role: "sensor" | "output";
  readonly unit?: string;
  readonly words?: readonly string[];
  readonly press?: true;
}

/** What is known of the house after reading it. */
export interface Reading {
  readonly name: string;
  readonly problems: readonly Remark[];
  readonly sound: boolean;
  readonly dials: readonly Dial[];
  readonly modes: readonly Mode[];
  readonly presets: readonly (Pick<Preset, "name" | "title"> & { readonly sets: Readonly<Record<string, Value>> })[];
  readonly weathers: readonly Weather[];
  readonly zones: readonly Zone[];
  readonly things: readonly ThingInfo[];
  /** Of a house without errors. */
  readonly hints: readonly Hint[] | undefined;
}

/** A file by its tokens, as it was at one moment. */
export interface Colours {
  readonly file: string;
  readonly length: number;
  readonly tokens: readonly SourceToken[];
}

export type ToReader =
  | { readonly kind: "write"; readonly id: number; readonly setup: Setup; readonly file: string }
  | { readonly kind: "ask"; readonly id: number; readonly question: Question };

export type FromReader =
  | { readonly kind: "coloured"; readonly colours: Colours }
  | { readonly kind: "read"; readonly id: number; readonly reading: Reading }
  | { readonly kind: "answer"; readonly id: number; readonly answer: Answer };

// ── With the worker that runs ───────────────────────────────────────────────────────────────────────────────────────────

/** What was run. */
export interface Ran {
  readonly id: number;
  readonly subject: Subject;
  /** In words: when, and under which weather. */
  readonly about: string;
  /** What else should be known of it: what nothing moves, what broke it. */
  readonly notes: readonly string[];
  /** What happens in it, as it is written. */
  readonly happened: readonly { readonly at: number; readonly says: string }[];
  /** ms since 1970, on the house's own clock as if it were UTC: its axis. */
  readonly from: number;
  readonly to: number;
  /** What is wrong with the lines that are let happen, by line. */
  readonly problems: readonly { readonly line: number; readonly says: string }[];
  /** The zone a trial is mostly about. */
  readonly zone?: string | undefined;
  /** Of a recording: where the rules would have done something else. */
  readonly differences?: readonly { readonly output: string; readonly says: string }[];
}

/** What one thing was, and why. */
export interface Said {
  readonly thing: string;
  readonly kind: "why" | "why not";
  readonly explanation: Explanation;
  readonly links: readonly Link[];
}

/** A recording as it was read. */
export interface RecordingInfo {
  readonly name: string;
  readonly form: string;
  readonly notes: readonly string[];
  readonly columns: readonly { readonly name: string; readonly unit: string; readonly count: number; readonly first: string }[];
  readonly figures: readonly SignalFigures[];
}

/** How often a signal was how much. */
export interface Distribution {
  readonly thresholds: Thresholds;
  readonly bins: readonly { readonly from: number; readonly to: number; readonly share: number }[];
}

/** Figures of two runs, side by side; only those that differ. */
export interface Comparison {
  readonly chart: Chart;
  readonly names: readonly string[];
  readonly rows: readonly { readonly label: string; readonly values: readonly string[]; readonly best: readonly number[] }[];
  readonly same: number;
}

export type ToRunner =
  | { readonly kind: "run"; readonly id: number; readonly setup: Setup; readonly subject: Subject }
  | { readonly kind: "draw"; readonly look: Look }
  /** `share` of what is shown, from 0 to 1; of one thing, or of all outputs of the zone. */
  | { readonly kind: "explain"; readonly share: number; readonly thing?: string | undefined }
  | { readonly kind: "next"; readonly share: number; readonly thing: string }
  /** Another variant to lay over it; without one, none. */
  | { readonly kind: "beside"; readonly setup: Setup | undefined; readonly name: string }
  | { readonly kind: "propose" }
  | { readonly kind: "open recording"; readonly name: string; readonly text: string; readonly modified: number }
  | { readonly kind: "distribute"; readonly name: string; readonly side: "below" | "above" | undefined };

export type FromRunner =
  /** How far a long run is, from 0 to 1. */
  | { readonly kind: "progress"; readonly id: number; readonly share: number }
  | { readonly kind: "ran"; readonly ran: Ran }
  | { readonly kind: "drawn"; readonly chart: Chart }
  | {
      readonly kind: "explained";
      readonly when: string;
      readonly share: number;
      readonly thing: string | undefined;
      readonly said: readonly Said[];
    }
  | { readonly kind: "next"; readonly thing: string; readonly share: number; readonly says: Explanation }
  | { readonly kind: "compared"; readonly comparison: Comparison | undefined; readonly broken?: string }
  /** The beginning of a trial, and what could be expected of it. */
  | { readonly kind: "proposed"; readonly head: string; readonly offers: readonly string[]; readonly broken?: string }
  | { readonly kind: "recording"; readonly recording: RecordingInfo | undefined; readonly broken?: string }
  | { readonly kind: "distributed"; readonly distribution: Distribution | undefined; readonly broken?: string };

// ── With the worker that judges ─────────────────────────────────────────────────────────────────────────────────────────

export interface VerdictLine {
  readonly says: string;
  readonly passed: boolean;
  /** ms of the day, on the house's own clock: where it is on an axis. */
  readonly from: number;
  readonly to: number;
  readonly margin?: string;
}

export interface TrialLine {
  readonly name: string;
  readonly title: string;
  readonly passed: boolean;
  /** Why it could not be played to its end. */
  readonly broken?: string;
  /** ms of the day of its beginning, and how long it lasts. */
  readonly from: number;
  readonly lasts: number;
  readonly verdicts: readonly VerdictLine[];
  /** The narrowest of its margins. */
  readonly margin?: string;
  readonly place: Place | undefined;
}

/** Something to try, and what came of it. */
export interface TuningResult {
  readonly says: string;
  readonly rows: readonly {
    readonly value: Value;
    readonly cells: readonly string[];
    readonly isToday: boolean;
    readonly isBest: boolean;
    readonly isFront: boolean;
  }[];
  readonly head: readonly string[];
  readonly chart: Chart;
}

export interface UntestedPoint extends Pick<CoveragePoint, "kind" | "says" | "suggestion"> {
  readonly link: Link | undefined;
}

export type ToJudge =
  | { readonly kind: "judge"; readonly id: number; readonly setup: Setup }
  | { readonly kind: "cover"; readonly id: number }
  | { readonly kind: "tune"; readonly id: number; readonly knob: string; readonly days: number; readonly look: Look }
  | { readonly kind: "stop tuning" }
  /** Of a house that is not the one on the desk. */
  | { readonly kind: "prove"; readonly id: number; readonly files: Files };

export type FromJudge =
  | { readonly kind: "judged"; readonly id: number; readonly trials: readonly TrialLine[] }
  | { readonly kind: "checked"; readonly id: number; readonly findings: readonly Remark[]; readonly lines: readonly NumberLine[] }
  | {
      readonly kind: "covered";
      readonly id: number;
      readonly share: number;
      readonly tested?: number;
      readonly untested?: readonly UntestedPoint[];
    }
  | {
      readonly kind: "tuned";
      readonly id: number;
      readonly share: number;
      readonly result?: TuningResult;
      readonly broken?: string;
    }
  | { readonly kind: "proven"; readonly id: number; readonly trials: readonly TrialLine[]; readonly problems: readonly string[] };
