// The tree of a text: the documentation of the language's surface. Every node has the span it was written in.
import type { Effect, Occurrence, Step, Wiring } from "../house/index.js";
import type { PhraseNode } from "./phrase.js";
import type { Comment, Span, Token } from "./token.js";

interface Node {
  readonly span: Span;
}

/** The member of a union of nodes that may have a kind. */
export type OfKind<Union extends { readonly kind: string }, Kind extends Union["kind"]> = Union extends {
  readonly kind: infer Own;
}
  ? Kind extends Own
    ? Union
    : never
  : never;

export interface Word extends Node {
  readonly text: string;
}

/** Text in quotes; `{…}` parts are terms. */
export interface Quoted extends Node {
  readonly parts: readonly (string | Term)[];
}

// ── Values and conditions ─────────────────────────────────────────────────────────────────────────────────────────────

/** Values, conditions and claims: one family, told apart by the binder. */
export type Term =
  | (Node & { readonly kind: "number"; readonly value: number; readonly unit: string })
  /** `unit` is that of its last part, `text` the parts as written. */
  | (Node & { readonly kind: "duration"; readonly ms: number; readonly unit: string; readonly text: string })
  | (Node & { readonly kind: "time"; readonly ms: number })
  | (Node & { readonly kind: "instant"; readonly date: string; readonly ms?: number })
  | (Node & { readonly kind: "unknown" })
  | (Node & { readonly kind: "name"; readonly text: string })
  | (Node & { readonly kind: "call"; readonly name: Word; readonly arguments: readonly Argument[] })
  | (Node & { readonly kind: "pick"; readonly by: Term; readonly cases: readonly CaseNode[] })
  | (Node & { readonly kind: "if"; readonly condition: Term; readonly then: Term; readonly else: Term })
  | (Node & { readonly kind: "group"; readonly of: Term })
  | (Node & { readonly kind: "sign"; readonly sign: "+" | "-"; readonly of: Term })
  | (Node & { readonly kind: "binary"; readonly sign: "+" | "-" | "*" | "/"; readonly left: Term; readonly right: Term })
  | (Node & { readonly kind: "bound"; readonly bound: BoundWord; readonly left: Term; readonly right: Term })
  | (Node & { readonly kind: "between"; readonly value: Term; readonly low: Term; readonly high: Term })
  | (Node & { readonly kind: "is"; readonly negated: boolean; readonly left: Term; readonly right: Term })
  | (Node & { readonly kind: "disobeys"; readonly of: Term })
  /** `any battery in loft and bench below 20 %`: `test` has an `each` where every thing's value goes. */
  | (Node & { readonly kind: "any"; readonly name: Word; readonly zones: readonly Word[]; readonly test: Term })
  | (Node & { readonly kind: "each" })
  | (Node & { readonly kind: "for" | "in the last"; readonly condition: Term; readonly duration: Term })
  | (Node & { readonly kind: "until"; readonly condition: Term; readonly reset: Reset })
  | (Node & { readonly kind: "during"; readonly outside: boolean; readonly schedule: Word })
  | (Node & { readonly kind: "clock"; readonly from: Term; readonly to: Term })
  | (Node & { readonly kind: "told" | "problem"; readonly text: Quoted })
  | (Node & { readonly kind: "sent"; readonly text: Quoted; readonly to: Quoted })
  | (Node & { readonly kind: "not"; readonly of: Term })
  | (Node & { readonly kind: "and" | "or"; readonly of: readonly Term[] });

export type BoundWord = "above" | "below" | "at least" | "at most";

/** What ends a memory: any condition, with how long it lasts at most, or a bound on the value the condition compares. */
export type Reset =
  | ({ readonly kind: "condition"; readonly condition: Term } & Limit)
  | ({ readonly kind: "bound"; readonly bound: BoundWord; readonly value: Term; readonly for?: Term } & Limit);

/** How long it lasts at most, and how long it then rests. */
interface Limit {
  readonly atMost?: Term;
  readonly pause?: Term;
}

export type Argument = Node &
  (
    | { readonly kind: "text"; readonly text: Quoted }
    | { readonly kind: "known"; readonly count: number }
    | { readonly kind: "every"; readonly name: Word; readonly zones: readonly Word[]; readonly over?: Term }
    | { readonly kind: "term"; readonly of: Term; readonly over?: Term }
    | {
        readonly kind: "range";
        readonly low: Term;
        readonly high: Term;
        readonly to?: { readonly low: Term; readonly high: Term };
      }
  );

export type CaseNode = Node & { readonly value: Term } & (
    | { readonly kind: "words"; readonly words: readonly Word[] }
    | { readonly kind: "bound"; readonly bound: BoundWord; readonly limit: Term }
    | { readonly kind: "between"; readonly low: Term; readonly high: Term }
    | { readonly kind: "otherwise" | "unknown" }
  );

