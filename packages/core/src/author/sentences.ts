// Rules, guards and presets written in TypeScript: the language's own words, as plain data.

import type {
  Drive,
  EventSentence,
  Guard,
  Keep,
  NeverTogether,
  Permit,
  Preset,
  Rule,
  Sentence,
  Standing,
  Step,
  Target,
  Trigger,
} from "../house/index.js";
import type { Dimension } from "../units/index.js";
import {
  type Amount,
  amount,
  type Condition,
  type DifferenceOf,
  type Lasting,
  type NumberOf,
  type Operand,
  operand,
  type Term,
  type WordOf,
} from "./kinds.js";
import { type Outputs, outputsOf, type Thing, type Titled, titled } from "./things.js";

/** What a rule may set, and a person may. */
export type Settable<Kind> = Thing<"output" | "dial" | "mode", Kind>;

/** Outputs that are one thing or another, or go from nothing to full. */
type Switches = Outputs<WordOf<string> | NumberOf<Dimension>>;

/** What moves a kept value one way: outputs; with `over`, in proportion to the distance, on a switch for a share of each `cycle`. */
type DriveOf<Of extends Dimension> =
  | Switches
  | { readonly with: Outputs<unknown>; readonly over: Amount<DifferenceOf<Of>>; readonly cycle?: Lasting };

/** A target with a tolerance, or a resting zone between two; numbers of one dimension. */
interface KeepOf<Of extends Dimension> {
  readonly value: Term<NumberOf<Of>>;
  readonly at: Amount<Of> | { readonly low: Amount<Of>; readonly high: Amount<Of> };
  /** Left out where all is driven in proportion. */
  readonly tolerance?:
    | Amount<DifferenceOf<Of>>
    | { readonly below: Amount<DifferenceOf<Of>>; readonly above: Amount<DifferenceOf<Of>> };
  readonly raiseWith?: DriveOf<Of>;
  readonly lowerWith?: DriveOf<Of>;
}

/** What is kept: a value at a target of its own dimension, with a tolerance that is a difference of it. */
export type KeepData = { [Of in Dimension]: KeepOf<Of> }[Dimension];

/** `hold: [held(bench.lamps, quantity(80, "%"))]`: of a group, each of its outputs. */
export function held<Kind>(outputs: Outputs<Kind>, value: Operand<NoInfer<Kind>>): readonly Target[] {
  return outputsOf(outputs).map(({ name, words }) => ({ output: name, value: operand(value as Term<unknown>, words) }));
}

/** What holds a state has no moment: that is another sentence. */
interface StateData {
  readonly while?: Condition;
  readonly when?: never;
  readonly do?: never;
}

/** A sentence of a rule: `while` with `hold`, `keep` or `cycle`, or `when` with `do`. */
export type SentenceData =
  | (StateData & { readonly hold: readonly (readonly Target[])[] })
  | (StateData & { readonly keep: KeepData })
  | (StateData & { readonly cycle: { readonly output: Switches; readonly on: Lasting; readonly off: Lasting } })
  | {
      /** A condition starts the steps as it becomes true. */
      readonly when: readonly (Condition | Trigger)[];
      readonly provided?: Condition;
      readonly do: readonly (Step | readonly Step[])[];
      /** @default "start over" */
      readonly ifTriggeredAgain?: EventSentence["ifTriggeredAgain"];
    };

/** One purpose in one or more sentences; of plain standing unless said otherwise. */
export function rule(
  name: string,
  sentences: readonly SentenceData[],
  { as = "plain", ...titles }: Titled & { readonly as?: Standing } = {},
): Rule {
  return { name, ...titled(titles), standing: as, sentences: sentences.map(sentenceOf) };
}

function sentenceOf(data: SentenceData): Sentence {
  if (data.do) {
    const { when, provided, ifTriggeredAgain = "start over" } = data;
    const triggers = when.map(
      (one): Trigger => ("expression" in one ? { kind: "becomes true", condition: one.expression } : one),
    );
    return { when: triggers, ...(provided && { provided: provided.expression }), do: data.do.flat(), ifTriggeredAgain };
  }
  const head = data.while ? { while: data.while.expression } : {};
  if ("hold" in data) return { ...head, hold: data.hold.flat() };
  if ("keep" in data) return { ...head, keep: keepOf(data.keep as KeepOf<Dimension>) };
  const { output, on, off } = data.cycle;
  return { ...head, cycle: { outputs: namesOf(output), on: amount(on), off: amount(off) } };
}

const namesOf = (outputs: Outputs<unknown>) => outputsOf(outputs).map(({ name }) => name);

function keepOf({ value, at, tolerance, raiseWith, lowerWith }: KeepOf<Dimension>): Keep {
  const [below, above] = tolerance && "below" in tolerance ? [tolerance.below, tolerance.above] : [tolerance, tolerance];
  return {
    value: value.expression,
    at: "low" in at ? { low: amount(at.low), high: amount(at.high) } : amount(at),
    ...(below && above && { tolerance: { below: amount(below), above: amount(above) } }),
    ...(raiseWith && { raiseWith: driveOf(raiseWith) }),
    ...(lowerWith && { lowerWith: driveOf(lowerWith) }),
  };
}

function driveOf(drive: DriveOf<Dimension>): Drive {
  if (!("over" in drive)) return { outputs: namesOf(drive) };
  const { with: outputs, over, cycle } = drive;
  return { outputs: namesOf(outputs), proportion: { over: amount(over), ...(cycle && { cycle: amount(cycle) }) } };
}

// ── Presets ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Values of several things under one name. */
export interface NamedPreset {
  readonly preset: Preset;
}

/** Values of outputs, dials and modes under one name; see `at`. */
export function preset(name: string, targets: readonly Target[], options: Titled = {}): NamedPreset {
  return { preset: { name, ...titled(options), targets } };
}

/** What a thing is set to by a preset. */
export function at<Kind>(thing: Settable<Kind>, value: Operand<NoInfer<Kind>>): Target {
  return { output: thing.name, value: operand(value as Term<unknown>, thing.words) };
}

// ── Guards ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Allows an output a word only while something is so. */
export function permit<Words extends string>(
  output: Thing<"output", WordOf<Words>>,
  word: NoInfer<Words>,
  onlyWhile: Condition,
): Permit {
  return { output: output.name, what: { word }, onlyWhile: onlyWhile.expression };
}

/** Allows an output values beyond a bound only while something is so. */
export function permitBeyond<Of extends Dimension>(
  output: Thing<"output", NumberOf<Of>>,
  bound: { readonly above: Amount<NoInfer<Of>> } | { readonly below: Amount<NoInfer<Of>> },
  onlyWhile: Condition,
): Permit {
  const what = "above" in bound ? { above: amount(bound.above) } : { below: amount(bound.below) };
  return { output: output.name, what, onlyWhile: onlyWhile.expression };
}

/** Outputs of which only one runs at a time; with `apart`, all others have been at rest for so long before one begins. */
export function neverTogether(outputs: Outputs<unknown>, { apart }: { readonly apart?: Lasting } = {}): NeverTogether {
  return { outputs: namesOf(outputs), ...(apart && { apart: amount(apart) }) };
}

/** What is permitted only while something is so, and what never runs together: above every rule and every person. */
export function guard(name: string, all: readonly (Permit | NeverTogether)[], titles: Titled = {}): Guard {
  const permits = all.filter((one) => "onlyWhile" in one);
  const apart = all.filter((one) => "outputs" in one);
  return { name, ...titled(titles), permits, ...(apart.length > 0 && { neverTogether: apart }) };
}
