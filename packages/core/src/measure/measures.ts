// The figures of a run.
import type { Expression } from "../house/index.js";
import type { Unit } from "../units/index.js";

/** What else is wanted of figures. */
export interface MeasureOptions {
  /** Lengths of cycles are those of the latest so many that were finished, from 1. @default all */
  readonly cycles?: number;
  /** What a kWh costs, in any currency. @default no cost is calculated */
  readonly price?: number;
  /** Values that are measured besides those the house itself keeps: what others want of them. */
  readonly aims?: readonly Aim[];
}

/** Lengths of finished cycles, in milliseconds; a length cut off by the beginning or the end of the run does not count. */
export interface Lengths {
  readonly count: number;
  readonly mean: number;
  readonly min: number;
  readonly max: number;
}

/** Differences, in the unit's own size. */
export interface Spread {
  readonly count: number;
  readonly mean: number;
  readonly max: number;
}

/** An output is on when it is neither off nor at 0 nor, as a target, at rest; of a colour the time counts in which it is not black. */
export interface OutputMeasure {
  readonly output: string;
  readonly title: string;
  /** How often it went on within the run. */
  readonly starts: number;
  readonly startsAnHour: number;
  readonly startsADay: number;
  /** ms */
  readonly onTime: number;
  /** Of the whole run, from 0 to 1: its duty. */
  readonly share: number;
  /** Left out when no cycle was finished. */
  readonly on?: Lengths;
  readonly off?: Lengths;
  /** kWh, by what it `uses`: all of it while it is on, of a number its share of the range. Left out where that is not said. */
  readonly energy?: number;
  /** The energy at the price that was given. */
  readonly cost?: number;
}

/** What was on at one time, by what it `uses`, at its most. */
export interface PeakPower {
  readonly watts: number;
  /** When that was first so. */
  readonly at: number;
}

/**
 * How a value stayed within its band: of a `keep` its target with the tolerances, of `… until …` what lies between the two
 * points. All over the time in which the sentence applied; figures of the value over that in which it and its band were known.
 */
export interface KeptMeasure {
  readonly how: "keep" | "until";
  readonly rule: string;
  /** What is kept, by its place among the sentences of its rule. */
  readonly sentence: number;
  readonly value: Expression;
  readonly unit: Unit;
  /** ms in which the sentence applied */
  readonly applied: number;
  /** Of that time, in which the value was known and within the band, ends included; from 0 to 1. */
  readonly inBand: number;
  /** Of that time, below the band and above it. */
  readonly below: number;
  readonly above: number;
  /** Mean distance from the target, or from the resting zone between two, or from the two points; in the unit's own size. */
  readonly meanDistance: number;
  /** Root of the mean of its square. */
  readonly rmsDistance: number;
  /** How far outside the band, and how long: in the unit's own size times hours. */
  readonly degreeHours: number;
  readonly lowest: number;
  readonly highest: number;
  /** Highest less lowest, from one start of what drives it to the next. */
  readonly swing?: Spread;
  /** How far it went on after what drives it went off. */
  readonly overshoot?: Spread;
  /** How long it took to be within the band, each time it was outside as the sentence began to apply, its band moved, or the run began. */
  readonly timeToReach?: Lengths;
}

/** What a `cycle` moves, where no `… until …` says what for: the sensor of its zone that its output gives something to. */
export interface CycleMeasure
  extends Pick<KeptMeasure, "rule" | "sentence" | "value" | "unit" | "applied" | "lowest" | "highest"> {
  readonly swing?: Spread;
}

/** What a run was like: each output, each kept value. */
export interface Measures {
  readonly from: number;
  readonly to: number;
  readonly outputs: readonly OutputMeasure[];
  readonly kept: readonly KeptMeasure[];
  readonly cycles: readonly CycleMeasure[];
  /** kWh of all outputs that say what they use; left out where none does. */
  readonly energy?: number;
  readonly cost?: number;
  readonly peak?: PeakPower;
  /** How many notices were told. */
  readonly notices: number;
}

/** A value and the band it is to stay in. */
export interface Aim {
  readonly about: Pick<KeptMeasure, "how" | "rule" | "sentence">;
  readonly value: Expression;
  /** The target, or the two it lies between. */
  readonly low: Expression;
  readonly high: Expression;
  /** How far it may be below the one and above the other. */
  readonly below: Expression;
  readonly above: Expression;
  /** When it counts; always where it is left out. */
  readonly applies: Expression | undefined;
  /** What moves it, up or down. */
  readonly drives: readonly Mover[];
}

/** Outputs that move a value. */
export interface Mover {
  readonly outputs: readonly string[];
  /** 1 up, -1 down, 0 not known. */
  readonly way: 1 | -1 | 0;
}
