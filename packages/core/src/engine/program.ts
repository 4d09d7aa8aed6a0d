// A house compiled for the engine: the graph of its expressions, and what each node, timer and output has to do with.
import { type Graph, GraphBuilder, placeOf } from "../expression/index.js";
import {
  bandOf,
  type DayTime,
  type Drive,
  type EventSentence,
  type Expression,
  type House,
  type Keep,
  modesMentioned,
  type Occasion,
  type Output,
  type Permit,
  type Range,
  type Sentence,
  type Standing,
  type Step,
  type Text,
  type Thing,
  type Trigger,
  targetsOf,
  thingsOf,
  typeOf,
  type Until,
  unitOfExpression,
  type Value,
  type ValueType,
} from "../house/index.js";
import { type SunEvent, type Weekday, weekdayNames } from "../time/index.js";
import { fromBase, toBase } from "../units/index.js";

/** What a sentence holds: while `when` is true (-1: always) it asks for the value of `value`. */
export interface Held {
  readonly when: number;
  readonly value: number;
}

/** A reason to ask something of an output. */
export interface ClaimProgram {
  readonly index: number;
  readonly output: number;
  readonly rule: string;
  readonly ruleIndex: number;
  readonly sentence: number;
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
  readonly delivers: { readonly rate: number; readonly after: number } | undefined;
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
  | { readonly kind: "edge"; readonly node: number; readonly cold: boolean; readonly rises: boolean }
  | { readonly kind: "changes"; readonly node: number; readonly by: number }
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
export type SettingProgram = { readonly value: number; readonly for: number; readonly until: UntilProgram | undefined } & (
  | { readonly kind: "ask"; readonly claim: number }
  | { readonly kind: "turn"; readonly cell: string; readonly timer: number }
);

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
  | { readonly kind: "ramp"; readonly claim: number; readonly from: number; readonly to: number; readonly over: number }
  | { readonly kind: "dose"; readonly claim: number; readonly output: number; readonly amount: number }
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

export interface EventProgram {
  readonly index: number;
  readonly rule: string;
  readonly ruleIndex: number;
  readonly sentence: number;
  readonly triggers: readonly TriggerProgram[];
  readonly provided: number;
  readonly steps: readonly StepProgram[];
  readonly again: EventSentence["ifTriggeredAgain"];
  /** Ends a wait. */
  readonly timer: number;
}

export interface CountdownProgram {
  readonly index: number;
  readonly name: string;
  readonly running: number;
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

/** What a timer that is no node's has to do. */
export type Timer =
  | { readonly kind: "output" | "hand"; readonly output: number }
  | { readonly kind: "claim"; readonly claim: number }
  | { readonly kind: "cell"; readonly event: number; readonly step: number }
  | { readonly kind: "wait"; readonly event: number }
  | { readonly kind: "trigger"; readonly event: number; readonly trigger: number }
  | { readonly kind: "countdown"; readonly countdown: number }
  | { readonly kind: "pause"; readonly rule: number }
  | { readonly kind: "day" };

/** What has to be looked at when a node changes. */
export type Listener =
  | { readonly kind: "output"; readonly output: number }
  | { readonly kind: "mode"; readonly output: number }
  | { readonly kind: "trigger"; readonly event: number; readonly trigger: number }
  | { readonly kind: "wait"; readonly event: number; readonly step: number }
  | { readonly kind: "until"; readonly event: number; readonly step: number };

export interface Cell {
  readonly name: string;
  readonly node: number;
  readonly type: ValueType;
  readonly kind: "sensor" | "output" | "dial" | "mode";
  readonly range: Range | undefined;
  /** Whether a sensor's value grows too old: the last good one then stands when a reading is refused. */
  readonly ages: boolean;
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
  /** Nodes of all that holds a value and is no cell: lets and profiles. */
  readonly derived: ReadonlyMap<string, number>;
  /** The node of what each cell shows: of a sensor that is smoothed, its mean. */
  readonly shown: ReadonlyMap<string, number>;
  readonly outputs: readonly OutputProgram[];
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
  /** By their numbers; those of the nodes come behind them. */
  readonly timers: readonly Timer[];
  readonly listeners: ReadonlyMap<number, readonly Listener[]>;
}

/** A value in the base unit, from one in the thing's own. */
export function baseOf(value: Value, type: ValueType): number {
  if (type.kind === "colour" && typeof value === "string") return Number.parseInt(value.slice(1), 16);
  if (typeof value === "string") return placeOf(value, type);
  return type.kind === "number" ? toBase({ value, unit: type.unit }) : value;
}

/** A value in the thing's own unit; undefined when unknown. */
export function ownOf(base: number, type: ValueType | { readonly kind: "truth" }): Value | undefined {
  if (Number.isNaN(base)) return undefined;
  if (type.kind === "words") return type.words[base];
  if (type.kind === "truth") return base === 1 ? "yes" : "no";
  if (type.kind === "colour") return `#${base.toString(16).padStart(6, "0")}`;
  return type.kind === "number" ? fromBase(base, type.unit) : base;
}

const standings: readonly Standing[] = ["urgent", "plain", "background"];
const HAND_LASTS: Expression = { kind: "number", value: 2 * 3600e3, unit: "ms" };

/** Compiles a house; `watch` are conditions looked at beside it that do not influence it. */
export function compile(house: House, watch: readonly Expression[] = []): Program {
  return new Compiler(house).compile(watch);
}

class Compiler {
  readonly #graph: GraphBuilder;
  readonly #claims: ClaimProgram[] = [];
  readonly #timers: Timer[] = [];
  readonly #outputs: ReadonlyMap<string, number>;
  readonly #cells: Map<string, Cell>;
  readonly #things: ReadonlyMap<string, Thing>;
  readonly #claimsOf: ClaimProgram[][];
  readonly #permitsOf = new Map<string, [guard: string, permit: Permit][]>();
  readonly #ruleModes = new Map<number, readonly string[]>();

