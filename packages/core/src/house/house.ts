// A house as plain data: what the parser yields and what the engine runs. All names are whole, repeats are unrolled,
// groups stand for their outputs, and the lists keep the order in which things were written, which decides between rules
// of one standing.
import type { Calendar, Place, ProfileDay } from "../time/index.js";
import type { Unit } from "../units/index.js";
import type { Condition, DayTime, Expression, Occasion, Text, Trigger } from "./expression.js";
import type { Range, TruthType, Value, ValueType, WordType } from "./types.js";

/** A whole house as plain data, unrolled and with whole names: what `parseHouse` and `defineHouse` make and what runs. */
export interface House {
  readonly name: string;
  readonly note?: string;
  /** Where the house stands, for the sun. */
  readonly place?: Place;
  /** IANA time zone. */
  readonly clock: string;
  /** How long what a person switched by hand stays so. @default 2 h */
  readonly handLasts?: Expression;
  /** How long a reading of a number counts, of every sensor that does not say so itself. */
  readonly readingsLast?: Expression;
  readonly zones: readonly Zone[];
  readonly sensors: readonly Sensor[];
  readonly outputs: readonly Output[];
  readonly dials: readonly Dial[];
  readonly modes: readonly Mode[];
  readonly groups: readonly Group[];
  readonly lets: readonly Let[];
  readonly countdowns: readonly Countdown[];
  readonly presets: readonly Preset[];
  readonly schedules: readonly Schedule[];
  readonly profiles: readonly Profile[];
  readonly rules: readonly Rule[];
  readonly guards: readonly Guard[];
  readonly trials: readonly Trial[];
  readonly physics: RoomPhysics;
  readonly weathers: readonly Weather[];
  readonly people: readonly PeopleHabit[];
  readonly wirings: readonly Wiring[];
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
  /** However old its last good report is, it counts: that is meant. */
  readonly lastsForEver?: true;
  /** Raw reading → value: times `scale`, or the straight line through two points; then plus `offset`. */
  readonly scale?: number;
  readonly offset?: number;
  readonly reads?: readonly [RawPoint, RawPoint];
  /** Its value is the mean over so long. */
  readonly smoothOver?: Expression;
  /** How often it reports; of a change by so much, whenever that comes. */
  readonly reportsEvery?: Expression;
  readonly reportsOnChangeOf?: Expression;
  /** How long it takes to follow what it measures, and how far it wobbles about it. */
  readonly lags?: Expression;
  readonly wobblesBy?: Expression;
  /** A reading further from the last good one is refused; over a longer gap it may be further in proportion. */
  readonly movesAtMost?: { readonly by: Expression; readonly in: Expression };
  /** Shown and watched, and not to regulate by. */
  readonly deviceHealth?: true;
}

/** What a raw reading means: one of the two points of a calibration. */
export interface RawPoint {
  readonly raw: number;
  /** In the sensor's own unit. */
  readonly value: number;
}

export interface Output extends Named {
  readonly type: ValueType;
  readonly range?: Range;
  /** The lamp whose colour it is. */
  readonly colourOf?: string;
  /** What it does when nobody asks. @default off, or 0 */
  readonly atRest?: Value;
  /** Once it has one of these words it keeps it for at least so long. */
  readonly atLeast: readonly AtLeast[];
  /** A run of the word ends after the duration, and the other word then stays for at least so long. */
  readonly atMost: readonly (AtLeast & { readonly then: AtLeast })[];
  /** Power while it is on, or at 100 %. */
  readonly uses?: Expression;
  /** ml/s, and how long it takes until it flows. */
  readonly delivers?: { readonly rate: Expression; readonly after?: Expression };
  /** What it does while the house is down. */
  readonly withoutControl?: Value;
  /** Zones it acts on, besides its own. */
  readonly serves?: readonly string[];
}

