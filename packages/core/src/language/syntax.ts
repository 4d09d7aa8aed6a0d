// The tree of a text: the documentation of the language's surface. Every node has the span it was written in.
import type { Comment, Span } from "./token.js";

interface Node {
  readonly span: Span;
}

export interface Word extends Node {
  readonly text: string;
}

/** Text in quotes; `{…}` parts are terms. */
export interface Quoted extends Node {
  readonly parts: readonly (string | Term)[];
}

/** Values, conditions and claims: one family, told apart by the binder. */
export type Term =
  | (Node & { readonly kind: "number"; readonly value: number; readonly unit: string })
  /** `unit` is that of its last part, `text` the parts as written. */
  | (Node & { readonly kind: "duration"; readonly ms: number; readonly unit: string; readonly text: string })
  | (Node & { readonly kind: "time"; readonly ms: number })
  | (Node & { readonly kind: "instant"; readonly date: string; readonly ms: number })
  | (Node & { readonly kind: "unknown" })
  | (Node & { readonly kind: "name"; readonly text: string })
  | (Node & { readonly kind: "call"; readonly name: Word; readonly arguments: readonly Term[] })
  | (Node & { readonly kind: "group"; readonly of: Term })
  | (Node & { readonly kind: "sign"; readonly sign: "+" | "-"; readonly of: Term })
  | (Node & { readonly kind: "binary"; readonly sign: "+" | "-" | "*" | "/"; readonly left: Term; readonly right: Term })
  | (Node & { readonly kind: "bound"; readonly bound: BoundWord; readonly left: Term; readonly right: Term })
  | (Node & { readonly kind: "between"; readonly value: Term; readonly low: Term; readonly high: Term })
  | (Node & { readonly kind: "is"; readonly negated: boolean; readonly left: Term; readonly right: Term })
  | (Node & { readonly kind: "for" | "in the last"; readonly condition: Term; readonly duration: Term })
  | (Node & { readonly kind: "until"; readonly condition: Term; readonly reset: Reset })
  | (Node & { readonly kind: "during"; readonly outside: boolean; readonly schedule: Word })
  | (Node & { readonly kind: "told"; readonly text: Quoted })
  | (Node & { readonly kind: "not"; readonly of: Term })
  | (Node & { readonly kind: "and" | "or"; readonly of: readonly Term[] });

export type BoundWord = "above" | "below" | "at least" | "at most";

/** What ends a memory: any condition, or a bound on the value the condition compares. */
export type Reset =
  | { readonly kind: "condition"; readonly condition: Term }
  | { readonly kind: "bound"; readonly bound: BoundWord; readonly value: Term; readonly for?: Term };

export type TypeNode =
  | (Node & { readonly kind: "range"; readonly low: Term; readonly high: Term })
  | (Node & { readonly kind: "words"; readonly words: readonly Word[]; readonly ordered: boolean })
  /** One word: a unit, or `time`, `duration`, `number`. */
  | (Node & { readonly kind: "one"; readonly word: string });

interface Declared extends Node {
  readonly name: Word;
  readonly title?: Quoted;
  readonly note?: Quoted;
}

export type Declaration =
  | HouseNode
  | ZoneNode
  | ThingNode
  | ModeNode
  | ScheduleNode
  | RuleNode
  | GuardNode
  | TrialNode
  | PhysicsNode
  | WeatherNode
  | PeopleNode;

export interface HouseNode extends Node {
  readonly kind: "house";
  readonly title: Quoted;
  readonly entries: readonly HouseEntry[];
}

export type HouseEntry =
  | (Node & { readonly kind: "place"; readonly latitude: Term; readonly longitude: Term })
  | (Node & { readonly kind: "clock"; readonly zone: Quoted })
  | (Node & { readonly kind: "hand lasts"; readonly duration: Term })
  | (Node & { readonly kind: "note"; readonly text: Quoted });

export interface ZoneNode extends Declared {
  readonly kind: "zone";
  readonly entries: readonly (ThingNode | RuleNode | GuardNode)[];
}

/** A sensor, an output or a dial. */
export interface ThingNode extends Declared {
  readonly kind: "sensor" | "output" | "dial";
  readonly type: TypeNode;
  readonly attributes: readonly Attribute[];
}

export type Attribute =
  | (Node & { readonly kind: "range"; readonly low: Term; readonly high: Term })
  | (Node & { readonly kind: "unknown after"; readonly duration: Term })
  | (Node & { readonly kind: "at least"; readonly word: Word; readonly duration: Term })
  | (Node & { readonly kind: "at rest" | "at first" | "step"; readonly value: Term });

