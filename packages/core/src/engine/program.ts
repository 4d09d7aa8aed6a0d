// A house compiled for the engine: the graph of its expressions, and what each node, timer and output has to do with.
import { Graph, placeOf } from "../expression/index.js";
import {
  type EventSentence,
  type Expression,
  type House,
  type Keep,
  type Output,
  type Permit,
  type Range,
  type Standing,
  type Step,
  type Text,
  type Trigger,
  thingsOf,
  type Value,
  type ValueType,
} from "../house/index.js";
import type { Weekday } from "../time/index.js";
import { fromBase, toBase } from "../units/index.js";

/** What a sentence holds: while `when` is true (-1: always) it asks for the value of `value`. */
export interface Held {
  readonly when: number;
  readonly value: number;
  /** Of a `keep`: the memory of its band, and which way it drives. */
  readonly band?: { readonly node: number; readonly way: "raise" | "lower" };
}

/** A reason to ask something of an output. */
export interface ClaimProgram {
  readonly index: number;
  readonly output: number;
  readonly rule: string;
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

export interface OutputProgram {
  readonly index: number;
  readonly name: string;
  readonly node: number;
  readonly type: ValueType;
  /** In the base unit; undefined when it stays as it is. */
  readonly atRest: number | undefined;
  /** Least time, by value: a node that holds a duration. */
  readonly atLeast: ReadonlyMap<number, number>;
  readonly permits: readonly PermitProgram[];
  /** Strongest standing first, within one in the order written. */
  readonly claims: readonly ClaimProgram[];
  /** Ends the delay of a protection. */
  readonly timer: number;
}

export type TriggerProgram =
  | { readonly kind: "edge"; readonly node: number; readonly coldEdge: boolean; readonly rises: boolean }
  | { readonly kind: "at"; readonly time: number; readonly days: readonly Weekday[]; readonly timer: number };

export type TextPart = string | { readonly node: number; readonly type: ValueType };

/** How long something asked for a time lasts: -1 where not said. */
interface Lasting {
  readonly for: number;
  readonly until: number;
}

export type StepProgram =
  | ({ readonly kind: "ask"; readonly claim: number; readonly value: number } & Lasting)
  | ({ readonly kind: "turn"; readonly cell: string; readonly value: number; readonly timer: number } & Lasting)
  | { readonly kind: "tell"; readonly text: readonly TextPart[]; readonly through: string | undefined }
  | { readonly kind: "wait"; readonly for: number }
  | { readonly kind: "wait until"; readonly condition: number; readonly atMost: number };

export interface EventProgram {
  readonly index: number;
  readonly rule: string;
  readonly sentence: number;
  readonly triggers: readonly TriggerProgram[];
  readonly provided: number;
  readonly steps: readonly StepProgram[];
  readonly again: EventSentence["ifTriggeredAgain"];
  /** Ends a wait. */
  readonly timer: number;
}

/** What a timer that is no node's has to do. */
export type Timer =
  | { readonly kind: "output"; readonly output: number }
  | { readonly kind: "claim"; readonly claim: number }
  | { readonly kind: "cell"; readonly event: number; readonly step: number }
  | { readonly kind: "wait"; readonly event: number }
  | { readonly kind: "trigger"; readonly event: number; readonly trigger: number };

/** What has to be looked at when a node changes. */
export type Listener =
  | { readonly kind: "output"; readonly output: number }
  | { readonly kind: "trigger"; readonly event: number; readonly trigger: number }
  | { readonly kind: "wait"; readonly event: number }
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

export interface Program {
  readonly house: House;
  readonly graph: Graph;
  readonly cells: ReadonlyMap<string, Cell>;
  readonly outputs: readonly OutputProgram[];
  readonly claims: readonly ClaimProgram[];
  readonly events: readonly EventProgram[];
  /** Nodes true for an instant in which a notice with this part is told. */
  readonly told: readonly { readonly text: string; readonly node: number }[];
  readonly watched: readonly number[];
  /** Timers behind those of the nodes: timer number = nodes + index. */
  readonly timers: readonly Timer[];
  readonly listeners: ReadonlyMap<number, readonly Listener[]>;
}

/** A value in the base unit, from one in the thing's own. */
export function baseOf(value: Value, type: ValueType): number {
  if (typeof value === "string") return placeOf(value, type);
  return type.kind === "number" ? toBase({ value, unit: type.unit }) : value;
}

/** A value in the thing's own unit; undefined when unknown. */
export function ownOf(base: number, type: ValueType): Value | undefined {
  if (Number.isNaN(base)) return undefined;
  if (type.kind === "words") return type.words[base];
  return type.kind === "number" ? fromBase(base, type.unit) : base;
}

const standings: readonly Standing[] = ["urgent", "plain", "background"];

/** Compiles a house; `watch` are conditions looked at beside it that do not influence it. */
export function compile(house: House, watch: readonly Expression[] = []): Program {
  return new Compiler(house).compile(watch);
}

class Compiler {
  readonly #graph: Graph;
  readonly #claims: ClaimProgram[] = [];
  readonly #timers: Timer[] = [];
  readonly #outputs: ReadonlyMap<string, number>;

