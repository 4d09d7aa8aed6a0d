// Compiles a house: outputs with their claims and permits, countdowns, moments, and who listens to which node.
import { GraphBuilder } from "../expression/index.js";
import {
  bandOf,
  baseOf,
  crossingOf,
  type Drive,
  type EventSentence,
  type Expression,
  fullOf,
  type House,
  type Keep,
  lastsOf,
  modesMentioned,
  noneOf,
  type Output,
  offPartOf,
  oncePer,
  type Permit,
  placeOf,
  reachOf,
  restOf,
  type Sensor,
  type Sentence,
  type Standing,
  standings,
  type Thing,
  targetsOf,
  thingsOf,
  unitOfExpression,
  type Value,
  type ValueType,
} from "../house/index.js";

import { EventCompiler } from "./compile-event.js";
import {
  type BandProgram,
  type Cell,
  type ClaimProgram,
  type CountdownProgram,
  type EventProgram,
  type GroupProgram,
  type Held,
  type Listener,
  type OutputProgram,
  type PermitProgram,
  type Program,
  type PulseProgram,
  type RuleProgram,
  type Timer,
  type UntilProgram,
  untilOf,
} from "./program.js";
import { sunEventsOf } from "./sunless.js";

const HAND_LASTS: Expression = { kind: "number", value: 2 * 3600e3, unit: "ms" };

interface Compiled {
  readonly program: Program;
  readonly graph: GraphBuilder;
}

/** A house is compiled once, however many engines run it: hundreds of timelines are played of one. */
const compiled: (house: House) => Compiled = oncePer((house) => new Compiler(house).compile());

/** Compiles a house; `watch` are conditions watched as well, without influence on it. */
export function compile(house: House, watch: readonly Expression[] = []): Program {
  const { program, graph } = compiled(house);
  if (watch.length === 0) return program;
  const fork = graph.fork();
  const watched = watch.map((expression) => fork.node(expression));
  return { ...program, graph: fork.seal(), pulses: pulsesIn(fork), watched };
}

class Compiler {
  readonly #graph: GraphBuilder;
  readonly #claims: ClaimProgram[] = [];
  readonly #timers: Timer[] = [];
  readonly #bands: BandProgram[] = [];
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

  compile(): Compiled {
    const { house } = this;
    const graph = this.#graph;
    const shown = new Map([...this.#cells].map(([name, { kind, node }]) => [name, kind === "sensor" ? graph.thing(name) : node]));
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
          events.push(new EventCompiler(this, sentence, events.length, claim).compile(rule, ruleIndex, index));
        else this.#state(sentence, rule.name, claim);
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
    const groups = house.guards.flatMap(({ name, neverTogether = [] }) =>
      neverTogether.map((one): GroupProgram => {
        const apart = one.apart ? graph.node(one.apart) : graph.constant(0);
        return { guard: name, outputs: one.outputs.map((output) => this.outputIndex(output)), apart };
      }),
    );
    const presets = new Map(
      house.presets.map(({ name, targets }) => [
        name,
        targets.map((target) => ({ name: target.output, value: graph.node(target.value) })),
      ]),
    );
    const handLasts = graph.node(house.handLasts ?? HAND_LASTS);
    // A press that no rule looks at may still be reported.
    const presses = new Map(
      house.sensors.flatMap(({ name, type }) => (type.kind === "press" ? [[name, graph.pulse("pressed", name)] as const] : [])),
    );
    const day = { timer: this.timer({ kind: "day" }) };
    const derived = new Map([...house.lets, ...house.profiles].map(({ name }) => [name, graph.show(name)]));
    const program = {
      house,
      graph: graph.seal(),
      cells: this.#cells,
      derived,
      shown,
      pulses: pulsesIn(graph),
      presses,
      watched: [],
      presets,
      handLasts,
      claims: this.#claims,
      events,
      outputs,
      bands: this.#bands,
      groups,
      countdowns,
      rules,
      day,
      sunEvents: sunEventsOf(house),
      timers: this.#timers,
    };
    return { program: { ...program, listeners: listenersOf(program) }, graph };
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
      const range = kind === "output" ? reachOf(thing) : "range" in thing ? thing.range : undefined;
      const first = kind === "output" ? restOf(thing) : kind === "sensor" ? undefined : thing.atFirst;
      const node = kind === "sensor" ? this.#graph.sensor(name) : this.#graph.thing(name);
      cells.set(name, {
        name,
        kind,
        node,
        type: thing.type,
        range,
        first,
        ...this.#counting(kind === "sensor" ? thing : undefined),
      });
    }
    return cells;
  }

  /** How long a reading counts, and which does not. */
  #counting(sensor: Sensor | undefined): Pick<Cell, "ages" | "moves"> {
    if (!sensor) return { ages: false };
    const { movesAtMost, lastsForEver } = sensor;
    const moves = movesAtMost && { by: this.#graph.node(movesAtMost.by), in: this.#graph.node(movesAtMost.in) };
    return { ages: lastsForEver === true || lastsOf(this.house, sensor) !== undefined, moves };
  }

  #countdown(index: number): CountdownProgram {
    const { name, lasts } = this.house.countdowns[index] as House["countdowns"][number];
    const graph = this.#graph;
    const timer = this.timer({ kind: "countdown", countdown: index });
    return {
      index,
      name,
      running: graph.flag("running", name),
      ends: graph.flag("ends", name),
      runsOut: graph.pulse("runs out", name),
      lasts: graph.node(lasts),
      timer,
    };
  }

