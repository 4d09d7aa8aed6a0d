// A house compiled for the engine: the graph of its expressions, and what each node, timer and output has to do with.

import type { Graph } from "../expression/index.js";
import type { EventSentence, House, Range, Standing, Value, ValueType } from "../house/index.js";
import type { SunEvent, Weekday } from "../time/index.js";
import type { Unit } from "../units/index.js";

/** What a sentence holds: while `when` is true (-1: always) it asks for the value of `value`. */
export interface Held {
  readonly when: number;
  readonly value: number;
}

/** A reason to ask something of an output. */
export interface ClaimProgram {
  readonly index: number;
  readonly output: number;
  /** The rule and its sentence, as the reason of an output that they decide. */
  readonly reason: { readonly rule: string; readonly sentence: number };
  readonly ruleIndex: number;
  readonly standing: Standing;
  /** Left out for a claim that is made by a step. */
  readonly held: Held | undefined;
  /** Ends an asked claim that was made for a time. */
  readonly timer: number;
}

export interface PermitProgram {
  readonly guard: string;
  readonly what: { readonly word: number } | { readonly above: number } | { readonly below: number };
  readonly onlyWhile: number;
}

/** A run of `value` ends after `duration`; `then` stays for `rest`. */
export interface AtMostProgram {
  readonly value: number;
  readonly duration: number;
  readonly then: number;
  readonly rest: number;
}

export interface OutputProgram {
  readonly index: number;
  readonly name: string;
  readonly node: number;
  readonly type: ValueType;
  /** In base units, for numbers. */
  readonly range: readonly [number, number] | undefined;
  /** In the base unit; undefined when it stays as it is. */
  readonly atRest: number | undefined;
  readonly withoutControl: number | undefined;
  /** Least time, by value: a node that holds a duration. */
  readonly atLeast: ReadonlyMap<number, number>;
  readonly atMost: readonly AtMostProgram[];
  readonly permits: readonly PermitProgram[];
  /** Strongest standing first, within one in the order written. */
  readonly claims: readonly ClaimProgram[];
  /** Nodes of the modes that a rule of this output mentions: their change ends a hand claim without an end. */
  readonly modes: readonly number[];
  /** `full` is its value while it does, in the base unit. */
  readonly delivers: { readonly full: number; readonly rate: number; readonly after: number } | undefined;
  /** How much its last dose gave; -1 where it doses nothing. */
  readonly lastAmount: number;
  /** Whether it disobeys; -1 where nobody asks. */
  readonly disobeys: number;
  /** Ends the delay of a protection, or moves a moving value on. */
  readonly timer: number;
  /** Ends a hand claim. */
  readonly handTimer: number;
}

export interface AtProgram {
  readonly sun: SunEvent | undefined;
  /** A node of milliseconds: since midnight, or after the sun's event. */
  readonly time: number;
}

export type TriggerProgram =
  /** A node that becomes 1, or 0 where it does not rise; a cold start may be an edge. */
  | { readonly kind: "edge"; readonly node: number; readonly cold: boolean; readonly rises: boolean; readonly byClock: boolean }
  /** By so much, -1 for at all; where the value moves by itself the timer looks at it when it is so far. */
  | { readonly kind: "changes"; readonly node: number; readonly by: number; readonly timer: number }
  | { readonly kind: "at"; readonly at: AtProgram; readonly days: readonly Weekday[]; readonly timer: number }
  | { readonly kind: "every"; readonly every: number; readonly days: readonly Weekday[]; readonly timer: number }
  | { readonly kind: "the house starts" };

export type UntilProgram =
  | { readonly kind: "state"; readonly node: number }
  | { readonly kind: "edge"; readonly node: number; readonly rises: boolean }
  | { readonly kind: "changes"; readonly node: number; readonly by: number }
  | { readonly kind: "at"; readonly at: AtProgram };

export type TextPart = string | { readonly node: number; readonly type: ValueType };