  constructor(readonly house: House) {
    this.#graph = new Graph(house);
    this.#outputs = new Map(house.outputs.map(({ name }, index) => [name, index]));
  }

  compile(watch: readonly Expression[]): Program {
    const { house } = this;
    const cells = this.#cells();
    const events: EventProgram[] = [];
    for (const rule of house.rules) {
      rule.sentences.forEach((sentence, index) => {
        const claim = (output: string, held?: ClaimProgram["held"]) => this.#claim(output, rule.name, index, rule.standing, held);
        if ("do" in sentence) events.push(this.#event(sentence, events.length, rule.name, index, claim));
        else {
          const when = sentence.while ? this.#graph.node(sentence.while) : -1;
          if ("keep" in sentence) this.#keep(sentence.keep, when, claim);
          else
            for (const { output, value } of sentence.hold) {
              claim(output, { when, value: this.#graph.node(value, this.#graph.typeOf(output)) });
            }
        }
      });
    }
    const outputs = house.outputs.map((output, index) => this.#output(output, index));
    const watched = watch.map((expression) => this.#graph.node(expression));
    const told = this.#graph.nodes.flatMap(({ op, name }, node) => (op === "pulse" ? [{ text: name, node }] : []));
    const base = this.#graph.nodes.length;
    const shift = <Owner extends { readonly timer: number }>(owner: Owner): Owner => ({ ...owner, timer: owner.timer + base });
    const program = {
      house,
      graph: this.#graph,
      cells,
      told,
      watched,
      timers: this.#timers,
      claims: this.#claims.map(shift),
      events: events.map((event) =>
        shift({
          ...event,
          triggers: event.triggers.map((trigger) => (trigger.kind === "at" ? shift(trigger) : trigger)),
          steps: event.steps.map((step) => (step.kind === "turn" ? shift(step) : step)),
        }),
      ),
      outputs: outputs.map((output) => shift({ ...output, claims: output.claims.map(shift) })),
    };
    return { ...program, listeners: listenersOf(program) };
  }

  /** Numbered from 0 while compiling; shifted behind the nodes at the end. */
  #timer(timer: Timer): number {
    return this.#timers.push(timer) - 1;
  }

  #cells(): Map<string, Cell> {
    const cells = new Map<string, Cell>();
    for (const [name, { kind, thing }] of thingsOf(this.house)) {
      const range = "range" in thing ? thing.range : undefined;
      const first = kind === "output" ? restOf(thing) : kind === "sensor" ? undefined : thing.atFirst;
      cells.set(name, {
        name,
        kind,
        node: this.#graph.thing(name),
        type: thing.type,
        range,
        first,
        ages: "unknownAfter" in thing,
      });
    }
    return cells;
  }

  #claim(output: string, rule: string, sentence: number, standing: Standing, held: ClaimProgram["held"]): number {
    const index = this.#claims.length;
    const timer = this.#timer({ kind: "claim", claim: index });
    this.#claims.push({ index, output: this.#outputs.get(output) as number, rule, sentence, standing, held, timer });
    return index;
  }

  /** The memory of a band follows its signal at all times; `when` only decides whether it claims. */
  #keep(keep: Keep, when: number, claim: (output: string, held: ClaimProgram["held"]) => number): void {
    const graph = this.#graph;
    const value = graph.node(keep.value);
    const [low, high] =
      "low" in keep.at ? [graph.node(keep.at.low), graph.node(keep.at.high)] : [graph.node(keep.at), graph.node(keep.at)];
    const bottom = graph.sum("minus", low, graph.node(keep.tolerance.below));
    const top = graph.sum("plus", high, graph.node(keep.tolerance.above));
    const both = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
    const on = (output: string) => graph.constant(placeOf("on", graph.typeOf(output)));
    if (keep.raiseWith !== undefined) {
      const stops = both ? graph.compare("at least", value, low) : graph.compare("above", value, top);
      const raising = graph.until(graph.compare("below", value, bottom), stops);
      claim(keep.raiseWith, { when: graph.all(when, raising), value: on(keep.raiseWith), band: { node: raising, way: "raise" } });
    }
    if (keep.lowerWith !== undefined) {
      const stops = both ? graph.compare("at most", value, high) : graph.compare("below", value, bottom);
      const lowering = graph.until(graph.compare("above", value, top), stops);
      claim(keep.lowerWith, {
        when: graph.all(when, lowering),
        value: on(keep.lowerWith),
        band: { node: lowering, way: "lower" },
      });
    }
  }

  #event(sentence: EventSentence, index: number, rule: string, place: number, claim: (output: string) => number): EventProgram {
    const asked = new Map<string, number>();
    const claimOn = (output: string) => {
      const known = asked.get(output) ?? claim(output);
      asked.set(output, known);
      return known;
    };
    return {
      index,
      rule,
      sentence: place,
      triggers: sentence.when.map((trigger, number) => this.#trigger(trigger, index, number)),
      provided: sentence.provided ? this.#graph.node(sentence.provided) : -1,
      steps: sentence.do.map((step, number) => this.#step(step, index, number, claimOn)),
      again: sentence.ifTriggeredAgain,
      timer: this.#timer({ kind: "wait", event: index }),
    };
  }

  #trigger(trigger: Trigger, event: number, number: number): TriggerProgram {
    switch (trigger.kind) {
      case "becomes true":
        return { kind: "edge", node: this.#graph.node(trigger.condition), coldEdge: true, rises: true };
      case "begins":
      case "ends":
        return { kind: "edge", node: this.#graph.schedule(trigger.schedule), coldEdge: false, rises: trigger.kind === "begins" };
      case "at": {
        const timer = this.#timer({ kind: "trigger", event, trigger: number });
        return { kind: "at", time: this.#graph.node(trigger.time), days: trigger.days, timer };
      }
      default:
        throw new RangeError(`no such trigger: ${JSON.stringify(trigger satisfies never)}`);
    }
  }

  #step(step: Step, event: number, number: number, claimOn: (output: string) => number): StepProgram {
    const maybe = (expression: Expression | undefined) => (expression ? this.#graph.node(expression) : -1);
    switch (step.kind) {
      case "set": {
        const value = this.#graph.node(step.to, this.#graph.typeOf(step.name));
        const lasting = { value, for: maybe(step.for), until: maybe(step.until) };
        if (this.#outputs.has(step.name)) return { kind: "ask", claim: claimOn(step.name), ...lasting };
        return { kind: "turn", cell: step.name, timer: this.#timer({ kind: "cell", event, step: number }), ...lasting };
      }
      case "tell":
        return { kind: "tell", text: this.#text(step.text), through: step.through };
      case "wait":
        return { kind: "wait", for: this.#graph.node(step.for) };
      case "wait until":
        return { kind: "wait until", condition: this.#graph.node(step.condition), atMost: maybe(step.atMost) };
      default:
        throw new RangeError(`no such step: ${JSON.stringify(step satisfies never)}`);
    }
  }

  #text(text: Text): TextPart[] {
    return text.map((part) => {
      if (typeof part === "string") return part;
      const type: ValueType = part.kind === "value" ? this.#graph.typeOf(part.of) : { kind: "number", unit: "" };
      return { node: this.#graph.node(part), type };
    });
  }

  #output(output: Output, index: number): OutputProgram {
    const rest = restOf(output);
    const claims = this.#claims.filter((claim) => claim.output === index);
    return {
      index,
      name: output.name,
      node: this.#graph.thing(output.name),
      type: output.type,
      atRest: rest === undefined ? undefined : baseOf(rest, output.type),
      atLeast: new Map(output.atLeast.map(({ word, duration }) => [placeOf(word, output.type), this.#graph.node(duration)])),
      permits: this.house.guards.flatMap(({ name, permits }) =>
        permits.filter((permit) => permit.output === output.name).map((permit) => this.#permit(permit, name, output.type)),
      ),
      claims: [...claims].sort((a, b) => standings.indexOf(a.standing) - standings.indexOf(b.standing) || a.index - b.index),
      timer: this.#timer({ kind: "output", output: index }),
    };
  }

  #permit({ what, onlyWhile }: Permit, guard: string, type: ValueType): PermitProgram {
    const node = this.#graph.node(onlyWhile);
    if ("word" in what) return { guard, what: { word: placeOf(what.word, type) }, onlyWhile: node };
    if ("above" in what) return { guard, what: { above: this.#graph.node(what.above, type) }, onlyWhile: node };
    return { guard, what: { below: this.#graph.node(what.below, type) }, onlyWhile: node };
  }
}

/** What an output does when nobody asks: off, 0, or nothing of its own. */
function restOf({ atRest, type }: Output): Value | undefined {
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
  for (const { index, claims, permits, atLeast } of outputs) {
    const nodes = new Set<number>();
    for (const { held } of claims) if (held) nodes.add(held.when).add(held.value);
    for (const { onlyWhile, what } of permits) {
      nodes.add(onlyWhile);
      if ("above" in what) nodes.add(what.above);
      if ("below" in what) nodes.add(what.below);
    }
    for (const duration of atLeast.values()) nodes.add(duration);
    for (const node of nodes) listen(node, { kind: "output", output: index });
  }
  for (const { index, triggers, steps } of events) {
    triggers.forEach((trigger, number) => {
      listen(trigger.kind === "at" ? trigger.time : trigger.node, { kind: "trigger", event: index, trigger: number });
    });
    steps.forEach((step, number) => {
      if (step.kind === "wait until") listen(step.condition, { kind: "wait", event: index });
      if (step.kind === "ask" || step.kind === "turn") listen(step.until, { kind: "until", event: index, step: number });
    });
  }
  return listeners;
}
