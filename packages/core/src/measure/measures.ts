// The figures of a run.
import type { Keep } from "../house/index.js";
import type { Unit } from "../units/index.js";

/** Lengths of finished cycles, in milliseconds; a length cut off by the beginning or the end of the run does not count. */
export interface Lengths {
  readonly count: number;
  readonly mean: number;
  readonly min: number;
  readonly max: number;
}

/** An output is on when it is neither off nor at 0 nor, as a target, at rest; of a colour the time counts in which it is not black. */
export interface OutputMeasure {
  readonly output: string;
  readonly title: string;
  /** How often it went on within the run. */
  readonly starts: number;
  /** ms */
  readonly onTime: number;
  /** Of the whole run, from 0 to 1. */
  readonly share: number;
  /** Left out when no cycle was finished. */
  readonly on?: Lengths;
  readonly off?: Lengths;
}

/** All over the time in which the sentence applied, its target was known and so was the value. */
export interface KeptMeasure {
  readonly rule: string;
  /** What is kept, by its place among the sentences of its rule. */
  readonly sentence: number;
  readonly value: Keep["value"];
  readonly unit: Unit;
  /** ms in which the sentence applied */
  readonly applied: number;
  /** Of that time, in which the value was known and within the tolerance, ends included; from 0 to 1. */
  readonly inBand: number;
  /** Mean distance from the target, or from the resting zone between two; in the unit's own size. */
  readonly meanDistance: number;
  readonly lowest: number;
  readonly highest: number;
}

/** What a run was like: each output, each kept value. */
export interface Measures {
  readonly from: number;
  readonly to: number;
  readonly outputs: readonly OutputMeasure[];
  readonly kept: readonly KeptMeasure[];
  /** How many notices were told. */
  readonly notices: number;
}