export type TypeNode =
  | (Node & { readonly kind: "range"; readonly low: Term; readonly high: Term })
  | (Node & { readonly kind: "words"; readonly words: readonly Word[]; readonly ordered: boolean })
  | (Node & { readonly kind: "colour of"; readonly of: Word })
  /** One word: a unit, or `time`, `duration`, `colour`, `press`, `number`. */
  | (Node & { readonly kind: "one"; readonly word: string });

// ── Declarations ──────────────────────────────────────────────────────────────────────────────────────────────────────

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
  | GroupNode
  | LetNode
  | CountdownNode
  | PresetNode
  | ScheduleNode
  | ProfileNode
  | RuleNode
  | GuardNode
  | TrialNode
  | PhysicsNode
  | WeatherNode
  | PeopleNode
  | WireNode
  | RepeatNode;

export interface HouseNode extends Node {
  readonly kind: "house";
  readonly title: Quoted;
  readonly entries: readonly HouseEntry[];
}

export type HouseEntry =
  | (Node & { readonly kind: "place"; readonly latitude: Term; readonly longitude: Term })
  | (Node & { readonly kind: "clock"; readonly zone: Quoted })
  | (Node & { readonly kind: "hand lasts" | "readings last"; readonly duration: Term })
  | (Node & { readonly kind: "note"; readonly text: Quoted });

export type ZoneEntry = ThingNode | LetNode | CountdownNode | RuleNode | GuardNode;

export interface ZoneNode extends Declared {
  readonly kind: "zone";
  readonly entries: readonly ZoneEntry[];
}

/** A sensor, an output or a dial. */
export interface ThingNode extends Declared {
  readonly kind: "sensor" | "output" | "dial";
  readonly type: TypeNode;
  readonly attributes: readonly AttributeNode[];
  /** One of them could not be read, which was noted, nor what came after it. */
  readonly isBroken?: true;
}

/** What is said of a thing after its type: a row of `vocabulary`, by the name of what it sets. */
export type AttributeNode = PhraseNode;

export interface ModeNode extends Declared {
  readonly kind: "mode";
  readonly words: readonly Word[];
  readonly ordered: boolean;
  readonly first: Word;
}

export interface GroupNode extends Declared {
  readonly kind: "group";
  readonly members: readonly Word[];
}

export interface LetNode extends Declared {
  readonly kind: "let";
  readonly type?: TypeNode;
  readonly value: Term;
}

export interface CountdownNode extends Declared {
  readonly kind: "countdown";
  readonly lasts: Term;
}

export interface PresetNode extends Declared {
  readonly kind: "preset";
  readonly targets: readonly TargetNode[];
}

export interface ScheduleNode extends Declared {
  readonly kind: "schedule";
  readonly calendar?: Quoted;
  readonly openings: readonly OpeningNode[];
}

export type OpeningNode =
  | (Node & { readonly kind: "days"; readonly days: readonly number[]; readonly spans: readonly SpanNode[] })
  | (Node & { readonly kind: "except" | "only"; readonly dates: readonly DatesNode[] });

export interface SpanNode {
  readonly from: Term;
  readonly to: Term;
}

/** Dates, inclusive: of one year, or of every year as month (1 to 12) and day. */
export type DatesNode = Node &
  (
    | { readonly kind: "dates"; readonly from: string; readonly to: string }
    | { readonly kind: "yearly"; readonly from: readonly [number, number]; readonly to: readonly [number, number] }
  );

export interface ProfileNode extends Declared {
  readonly kind: "profile";
  readonly type?: TypeNode;
  readonly ramped: boolean;
  readonly entries: readonly ProfileEntry[];
}

export interface ProfileEntry extends Node {
  readonly days: readonly number[];
  readonly points: readonly { readonly value: Term; readonly from: Term }[];
}

/** `for each`: as written, and once for every value with the word replaced. */
export interface RepeatNode extends Node {
  readonly kind: "repeat";
  readonly word: Word;
  readonly values: readonly Term[];
  readonly body: readonly Declaration[];
  readonly unrolled: readonly Declaration[];
}

// ── Rules ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

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
  | (Node & { readonly kind: "cycle"; readonly output: Word; readonly on: Term; readonly off: Term })
  | (Node & {
      readonly kind: "keep";
      readonly value: Term;
      readonly at: { readonly target: Term } | { readonly low: Term; readonly high: Term };
      readonly tolerance?: { readonly span: Span; readonly below: Term; readonly above?: Term };
      readonly drives: readonly DriveNode[];
    });

export interface DriveNode extends Node {
  readonly way: "raise" | "lower";
  readonly output: Word;
  readonly proportion?: { readonly over: Term; readonly cycle?: Term };
}

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

