// Runs a house: inputs and time in, changes of outputs out. A pure function of the house, its starting state and the
// inputs with their times; it reads no clock and does no I/O.
import { Agenda, Evaluator, packed } from "../expression/index.js";
import type { Expression, House, Value } from "../house/index.js";
import { type Clock, clockOf, dateOfDay, type Sky } from "../time/index.js";
import { writeDuration, writeQuantity, writeReading, writeTimeOfDay } from "../units/index.js";
import { type ClaimState, type Decision, decide, type OutputState, type Situation } from "./claims.js";
import { Events, type StepHost } from "./events.js";
import type { Event, Journal, Reason, RunningProblem } from "./journal.js";
import {
  baseOf,
  type Cell,
  type ClaimProgram,
  type CountdownProgram,
  compile,
  type Listener,
  type OutputProgram,
  ownOf,
  type Program,
  type TextPart,
} from "./program.js";
import type { ClaimSnapshot, Snapshot } from "./snapshot.js";
import { Sunless } from "./sunless.js";

export interface EngineOptions {
  /** The first instant, in milliseconds since 1970 UTC. */
  readonly at: number;
  /** What has been so for ever, by name: a settled start without edges. Left out: a cold start. */
  readonly given?: Readonly<Record<string, Value>>;
  /** Goes on from a snapshot, taken at `at` or before; the house was down in between. */
  readonly restore?: Snapshot;
  /** Conditions looked at beside the house, without influence on it; see {@link Engine.watched}. */
  readonly watch?: readonly Expression[];
  /** Called after every instant in which something was looked at, with the state it shows to the outside. */
  readonly onInstant?: (at: number) => void;
  /** Where to write down what happens; with `restore`, the journal so far is gone on with. Left out: nowhere. */
  readonly journal?: Journal;
}

/** An output that took another value. */
export interface Change {
  readonly at: number;
  readonly output: string;
  /** In the output's own unit; undefined when it is not known what it does. */
  readonly value: Value | undefined;
  readonly because: Reason;
}

export interface Notice {
  readonly at: number;
  readonly text: string;
  readonly through?: string;
}

/** A raw message that a step sends. */
export interface Message {
  readonly at: number;
  readonly text: string;
  readonly to: string;
}

/** What a person does. */
export type Deed =
  /** Switches an output by hand, for so many milliseconds; without, until a mode changes or `hand lasts` is over. */
  | { readonly kind: "switches"; readonly output: string; readonly value: Value; readonly lasts?: number }
  | { readonly kind: "releases"; readonly output: string }
  | { readonly kind: "pauses"; readonly rule: string; readonly lasts?: number }
  | { readonly kind: "resumes"; readonly rule: string }
  | { readonly kind: "applies"; readonly preset: string }
  | { readonly kind: "starts" | "stops"; readonly countdown: string }
  /** Runs the first `do` of a rule, whatever its `provided` says; a paused rule does nothing. */
  | { readonly kind: "runs"; readonly rule: string };

export interface Engine {
  readonly house: House;
  /** The instant up to which everything has happened. */
  readonly now: number;
  /** The next instant at which something happens by itself; infinite when nothing does. */
  readonly nextDeadline: number;
  /**
   * A sensor's value after calibration, in its own unit, or its word. Queued: reports of one instant make one step. A
   * value out of the sensor's range, or of the wrong kind, is refused and noted. One before `now` is taken at `now` and
   * noted.
   * @throws RangeError when the house has no such sensor
   */
  report(sensor: string, value: Value, at: number): void;
  /** The number of a sensor, for {@link Engine.reportNumber}. */
  sensorNumber(sensor: string): number;
  /** Like `report`, for many reports: of a sensor by its number, a value in its base unit, or the place of its word. */
  reportNumber(sensor: number, base: number, at: number): void;
  /**
   * A press, queued like a report.
   * @throws RangeError when the house has no such sensor, or it is not one that is pressed
   */
  press(sensor: string, at: number): void;
  /**
   * Sets a dial or a mode; queued like a report.
   * @throws RangeError when there is no such dial or mode, or the value is not one of its own
   */
  set(name: string, value: Value, at: number): void;
  /**
   * What a person does; queued like a report. What a guard refuses is noted as a problem.
   * @throws RangeError when the house has no such output, rule, preset or countdown, or the value does not fit
   */
  person(deed: Deed, at: number): void;
  /** What an output says it does. */
  confirm(output: string, value: Value, at: number): void;
  /**
   * The house's clock is set: by so many milliseconds ahead or back. Durations go on; times of day follow the new clock,
   * forward as if the house had been down, backward without firing again.
   */
  jumpClock(by: number, at: number): void;
  /**
   * Runs all that is queued or falls due up to an instant, that instant included.
   * @throws RangeError when `at` lies before `now`
   */
  advanceTo(at: number): void;
  /** The value of a sensor, output, dial, mode, let or profile in its own unit; undefined when unknown. */
  value(name: string): Value | undefined;
  /** The watched conditions in their order: 1 true, 0 false, NaN unknown. */
  watched(index: number): number;
  /** What outputs did since the last call. */
  takeChanges(): Change[];
  /** What was told since the last call. */
  takeNotices(): Notice[];
  /** What steps sent since the last call. */
  takeMessages(): Message[];
  readonly journal: Journal | undefined;
  /** The house compiled: what the numbers of nodes in the journal mean. */
  readonly program: Program;
  /** What of a restored snapshot did not fit the house, by name. */
  readonly leftOut: readonly string[];
  snapshot(): Snapshot;
}

/**
 * An engine for a house.
 * @throws RangeError when `at` is no whole number of milliseconds, or a given name or value does not fit the house
 */
export function createEngine(house: House, options: EngineOptions): Engine {
  if (!Number.isSafeInteger(options.at)) throw new RangeError(`"at" is a whole number of milliseconds, not ${options.at}`);
  const { restore } = options;
  if (restore && restore.at > options.at) throw new RangeError(`instant ${options.at} is before the snapshot's, ${restore.at}`);
  return new Runner(compile(house, options.watch), options);
}

/** Who is told of a change, but for outputs, which are decided anew. */
type Told = Exclude<Listener, { kind: "output" }>;
type ListenerOf<Kind extends Listener["kind"]> = Extract<Listener, { kind: Kind }>;

/** So long ago that everything given has lasted. */
const FOR_EVER = -8.64e15;
/** More turns in one instant mean that rules chase each other. */
const MOST_TURNS = 64;
/** The turns in which those that chase each other are looked for. */
const RING_TURNS = 32;

const none: readonly string[] = [];