  #claim(output: string, rule: string, ruleIndex: number, sentence: number, standing: Standing, held: Held | undefined): number {
    const index = this.#claims.length;
    const timer = this.timer({ kind: "claim", claim: index });
    const claim = { index, output: this.outputIndex(output), reason: { rule, sentence }, ruleIndex, standing, held, timer };
    this.#claims.push(claim);
    this.#claimsOf[claim.output]?.push(claim);
    return index;
  }

  #state(sentence: Exclude<Sentence, EventSentence>, rule: string, claim: (output: string, held: Held) => number): void {
    const graph = this.#graph;
    const when = sentence.while ? graph.node(sentence.while) : -1;
    if ("keep" in sentence) this.#keep(sentence.keep, rule, when, claim);
    else if ("hold" in sentence) for (const { output, value } of sentence.hold) claim(output, { when, value: graph.node(value) });
    else {
      const { outputs, on, off } = sentence.cycle;
      const applies = when < 0 ? graph.constant(1) : when;
      const turns = graph.combine("cycle", applies, graph.node(on), graph.node(off));
      for (const output of outputs) claim(output, { when: turns, value: graph.constant(this.#full(output)) });
    }
  }

  /** What an output is while it is kept on, in the base unit. */
  #full(output: string): number {
    return this.#base(output, fullOf(this.#declared(output)));
  }

  /** What it is while it is kept off. */
  #none(output: string): number {
    return this.#base(output, noneOf(this.#declared(output)));
  }

  #base(output: string, value: Value | undefined): number {
    if (value === undefined) throw new RangeError(`"${output}" has no range: nothing says what full is`);
    return baseOf(value, this.cell(output).type);
  }

  #declared(output: string): Output {
    return this.house.outputs.find(({ name }) => name === output) as Output;
  }

  /** The memory of a band follows its signal at all times; `when` only decides whether it claims. */
  #keep(keep: Keep, rule: string, when: number, claim: (output: string, held: Held) => number): void {
    const graph = this.#graph;
    const [low, high] = targetsOf(keep).map((target) => graph.node(target)) as [number, number];
    const value = graph.node(keep.value);
    const crosses = this.#crossing(keep, rule, low, high);
    const applies = crosses < 0 ? when : graph.all(when, graph.not(crosses));
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
      for (const output of drive.outputs) {
        const full = graph.constant(this.#full(output));
        const off = offPartOf(keep, this.#declared(output));
        const held =
          off === undefined
            ? { when: graph.all(applies, band), value: full }
            : {
                when: graph.all(applies, graph.not(graph.isUnknown(band))),
                value: graph.choose(band, full, graph.constant(this.#base(output, off))),
              };
        claim(output, held);
      }
    }
  }

  /** The node of whether the targets of a `keep` cross; -1 where they never can. */
  #crossing(keep: Keep, rule: string, low: number, high: number): number {
    const crossing = crossingOf(keep);
    if (!crossing || !keep.tolerance) return -1;
    const graph = this.#graph;
    const crosses = graph.node(crossing);
    const [below, above] = [keep.tolerance.below, keep.tolerance.above].map((part) => graph.node(part)) as [number, number];
    const unit = unitOfExpression(this.house, keep.value);
    this.#bands.push({ rule, crosses, low, high, below, above, unit });
    return crosses;
  }

  /** In proportion to a distance: of the range, or for a share of each cycle. Nothing of it is a claim as well. */
  #follow({ outputs, proportion }: Drive, distance: number, when: number, claim: (output: string, held: Held) => number): void {
    if (!proportion) return;
    const graph = this.#graph;
    const over = graph.node(proportion.over);
    const share = graph.combine("clamp", graph.combine("divided", distance, over), graph.constant(0), graph.constant(1));
    const applies = graph.all(when, graph.not(graph.isUnknown(share)));
    for (const output of outputs) {
      const [full, none] = [this.#full(output), this.#none(output)].map((value) => graph.constant(value)) as [number, number];
      if (proportion.cycle) {
        const turns = graph.combine("share cycle", applies, share, graph.node(proportion.cycle));
        claim(output, { when: applies, value: graph.choose(turns, full, none) });
        continue;
      }
      const all = graph.constant(this.#full(output) - this.#none(output));
      const value = graph.combine("plus", none, graph.combine("times", share, all));
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
      claims: claims
        .filter(({ standing }) => standing !== "watch")
        .sort((a, b) => standings.indexOf(a.standing) - standings.indexOf(b.standing) || a.index - b.index),
      modes: this.#modesOf(claims),
      delivers: delivers && {
        full: this.#base(name, fullOf(output)),
        rate: graph.node(delivers.rate),
        after: delivers.after ? graph.node(delivers.after) : graph.constant(0),
      },
      disobeys,
      lastAmount: delivers ? graph.flag("last amount", name) : -1,
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

function pulsesIn({ nodes }: GraphBuilder): PulseProgram[] {
  return nodes.flatMap(({ op, key, name }, node) => (op === "pulse" ? [pulseOf(key, name, node)] : []));
}

function pulseOf(key: string, name: string, node: number): PulseProgram {
  const kind = key.slice(0, key.length - name.length - 1) as PulseProgram["kind"];
  return { kind, text: name, node };
}

function listenersOf({
  outputs,
  events,
  bands,
  groups,
}: Pick<Program, "outputs" | "events" | "bands" | "groups">): Map<number, Listener[]> {
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
    // What one asks for decides of those that never run with it.
    const company = groups.filter((group) => group.outputs.includes(index));
    const decided = new Set([index, ...company.flatMap((group) => group.outputs)]);
    for (const { apart } of company) nodes.add(apart);
    for (const node of nodes) for (const output of decided) listen(node, { kind: "output", output });
    for (const node of modes) listen(node, { kind: "mode", output: index });
  }
  for (const [band, { crosses }] of bands.entries()) listen(crosses, { kind: "band", band });
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
      const kind = step.kind === "wait until" ? "wait" : "until";
      for (const node of untilNodes(untilOf(step))) listen(node, { kind, event: index, step: number });
    });
  }
  return listeners;
}
