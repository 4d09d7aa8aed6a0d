// A house as plain data: what the parser yields and what the engine runs. All names are whole, repeats are unrolled,
// and the lists keep the order in which things were written, which decides between rules of one standing.
import type { Opening, Place } from "../time/index.js";
import type { Condition, Expression, Text, Trigger } from "./expression.js";
import type { Range, Value, ValueType, WordType } from "./types.js";

export interface House {
  readonly name: string;
  readonly note?: string;
  /** Where the house stands, for the sun. */
  readonly place?: Place;
  /** IANA time zone. */
  readonly clock: string;
  /** How long what a person switched by hand stays so. @default 2 h */
  readonly handLasts?: Expression;
  readonly zones: readonly Zone[];
  readonly sensors: readonly Sensor[];
  readonly outputs: readonly Output[];
  readonly dials: readonly Dial[];
  readonly modes: readonly Mode[];
  readonly schedules: readonly Schedule[];
  readonly rules: readonly Rule[];
  readonly guards: readonly Guard[];
  readonly trials: readonly Trial[];
  readonly physics: Physics;
  readonly weathers: readonly Weather[];
  readonly people: readonly PeopleHabit[];
}

/** What every declaration has. */
export interface Named {
  /** Whole: `bench.humidity`. */
  readonly name: string;
  /** As people call it. */
  readonly title?: string;
  readonly note?: string;
}

export interface Zone extends Named {}

export interface Sensor extends Named {
  readonly type: ValueType;
  /** A reading outside it is refused. */
  readonly range?: Range;
  /** Without a good report for so long, the sensor is unknown. */
  readonly unknownAfter?: Expression;
}

export interface Output extends Named {
  readonly type: ValueType;
  readonly range?: Range;
  /** What it does when nobody asks. @default off, or 0 */
  readonly atRest?: Value;
  /** Once it has one of these words it keeps it for at least so long. */
  readonly atLeast: readonly { readonly word: string; readonly duration: Expression }[];
}

export interface Dial extends Named {
  readonly type: ValueType;
  readonly range?: Range;
  /** Its value until somebody sets it. */
  readonly atFirst: Value;
  /** How far one nudge goes. */
  readonly step?: number;
}

export interface Mode extends Named {
  readonly type: WordType;
  readonly atFirst: string;
}

export interface Schedule extends Named {
  readonly openings: readonly Opening[];
}

export type Standing = "urgent" | "plain" | "background";

export interface Rule extends Named {
  readonly standing: Standing;
  readonly sentences: readonly Sentence[];
}

export type Sentence = HoldSentence | KeepSentence | EventSentence;

export interface HoldSentence {
  /** Left out: always. */
  readonly while?: Condition;
  readonly hold: readonly Target[];
}

export interface KeepSentence {
  readonly while?: Condition;
  readonly keep: Keep;
}

export interface EventSentence {
  readonly when: readonly Trigger[];
  readonly provided?: Condition;
  readonly do: readonly Step[];
  readonly ifTriggeredAgain: "start over" | "ignore" | "wait";
}

export interface Target {
  readonly output: string;
  readonly value: Expression;
}

/** Keeps a value within a band; `tolerance` runs from at most 0 to at least 0. */
export interface Keep {
  readonly value: Expression;
  /** One target, or a resting zone between two. */
  readonly at: Expression | { readonly low: Expression; readonly high: Expression };
  readonly tolerance: { readonly below: Expression; readonly above: Expression };
  readonly raiseWith?: string;
  readonly lowerWith?: string;
}

export type Step =
  | {
      readonly kind: "set";
      readonly name: string;
      readonly to: Expression;
      readonly for?: Expression;
      readonly until?: Expression;
    }
  | { readonly kind: "tell"; readonly text: Text; readonly through?: string }
  | { readonly kind: "wait"; readonly for: Expression }
  | { readonly kind: "wait until"; readonly condition: Condition; readonly atMost?: Expression };

export interface Guard extends Named {
  readonly permits: readonly Permit[];
}

/** Allows an output a word, or values beyond a bound, only while the condition is true. */
export interface Permit {
  readonly output: string;
  readonly what: { readonly word: string } | { readonly above: Expression } | { readonly below: Expression };
  readonly onlyWhile: Condition;
}

export interface Trial extends Named {
  readonly from: Expression;
  readonly lasts?: Expression;
  readonly to?: Expression;
  /** On the simulated rooms: with a weather of the house, else its first. */
  readonly simulated?: { readonly weather?: string };
  readonly given: readonly Setting[];
  readonly happenings: readonly Happening[];
  readonly expectations: readonly Expectation[];
}

/** A value something has, or is told to have. */
export interface Setting {
  readonly name: string;
  readonly value: Expression;
}

export interface Happening {
  readonly when: { readonly at: Expression } | { readonly later: number };
  readonly what:
    | { readonly kind: "is"; readonly name: string; readonly value: Expression }
    | { readonly kind: "falls silent"; readonly name: string }
    | { readonly kind: "the house restarts" };
}

export interface Expectation {
  /** `never` fails on true only, `always` on anything but true; a bare claim holds at its time. */
  readonly claim: "holds" | "never" | "always";
  readonly condition: Condition;
  readonly by?: Expression;
  readonly at?: Expression;
  readonly from?: Expression;
  readonly to?: Expression;
}

/** How the rooms behave when simulated. All figures in SI-near base units named by the field. */
export interface Physics {
  readonly zones: readonly ZonePhysics[];
  readonly effects: readonly Effect[];
}

export interface ZonePhysics {
  readonly zone: string;
  /** m³ */
  readonly volume: number;
  /** W/K to outdoors, leaks apart */
  readonly loses: number;
  /** J/K */
  readonly stores: number;
  /** air changes per hour */
  readonly leaks: number;
  /** g of water that walls and wood take up per %RH */
  readonly soaks: number;
  /** % of the daylight outdoors that reaches the zone */
  readonly window: number;
}

export type Effect =
  /** An output on, or at 100 %, gives so much: heat in W, water in g/h, light in lx. */
  | { readonly kind: "gives"; readonly output: string; readonly what: "heat" | "water" | "light"; readonly amount: number }
  /** A sensor's word adds air changes per hour. */
  | { readonly kind: "leak"; readonly sensor: string; readonly word: string; readonly perHour: number };

export interface Weather extends Named {
  /** °C, mean of the day */
  readonly outdoors: number;
  /** K from the coldest to the warmest hour */
  readonly swings: number;
  /** %RH at the day's mean temperature */
  readonly humidity: number;
  /** % of the sky */
  readonly cloud: number;
}

/** Somebody is in a zone during a schedule. */
export interface PeopleHabit {
  readonly zone: string;
  readonly during: string;
  /** ms; about how often they go out or come back. Left out: they stay. */
  readonly every?: number;
}