/** Numbers that are marked, each once. */
class Marks {
  readonly #marked: Uint8Array;
  readonly #list: number[] = [];
  size = 0;

  constructor(count: number) {
    this.#marked = new Uint8Array(count);
  }

  /** One of them; the only one, where there is one. */
  get first(): number {
    for (let place = 0; ; place++) if (this.#marked[this.#list[place] as number] === 1) return this.#list[place] as number;
  }

  add(number: number): void {
    if (this.#marked[number] === 1) return;
    this.#marked[number] = 1;
    this.#list.push(number);
    this.size++;
  }

  delete(number: number): void {
    if (this.#marked[number] === 0) return;
    this.#marked[number] = 0;
    this.size--;
    if (this.size === 0) while (this.#list.length > 0) this.#list.pop();
  }

  sorted(): number[] {
    const found = this.#list.filter((number) => this.#marked[number] === 1);
    return found.length > 1 ? [...new Set(found)].sort((a, b) => a - b) : found;
  }

  clear(): void {
    for (const number of this.#list) this.#marked[number] = 0;
    while (this.#list.length > 0) this.#list.pop();
    this.size = 0;
  }
}

class Runner implements Engine, StepHost {
  readonly journal: Journal | undefined;
  readonly program: Program;
  readonly agenda: Agenda;
  readonly evaluator: Evaluator;
  readonly leftOut: string[] = [];
  readonly #options: EngineOptions;
  readonly #events: Events;
  readonly #claims: ClaimState[];
  readonly #outputs: OutputState[];
  readonly #reasons: Reason[];
  readonly #confirmed: number[];
  readonly #paused = new Set<number>();
  readonly #undecided: Marks;
  /** Outputs whose value may differ from what was last sent. */
  readonly #touched: Marks;
  readonly #situations: readonly Situation[];
  /** What was asked until something is so, triggers and waits, whose conditions changed: to be looked at once a turn. */
  #lasting: ListenerOf<"until">[] = [];
  #turned: ListenerOf<"trigger" | "wait">[] = [];
  /** Outputs held at what they had before an instant in which they chased each other. */
  readonly #frozen = new Set<number>();
  readonly #refusing = new Set<string>();
  readonly #clock: Clock;
  #clockAhead = 0;
  #sky: Sky;
  #ringing = false;
  /** Nodes that were reported or set for the next step, each once, and the value that counts. */
  readonly #queued: number[] = [];
  readonly #isQueued: Uint8Array;
  readonly #queuedValues: Float64Array;
  readonly #cellOf: (Cell | undefined)[];
  /** Outputs to be decided anew when node n changes: #deciding[#decidingAt[n] … #decidingAt[n+1]-1]. */
  readonly #deciding: Int32Array;
  readonly #decidingAt: Int32Array;
  /** Who else is told of its changes. */
  readonly #listeners: (readonly Told[] | undefined)[];
  /** Whether a report may be taken without a step: nobody writes down what happens, and nothing waits for the next step. */
  #quiet: boolean;
  /** Pulses that are up in this instant. */
  #raised: number[] = [];
  #presses = new Set<number>();
  #deeds: (() => void)[] = [];
  #pending = Number.POSITIVE_INFINITY;
  #turns = 0;
  #stepping = false;
  #silent = true;
  readonly #sunless: Sunless;
  #starting = true;
  #changes: Change[] = [];
  #notices: Notice[] = [];
  #messages: Message[] = [];
  /** The last record of each node and output, the causes of what comes of them. */
  readonly #lastOfNode: number[] = [];
  readonly #lastOfOutput: number[] = [];
  #cause: readonly number[] = [];

  constructor(program: Program, options: EngineOptions) {
    const { graph, timers, outputs, claims, house } = program;
    this.program = program;
    this.#options = options;
    this.journal = options.journal;
    this.#quiet = options.journal === undefined;
    this.#clock = clockOf(house.clock);
    this.#sky = { clock: this.#clock, place: house.place };
    this.agenda = new Agenda(graph.nodes.length + timers.length);
    const onChange = (node: number, value: number) => this.#changed(node, value);
    this.evaluator = new Evaluator(graph, this.agenda, timers.length, options.at, onChange, this.#quiet);
    this.#claims = claims.map(() => ({ asked: false, timed: false, value: Number.NaN, turn: 0, step: 0, ramp: undefined }));
    this.#outputs = outputs.map(({ atRest }) => ({
      value: atRest ?? Number.NaN,
      since: options.at,
      hand: undefined,
      restUntil: Number.NEGATIVE_INFINITY,
      restFrom: Number.NaN,
      movingBy: undefined,
      movingValue: Number.NaN,
      movingNext: Number.NEGATIVE_INFINITY,
    }));
    this.#reasons = outputs.map(() => ({}));
    this.#confirmed = outputs.map(() => Number.NaN);
    const size = graph.nodes.length;
    this.#isQueued = new Uint8Array(size);
    this.#queuedValues = new Float64Array(size);
    this.#cellOf = new Array(size).fill(undefined);
    for (const cell of program.cells.values()) this.#cellOf[cell.node] = cell;
    const listeners = graph.nodes.map((_, node) => program.listeners.get(node) ?? []);
    [this.#deciding, this.#decidingAt] = packed(
      listeners.map((all) => all.flatMap((one) => (one.kind === "output" ? [one.output] : []))),
    );
    this.#listeners = listeners.map((all) => {
      const told = all.filter((one) => one.kind !== "output");
      return told.length > 0 ? told : undefined;
    });
    this.#undecided = new Marks(outputs.length);
    this.#touched = new Marks(outputs.length);
    this.#situations = outputs.map((output, index) => ({
      output,
      state: this.#outputs[index] as OutputState,
      claims: this.#claims,
      evaluator: this.evaluator,
      paused: this.#paused,
    }));
    this.#events = new Events(this);
    this.#sunless = new Sunless(house);
    this.#start();
  }

  get house(): House {
    return this.program.house;
  }

  get now(): number {
    return this.evaluator.now;
  }

  get sky(): Sky {
    return this.#sky;
  }

  get nextDeadline(): number {
    return Math.min(this.#pending, this.agenda.next);
  }

  // ── Inputs ────────────────────────────────────────────────────────────────────────────────────────────────────────

  report(sensor: string, value: Value, at: number): void {
    const cell = this.#cell(sensor);
    if (cell.kind !== "sensor") throw new RangeError(`"${sensor}" is no sensor but a ${cell.kind}`);
    const why = misfit(cell, value);
    if (why) this.#refuse(cell, value, why, at);
    else {
      this.#refusing.delete(cell.name);
      this.#take(cell, baseOf(value, cell.type), at);
    }
  }

  sensorNumber(sensor: string): number {
    const cell = this.#cell(sensor);
    if (cell.kind !== "sensor") throw new RangeError(`"${sensor}" is no sensor but a ${cell.kind}`);
    return cell.node;
  }

  /**
   * Most reports change nothing: they are taken without a step, unless something waits to happen first. Kept short, so
   * that it is inlined where it is called: else its numbers are boxed (measured: twice the time of a quiet report).
   */
  reportNumber(sensor: number, base: number, at: number): void {
    const free = this.#isQueued[sensor] === 0 && at <= this.agenda.next && at <= this.#pending;
    if (free && this.#quiet && at >= this.evaluator.now && this.evaluator.reportQuietly(sensor, base, at)) return;
    this.#reportSlowly(sensor, base, at);
  }

  #reportSlowly(sensor: number, base: number, at: number): void {
    if (this.nextDeadline < at && !this.#stepping) {
      this.advanceTo(at - 1);
      // What had to happen first has happened: it may still be a report that changes nothing.
      if (this.#quiet && at <= this.nextDeadline && this.evaluator.reportQuietly(sensor, base, at)) return;
    }
    const cell = this.#cellOf[sensor];
    if (!cell) throw new RangeError(`the house has no sensor of the number ${sensor}`);
    if (cell.type.kind !== "colour" && !cell.range) this.#take(cell, base, at);
    else this.report(cell.name, ownOf(base, cell.type) as Value, at);
  }

  /** The last good value stands until it is too old; a sensor whose values never are is unknown at once. */
  #refuse(cell: Cell, value: Value, why: string, at: number): void {
    this.#come(at, cell.name);
    if (!this.#refusing.has(cell.name)) this.problem("refused", `${cell.name} reads ${value}: ${why}`);
    this.#refusing.add(cell.name);
    if (!cell.ages) this.#take(cell, Number.NaN, at);
  }

  press(sensor: string, at: number): void {
    const pulse = this.program.pulses.find(({ kind, text }) => kind === "pressed" && text === sensor);
    if (!pulse) throw new RangeError(`the house has no "${sensor}" that is pressed`);
    this.#come(at, sensor);
    this.#presses.add(pulse.node);
  }

  set(name: string, value: Value, at: number): void {
    const cell = this.#cell(name);
    if (cell.kind !== "dial" && cell.kind !== "mode") throw new RangeError(`"${name}" is no dial or mode but a ${cell.kind}`);
    const why = misfit(cell, value);
    if (why) throw new RangeError(`"${name}" cannot be ${value}: ${why}`);
    this.#take(cell, baseOf(value, cell.type), at);
  }

  #take(cell: Cell, value: number, at: number): void {
    this.#come(at, cell.name);
    if (this.#isQueued[cell.node] === 0) this.#queued.push(cell.node);
    this.#isQueued[cell.node] = 1;
    this.#queuedValues[cell.node] = value;
  }

  /** Something comes at an instant: what lies before it happens first. */
  #come(at: number, what: string): void {
    if (this.#stepping) throw new RangeError(`"${what}" cannot come while a step runs`);
    if (!Number.isSafeInteger(at)) throw new RangeError(`an instant is a whole number of milliseconds, not ${at}`);
    if (this.nextDeadline < at) this.advanceTo(at - 1);
    if (at < this.now) this.problem("late", `${what} came ${writeDuration(this.now - at)} late`);
    this.#pending = Math.min(this.#pending, Math.max(at, this.now));
  }

  person(deed: Deed, at: number): void {
    const act = this.#actOf(deed);
    this.#come(at, "what a person does");
    this.#deeds.push(act);
  }

  #actOf(deed: Deed): () => void {
    switch (deed.kind) {
      case "switches": {
        const cell = this.#cell(deed.output);
        const why = cell.kind === "output" ? misfit(cell, deed.value) : "it is no output";
        if (why) throw new RangeError(`"${deed.output}" cannot be ${deed.value}: ${why}`);
        return () => this.#switch(this.#outputNamed(deed.output), baseOf(deed.value, cell.type), deed.lasts);
      }
      case "releases": {
        const output = this.#outputNamed(deed.output);
        return () => this.#endHand(output);
      }
      case "pauses": {
        const rule = this.#ruleNamed(deed.rule);
        return () => this.#pause(rule, deed.lasts);
      }
      case "resumes": {
        const rule = this.#ruleNamed(deed.rule);
        return () => this.#resume(rule);
      }
      case "applies": {
        const targets = this.program.presets.get(deed.preset);
        if (!targets) throw new RangeError(`the house has no preset "${deed.preset}"`);
        return () => {
          for (const { name, value } of targets) {
            const base = this.evaluator.current(value);
            if (Number.isNaN(base)) continue;
            if (this.#cell(name).kind === "output") this.#switch(this.#outputNamed(name), base, undefined);
            else this.setCell(name, base);
          }
        };
      }
      case "starts":
      case "stops": {
        const countdown = this.program.countdowns.find(({ name }) => name === deed.countdown);
        if (!countdown) throw new RangeError(`the house has no countdown "${deed.countdown}"`);
        return () => (deed.kind === "starts" ? this.start(countdown.index, Number.NaN) : this.stop(countdown.index));
      }
      case "runs": {
        const rule = this.#ruleNamed(deed.rule);
        const event = this.program.rules[rule]?.events[0];
        if (event === undefined) throw new RangeError(`rule "${deed.rule}" has no steps to run`);
        return () => {
          if (!this.#paused.has(rule)) this.#events.run(event);
        };
      }
      default:
        throw new RangeError(`no such deed: ${JSON.stringify(deed satisfies never)}`);
    }
  }

  #outputNamed(name: string): number {
    const output = this.program.outputs.findIndex((one) => one.name === name);
    if (output < 0) throw new RangeError(`the house has no output "${name}"`);
    return output;
  }

  #ruleNamed(name: string): number {
    const rule = this.program.rules.findIndex((one) => one.name === name);
    if (rule < 0) throw new RangeError(`the house has no rule "${name}"`);
    return rule;
  }

  confirm(output: string, value: Value, at: number): void {
    const cell = this.#cell(output);
    const index = this.#outputNamed(output);
    const why = misfit(cell, value);
    if (why) throw new RangeError(`"${output}" cannot be ${value}: ${why}`);
    this.#come(at, output);
    this.#deeds.push(() => {
      this.#confirmed[index] = baseOf(value, cell.type);
      this.#compareConfirmed(index);
    });
  }

  #compareConfirmed(output: number): void {
    const { disobeys } = this.program.outputs[output] as OutputProgram;
    const confirmed = this.#confirmed[output] as number;
    if (disobeys >= 0 && !Number.isNaN(confirmed))
      this.evaluator.set(disobeys, confirmed === this.#outputs[output]?.value ? 0 : 1);
  }

  jumpClock(by: number, at: number): void {
    if (!Number.isSafeInteger(by)) throw new RangeError(`a clock jumps by a whole number of milliseconds, not ${by}`);
    this.#come(at, "the clock");
    this.#deeds.push(() => this.#setClock(this.#clockAhead + by, by));
  }

  /** Moments that the clock passes over are due now; those it comes to again are not. */
  #setClock(ahead: number, by: number): void {
    const due = new Map<number, number>();
    for (const timer of this.#momentTimers()) due.set(timer, this.agenda.due(timer));
    this.#clockAhead = ahead;
    this.#sky = skyAhead(this.#clock, ahead, this.house);
    this.evaluator.sky = this.#sky;
    this.evaluator.markTemporal();
    for (const [timer, was] of due) {
      const moved = was - by;
      if (by > 0 && moved <= this.now) this.#fallDue(timer, moved);
      else if (Number.isFinite(moved)) this.agenda.set(timer, moved);
    }
  }

  #momentTimers(): number[] {
    return [...this.program.timers.keys()].filter((timer) => this.program.timers[timer]?.kind === "trigger");
  }

  advanceTo(at: number): void {
    if (at < this.now) throw new RangeError(`instant ${at} is before the engine's now, ${this.now}`);
    // What fell due while the house was down happens when it comes up.
    for (let next = this.nextDeadline; next <= at; next = this.nextDeadline) this.#step(Math.max(next, this.now));
    this.evaluator.now = at;
  }

  value(name: string): Value | undefined {
    const derived = this.program.derived.get(name);
    if (derived !== undefined) return ownOf(this.evaluator.current(derived), this.program.graph.typeOf(name));
    const { node, type, kind } = this.#cell(name);
    return ownOf(this.evaluator.current(kind === "sensor" ? this.program.graph.thing(name) : node), type);
  }

  watched(index: number): number {
    return this.evaluator.current(this.program.watched[index] as number);
  }

  takeChanges(): Change[] {
    const changes = this.#changes;
    this.#changes = [];
    return changes;
  }

  takeNotices(): Notice[] {
    const notices = this.#notices;
    this.#notices = [];
    return notices;
  }

  takeMessages(): Message[] {
    const messages = this.#messages;
    this.#messages = [];
    return messages;
  }

  #cell(name: string): Cell {
    const cell = this.program.cells.get(name);
    if (!cell) throw new RangeError(`the house has no thing called "${name}"`);
    return cell;
  }

  // ── Starting ──────────────────────────────────────────────────────────────────────────────────────────────────────

  #start(): void {
    const { restore, given, at } = this.#options;
    const { evaluator } = this;
    for (const { node, first, type, kind } of this.program.cells.values()) {
      if (kind !== "sensor" && first !== undefined) evaluator.set(node, baseOf(first, type));
    }
    if (restore) this.#restore(restore);
    else if (given) this.#settle(given);
    evaluator.now = at;
    this.#sky = skyAhead(this.#clock, this.#clockAhead, this.house);
    evaluator.sky = this.#sky;
    this.#silent = false;
    evaluator.markTemporal();
    if (!restore && given) this.#events.seeGiven();
    else if (!restore) this.#events.seeFirst();
    // The first step decides every output anew, and with it when what protects it is over.
    this.program.outputs.forEach((_, output) => this.#undecided.add(output));
    this.#pending = at;
    // Only where a house has a place and goes by the sun is there anything to look at each day.
    if (this.house.place && this.#sunless.watches) this.agenda.set(this.program.day.timer, at);
    if (!restore) this.program.events.forEach((_, event) => this.#events.planMoments(event));
    this.#writeState();
  }

  /** What is given has been so for ever: nodes take their values as of long ago, then as of now, and nothing turns. */
  #settle(given: Readonly<Record<string, Value>>): void {
    const { evaluator } = this;
    const { at } = this.#options;
    const cells = Object.entries(given).map(([name, value]) => {
      const cell = this.#cell(name);
      const why = cell.kind === "sensor" ? misfit({ ...cell, range: undefined }, value) : misfit(cell, value);
      if (why) throw new RangeError(`"${name}" cannot be given as ${value}: ${why}`);
      return { cell, base: baseOf(value, cell.type) };
    });
    for (const now of [FOR_EVER, at - 1]) {
      evaluator.now = now;
      for (const { cell, base } of cells) {
        if (cell.kind === "sensor") evaluator.report(cell.node, base);
        else evaluator.set(cell.node, base);
      }
      evaluator.markTemporal();
      evaluator.settle();
      this.#takeDeadlines(now);
      evaluator.settle();
    }
    for (const { index, node } of this.program.outputs)
      Object.assign(this.#outputs[index] as OutputState, { value: evaluator.values[node], since: FOR_EVER });
  }

  /** The journal begins with what is known, as of the start. */
  #writeState(): void {
    if (!this.journal) return;
    if (this.#options.restore) {
      for (const { id, event } of this.journal.records) if (event.kind === "node") this.#lastOfNode[event.node] = id;
      return;
    }
    this.program.graph.nodes.forEach((_, node) => {
      const value = this.evaluator.values[node] as number;
      if (!Number.isNaN(value)) this.#lastOfNode[node] = this.note({ kind: "node", node, value }, []);
    });
  }

  // ── One instant ───────────────────────────────────────────────────────────────────────────────────────────────────

  #step(at: number): void {
    this.#stepping = true;
    this.evaluator.now = at;
    this.#pending = Number.POSITIVE_INFINITY;
    this.#quiet = this.journal === undefined;
    if (this.#starting) this.#events.houseStarts();
    this.#takeInputs();
    this.#takeDeadlines(at);
    this.#turn();
    this.#send(at);
    this.#starting = false;
    this.#options.onInstant?.(at);
    this.#endMoments();
    this.#stepping = false;
  }

  #takeInputs(): void {
    for (let node = this.#queued.pop(); node !== undefined; node = this.#queued.pop()) {
      this.#isQueued[node] = 0;
      this.#takeInput(this.#cellOf[node] as Cell, this.#queuedValues[node] as number);
    }
    for (const node of this.#presses) this.raise(node);
    this.#presses.clear();
    if (this.#deeds.length === 0) return;
    const deeds = this.#deeds;
    this.#deeds = [];
    for (const act of deeds) act();
  }

  #takeInput(cell: Cell, value: number): void {
    const { evaluator } = this;
    if (this.journal) {
      const record = this.note({ kind: "value", thing: cell.name, value: ownOf(value, cell.type) }, []);
      this.causedBy([record]);
      this.#lastOfNode[cell.node] = record;
    }
    if (cell.kind !== "sensor") {
      this.#events.setAnew(cell.name);
      evaluator.set(cell.node, value);
    } else if (Number.isNaN(value)) evaluator.forget(cell.node);
    else evaluator.report(cell.node, value);
    if (this.journal) this.causedBy([]);
  }

  /** Something is so for this instant only. */
  raise(pulse: number): void {
    this.#raised.push(pulse);
    this.evaluator.set(pulse, 1);
  }

  #takeDeadlines(at: number): void {
    const { firstTimer } = this.evaluator;
    for (;;) {
      const due = this.agenda.next;
      const timer = this.agenda.take(at);
      if (timer < 0) return;
      if (timer < firstTimer) this.#fallDue(timer, due);
      else this.evaluator.mark(timer - firstTimer);
    }
  }

  #fallDue(index: number, due: number): void {
    const timer = this.program.timers[index];
    switch (timer?.kind) {
      case "output":
        this.#undecided.add(timer.output);
        break;
      case "hand":
        this.#endHand(timer.output);
        break;
      case "claim":
        this.#endClaim(timer.claim);
        break;
      case "cell":
        this.#events.goBack(timer.event, timer.step);
        break;
      case "wait":
        this.#events.wake(timer.event);
        break;
      case "trigger":
        this.#events.moment(timer.event, timer.trigger, due);
        break;
      case "countdown":
        this.#runOut(timer.countdown);
        break;
      case "day":
        this.#newDay();
        break;
      case "pause":
        this.#resume(timer.rule);
        break;
      case undefined:
        throw new RangeError(`no timer ${index}`);
      default:
        throw new RangeError(`no such timer: ${JSON.stringify(timer satisfies never)}`);
    }
  }

  /** Turns until nothing changes: conditions, then steps, then outputs, whose changes are the inputs of the next. */
  #turn(): void {
    let changed: (readonly string[])[] | undefined;
    for (let turn = 1; ; turn++) {
      this.evaluator.settle();
      this.#lookAtTurned();
      this.#events.runSteps();
      const outputs = this.#decideOutputs();
      this.#events.lookAtDoses();
      if (
        this.evaluator.settled &&
        this.#lasting.length + this.#turned.length === 0 &&
        this.#events.quiet &&
        this.#undecided.size === 0
      )
        break;
      if (turn > MOST_TURNS - RING_TURNS) {
        changed ??= [];
        changed.push(outputs);
      }
      if (turn === MOST_TURNS) {
        this.#breakRing(new Set(changed?.flat()));
        return;
      }
    }
    this.#ringing = false;
  }

  #breakRing(ring: ReadonlySet<string>): void {
    const names = [...ring];
    if (!this.#ringing)
      this.problem("ring", `${names.length === 0 ? "rules" : names.join(", ")} chase each other; they keep what they had`);
    this.#ringing = true;
    for (const { index, name } of this.program.outputs) if (ring.has(name)) this.#frozen.add(index);
    for (const index of this.#frozen) this.#put(index, (this.#outputs[index] as OutputState).value, {});
    this.evaluator.settle();
    this.#events.forgetFired();
    this.#lasting = [];
    this.#turned = [];
    this.#decideOutputs();
    this.evaluator.settle();
    // Looked at again with the next step, whatever brings it.
    this.#quiet = false;
    for (const index of this.#frozen) this.#undecided.add(index);
    this.#frozen.clear();
  }

  /** The net changes of the instant; after a start, every output. */
  #send(at: number): void {
    if (this.#touched.size === 0 && !this.#starting) return;
    const all = this.#starting && this.#options.restore !== undefined;
    const outputs = all ? this.program.outputs.map((_, index) => index) : this.#touched.sorted();
    for (const index of outputs) {
      const { name, node, type } = this.program.outputs[index] as OutputProgram;
      const state = this.#outputs[index] as OutputState;
      const value = this.evaluator.values[node] as number;
      const same = Object.is(state.value, value);
      if (same && !all) continue;
      if (!same) state.since = at;
      state.value = value;
      this.#planLongest(index);
      const own = ownOf(value, type);
      this.#changes.push({ at, output: name, value: own, because: this.#reasons[index] as Reason });
      if (this.journal) this.note({ kind: "sent", output: name, value: own }, known(this.#lastOfOutput[index]));
      this.#compareConfirmed(index);
    }
    this.#touched.clear();
  }

  /** A run that began has its longest time from now on. */
  #planLongest(output: number): void {
    const { atMost, timer } = this.program.outputs[output] as OutputProgram;
    const { value, since } = this.#outputs[output] as OutputState;
    const longest = atMost.find((one) => one.value === value);
    if (longest)
      this.agenda.set(timer, Math.min(this.agenda.due(timer), Math.ceil(since + this.evaluator.current(longest.duration))));
  }

  /** Presses, notices and messages are over with their instant. */
  #endMoments(): void {
    if (this.#raised.length === 0) return;
    const over = this.#raised;
    this.#raised = [];
    this.evaluator.endMoments(over);
    for (const listener of this.#turned) if (listener.kind === "trigger") this.#events.seeEnd(listener.event, listener.trigger);
    this.#lasting = [];
    this.#turned = [];
    // What the end of a moment lets go of is decided at once, in a step of the same instant.
    if (this.#undecided.size > 0 && !this.#ringing) this.#pending = this.now;
  }

  /** Told by the evaluator of every node that changed. */
  #changed(node: number, value: number): void {
    if (this.journal && !this.#silent) {
      const { args } = this.program.graph.nodes[node] ?? { args: [] };
      const causes = this.#cause.length > 0 ? this.#cause : known(...args.map((part) => this.#lastOfNode[part]));
      this.#lastOfNode[node] = this.note({ kind: "node", node, value }, causes);
    }
    const end = this.#decidingAt[node + 1] as number;
    for (let at = this.#decidingAt[node] as number; at < end; at++) this.#undecided.add(this.#deciding[at] as number);
    const listeners = this.#listeners[node];
    if (!listeners || this.#silent) return;
    for (const listener of listeners) {
      if (listener.kind === "mode") this.#endHandByMode(listener.output);
      else if (listener.kind === "until") this.#lasting.push(listener);
      else this.#turned.push(listener);
    }
  }

  /** What conditions have become by this turn: first ends what was asked until then, then edges fire and waits end. */
  #lookAtTurned(): void {
    while (this.#lasting.length > 0) {
      const lasting = this.#lasting;
      this.#lasting = [];
      for (const listener of lasting) this.#events.lookAtLasting(listener);
      // A dial that goes back may turn more.
      this.evaluator.settle();
    }
    if (this.#turned.length === 0) return;
    const turned = this.#turned;
    this.#turned = [];
    for (const listener of turned) {
      if (listener.kind === "trigger") this.#events.look(listener.event, listener.trigger);
      else this.#events.lookAtWait(listener);
    }
  }

  // ── What steps and persons do ─────────────────────────────────────────────────────────────────────────────────────

  note(event: Event, causes: readonly number[]): number {
    return this.journal ? this.journal.add(this.now, event, causes) : -1;
  }

  #newDay(): void {
    const { clock } = this.#sky;
    const { day } = clock.local(this.now);
    for (const event of this.#sunless.newly(this.#sky, this.now))
      this.problem("no-sun", `there is no ${event} from ${dateOfDay(day)} on; what goes by it waits`);
    this.agenda.set(this.program.day.timer, clock.instant(day + 1, 0));
  }

  problem(code: RunningProblem, text: string): void {
    this.note({ kind: "problem", code, text }, []);
    for (const pulse of this.program.pulses) if (pulse.kind === "problem" && pulse.text === code) this.raise(pulse.node);
  }

  recordOf(node: number): number {
    return this.#lastOfNode[node] ?? -1;
  }

  causedBy(records: readonly number[]): void {
    this.#cause = records;
  }

  isPaused(rule: number): boolean {
    return this.#paused.has(rule);
  }

  ask(
    claim: number,
    value: number,
    { timed, ends, step, from, over }: { timed: boolean; ends: number; step: number; over?: number; from?: number },
  ): void {
    const program = this.program.claims[claim] as ClaimProgram;
    if (!timed) this.#replacePlain(program);
    const ramp = from === undefined || over === undefined ? undefined : { from, to: value, start: this.now, over };
    Object.assign(this.#claims[claim] as ClaimState, { asked: true, timed, value, turn: ++this.#turns, step, ramp });
    this.agenda.set(program.timer, ends);
    this.#takeDecision(program.output, this.#decision(program.output));
  }

  /** A plain `set` lasts until a later one of the same standing. */
  #replacePlain(by: ClaimProgram): void {
    for (const { index, standing } of (this.program.outputs[by.output] as OutputProgram).claims) {
      const state = this.#claims[index] as ClaimState;
      if (standing === by.standing && state.asked && !state.timed) state.asked = false;
    }
  }

  isAskedBy(claim: number, step: number): boolean {
    const { timed, step: by } = this.#claims[claim] as ClaimState;
    return timed && by === step;
  }

  letGo(claim: number): void {
    (this.#claims[claim] as ClaimState).asked = false;
    const { timer, output } = this.program.claims[claim] as ClaimProgram;
    this.agenda.clear(timer);
    this.#undecided.add(output);
  }

  /** The time of a claim is over; the end of a ramp stays as a plain `set` does. */
  #endClaim(claim: number): void {
    const state = this.#claims[claim] as ClaimState;
    if (!state.ramp) return this.letGo(claim);
    const program = this.program.claims[claim] as ClaimProgram;
    this.#replacePlain(program);
    Object.assign(state, { timed: false, ramp: undefined });
    this.#undecided.add(program.output);
  }

  /** Takes back what plain `set` steps of every rule asked of an output. */
  release(output: number): void {
    for (const { index } of (this.program.outputs[output] as OutputProgram).claims) {
      const state = this.#claims[index] as ClaimState;
      if (state.asked && !state.timed) state.asked = false;
    }
    this.#takeDecision(output, this.#decision(output));
  }

  setCell(name: string, value: number): void {
    const cell = this.#cell(name);
    const made = clampTo(cell, value);
    this.#events.setAnew(name);
    const record = this.journal ? this.note({ kind: "value", thing: name, value: ownOf(made, cell.type) }, this.#cause) : -1;
    this.evaluator.set(cell.node, made);
    this.#lastOfNode[cell.node] = record;
  }

  start(countdown: number, lasts: number): void {
    const { running, lasts: usual, timer } = this.program.countdowns[countdown] as CountdownProgram;
    const duration = Number.isNaN(lasts) ? this.evaluator.current(usual) : lasts;
    if (!(duration > 0)) return;
    this.evaluator.set(running, 1);
    this.agenda.set(timer, Math.ceil(this.now + duration));
  }

  stop(countdown: number): void {
    const { running, timer } = this.program.countdowns[countdown] as CountdownProgram;
    this.evaluator.set(running, 0);
    this.agenda.clear(timer);
  }

  #runOut(countdown: number): void {
    const { running, runsOut } = this.program.countdowns[countdown] as CountdownProgram;
    this.evaluator.set(running, 0);
    this.raise(runsOut);
  }

  tell(parts: readonly TextPart[], through: string | undefined, heldBack: number): void {
    const text = `${this.#fill(parts)}${heldBack > 0 ? ` (${heldBack} more)` : ""}`;
    this.note({ kind: "notice", text, ...(through !== undefined && { through }) }, this.#cause);
    this.#notices.push({ at: this.now, text, ...(through !== undefined && { through }) });
    for (const pulse of this.program.pulses) if (pulse.kind === "told" && text.includes(pulse.text)) this.raise(pulse.node);
  }

  send(textParts: readonly TextPart[], toParts: readonly TextPart[]): void {
    const text = this.#fill(textParts);
    const to = this.#fill(toParts);
    this.note({ kind: "message", text, to }, this.#cause);
    this.#messages.push({ at: this.now, text, to });
    for (const pulse of this.program.pulses) {
      if (pulse.kind !== "sent") continue;
      const [wanted, topic] = JSON.parse(pulse.text) as [string, string];
      if (text.includes(wanted) && to === topic) this.raise(pulse.node);
    }
  }

  #fill(parts: readonly TextPart[]): string {
    return parts.map((part) => (typeof part === "string" ? part : this.#say(part))).join("");
  }

  #say({ node, type }: Exclude<TextPart, string>): string {
    const value = ownOf(this.evaluator.current(node), type);
    if (value === undefined) return "unknown";
    if (typeof value === "string") return value;
    if (type.kind === "time") return writeTimeOfDay(value - (value % 1000));
    if (type.kind === "number" && (type.unit === "ms" || type.unit === "min"))
      return writeDuration(Math.round(this.evaluator.current(node) / 1000) * 1000);
    return type.kind === "number" ? writeReading(value, type.unit) : writeQuantity({ value, unit: "" });
  }

  #switch(output: number, value: number, lasts: number | undefined): void {
    const program = this.program.outputs[output] as OutputProgram;
    (this.#outputs[output] as OutputState).hand = value;
    const endsWithMode = lasts === undefined && program.modes.length > 0;
    const usual = this.evaluator.current(this.program.handLasts);
    this.agenda.set(program.handTimer, endsWithMode ? Number.POSITIVE_INFINITY : Math.ceil(this.now + (lasts ?? usual)));
    this.#undecided.add(output);
    const lacking = program.permits.find(
      ({ what, onlyWhile }) => "word" in what && what.word === value && this.evaluator.values[onlyWhile] !== 1,
    );
    const own = ownOf(value, program.type);
    this.note({ kind: "person", text: `sets ${program.name} to ${own}` }, []);
    if (lacking) this.problem("not-permitted", `guard ${lacking.guard} does not permit ${program.name} ${own}`);
  }

  #endHand(output: number): void {
    (this.#outputs[output] as OutputState).hand = undefined;
    this.agenda.clear((this.program.outputs[output] as OutputProgram).handTimer);
    this.#undecided.add(output);
  }

  /** A hand claim without an end of its own ends as a mode changes that a rule of the output mentions. */
  #endHandByMode(output: number): void {
    const { handTimer } = this.program.outputs[output] as OutputProgram;
    if (this.#outputs[output]?.hand !== undefined && this.agenda.due(handTimer) === Number.POSITIVE_INFINITY)
      this.#endHand(output);
  }

  #pause(rule: number, lasts: number | undefined): void {
    const { timer, claims, events, name } = this.program.rules[rule] as Program["rules"][number];
    this.#paused.add(rule);
    this.note({ kind: "person", text: `pauses ${name}` }, []);
    this.agenda.set(timer, lasts === undefined ? Number.POSITIVE_INFINITY : Math.ceil(this.now + lasts));
    for (const event of events) this.#events.stop(event);
    for (const claim of claims) if (this.program.claims[claim]?.held === undefined) this.letGo(claim);
    this.#redecide(claims);
  }

  #resume(rule: number): void {
    const { timer, claims } = this.program.rules[rule] as Program["rules"][number];
    this.#paused.delete(rule);
    this.agenda.clear(timer);
    this.#redecide(claims);
  }

  #redecide(claims: readonly number[]): void {
    for (const claim of claims) this.#undecided.add((this.program.claims[claim] as ClaimProgram).output);
  }

  // ── Outputs ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** All are decided on what the conditions of this turn say, before any of them takes its value. */
  #decideOutputs(): readonly string[] {
    if (this.#undecided.size === 0) return none;
    const nameOf = (output: number) => (this.program.outputs[output] as OutputProgram).name;
    if (this.#undecided.size === 1) {
      const output = this.#undecided.first;
      return this.#takeDecision(output, this.#decision(output)) ? [nameOf(output)] : none;
    }
    const outputs = this.#undecided.sorted();
    const decisions = outputs.map((output) => this.#decision(output));
    return outputs.filter((output, index) => this.#takeDecision(output, decisions[index])).map(nameOf);
  }

  #decision(output: number): Decision | undefined {
    if (this.#frozen.has(output)) return undefined;
    return decide(this.#situations[output] as Situation);
  }

  /** Whether the output changed. */
  #takeDecision(output: number, decision: Decision | undefined): boolean {
    this.#undecided.delete(output);
    if (!decision) return false;
    const { node, timer } = this.program.outputs[output] as OutputProgram;
    const before = this.evaluator.values[node];
    this.agenda.set(timer, decision.again);
    this.#put(output, decision.value, decision.reason);
    return !Object.is(this.evaluator.values[node], before);
  }

  #put(output: number, value: number, reason: Reason): void {
    const { node, name, type, claims, permits } = this.program.outputs[output] as OutputProgram;
    const before = this.evaluator.values[node] as number;
    const same = Object.is(before, value);
    if (this.journal && (!same || !sameReason(this.#reasons[output] as Reason, reason))) {
      const nodes = [
        ...claims.flatMap(({ held }) => (held ? [held.when, held.value] : [])),
        ...permits.map(({ onlyWhile }) => onlyWhile),
      ];
      const causes = this.#cause.length > 0 ? this.#cause : known(...nodes.map((part) => this.#lastOfNode[part]));
      this.#lastOfOutput[output] = this.note({ kind: "decided", output: name, value: ownOf(value, type), reason }, causes);
    }
    this.#reasons[output] = reason;
    if (same) return;
    this.#touched.add(output);
    this.evaluator.set(node, value);
  }

  outputNow(output: number): { value: number; because: string } {
    const { node } = this.program.outputs[output] as OutputProgram;
    const { guard, hand, rule } = this.#reasons[output] as Reason;
    const because =
      guard !== undefined ? `guard ${guard}` : hand ? "hand" : rule !== undefined ? `rule ${rule}` : "nothing that asks for it";
    return { value: this.evaluator.values[node] as number, because };
  }

  onOf(output: number): number {
    const { type, range } = this.program.outputs[output] as OutputProgram;
    return type.kind === "words" ? Math.max(0, type.words.indexOf("on")) : (range?.[1] ?? 100);
  }

  // ── State that lasts ────────────────────────────────────────────────────────────────────────────────────────────────

  snapshot(): Snapshot {
    const { graph, outputs, claims, events, countdowns, rules } = this.program;
    const finite = (value: number | undefined) => (value !== undefined && Number.isFinite(value) ? value : null);
    const due = (timer: number) => finite(this.agenda.due(timer));
    return {
      version: 1,
      house: this.house.name,
      at: this.now,
      clockAhead: this.#clockAhead,
      nodes: Object.fromEntries(
        graph.nodes.flatMap(({ key, op }, node) => (op === "constant" ? [] : [[key, this.evaluator.state(node)]])),
      ),
      outputs: Object.fromEntries(
        outputs.map(({ name, index, handTimer }) => {
          const { value, since, hand, restUntil, restFrom } = this.#outputs[index] as OutputState;
          const rests = { restUntil: finite(restUntil), restFrom: finite(restFrom) };
          return [name, { value: finite(value), since: finite(since), hand: finite(hand), handEnds: due(handTimer), ...rests }];
        }),
      ),
      claims: Object.fromEntries(
        claims.flatMap((claim): [string, ClaimSnapshot][] => {
          const { asked, timed, value, turn, step, ramp } = this.#claims[claim.index] as ClaimState;
          if (!asked) return [];
          const line = ramp ? ([ramp.from, ramp.to, ramp.start, ramp.over] as const) : null;
          return [[this.#claimKey(claim), { value: finite(value), timed, turn, step, ends: due(claim.timer), ramp: line }]];
        }),
      ),
      events: Object.fromEntries(
        events.map(({ index, rule, sentence }) => [`${rule}#${sentence}`, this.#events.snapshot(index)]),
      ),
      countdowns: Object.fromEntries(
        countdowns.flatMap(({ name, running, timer }) => (this.evaluator.values[running] === 1 ? [[name, due(timer)]] : [])),
      ),
      paused: Object.fromEntries(
        rules.flatMap(({ name, timer }, index) => (this.#paused.has(index) ? [[name, due(timer)]] : [])),
      ),
      turns: this.#turns,
    };
  }

  #claimKey({ rule, sentence, output }: ClaimProgram): string {
    return `${rule}#${sentence} ${this.program.outputs[output]?.name}`;
  }

  /** What fits by name and type is taken up again, the rest listed. */
  #restore(snapshot: Snapshot): void {
    const { graph, outputs, claims, events, countdowns, rules } = this.program;
    const unknown = (value: number | null) => value ?? Number.NaN;
    const due = (timer: number, at: number | null) => this.agenda.set(timer, at ?? Number.POSITIVE_INFINITY);
    this.evaluator.now = snapshot.at;
    this.#clockAhead = snapshot.clockAhead;
    this.#sky = skyAhead(this.#clock, this.#clockAhead, this.house);
    const known = new Set(graph.nodes.map(({ key }) => key));
    const { cells } = this.program;
    for (const key of Object.keys(snapshot.nodes))
      if (!known.has(key) && !/[ (]/.test(key) && !cells.has(key)) this.leftOut.push(key);
    graph.nodes.forEach(({ key }, node) => {
      const state = snapshot.nodes[key];
      const cell = cells.get(key);
      if (!state) return;
      if (cell && Array.isArray(state) && !fitsCell(cell, state[0] ?? null)) this.leftOut.push(key);
      else this.evaluator.restore(node, state);
    });
    for (const name of Object.keys(snapshot.outputs))
      if (!outputs.some((output) => output.name === name)) this.leftOut.push(name);
    for (const { name, index, handTimer, withoutControl, node } of outputs) {
      const saved = snapshot.outputs[name];
      if (!saved || this.leftOut.includes(name)) continue;
      const state = this.#outputs[index] as OutputState;
      Object.assign(state, {
        value: unknown(saved.value),
        since: saved.since ?? FOR_EVER,
        restUntil: saved.restUntil ?? Number.NEGATIVE_INFINITY,
        restFrom: unknown(saved.restFrom),
      });
      if (saved.hand !== null) {
        state.hand = saved.hand;
        due(handTimer, saved.handEnds);
      }
      // While the house was down an output did what it does without control.
      if (this.#options.at > snapshot.at && withoutControl !== undefined && withoutControl !== state.value) {
        Object.assign(state, { value: withoutControl, since: snapshot.at });
        this.evaluator.values[node] = withoutControl;
      }
    }
    const taken = new Set<string>();
    for (const claim of claims) {
      const key = this.#claimKey(claim);
      const saved = snapshot.claims[key];
      if (!saved || claim.held) continue;
      taken.add(key);
      const ramp = saved.ramp ? { from: saved.ramp[0], to: saved.ramp[1], start: saved.ramp[2], over: saved.ramp[3] } : undefined;
      Object.assign(this.#claims[claim.index] as ClaimState, {
        asked: true,
        timed: saved.timed,
        value: unknown(saved.value),
        step: saved.step,
        turn: saved.turn,
        ramp,
      });
      due(claim.timer, saved.ends);
    }
    for (const key of Object.keys(snapshot.claims)) if (!taken.has(key)) this.leftOut.push(key);
    for (const { name, running, timer } of countdowns) {
      if (!(name in snapshot.countdowns)) continue;
      this.evaluator.set(running, 1);
      due(timer, snapshot.countdowns[name] ?? null);
    }
    for (const [index, { name, timer }] of rules.entries()) {
      if (!(name in snapshot.paused)) continue;
      this.#paused.add(index);
      due(timer, snapshot.paused[name] ?? null);
    }
    for (const { index, rule, sentence } of events) {
      const saved = snapshot.events[`${rule}#${sentence}`];
      this.#events.planMoments(index);
      if (saved) this.#events.restore(index, saved, snapshot.at);
    }
    this.#turns = snapshot.turns;
  }
}

function known(...records: readonly (number | undefined)[]): number[] {
  return records.filter((record) => record !== undefined && record >= 0) as number[];
}

/** The sky by a clock that is ahead of the true time. */
function skyAhead(clock: Clock, ahead: number, { place }: House): Sky {
  if (ahead === 0) return { clock, place };
  const shifted: Clock = {
    zone: clock.zone,
    local: (instant) => clock.local(instant + ahead),
    instant: (day, ms) => clock.instant(day, ms) - ahead,
  };
  return { clock: shifted, place };
}

function fitsCell({ type, range, kind }: Cell, base: number | null): boolean {
  if (base === null || kind === "sensor") return true;
  if (type.kind === "words") return Number.isInteger(base) && base >= 0 && base < type.words.length;
  if (!range) return true;
  return base >= baseOf(range[0], type) - 1e-9 && base <= baseOf(range[1], type) + 1e-9;
}

function sameReason(a: Reason, b: Reason): boolean {
  return (
    a.rule === b.rule &&
    a.sentence === b.sentence &&
    a.guard === b.guard &&
    a.hand === b.hand &&
    a.rests?.until === b.rests?.until &&
    a.delayed?.until === b.delayed?.until
  );
}

/** Why a value is not one of a thing's own, if it is not. */
function misfit({ type, range }: Cell, value: Value): string | undefined {
  if (type.kind === "words") {
    return typeof value === "string" && type.words.includes(value) ? undefined : `it is one of ${type.words.join("/")}`;
  }
  if (type.kind === "colour")
    return typeof value === "string" && /^#[0-9a-f]{6}$/.test(value) ? undefined : "it is a colour such as #ffbf00";
  if (typeof value !== "number" || !Number.isFinite(value)) return "it is a number";
  const unit = type.kind === "number" ? type.unit : "";
  if (range && (value < range[0] || value > range[1]))
    return `its range is ${range[0]}..${writeQuantity({ value: range[1], unit })}`;
  return undefined;
}

/** What a step computed is kept within a dial's range. */
function clampTo({ type, range }: Cell, base: number): number {
  if (!range || Number.isNaN(base)) return base;
  return Math.min(baseOf(range[1], type), Math.max(baseOf(range[0], type), base));
}
