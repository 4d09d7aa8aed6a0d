// Compiles the sentence of an event rule: its triggers, and its steps in a row.
import type { GraphBuilder } from "../expression/index.js";
import {
  type DayTime,
  type EventSentence,
  type Expression,
  type House,
  type Lasting,
  type Occasion,
  type Range,
  type Rule,
  type Step,
  type Text,
  type Trigger,
  typeOf,
  type Until,
  unitOfExpression,
  type ValueType,
} from "../house/index.js";
import { weekdayNames } from "../time/index.js";

import type {
  AtProgram,
  Cell,
  EventProgram,
  SettingProgram,
  StepProgram,
  TextPart,
  Timer,
  TriggerProgram,
  TurnProgram,
  UntilProgram,
} from "./program.js";

/** What a sentence needs of the house it is compiled in. */
export interface Compiling {
  readonly house: House;
  readonly graph: GraphBuilder;
  /** The number of a new timer. */
  timer(timer: Timer): number;
  isOutput(name: string): boolean;
  cell(name: string): Cell;
  rangeOf(name: string): Range | undefined;
  outputIndex(name: string): number;
}

/** The sentence of an event rule: triggers, and its steps in a row. */
export class EventCompiler {
  readonly #compiler: Compiling;
  readonly #sentence: EventSentence;
  readonly #index: number;
  readonly #claim: (output: string) => number;
  readonly #asked = new Map<string, number>();
  readonly #steps: StepProgram[] = [];
  readonly #turns: TurnProgram[] = [];

  constructor(compiler: Compiling, sentence: EventSentence, index: number, claim: (output: string) => number) {
    this.#compiler = compiler;
    this.#sentence = sentence;
    this.#index = index;
    this.#claim = claim;
  }

  get #graph(): GraphBuilder {
    return this.#compiler.graph;
  }

  compile({ name: rule, standing }: Rule, ruleIndex: number, sentence: number): EventProgram {
    const { when, provided, ifTriggeredAgain } = this.#sentence;
    const triggers = when.map((trigger, number) => this.#trigger(trigger, number));
    for (const step of this.#sentence.do) this.#step(step);
    // `end here` goes after the last step.
    const end = this.#steps.length;
    const steps = this.#steps.map((step) => (step.kind === "jump" && step.to < 0 ? { ...step, to: end } : step));
    return {
      index: this.#index,
      rule,
      ruleIndex,
      sentence,
      triggers,
      provided: this.#maybe(provided),
      steps,
      turns: this.#turns,
      again: ifTriggeredAgain,
      watches: standing === "watch",
      timer: this.#compiler.timer({ kind: "wait", event: this.#index }),
    };
  }

  #maybe(expression: Expression | undefined): number {
    return expression ? this.#graph.glance(expression) : -1;
  }

  #at({ sun, time }: DayTime): AtProgram {
    return { sun, time: this.#graph.node(time) };
  }

  #trigger(trigger: Trigger, number: number): TriggerProgram {
    switch (trigger.kind) {
      case "becomes true":
        return this.#edge(this.#graph.node(trigger.condition), { cold: true, rises: true });
      case "begins":
      case "ends":
        return this.#edge(this.#graph.schedule(trigger.schedule), { cold: false, rises: trigger.kind === "begins" });
      case "runs out":
        return this.#edge(this.#graph.pulse("runs out", trigger.countdown), { cold: true, rises: true });
      case "changes": {
        const node = this.#graph.thing(trigger.of);
        const by = this.#maybe(trigger.by);
        const watches = number >= 0 && by >= 0 && this.#graph.nodes[node]?.moving === true;
        const timer = watches ? this.#compiler.timer({ kind: "look", event: this.#index, trigger: number }) : -1;
        return { kind: "changes", node, by, timer };
      }
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

  #edge(node: number, { cold, rises }: { readonly cold: boolean; readonly rises: boolean }): TriggerProgram {
    return { kind: "edge", node, cold, rises, byClock: this.#graph.goesByClock(node) };
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
  #setting(name: string, value: number, { for: lasts, until, atMost }: Lasting = {}): SettingProgram {
    const lasting = { value, for: this.#maybe(lasts), until: this.#until(until), atMost: this.#maybe(atMost) };
    if (this.#compiler.isOutput(name)) return { kind: "ask", claim: this.#claimOn(name), ...lasting };
    const { name: cell } = this.#compiler.cell(name);
    const turn = this.#turns.length;
    const timer = this.#compiler.timer({ kind: "cell", event: this.#index, turn });
    const turning: TurnProgram = { kind: "turn", cell, timer, turn, ...lasting };
    this.#turns.push(turning);
    return turning;
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
        push(this.#setting(step.name, graph.glance(step.to), step));
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
          by: graph.glance(step.by),
          sign,
          range: this.#compiler.rangeOf(step.name),
        });
        break;
      }
      case "ramp":
        push({
          kind: "ramp",
          claims: step.outputs.map((output) => this.#claimOn(output)),
          from: graph.glance(step.from),
          to: graph.glance(step.to),
          over: graph.glance(step.over),
        });
        break;
      case "dose":
        this.#dose(step);
        break;
      case "release":
        push({ kind: "release", output: this.#compiler.outputIndex(step.output) });
        break;
      case "apply": {
        const preset = this.#compiler.house.presets.find(({ name }) => name === step.preset);
        if (!preset) throw new RangeError(`the house has no preset called "${step.preset}"`);
        push({
          kind: "apply",
          settings: preset.targets.map(({ output, value }) => this.#setting(output, graph.glance(value), step)),
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
        push({ kind: "wait", for: graph.glance(step.for) });
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

  /** Behind a dose stand the steps for where it is broken off; one that is whole passes them by. */
  #dose({ output, amount, otherwise }: Extract<Step, { kind: "dose" }>): void {
    const dose = {
      kind: "dose" as const,
      claim: this.#claimOn(output),
      output: this.#compiler.outputIndex(output),
      amount: this.#graph.glance(amount),
      broken: -1,
    };
    const place = this.#steps.push(dose) - 1;
    if (!otherwise) return;
    const pass = this.#steps.push({ kind: "jump", to: -1 }) - 1;
    this.#steps[place] = { ...dose, broken: this.#steps.length };
    for (const step of otherwise) this.#step(step);
    this.#steps.push({ kind: "jump", to: -1 });
    this.#steps[pass] = { kind: "jump", to: this.#steps.length };
  }

  #choice({ branches, else: otherwise }: Extract<Step, { kind: "if" }>): void {
    const ends: number[] = [];
    for (const { if: condition, do: steps } of branches) {
      const branch = this.#steps.push({ kind: "branch", condition: this.#graph.glance(condition), else: -1 }) - 1;
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
    return text.map((part) => (typeof part === "string" ? part : { node: this.#graph.glance(part), type: this.#typeOf(part) }));
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