/** What a step asks of an output, or sets a dial or a mode to; how long, where it says: -1 and undefined where not. */
export type SettingProgram = {
  readonly value: number;
  readonly for: number;
  readonly until: UntilProgram | undefined;
  readonly atMost: number;
} & (
  | { readonly kind: "ask"; readonly claim: number }
  /** `turn`: its place among those of its event. */
  | { readonly kind: "turn"; readonly cell: string; readonly timer: number; readonly turn: number }
);

/** All that a step sets. */
export function settingsIn(step: StepProgram | undefined): readonly SettingProgram[] {
  if (step === undefined) return [];
  if (step.kind === "apply") return step.settings;
  if (step.kind === "toggle" || step.kind === "relative") return [step.of];
  return step.kind === "ask" || step.kind === "turn" ? [step] : [];
}

/** What a step, or what it sets, lasts until. */
export function untilOf(step: StepProgram | undefined): UntilProgram | undefined {
  return step?.kind === "wait until" ? step.until : settingsIn(step)[0]?.until;
}

/** Steps in a row; a branch goes on at `else` where its condition does not hold. */
export type StepProgram =
  | SettingProgram
  | { readonly kind: "toggle"; readonly of: SettingProgram; readonly node: number }
  | {
      readonly kind: "relative";
      readonly of: SettingProgram;
      readonly node: number;
      readonly by: number;
      readonly sign: 1 | -1;
      readonly range: readonly [number, number] | undefined;
    }
  | {
      readonly kind: "ramp";
      readonly claims: readonly number[];
      readonly from: number;
      readonly to: number;
      readonly over: number;
    }
  /** Goes on at `broken` where it is broken off, -1 where its steps end with it. */
  | {
      readonly kind: "dose";
      readonly claim: number;
      readonly output: number;
      readonly amount: number;
      readonly broken: number;
    }
  | { readonly kind: "release"; readonly output: number }
  | { readonly kind: "apply"; readonly settings: readonly SettingProgram[] }
  | { readonly kind: "start"; readonly countdown: number; readonly lasts: number }
  | { readonly kind: "stop"; readonly countdown: number }
  | { readonly kind: "tell"; readonly text: readonly TextPart[]; readonly through: string | undefined; readonly onceIn: number }
  | { readonly kind: "send"; readonly text: readonly TextPart[]; readonly to: readonly TextPart[] }
  | { readonly kind: "wait"; readonly for: number }
  | { readonly kind: "wait until"; readonly until: UntilProgram; readonly atMost: number }
  | { readonly kind: "branch"; readonly condition: number; readonly else: number }
  | { readonly kind: "jump"; readonly to: number };

export type TurnProgram = Extract<SettingProgram, { kind: "turn" }>;

export interface EventProgram {
  readonly index: number;
  readonly rule: string;
  readonly ruleIndex: number;
  readonly sentence: number;
  readonly triggers: readonly TriggerProgram[];
  readonly provided: number;
  readonly steps: readonly StepProgram[];
  /** What its steps set of dials and modes. */
  readonly turns: readonly TurnProgram[];
  readonly again: EventSentence["ifTriggeredAgain"];
  /** Its rule is on watch: its steps are written down, and change nothing. */
  readonly watches: boolean;
  /** Ends a wait. */
  readonly timer: number;
}

export interface CountdownProgram {
  readonly index: number;
  readonly name: string;
  readonly running: number;
  /** The instant it runs out. */
  readonly ends: number;
  readonly runsOut: number;
  readonly lasts: number;
  readonly timer: number;
}

export interface RuleProgram {
  readonly name: string;
  readonly claims: readonly number[];
  readonly events: readonly number[];
  /** Ends a pause. */
  readonly timer: number;
}