/** A moment of something: what may also end a `wait until` or a `set … until`. */
export type OccasionNode =
  | (Node & { readonly kind: "begins" | "ends"; readonly name: Word })
  | (Node & { readonly kind: "changes"; readonly name: Word; readonly by?: Term })
  | (Node & { readonly kind: "becomes"; readonly name: Word; readonly value: Term })
  | (Node & { readonly kind: "condition"; readonly condition: Term });

export type TriggerNode =
  | OccasionNode
  | (Node & { readonly kind: "at"; readonly time: Term; readonly days?: readonly number[] })
  | (Node & { readonly kind: "every"; readonly every: Term; readonly days?: readonly number[] })
  | (Node & { readonly kind: "the house starts" });

/** A step: a row of `vocabulary/steps`. */
export type StepNode = PhraseNode<Step["kind"]>;

/** The branches of an `if`. */
export interface ChoiceNode {
  readonly branches: readonly BranchNode[];
  readonly else?: readonly StepNode[];
}

export interface BranchNode {
  readonly condition: Term;
  readonly steps: readonly StepNode[];
}

export interface GuardNode extends Declared {
  readonly kind: "guard";
  readonly permits: readonly PermitNode[];
  readonly apart: readonly ApartNode[];
}

/** `never together a, b, 3 min apart` */
export interface ApartNode extends Node {
  readonly outputs: readonly Word[];
  readonly apart?: Term;
}

export interface PermitNode extends Node {
  readonly output: Word;
  readonly bound?: "above" | "below";
  readonly value: Term;
  readonly condition: Term;
}

// ── Trials ────────────────────────────────────────────────────────────────────────────────────────────────────────────

export interface TrialNode extends Declared {
  readonly kind: "trial";
  readonly repeat?: { readonly word: Word; readonly values: readonly Term[] };
  /** The trial once for every value of its `for each`, the word replaced. */
  readonly unrolled: readonly TrialNode[];
  readonly beginning: BeginningNode;
  readonly simulated?: SimulatedNode;
  readonly given: readonly TargetNode[];
  readonly happenings: readonly HappeningNode[];
  readonly expectations: readonly ExpectationNode[];
}

export interface BeginningNode extends Node {
  /** What is left out of a broken trial is unknown. */
  readonly from: Term;
  readonly lasts?: Term;
  readonly to?: Term;
  readonly replay?: Quoted;
  readonly cold?: true;
}

export interface SimulatedNode extends Node {
  readonly weather?: Word;
}

export interface HappeningNode extends Node {
  readonly when: { readonly at: Term } | { readonly later: Term } | { readonly from: Term; readonly to: Term };
  readonly what: OccurrenceNode;
}

/** What befalls the house or one of its things: a row of `vocabulary/occurrences`. */
export type OccurrenceNode = PhraseNode<Occurrence["kind"]>;

export interface ExpectationNode extends Node {
  readonly claim: "holds" | "never" | "always" | "whenever";
  readonly condition: Term;
  /** Of `whenever`. */
  readonly then?: Term;
  readonly within?: Term;
  readonly by?: Term;
  readonly at?: Term;
  readonly from?: Term;
  readonly to?: Term;
}

// ── Physics, weather, people, wiring ──────────────────────────────────────────────────────────────────────────────────

export interface PhysicsNode extends Node {
  readonly kind: "physics";
  readonly entries: readonly PhysicsEntry[];
}

/** How a zone behaves, or what acts on one: a row of `vocabulary/physics`. */
export type PhysicsEntry =
  | (Node & { readonly kind: "zone"; readonly zone: Word } & Figured)
  | (Node & { readonly kind: "effect"; readonly effect: PhraseNode<Effect["kind"]> });

/** Figures, as far as they could be read. */
export interface Figured {
  readonly facts: readonly PhraseNode[];
  /** Some could not: what seems to be missing may be among them. */
  readonly isPart?: true;
}

export interface WeatherNode extends Declared, Figured {
  readonly kind: "weather";
  readonly recording?: Quoted;
}

export interface PeopleNode extends Node {
  readonly kind: "people";
  readonly entries: readonly HabitNode[];
}

export interface HabitNode extends Node {
  readonly zone: Word;
  readonly schedule: Word;
  readonly habits: readonly PhraseNode[];
}

export interface WireNode extends Node {
  readonly kind: "wire";
  readonly name: Word;
  /** Rows of `vocabulary/wiring`. */
  readonly entries: readonly PhraseNode<Wiring["kind"]>[];
}

/** What one file says. */
export interface FileNode {
  readonly file: string;
  readonly text: string;
  readonly tokens: readonly Token[];
  /** Where words stand that are names or states: all others are words of the language. */
  readonly names: ReadonlySet<number>;
  readonly declarations: readonly Declaration[];
  readonly comments: readonly Comment[];
}