  constructor(readonly house: House) {
    this.#things = thingsOf(house);
    this.#claimsOf = house.outputs.map(() => []);
    for (const { name, permits } of house.guards)
      for (const permit of permits)
        this.#permitsOf.set(permit.output, [...(this.#permitsOf.get(permit.output) ?? []), [name, permit]]);
    this.#graph = new GraphBuilder(house);
    this.#outputs = new Map(house.outputs.map(({ name }, index) => [name, index]));
    this.#cells = this.#makeCells();
  }

  compile(watch: readonly Expression[]): Program {
    const { house } = this;
    const graph = this.#graph;
    const shown = new Map([...this.#cells].map(([name, { kind, node }]) => [name, kind === "sensor" ? graph.thing(name) : node]));
    const derived = new Map([...house.lets, ...house.profiles].map(({ name }) => [name, graph.thing(name)]));
    const countdowns = house.countdowns.map((_, index) => this.#countdown(index));
    const events: EventProgram[] = [];
    const rules = house.rules.map((rule, ruleIndex): RuleProgram => {
      // Its number comes before those of the events: a pause that ends at an instant holds back nothing of it.
      const timer = this.timer({ kind: "pause", rule: ruleIndex });
      const firstClaim = this.#claims.length;
      const firstEvent = events.length;
      rule.sentences.forEach((sentence, index) => {
        const claim = (output: string, held?: Held) => this.#claim(output, rule.name, ruleIndex, index, rule.standing, held);
        if ("do" in sentence)
          events.push(new EventCompiler(this, sentence, events.length, claim).compile(rule.name, ruleIndex, index));
        else this.#state(sentence, claim);
      });
      const from = (first: number, end: number) => Array.from({ length: end - first }, (_, index) => first + index);
      return {
        name: rule.name,
        claims: from(firstClaim, this.#claims.length),
        events: from(firstEvent, events.length),
        timer,
      };
    });
    const outputs = house.outputs.map((output, index) => this.#output(output, index));
    const presets = new Map(
      house.presets.map(({ name, targets }) => [
        name,
        targets.map((target) => ({ name: target.output, value: graph.node(target.value) })),
      ]),
    );
    const handLasts = graph.node(house.handLasts ?? HAND_LASTS);
    const watched = watch.map((expression) => graph.node(expression));
    // A press that no rule looks at may still be reported.
    const presses = new Map(
      house.sensors.flatMap(({ name, type }) => (type.kind === "press" ? [[name, graph.pulse("pressed", name)] as const] : [])),
    );
    const day = { timer: this.timer({ kind: "day" }) };
    const program = {
      house,
      graph: graph.seal(),
      cells: this.#cells,
      derived,
      shown,
      pulses: graph.nodes.flatMap(({ op, key, name }, node) => (op === "pulse" ? [pulseOf(key, name, node)] : [])),
      presses,
      watched,
      presets,
      handLasts,
      claims: this.#claims,
      events,
      outputs,
      countdowns,
      rules,
      day,
      timers: this.#timers,
    };
    return { ...program, listeners: listenersOf(program) };
  }

  get graph(): GraphBuilder {
    return this.#graph;
  }

  timer(timer: Timer): number {
    return this.#timers.push(timer) - 1;
  }

  isOutput(name: string): boolean {
    return this.#outputs.has(name);
  }

  outputIndex(name: string): number {
    const found = this.#outputs.get(name);
    if (found === undefined) throw new RangeError(`the house has no output called "${name}"`);
    return found;
  }

  cell(name: string): Cell {
    const found = this.#cells.get(name);
    if (!found) throw new RangeError(`the house has no thing called "${name}"`);
    return found;
  }

  /** The range of a thing in base units. */
  rangeOf(name: string): readonly [number, number] | undefined {
    const { range, type } = this.cell(name);
    return range && [baseOf(range[0], type), baseOf(range[1], type)];
  }

  #makeCells(): Map<string, Cell> {
    const cells = new Map<string, Cell>();
    for (const [name, { kind, thing }] of this.#things) {
      if (kind === "let" || kind === "profile" || thing.type.kind === "press") continue;
      const range = "range" in thing ? thing.range : undefined;
      const first = kind === "output" ? restOf(thing) : kind === "sensor" ? undefined : thing.atFirst;
      const node = kind === "sensor" ? this.#graph.sensor(name) : this.#graph.thing(name);
      cells.set(name, { name, kind, node, type: thing.type, range, first, ages: "unknownAfter" in thing });
    }
    return cells;
  }

  #countdown(index: number): CountdownProgram {
    const { name, lasts } = this.house.countdowns[index] as House["countdowns"][number];
    const graph = this.#graph;
    const timer = this.timer({ kind: "countdown", countdown: index });
    return {
      index,
      name,
      running: graph.flag("running", name),
      runsOut: graph.pulse("runs out", name),
      lasts: graph.node(lasts),
      timer,
    };
  }

  #claim(output: string, rule: string, ruleIndex: number, sentence: number, standing: Standing, held: Held | undefined): number {
    const index = this.#claims.length;
    const timer = this.timer({ kind: "claim", claim: index });
    const claim = { index, output: this.outputIndex(output), rule, ruleIndex, sentence, standing, held, timer };
    this.#claims.push(claim);
    this.#claimsOf[claim.output]?.push(claim);
    return index;
  }

  #state(sentence: Exclude<Sentence, EventSentence>, claim: (output: string, held: Held) => number): void {
    const graph = this.#graph;
    const when = sentence.while ? graph.node(sentence.while) : -1;
    if ("keep" in sentence) this.#keep(sentence.keep, when, claim);
    else if ("hold" in sentence) for (const { output, value } of sentence.hold) claim(output, { when, value: graph.node(value) });
    else {
      const { outputs, on, off } = sentence.cycle;
      const applies = when < 0 ? graph.constant(1) : when;
      const turns = graph.combine("cycle", applies, graph.node(on), graph.node(off));
      for (const output of outputs) claim(output, { when: turns, value: this.#on(output) });
    }
  }

  #on(output: string): number {
    return this.#graph.constant(placeOf("on", this.cell(output).type));
  }

  /** The memory of a band follows its signal at all times; `when` only decides whether it claims. */
  #keep(keep: Keep, when: number, claim: (output: string, held: Held) => number): void {
    const graph = this.#graph;
    const [low, high] = targetsOf(keep).map((target) => graph.node(target)) as [number, number];
    const value = graph.node(keep.value);
    for (const [drive, way] of [
      [keep.raiseWith, "raise"],
      [keep.lowerWith, "lower"],
    ] as const) {
      if (!drive) continue;
      if (drive.proportion) {
        const distance = way === "raise" ? graph.combine("minus", low, value) : graph.combine("minus", value, high);
        this.#follow(drive, distance, when, claim);
        continue;
      }
      if (!keep.tolerance) throw new RangeError("a switch is kept by a tolerance");
      const band = graph.node(bandOf(keep, way));
      for (const output of drive.outputs) claim(output, { when: graph.all(when, band), value: this.#on(output) });
    }
  }

  /** In proportion to a distance: of the range, or for a share of each cycle. Nothing of it is a claim as well. */
  #follow({ outputs, proportion }: Drive, distance: number, when: number, claim: (output: string, held: Held) => number): void {
    if (!proportion) return;
    const graph = this.#graph;
    const over = graph.node(proportion.over);
    const share = graph.combine("clamp", graph.combine("divided", distance, over), graph.constant(0), graph.constant(1));
    const applies = graph.all(when, graph.not(graph.isUnknown(share)));
    for (const output of outputs) {
      const { type } = this.cell(output);
      if (proportion.cycle) {
        const turns = graph.combine("share cycle", applies, share, graph.node(proportion.cycle));
        const off = graph.constant(Math.max(0, type.kind === "words" ? type.words.indexOf("off") : 0));
        claim(output, { when: applies, value: graph.choose(turns, this.#on(output), off) });
        continue;
      }
      const [bottom, top] = this.rangeOf(output) ?? [0, 100];
      const value = graph.combine("plus", graph.constant(bottom), graph.combine("times", share, graph.constant(top - bottom)));
      claim(output, { when: applies, value });
    }
  }

  #output(output: Output, index: number): OutputProgram {
    const graph = this.#graph;
    const { name, type } = output;
    const rest = restOf(output);
    const claims = this.#claimsOf[index] ?? [];
    const disobeys = graph.flagAsked("disobeys", name);
    const { delivers } = output;
    return {
      index,
      name,
      node: graph.thing(name),
      type,
      range: this.rangeOf(name),
      atRest: rest === undefined ? undefined : baseOf(rest, type),
      withoutControl: output.withoutControl === undefined ? undefined : baseOf(output.withoutControl, type),
      atLeast: new Map(output.atLeast.map(({ word, duration }) => [placeOf(word, type), graph.node(duration)])),
      atMost: output.atMost.map(({ word, duration, then }) => ({
        value: placeOf(word, type),
        duration: graph.node(duration),
        then: placeOf(then.word, type),
        rest: graph.node(then.duration),
      })),
      permits: (this.#permitsOf.get(name) ?? []).map(([guard, permit]) => this.#permit(permit, guard, type)),
      claims: [...claims].sort((a, b) => standings.indexOf(a.standing) - standings.indexOf(b.standing) || a.index - b.index),
      modes: this.#modesOf(claims),
      delivers: delivers && {
        rate: graph.node(delivers.rate),
        after: delivers.after ? graph.node(delivers.after) : graph.constant(0),
      },
      disobeys,
      timer: this.timer({ kind: "output", output: index }),
      handTimer: this.timer({ kind: "hand", output: index }),
    };
  }

  /** Modes that a rule of an output mentions in a condition, trigger or value, also through lets. */
  #modesOf(claims: readonly ClaimProgram[]): number[] {
    const rules = new Set(claims.map(({ ruleIndex }) => ruleIndex));
    const modes = new Set([...rules].flatMap((rule) => this.#modesOfRule(rule)));
    return [...modes].map((name) => this.#graph.thing(name));
  }

  #modesOfRule(index: number): readonly string[] {
    const rule = this.house.rules[index];
    const modes = this.#ruleModes.get(index) ?? (rule ? modesMentioned(this.house, rule) : []);
    this.#ruleModes.set(index, modes);
    return modes;
  }

  #permit({ what, onlyWhile }: Permit, guard: string, type: ValueType): PermitProgram {
    const node = this.#graph.node(onlyWhile);
    if ("word" in what) return { guard, what: { word: placeOf(what.word, type) }, onlyWhile: node };
    if ("above" in what) return { guard, what: { above: this.#graph.node(what.above) }, onlyWhile: node };
    return { guard, what: { below: this.#graph.node(what.below) }, onlyWhile: node };
  }
}

/** The sentence of an event rule: triggers, and its steps in a row. */
class EventCompiler {
  readonly #compiler: Compiler;
  readonly #sentence: EventSentence;
  readonly #index: number;
  readonly #claim: (output: string) => number;
  readonly #asked = new Map<string, number>();
  readonly #steps: StepProgram[] = [];

  constructor(compiler: Compiler, sentence: EventSentence, index: number, claim: (output: string) => number) {
    this.#compiler = compiler;
    this.#sentence = sentence;
    this.#index = index;
    this.#claim = claim;
  }

  get #graph(): GraphBuilder {
    return this.#compiler.graph;
  }

  compile(rule: string, ruleIndex: number, sentence: number): EventProgram {
    const { when, provided, ifTriggeredAgain } = this.#sentence;
    const triggers = when.map((trigger, number) => this.#trigger(trigger, number));
    for (const step of this.#sentence.do) this.#step(step);
    // `end here` goes behind the last step.
    const end = this.#steps.length;
    const steps = this.#steps.map((step) => (step.kind === "jump" && step.to < 0 ? { ...step, to: end } : step));
    return {
      index: this.#index,
      rule,
      ruleIndex,
      sentence,
      triggers,
      provided: provided ? this.#graph.node(provided) : -1,
      steps,
      again: ifTriggeredAgain,
      timer: this.#compiler.timer({ kind: "wait", event: this.#index }),
    };
  }

  #maybe(expression: Expression | undefined): number {
    return expression ? this.#graph.node(expression) : -1;
  }

  #at({ sun, time }: DayTime): AtProgram {
    return { sun, time: this.#graph.node(time) };
  }

  #trigger(trigger: Trigger, number: number): TriggerProgram {
    switch (trigger.kind) {
      case "becomes true":
        return { kind: "edge", node: this.#graph.node(trigger.condition), cold: true, rises: true };
      case "begins":
      case "ends":
        return { kind: "edge", node: this.#graph.schedule(trigger.schedule), cold: false, rises: trigger.kind === "begins" };
      case "runs out":
        return { kind: "edge", node: this.#graph.pulse("runs out", trigger.countdown), cold: true, rises: true };
      case "changes":
        return { kind: "changes", node: this.#graph.thing(trigger.of), by: this.#maybe(trigger.by) };
      case "at": {
        const timer = this.#compiler.timer({ kind: "trigger", event: this.#index, trigger: number });
        return { kind: "at", at: this.#at(trigger.at), days: trigger.days, timer };
      }
      case "every": {
        const timer = this.#compiler.timer({ kind: "trigger", event: this.#index, trigger: number });
        return { kind: "every", every: this.#graph.node(trigger.every), days: trigger.days, timer };
      }
      case "the house starts":
        return { kind: "the house starts" };
      default:
        throw new RangeError(`no such trigger: ${JSON.stringify(trigger satisfies never)}`);
    }
  }

  #until(until: Until | undefined): UntilProgram | undefined {
    if (!until) return undefined;
    if (until.kind === "state") return { kind: "state", node: this.#graph.node(until.condition) };
    if (until.kind === "at") return { kind: "at", at: this.#at(until.at) };
    const moment: Occasion = until;
    const trigger = this.#trigger(moment, -1);
    if (trigger.kind === "edge" || trigger.kind === "changes") return trigger;
    throw new RangeError(`no such moment: ${until.kind}`);
  }

  /** What a step sets: an output is asked, all else is turned. */
  #setting(name: string, value: number, lasts?: Expression, until?: Until): SettingProgram {
    const lasting = { value, for: this.#maybe(lasts), until: this.#until(until) };
    if (this.#compiler.isOutput(name)) return { kind: "ask", claim: this.#claimOn(name), ...lasting };
    const { name: cell } = this.#compiler.cell(name);
    const timer = this.#compiler.timer({ kind: "cell", event: this.#index, step: this.#steps.length });
    return { kind: "turn", cell, timer, ...lasting };
  }

  #claimOn(output: string): number {
    const known = this.#asked.get(output) ?? this.#claim(output);
    this.#asked.set(output, known);
    return known;
  }

  #step(step: Step): void {
    const graph = this.#graph;
    const push = (program: StepProgram) => this.#steps.push(program);
    switch (step.kind) {
      case "set":
        push(this.#setting(step.name, graph.node(step.to), step.for, step.until));
        break;
      case "toggle":
        push({ kind: "toggle", of: this.#setting(step.name, -1), node: graph.thing(step.name) });
        break;
      case "raise":
      case "lower": {
        const sign = step.kind === "raise" ? 1 : -1;
        const of = this.#setting(step.name, -1);
        push({
          kind: "relative",
          of,
          node: graph.thing(step.name),
          by: graph.node(step.by),
          sign,
          range: this.#compiler.rangeOf(step.name),
        });
        break;
      }
      case "ramp":
        push({
          kind: "ramp",
          claim: this.#claimOn(step.output),
          from: graph.node(step.from),
          to: graph.node(step.to),
          over: graph.node(step.over),
        });
        break;
      case "dose":
        push({
          kind: "dose",
          claim: this.#claimOn(step.output),
          output: this.#compiler.outputIndex(step.output),
          amount: graph.node(step.amount),
        });
        break;
      case "release":
        push({ kind: "release", output: this.#compiler.outputIndex(step.output) });
        break;
      case "apply": {
        const preset = this.#compiler.house.presets.find(({ name }) => name === step.preset);
        if (!preset) throw new RangeError(`the house has no preset called "${step.preset}"`);
        push({
          kind: "apply",
          settings: preset.targets.map(({ output, value }) => this.#setting(output, graph.node(value))),
        });
        break;
      }
      case "start":
        push({ kind: "start", countdown: this.#countdown(step.countdown), lasts: this.#maybe(step.with) });
        break;
      case "stop":
        push({ kind: "stop", countdown: this.#countdown(step.countdown) });
        break;
      case "tell":
        push({ kind: "tell", text: this.#text(step.text), through: step.through, onceIn: this.#maybe(step.onceIn) });
        break;
      case "send":
        push({ kind: "send", text: this.#text(step.text), to: this.#text(step.to) });
        break;
      case "wait":
        push({ kind: "wait", for: graph.node(step.for) });
        break;
      case "wait until":
        push({ kind: "wait until", until: this.#until(step.until) as UntilProgram, atMost: this.#maybe(step.atMost) });
        break;
      case "if":
        this.#choice(step);
        break;
      case "end here":
        push({ kind: "jump", to: -1 });
        break;
      default:
        throw new RangeError(`no such step: ${JSON.stringify(step satisfies never)}`);
    }
  }

  #choice({ branches, else: otherwise }: Extract<Step, { kind: "if" }>): void {
    const ends: number[] = [];
    for (const { if: condition, do: steps } of branches) {
      const branch = this.#steps.push({ kind: "branch", condition: this.#graph.node(condition), else: -1 }) - 1;
      for (const step of steps) this.#step(step);
      ends.push(this.#steps.push({ kind: "jump", to: -1 }) - 1);
      this.#steps[branch] = { ...(this.#steps[branch] as Extract<StepProgram, { kind: "branch" }>), else: this.#steps.length };
    }
    for (const step of otherwise) this.#step(step);
    for (const end of ends) this.#steps[end] = { kind: "jump", to: this.#steps.length };
  }

  #countdown(name: string): number {
    const found = this.#compiler.house.countdowns.findIndex((one) => one.name === name);
    if (found < 0) throw new RangeError(`the house has no countdown called "${name}"`);
    return found;
  }

  #text(text: Text): TextPart[] {
    return text.map((part) => (typeof part === "string" ? part : { node: this.#graph.node(part), type: this.#typeOf(part) }));
  }

  #typeOf(part: Expression): ValueType {
    if (part.kind === "value") {
      const type = typeOf(this.#compiler.house, part.of);
      return type.kind === "truth" ? { kind: "words", words: ["no", "yes"], ordered: false } : type;
    }
    if (part.kind === "clock" && part.what === "weekday") return { kind: "words", words: weekdayNames, ordered: true };
    if ((part.kind === "clock" && part.what === "time") || part.kind === "sun time" || part.kind === "time")
      return { kind: "time" };
    return { kind: "number", unit: unitOfExpression(this.#compiler.house, part) };
  }
}

function pulseOf(key: string, name: string, node: number): PulseProgram {
  const kind = key.slice(0, key.length - name.length - 1) as PulseProgram["kind"];
  return { kind, text: name, node };
}

/** What an output does when nobody asks: off, 0, or nothing of its own. */
export function restOf({ atRest, type }: Output): Value | undefined {
  if (atRest !== undefined) return atRest;
  if (type.kind === "words") return type.words.includes("off") ? "off" : undefined;
  return type.kind === "number" ? 0 : undefined;
}

function listenersOf({ outputs, events }: Pick<Program, "outputs" | "events">): Map<number, Listener[]> {
  const listeners = new Map<number, Listener[]>();
  const listen = (node: number, listener: Listener) => {
    if (node < 0) return;
    const there = listeners.get(node) ?? [];
    listeners.set(node, there);
    there.push(listener);
  };
  for (const { index, claims, permits, atLeast, atMost, modes } of outputs) {
    const nodes = new Set<number>();
    for (const { held } of claims) if (held) nodes.add(held.when).add(held.value);
    for (const { onlyWhile, what } of permits) {
      nodes.add(onlyWhile);
      if ("above" in what) nodes.add(what.above);
      if ("below" in what) nodes.add(what.below);
    }
    for (const duration of atLeast.values()) nodes.add(duration);
    for (const { duration, rest } of atMost) nodes.add(duration).add(rest);
    for (const node of nodes) listen(node, { kind: "output", output: index });
    for (const node of modes) listen(node, { kind: "mode", output: index });
  }
  const untilNodes = (until: UntilProgram | undefined) => (until && until.kind !== "at" ? [until.node] : []);
  for (const { index, triggers, steps } of events) {
    triggers.forEach((trigger, number) => {
      const node =
        trigger.kind === "at"
          ? trigger.at.time
          : trigger.kind === "every"
            ? trigger.every
            : trigger.kind === "the house starts"
              ? -1
              : trigger.node;
      listen(node, { kind: "trigger", event: index, trigger: number });
    });
    steps.forEach((step, number) => {
      if (step.kind === "wait until")
        for (const node of untilNodes(step.until)) listen(node, { kind: "wait", event: index, step: number });
      if (step.kind === "ask" || step.kind === "turn")
        for (const node of untilNodes(step.until)) listen(node, { kind: "until", event: index, step: number });
    });
  }
  return listeners;
}