/** A word that is kept for at least so long. */
export interface AtLeast {
  readonly word: string;
  readonly duration: Expression;
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

export interface Group extends Named {
  /** Outputs, of other groups too. */
  readonly members: readonly string[];
}

export interface Let extends Named {
  readonly type: ValueType | TruthType;
  readonly value: Expression;
}

export interface Countdown extends Named {
  readonly lasts: Expression;
}

export interface Preset extends Named {
  readonly targets: readonly Target[];
}

export interface Schedule extends Named, Calendar {}

/** A value by the hour. */
export interface Profile extends Named {
  readonly type: ValueType;
  readonly range?: Range;
  /** A straight line from point to point, instead of steps. */
  readonly ramped: boolean;
  readonly days: readonly ProfileDay<Expression>[];
}

/** How strongly a rule asks, the strongest first; on watch it is tried: it is decided and written down, and changes nothing. */
export const standings = ["urgent", "plain", "background", "watch"] as const;
/** How strongly a rule asks: see `standings`. */
export type Standing = (typeof standings)[number];

export interface Rule extends Named {
  readonly standing: Standing;
  readonly sentences: readonly Sentence[];
}

/** One sentence of a rule: a state that holds, keeps or cycles, or an event that does steps. */
export type Sentence = HoldSentence | KeepSentence | CycleSentence | EventSentence;

interface StateSentence {
  /** Left out: always. */
  readonly while?: Condition;
}

/** Holds outputs at values, live ones too, while its condition holds. */
export interface HoldSentence extends StateSentence {
  readonly hold: readonly Target[];
}

/** Keeps a value near a target while its condition holds; its memory goes on meanwhile. */
export interface KeepSentence extends StateSentence {
  readonly keep: Keep;
}

/** On and off in turn, beginning with on when its `while` begins. */
export interface CycleSentence extends StateSentence {
  readonly cycle: { readonly outputs: readonly string[]; readonly on: Expression; readonly off: Expression };
}

/** Does steps, once, when one of its triggers fires and what is provided holds. */
export interface EventSentence {
  readonly when: readonly Trigger[];
  readonly provided?: Condition;
  readonly do: readonly Step[];
  readonly ifTriggeredAgain: "start over" | "ignore" | "wait";
}

/** An output, in presets a dial too, and the value it is asked to have. */
export interface Target {
  readonly output: string;
  readonly value: Expression;
}

/** Keeps a value within a band; `tolerance` is left out where every drive is in proportion. */
export interface Keep {
  readonly value: Expression;
  /** One target, or a resting zone between two. */
  readonly at: Expression | { readonly low: Expression; readonly high: Expression };
  /** How far below and above; both at least 0. */
  readonly tolerance?: { readonly below: Expression; readonly above: Expression };
  readonly raiseWith?: Drive;
  readonly lowerWith?: Drive;
}

/** What drives a kept value one way. */
export interface Drive {
  readonly outputs: readonly string[];
  /** Follows the distance: all of the range at `over`; on a switch, on for that share of each `cycle`. */
  readonly proportion?: { readonly over: Expression; readonly cycle?: Expression };
}

/** One step of an event sentence. */
export type Step =
  /** Asks for an output's value, or sets a dial or a mode; permanently, for a time, or until something. */
  | ({ readonly kind: "set"; readonly name: string; readonly to: Expression } & Lasting)
  | { readonly kind: "toggle"; readonly name: string }
  | { readonly kind: "raise" | "lower"; readonly name: string; readonly by: Expression }
  | {
      readonly kind: "ramp";
      /** Of a group all, at once. */
      readonly outputs: readonly string[];
      readonly from: Expression;
      readonly to: Expression;
      readonly over: Expression;
    }
  /** Steps of its `otherwise` follow where it is broken off, and end the steps around it. */
  | { readonly kind: "dose"; readonly output: string; readonly amount: Expression; readonly otherwise?: readonly Step[] }
  | { readonly kind: "release"; readonly output: string }
  | ({ readonly kind: "apply"; readonly preset: string } & Lasting)
  | { readonly kind: "start"; readonly countdown: string; readonly with?: Expression }
  | { readonly kind: "stop"; readonly countdown: string }
  | { readonly kind: "wait"; readonly for: Expression }
  | { readonly kind: "wait until"; readonly until: Until; readonly atMost?: Expression }
  | {
      readonly kind: "if";
      readonly branches: readonly { readonly if: Condition; readonly do: readonly Step[] }[];
      readonly else: readonly Step[];
    }
  | { readonly kind: "tell"; readonly text: Text; readonly through?: string; readonly onceIn?: Expression }
  | { readonly kind: "send"; readonly text: Text; readonly to: Text }
  | { readonly kind: "end here" };

/** How long what a step sets lasts: permanently where nothing is said. */
export interface Lasting {
  readonly for?: Expression;
  readonly until?: Until;
  /** The longest time for which `until` is waited for. */
  readonly atMost?: Expression;
}

/** A state ends what waits for it at once where it is so already; a moment when it comes. */
export type Until =
  | { readonly kind: "state"; readonly condition: Condition }
  | Occasion
  | { readonly kind: "at"; readonly at: DayTime };

export interface Guard extends Named {
  readonly permits: readonly Permit[];
  readonly neverTogether?: readonly NeverTogether[];
}

/** Outputs of which only one runs, the strongest asked for, of equals the one named first. */
export interface NeverTogether {
  readonly outputs: readonly string[];
  /** How long all others have been at rest before one begins. */
  readonly apart?: Expression;
}

/** Allows an output a word, or values beyond a bound, only while the condition is true. */
export interface Permit {
  readonly output: string;
  readonly what: { readonly word: string } | { readonly above: Expression } | { readonly below: Expression };
  readonly onlyWhile: Condition;
}

// ── Trials ────────────────────────────────────────────────────────────────────────────────────────────────────────────

export interface Trial extends Named {
  readonly from: Expression;
  readonly lasts?: Expression;
  readonly to?: Expression;
  /** The file of the recording it runs on, and what that says up to the trial's end, in order of time. */
  readonly replay?: string;
  readonly recorded?: readonly Recorded[];
  /** As a new house begins: nothing has been before. */
  readonly cold?: true;
  /** On the simulated rooms: with a weather of the house, else its first. */
  readonly simulated?: { readonly weather?: string };
  readonly given: readonly Setting[];
  readonly happenings: readonly Happening[];
  readonly expectations: readonly Expectation[];
}

/** One report of a recording. */
export interface Recorded {
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  readonly name: string;
  /** Left out where it could not be read. */
  readonly value?: Value;
  /** The unit of a number. @default the thing's own */
  readonly unit?: Unit;
}

/** A value something has, or is told to have. */
export interface Setting {
  readonly name: string;
  readonly value: Expression;
}

/** A line of a timeline: when, and what happens. */
export interface Happening {
  readonly when: { readonly at: Expression; readonly to?: Expression } | { readonly later: number };
  readonly what: Occurrence;
}

/** What can happen in a timeline: values, faults, what a person does, what befalls the house. */
export type Occurrence =
  | { readonly kind: "is" | "moves to"; readonly name: string; readonly value: Expression }
  | { readonly kind: "falls silent" | "sticks" | "refuses" | "is pressed"; readonly name: string }
  | { readonly kind: "jumps to"; readonly name: string; readonly value: Expression; readonly for: Expression }
  | {
      readonly kind: "reports every" | "wobbles by" | "arrives late" | "obeys late";
      readonly name: string;
      readonly by: Expression;
    }
  | {
      readonly kind: "person sets";
      readonly name: string;
      readonly value: Expression;
      readonly for?: Expression;
      /** A time of day, or a date and time. */
      readonly until?: Expression;
    }
  | { readonly kind: "person pauses"; readonly name: string; readonly for?: Expression }
  | {
      readonly kind: "person releases" | "person resumes" | "person applies" | "person starts" | "person stops" | "person runs";
      readonly name: string;
    }
  | { readonly kind: "message"; readonly topic: string; readonly reads: string }
  | { readonly kind: "the house restarts" }
  | { readonly kind: "the house is down"; readonly for: Expression }
  | { readonly kind: "the clock jumps"; readonly by: Expression };

/** `never` fails on true only, `always` on anything but true; a bare claim holds at its time. */
export interface Expectation {
  readonly claim: "holds" | "never" | "always" | "whenever";
  readonly condition: Condition;
  /** Of `whenever`: what must come each time, and within how long. */
  readonly then?: Condition;
  readonly within?: Expression;
  readonly by?: Expression;
  readonly at?: Expression;
  readonly from?: Expression;
  readonly to?: Expression;
}

// ── The simulated house and its wiring ────────────────────────────────────────────────────────────────────────────────

/** How the rooms behave when simulated. All figures in SI-near base units named by the field. */
export interface RoomPhysics {
  readonly zones: readonly ZonePhysics[];
  readonly effects: readonly Effect[];
}

/** How the air and walls of a zone behave. */
export interface ZonePhysics {
  readonly zone: string;
  /** How it is built, where that was said or taken: figures that are not said follow from it. */
  readonly built?: Build;
  /** m², where that was said */
  readonly floor?: number;
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
  /** m² of panes that let the sun in @default none */
  readonly glass?: number;
  /** W/K between the air and walls that stand apart from it @default they are one */
  readonly couples?: number;
  /** ms in which what soaks up water follows the air @default at once */
  readonly wood?: number;
}

/** Wood or panels; masonry; masonry, insulated. */
export type Build = "light" | "solid" | "insulated";

/** What can be given to a zone. */
export type Given = "heat" | "water" | "light" | "air";

/** What an output gives to its zone, what an open door lets through, what two zones exchange. */
export type Effect =
  /** An output on, or at 100 %, gives so much: heat in W, water in g/h, light in lx, or air in m³/h from somewhere. */
  | {
      readonly kind: "gives";
      readonly output: string;
      readonly what: Given;
      readonly amount: number;
      readonly from?: string;
      /** ms, the time constant with which heat follows. */
      readonly lagging?: number;
    }
  /** The same of an output while it has a word. */
  | {
      readonly kind: "word gives";
      readonly output: string;
      readonly word: string;
      readonly what: Given;
      readonly amount: number;
      readonly from?: string;
      readonly lagging?: number;
    }
  /** A sensor's word adds air changes per hour with outdoors, or with another zone. */
  | { readonly kind: "leak"; readonly sensor: string; readonly word: string; readonly perHour: number; readonly to: string }
  /** A sensor shows what a tank holds: at most so many litres, and at first as much. */
  | { readonly kind: "holds"; readonly sensor: string; readonly amount: number }
  /** A float: the sensor has the word while the tank holds less than so many litres. */
  | { readonly kind: "float"; readonly sensor: string; readonly word: string; readonly below: number }
  /** What runs into a tank by itself, l/h. */
  | { readonly kind: "gains"; readonly sensor: string; readonly amount: number }
  /** A sensor of the water in soil: so many square metres, so many metres deep. */
  | { readonly kind: "soil"; readonly sensor: string; readonly area: number; readonly depth: number }
  /**
   * A sensor of the temperature or the humidity at a cold surface of its zone, which has so much, %, of the zone's warmth above
   * the outdoors: its temperature factor.
   */
  | { readonly kind: "surface"; readonly sensor: string; readonly warmth: number }
  /** What an output delivers comes out of a tank; or goes into soil. */
  | { readonly kind: "draws"; readonly output: string; readonly sensor: string }
  | { readonly kind: "waters"; readonly output: string; readonly sensor: string }
  /** A zone is no room: its sensors read the weather. */
  | { readonly kind: "outdoors"; readonly zone: string }
  /** W/K between two zones. */
  | { readonly kind: "passes"; readonly zone: string; readonly other: string; readonly amount: number };

export interface Weather extends Named {
  /** A file it is read from, and what that says: `outdoors`, `humidity`, `daylight` or `cloud`, in order of time. */
  readonly recording?: string;
  readonly recorded?: readonly Recorded[];
  /** °C, mean of the day */
  readonly outdoors: number;
  /** K from the coldest to the warmest hour */
  readonly swings: number;
  /** K from the coldest to the warmest time of the year; `outdoors` is then the mean of the year */
  readonly seasons?: number;
  /** %RH at the day's mean temperature */
  readonly humidity: number;
  /** % of the sky */
  readonly cloud: number;
  /** ms in which fronts change the air, as a time constant; without, every day is like the next */
  readonly fronts?: number;
  /** Of the fronts. @default 1 */
  readonly seed?: number;
}

/** Somebody is in a zone during a schedule. */
export interface PeopleHabit {
  readonly zone: string;
  readonly during: string;
  /** ms; about how often they go out or come back. Left out: they stay. */
  readonly every?: number;
  /** l/h of CO₂ */
  readonly breathes?: number;
  /** ms of a shower, or of cooking, once each time the schedule applies. */
  readonly showers?: number;
  readonly cooks?: number;
  /** ms; about how often they open the windows for ten minutes. */
  readonly airs?: number;
  /** ms; about how often they leave the doors open for a quarter of an hour: a delivery, a chat on the threshold. */
  readonly props?: number;
  /** °C above which they open the windows, where it is cooler outdoors. */
  readonly opensAbove?: number;
  /** g of solvent in the coat they lay each time the schedule applies. */
  readonly coat?: number;
}

/** Which topic a sensor or an output is, and how its messages read. */
export type Wiring =
  | { readonly kind: "alive"; readonly by: string; readonly zone: string; readonly topic: string; readonly reads: string }
  | { readonly kind: "notices"; readonly by: string; readonly way: string; readonly topic: string }
  | {
      readonly kind: "reading";
      readonly by: string;
      readonly sensor: string;
      readonly topic: string;
      /** JSON Pointer (RFC 6901). */
      readonly at?: string;
      /** Name of a SenML record (RFC 8428). */
      readonly record?: string;
      readonly texts?: readonly { readonly text: string; readonly as: Value }[];
    }
  | {
      readonly kind: "writing";
      readonly by: string;
      readonly output: string;
      readonly topic: string;
      /** `{value}` in it is replaced. */
      readonly text?: string;
      readonly texts?: readonly { readonly word: Value; readonly text: string }[];
      readonly confirmedBy?: string;
      /** ms */
      readonly againEvery?: number;
      /** The broker keeps the message, for whoever comes later. */
      readonly retained?: true;
    };