export interface ModeNode extends Declared {
  readonly kind: "mode";
  readonly words: readonly Word[];
  readonly ordered: boolean;
  readonly first: Word;
}

export interface ScheduleNode extends Declared {
  readonly kind: "schedule";
  readonly openings: readonly OpeningNode[];
}

export interface OpeningNode extends Node {
  readonly days: readonly number[];
  readonly spans: readonly { readonly from: Term; readonly to: Term }[];
}

export interface RuleNode extends Declared {
  readonly kind: "rule";
  readonly standing?: Word;
  readonly sentences: readonly SentenceNode[];
}

export type SentenceNode = StateNode | EventNode;

export interface StateNode extends Node {
  readonly kind: "state";
  readonly while?: Term;
  readonly actions: readonly ActionNode[];
}

export type ActionNode =
  | (Node & { readonly kind: "hold"; readonly targets: readonly TargetNode[] })
  | (Node & {
      readonly kind: "keep";
      readonly value: Term;
      readonly at: { readonly target: Term } | { readonly low: Term; readonly high: Term };
      readonly tolerance?: { readonly span: Span; readonly below: Term; readonly above?: Term };
      readonly drives: readonly { readonly span: Span; readonly way: "raise" | "lower"; readonly output: Word }[];
    });

export interface TargetNode {
  readonly name: Word;
  readonly value: Term;
}

export interface EventNode extends Node {
  readonly kind: "event";
  readonly triggers: readonly TriggerNode[];
  readonly provided?: Term;
  readonly steps: readonly StepNode[];
  /** From `do` to its closing brace. */
  readonly doSpan: Span;
  readonly again?: "start over" | "ignore" | "wait";
}

export type TriggerNode =
  | (Node & { readonly kind: "at"; readonly time: Term; readonly days?: readonly number[] })
  | (Node & { readonly kind: "begins" | "ends"; readonly name: Word })
  | (Node & { readonly kind: "condition"; readonly condition: Term });

export type StepNode =
  | (Node & { readonly kind: "set"; readonly name: Word; readonly to: Term; readonly for?: Term; readonly until?: Term })
  | (Node & { readonly kind: "tell"; readonly text: Quoted; readonly through?: Word })
  | (Node & { readonly kind: "wait"; readonly duration: Term })
  | (Node & { readonly kind: "wait until"; readonly condition: Term; readonly atMost?: Term });

export interface GuardNode extends Declared {
  readonly kind: "guard";
  readonly permits: readonly PermitNode[];
}

export interface PermitNode extends Node {
  readonly output: Word;
  readonly bound?: "above" | "below";
  readonly value: Term;
  readonly condition: Term;
}

export interface TrialNode extends Declared {
  readonly kind: "trial";
  readonly from: Term;
  readonly lasts?: Term;
  readonly to?: Term;
  readonly simulated?: SimulatedNode;
  readonly given: readonly { readonly name: Word; readonly value: Term }[];
  readonly happenings: readonly HappeningNode[];
  readonly expectations: readonly ExpectationNode[];
}

export interface SimulatedNode extends Node {
  readonly weather?: Word;
}

export interface HappeningNode extends Node {
  readonly when: { readonly at: Term } | { readonly later: Term };
  readonly what:
    | { readonly kind: "is"; readonly name: Word; readonly value: Term }
    | { readonly kind: "falls silent"; readonly name: Word }
    | { readonly kind: "the house restarts" };
}

export interface ExpectationNode extends Node {
  readonly claim: "holds" | "never" | "always";
  readonly condition: Term;
  readonly by?: Term;
  readonly at?: Term;
  readonly from?: Term;
  readonly to?: Term;
}

export interface PhysicsNode extends Node {
  readonly kind: "physics";
  readonly entries: readonly PhysicsEntry[];
}

export type PhysicsEntry =
  | (Node & { readonly kind: "zone"; readonly zone: Word; readonly facts: readonly FactNode[] })
  | (Node & { readonly kind: "gives"; readonly output: Word; readonly amount: Term; readonly what: Word })
  | (Node & { readonly kind: "adds"; readonly sensor: Word; readonly word: Word; readonly amount: Term });

export interface FactNode extends Node {
  readonly name: string;
  readonly value: Term;
}

export interface WeatherNode extends Declared {
  readonly kind: "weather";
  readonly facts: readonly FactNode[];
}

export interface PeopleNode extends Node {
  readonly kind: "people";
  readonly entries: readonly HabitNode[];
}

export interface HabitNode extends Node {
  readonly zone: Word;
  readonly schedule: Word;
  readonly every?: Term;
}

/** What one file says. */
export interface FileNode {
  readonly file: string;
  readonly text: string;
  readonly declarations: readonly Declaration[];
  readonly comments: readonly Comment[];
}