/** What a timer that is not a node's has to do. */
export type Timer =
  | { readonly kind: "output" | "hand"; readonly output: number }
  | { readonly kind: "claim"; readonly claim: number }
  | { readonly kind: "cell"; readonly event: number; readonly turn: number }
  | { readonly kind: "wait"; readonly event: number }
  | { readonly kind: "trigger"; readonly event: number; readonly trigger: number }
  /** A moving value that a trigger watches has come so far. */
  | { readonly kind: "look"; readonly event: number; readonly trigger: number }
  | { readonly kind: "countdown"; readonly countdown: number }
  | { readonly kind: "pause"; readonly rule: number }
  | { readonly kind: "day" };

/** What has to be looked at when a node changes. */
export type Listener =
  | { readonly kind: "output"; readonly output: number }
  | { readonly kind: "mode"; readonly output: number }
  | { readonly kind: "trigger"; readonly event: number; readonly trigger: number }
  | { readonly kind: "wait"; readonly event: number; readonly step: number }
  | { readonly kind: "until"; readonly event: number; readonly step: number }
  | { readonly kind: "band"; readonly band: number };

/** Outputs of which one runs at a time, by their numbers. */
export interface GroupProgram {
  readonly guard: string;
  readonly outputs: readonly number[];
  /** How long the others have been at rest before one begins: a node. */
  readonly apart: number;
}

/** The band of a `keep` whose targets may cross, as nodes. */
export interface BandProgram {
  readonly rule: string;
  readonly crosses: number;
  readonly low: number;
  readonly high: number;
  readonly below: number;
  readonly above: number;
  readonly unit: Unit;
}

export interface Cell {
  readonly name: string;
  readonly node: number;
  readonly type: ValueType;
  readonly kind: "sensor" | "output" | "dial" | "mode";
  readonly range: Range | undefined;
  /** A reading that is refused leaves the last good one standing, until it is too old or for ever. */
  readonly ages: boolean;
  /** A reading further than so much from the last good one, in so long, is refused: nodes. */
  readonly moves?: { readonly by: number; readonly in: number } | undefined;
  /** What it holds before anything happened, in its own unit; undefined for sensors. */
  readonly first: Value | undefined;
}

/** Pulses by what they stand for, and what text they wait for. */
export interface PulseProgram {
  readonly kind: "pressed" | "told" | "problem" | "sent" | "runs out";
  readonly text: string;
  readonly node: number;
}

/** A house compiled: numbers of nodes and timers, and what each has to do with. */
export interface Program {
  readonly house: House;
  readonly graph: Graph;
  readonly cells: ReadonlyMap<string, Cell>;
  /** Nodes of all that holds a value and is not a cell: lets and profiles. */
  readonly derived: ReadonlyMap<string, number>;
  /** The node of what each cell shows: of a sensor that is smoothed, its mean. */
  readonly shown: ReadonlyMap<string, number>;
  readonly outputs: readonly OutputProgram[];
  readonly bands: readonly BandProgram[];
  readonly groups: readonly GroupProgram[];
  readonly claims: readonly ClaimProgram[];
  readonly events: readonly EventProgram[];
  readonly rules: readonly RuleProgram[];
  readonly countdowns: readonly CountdownProgram[];
  readonly presets: ReadonlyMap<string, readonly { readonly name: string; readonly value: number }[]>;
  readonly pulses: readonly PulseProgram[];
  /** The pulse of each sensor that is pressed. */
  readonly presses: ReadonlyMap<string, number>;
  readonly watched: readonly number[];
  readonly handLasts: number;
  /** Falls due at each local midnight. */
  readonly day: { readonly timer: number };
  /** Events of the sun that the house depends on. */
  readonly sunEvents: readonly SunEvent[];
  /** By their numbers; those of the nodes come after them. */
  readonly timers: readonly Timer[];
  readonly listeners: ReadonlyMap<number, readonly Listener[]>;
}

/**
 * A sensor, output, dial or mode by its name.
 * @throws RangeError when the house has none of that name
 */
export function cellNamed({ cells }: Program, name: string): Cell {
  const cell = cells.get(name);
  if (!cell) throw new RangeError(`the house has no thing called "${name}"`);
  return cell;
}
