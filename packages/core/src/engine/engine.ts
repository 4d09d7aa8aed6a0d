// Runs a house: inputs and time in, changes of outputs out. A pure function of the house, its starting state and the
// inputs with their times; it reads no clock and does no I/O.

import { type Absorbed, Agenda, Evaluator, ops, packed, type Quiet } from "../expression/index.js";
import { baseOf, clampTo, type House, misfit, misfitNumber, ownOf, sayValue, typeOf, type Value } from "../house/index.js";
import { type Clock, clockOf, dateOfDay, type Sky } from "../time/index.js";
import { equalNumbers, writeDuration } from "../units/index.js";
import type { OutputState } from "./claims.js";
import { compile } from "./compile.js";
import { Countdowns } from "./countdowns.js";
import { Crossings } from "./crossings.js";
import { Events, type StepHost } from "./events.js";
import { actOf, type Hands, outputValue } from "./hands.js";
import { Inbox } from "./inbox.js";
import type { Change, Engine, EngineOptions, Message, Notice } from "./interface.js";
import { FOR_EVER, restore, takeSnapshot } from "./memory.js";
import { Outputs } from "./outputs.js";
import type { ProblemRecord } from "./past.js";
import type { PersonAction } from "./person-action.js";
import type { Cell, Listener, Program } from "./program.js";
import { Recorder } from "./recorder.js";
import type { Act, Queued, Snapshot } from "./snapshot.js";
import { Sunless } from "./sunless.js";
import { Told } from "./told.js";
import { UnknownTimes } from "./unknown-times.js";
import { Watched } from "./watched.js";

/**
 * An engine for a house.
 * @throws RangeError when `at` is not a whole number of milliseconds or lies before the snapshot, when both `given` and
 * `restore` are there, or when a given name or value does not fit the house
 */
export function createEngine(house: House, options: EngineOptions): Engine {
  if (!Number.isSafeInteger(options.at)) throw new RangeError(`"at" is a whole number of milliseconds, not ${options.at}`);
  const { restore, given } = options;
  if (restore && restore.at > options.at) throw new RangeError(`instant ${options.at} is before the snapshot's, ${restore.at}`);
  if (restore && given)
    throw new RangeError('what a house remembers is in its snapshot: "given" and "restore" do not go together');
  return new Runner(compile(house, options.watch), options);
}

/** Who is told of a change, but for outputs, which are decided again. */
type Attentive = Exclude<Listener, { kind: "output" }>;
type ListenerOf<Kind extends Listener["kind"]> = Extract<Listener, { kind: Kind }>;

/** What a step is at; once broken, it stays so. */
type Phase = "idle" | "inputs" | "turns" | "sending" | "shown" | "ending" | "broken";

/** As far as instants go. */
const LAST_INSTANT = Number.MAX_SAFE_INTEGER;
const NEVER = Number.NEGATIVE_INFINITY;

/** More turns in one instant mean that rules chase each other. */
const MOST_TURNS = 64;
/** More steps of one instant are a fault of ours: it is told, and nothing stands still without a word. */
const MOST_STEPS = 1000;
/** The turns in which those that chase each other are looked for. */
const RING_TURNS = 32;

class Runner implements Engine, StepHost, Hands {
  readonly program: Program;
  readonly agenda: Agenda;
  readonly evaluator: Evaluator;
  readonly #quietly: Quiet;
  readonly #absorbed: Absorbed | undefined;
  readonly outputs: Outputs;
  readonly events: Events;
  readonly recorder: Recorder;
  readonly unknownTimes: UnknownTimes;
  leftOut: readonly string[] = [];
  readonly #options: EngineOptions;
  /** What was asked until something is so, triggers and waits, whose conditions changed: to be looked at once a turn. */
  #lasting: ListenerOf<"until">[] = [];
  /** Bands whose targets cross, or do no more. */
  #crossed: number[] = [];
  #turned: ListenerOf<"trigger" | "wait">[] = [];
  readonly told: Told;
  readonly countdowns: Countdowns;
  readonly #inbox: Inbox;
  readonly #refusing = new Set<string>();
  readonly #clock: Clock;
  #clockAhead = 0;
  #sky: Sky;
  #ringing = false;
  readonly #cellOf: (Cell | undefined)[];
  /** Outputs to be decided again when node n changes: #deciding[#decidingAt[n] … #decidingAt[n+1]-1]. */
  readonly #deciding: Int32Array;
  readonly #decidingAt: Int32Array;
  /** Who else is told of its changes. */
  readonly #listeners: (readonly Attentive[] | undefined)[];
  /** Whether a report may be taken without a step: nobody writes down what happens, and nothing waits for the next step. */
  #quiet: boolean;
  /** Pulses that are up in this instant. */
  #raised: number[] = [];
  /** When what is queued is due, and when a step is due without any: infinite where nothing is. */
  #inputsAt = Number.POSITIVE_INFINITY;
  #againAt = Number.POSITIVE_INFINITY;
  /** The earlier of the two. */
  #pending = Number.POSITIVE_INFINITY;
  /**
   * From when until when a report may be taken without a step: from the latest instant that something came for until the
   * first that something waits for, or never. In an array, as it is read and written at every report.
   */
  readonly #calm = Float64Array.of(FOR_EVER, NEVER);
  #phase: Phase = "idle";
  /** What broke it. */
  #broken: unknown;
  #silent = true;
  readonly #sunless: Sunless;
  readonly #crossings: Crossings;
  readonly #watched: Watched;
  #starting = true;

  constructor(program: Program, options: EngineOptions) {
    const { graph, timers, house } = program;
    this.program = program;
    this.#options = options;
    this.#quiet = options.journal === undefined;
    this.#clock = clockOf(house.clock);
    this.#sky = { clock: this.#clock, place: house.place };
    this.recorder = new Recorder(
      options.journal,
      program,
      () => this.now,
      (code, text) => this.told.problem(code, text),
    );
    this.#cellOf = new Array(graph.nodes.length).fill(undefined);
    for (const cell of program.cells.values()) this.#cellOf[cell.node] = cell;
    this.#inbox = new Inbox(program, this.#cellOf);
    this.agenda = new Agenda(graph.nodes.length + timers.length);
    const watched = new Set(program.watched);
    this.evaluator = new Evaluator(graph, this.agenda, timers.length, options.at, {
      onChange: (node) => this.#changed(node),
      isTold: (node) => options.journal !== undefined || program.listeners.has(node),
      isWatched: (node) => watched.has(node),
      isAwaited: (node) => this.#inbox.isAwaited(node),
      foldsSides: this.#quiet,
    });
    this.#quietly = this.evaluator.quiet;
    this.#absorbed = this.evaluator.absorbed;
    this.unknownTimes = new UnknownTimes(this.recorder);
    this.outputs = new Outputs(program, this.evaluator, this.agenda, this.recorder, this.unknownTimes);
    this.told = new Told(program, this.evaluator, this.recorder, (pulse) => this.raise(pulse));
    this.countdowns = new Countdowns(program, this.evaluator, this.agenda, this.unknownTimes);
    const listeners = graph.nodes.map((_, node) => program.listeners.get(node) ?? []);
    [this.#deciding, this.#decidingAt] = packed(
      listeners.map((all) => all.flatMap((one) => (one.kind === "output" ? [one.output] : []))),
    );
    this.#listeners = listeners.map((all) => {
      const told = all.filter((one) => one.kind !== "output");
      return told.length > 0 ? told : undefined;
    });
    this.#watched = new Watched(program, this.evaluator);
    this.events = new Events(this);
    this.#crossings = new Crossings(program.bands, this.evaluator, this.recorder);
    this.#sunless = new Sunless(program.sunEvents);
    this.#start();
  }

  get asksObedience(): boolean {
    const { outputs, pulses } = this.program;
    return (
      outputs.some(({ disobeys }) => disobeys >= 0) || pulses.some(({ kind, text }) => kind === "problem" && text === "disobeys")
    );
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
    this.evaluator.putOffAges();
    return Math.min(this.#pending, this.agenda.next);
  }

  // ── Inputs ────────────────────────────────────────────────────────────────────────────────────────────────────────

  report(sensor: string, value: Value, at: number): void {
    const cell = this.#cellOfKind(sensor, "sensor");
    const base = misfit(cell, value) === undefined ? baseOf(value, cell.type) : Number.NaN;
    const why = misfit(cell, value) ?? this.#jump(cell, base, at);
    if (why) this.#refuse(cell, value, why, at);
    else this.#accept(cell, base, at);
  }

  /** Why a reading is further from the last good one than the sensor can have moved, if it is. */
  #jump(cell: Cell, base: number, at: number): string | undefined {
    if (!cell.moves) return undefined;
    const { evaluator } = this;
    const before = evaluator.values[cell.node] as number;
    const [by, within] = [evaluator.current(cell.moves.by), evaluator.current(cell.moves.in)];
    const most = by * Math.max(1, (at - evaluator.lastReport(cell.node)) / within);
    const far = Math.abs(base - before);
    if (!(far > most) || equalNumbers(far, most)) return undefined;
    return `it cannot have changed so much since it read ${sayValue(cell.type, ownOf(before, cell.type))}`;
  }

  lose(sensor: string, at: number): void {
    const cell = this.#cellOfKind(sensor, "sensor");
    this.#accept(cell, Number.NaN, at);
  }

  sensorNumber(sensor: string): number {
    const cell = this.#cellOfKind(sensor, "sensor");
    return cell.node;
  }

  /**
   * Most reports change nothing: they are taken without a step, unless something waits to happen first. Kept short, so
   * that it is inlined where it is called: else its numbers are boxed (measured: twice the time of a quiet report).
   */
  reportNumber(sensor: number, base: number, at: number): void {
    if (!this.#takeQuietly(sensor, base, at)) this.#reportSlowly(sensor, base, at);
  }

  /** Where what happens is written down, a sensor that says the same again is only heard: no step is made of it. */
  #takeAgain(sensor: number, base: number, at: number): boolean {
    if (!this.recorder.recording || this.#phase !== "idle" || this.outputs.undecided.size > 0) return false;
    if (!(at >= Math.max(this.now, this.#calm[0] as number) && at <= this.nextDeadline && Math.floor(at) === at)) return false;
    if (!this.#quietly.takeAgain(sensor, base, at)) return false;
    this.#calm[0] = at;
    this.recorder.heard(sensor, at);
    return true;
  }

  /** Takes a report that comes in order of time, and before which nothing happens, where it changes nothing either. */
  #takeQuietly(sensor: number, base: number, at: number): boolean {
    const calm = this.#calm;
    if (!(at >= (calm[0] as number) && at <= (calm[1] as number) && Math.floor(at) === at)) return false;
    if (!this.#quietly.take(sensor, base, at)) return false;
    calm[0] = at;
    return true;
  }

  /** Takes, in the same way, a report by which only what nobody is told of turns. */
  #absorb(sensor: number, base: number, at: number): boolean {
    const calm = this.#calm;
    if (!(at >= (calm[0] as number) && at <= (calm[1] as number) && Math.floor(at) === at)) return false;
    if (!this.evaluator.settled || !this.#absorbed?.take(sensor, base, at)) return false;
    calm[0] = at;
    this.#lookAhead();
    return true;
  }

  /** Until when it is calm, looked at again whenever that may have changed. */
  #lookAhead(): void {
    this.#calm[0] = Math.max(this.#calm[0] as number, this.now);
    this.#calm[1] = this.#quiet && this.#phase === "idle" ? Math.min(this.nextDeadline, LAST_INSTANT) : NEVER;
  }

  #reportSlowly(sensor: number, base: number, at: number): void {
    const cell = this.#cellOf[sensor];
    if (cell?.kind !== "sensor") throw new RangeError(`the house has no sensor of the number ${sensor}`);
    if (this.#absorb(sensor, base, at) || this.#takeAgain(sensor, base, at)) return;
    this.#enter(cell.name, at);
    // What had to happen first has happened: it may still be a report that changes nothing.
    if (this.#passBefore(at) && (this.#takeQuietly(sensor, base, at) || this.#absorb(sensor, base, at))) return;
    const why = misfitNumber(cell, base) ?? this.#jump(cell, base, at);
    if (why) this.#refuse(cell, ownOf(base, cell.type) ?? base, why, at);
    else this.#accept(cell, base, at);
  }

  #accept(cell: Cell, base: number, at: number): void {
    if (this.#refusing.size > 0) this.#refusing.delete(cell.name);
    this.#take(cell, base, at);
    this.#inbox.accept(cell.node);
  }

  /** The last good value stands until it is too old; a sensor whose values never are is unknown at once. */
  #refuse(cell: Cell, value: Value, why: string, at: number): void {
    if (this.#refusing.has(cell.name)) this.#come(at, cell.name);
    else
      this.#queueAct(
        { kind: "refused", text: `${cell.name} reads ${Number.isNaN(value) ? "no value that can be read" : value}: ${why}` },
        cell.name,
        at,
      );
    this.#refusing.add(cell.name);
    if (!cell.ages) this.#take(cell, Number.NaN, at);
    this.#inbox.refuse(cell.node);
    this.#quietly.unsettle(cell.node);
  }

  press(sensor: string, at: number): void {
    if (!this.program.presses.has(sensor)) throw new RangeError(`the house has no "${sensor}" that is pressed`);
    this.#come(at, sensor);
    this.#inbox.press(sensor);
  }

  set(name: string, value: Value, at: number): void {
    const cell = this.#cellOfKind(name, "dial", "mode");
    const why = misfit(cell, value);
    if (why) throw new RangeError(`"${name}" cannot be ${value}: ${why}`);
    this.#take(cell, baseOf(value, cell.type), at);
  }

  #take(cell: Cell, value: number, at: number): void {
    this.#come(at, cell.name);
    this.#queue(cell.node, value);
  }

  #queue(node: number, value: number): void {
    this.#inbox.put(node, value);
    this.#quietly.unsettle(node);
  }

  /** From outside nothing may come into a step. */
  #enter(what: string, at: number): void {
    if (this.#phase === "broken")
      throw new Error(`the engine broke at ${this.now}: ${this.#broken}; go on from a snapshot`, { cause: this.#broken });
    if (this.#phase !== "idle") throw new RangeError(`"${what}" cannot come while a step runs`);
    if (!Number.isSafeInteger(at)) throw new RangeError(`an instant is a whole number of milliseconds, not ${at}`);
  }

  /** Something comes at an instant: what lies before it happens first. What comes after something later is late. */
  #come(at: number, what: string): void {
    this.#enter(what, at);
    this.#passBefore(at);
    const present = Math.max(this.now, this.#calm[0] as number);
    if (at < present) this.recorder.problem("late", `${what} came ${writeDuration(present - at)} late`);
    this.#calm[0] = Math.max(at, present);
    this.#inputsAt = this.#calm[0];
    this.#pending = Math.min(this.#inputsAt, this.#againAt);
    this.#lookAhead();
  }

  person(action: PersonAction, at: number): void {
    actOf(action, this.program, this);
    this.#queueAct({ kind: "person", action }, "what a person does", at);
  }

  confirm(output: string, value: Value, at: number): void {
    outputValue(this.program, output, value);
    this.#queueAct({ kind: "confirms", output, value }, output, at);
  }

  jumpClock(by: number, at: number): void {
    if (!Number.isSafeInteger(by)) throw new RangeError(`a clock jumps by a whole number of milliseconds, not ${by}`);
    this.#queueAct({ kind: "clock", by }, "the clock", at);
  }

  #queueAct(act: Act, what: string, at: number): void {
    this.#come(at, what);
    this.#inbox.act(act);
  }

  #act(act: Act): void {
    switch (act.kind) {
      case "person":
        return actOf(act.action, this.program, this)();
      case "confirms":
        return this.outputs.confirm(...outputValue(this.program, act.output, act.value));
      case "clock":
        return this.#setClock(this.#clockAhead + act.by, act.by);
      case "refused":
        return this.recorder.problem("refused", act.text);
      default:
        throw new RangeError(`no such act: ${JSON.stringify(act satisfies never)}`);
    }
  }

  /** Moments that the clock passes over are due now; those it comes to again are not. */
  #setClock(ahead: number, by: number): void {
    if (by < 0) this.events.backUntil = Math.max(this.now, this.events.backUntil) - by;
    else this.events.backUntil -= by;
    const due = new Map<number, number>();
    for (const timer of this.#momentTimers()) due.set(timer, this.agenda.due(timer));
    this.#putClock(ahead);
    this.evaluator.markTemporal();
    for (const [timer, was] of due) {
      const moved = was - by;
      if (by > 0 && moved <= this.now) this.#fallDue(timer, moved);
      else if (Number.isFinite(moved)) this.agenda.set(timer, moved);
    }
  }

  #putClock(ahead: number): void {
    this.#clockAhead = ahead;
    this.#sky = skyAhead(this.#clock, ahead, this.house);
    this.evaluator.sky = this.#sky;
  }

  #momentTimers(): number[] {
    return [...this.program.timers.keys()].filter((timer) => this.program.timers[timer]?.kind === "trigger");
  }

  advanceTo(at: number): void {
    this.#enter("time", at);
    if (at < this.now)
      throw new RangeError(`instant ${at} is before the house's present, ${this.now}: later events have already been handled`);
    this.#pass(at);
  }

  /** What lies before an instant happens; whether anything did. */
  #passBefore(at: number): boolean {
    if (!(this.nextDeadline < at && at > this.now)) return false;
    this.#pass(at - 1);
    return true;
  }

  #pass(at: number): void {
    // What fell due while the house was down happens when it comes up.
    let steps = 0;
    for (let next = this.nextDeadline; next <= at; next = this.nextDeadline) {
      const instant = Math.max(next, this.now);
      steps = instant === this.now ? steps + 1 : 0;
      if (steps > MOST_STEPS) this.#break(new Error(`time stands still at ${instant}: the steps of this instant never end`));
      this.#step(instant);
    }
    this.evaluator.now = at;
    this.#lookAhead();
  }

  goDown(at: number): Snapshot {
    this.advanceTo(at);
    const snapshot = this.snapshot();
    for (const { node, withoutControl } of this.program.outputs)
      if (withoutControl !== undefined) this.evaluator.set(node, withoutControl);
    this.evaluator.settle();
    const thrown = this.#show(at);
    this.#phase = "broken";
    this.#broken = new Error("the controller is down");
    if (thrown) throw thrown.error;
    return snapshot;
  }

  #break(error: unknown): never {
    this.#phase = "broken";
    this.#broken = error;
    throw error;
  }

  value(name: string): Value | undefined {
    const derived = this.program.derived.get(name);
    if (derived !== undefined) return ownOf(this.evaluator.current(derived), typeOf(this.house, name));
    const { type } = this.#cell(name);
    return ownOf(this.evaluator.current(this.program.shown.get(name) as number), type);
  }

  watched(index: number): number {
    return this.#watched.value(index);
  }

  readWatched(into: Float64Array): void {
    this.#watched.read(into);
  }

  readTurned(list: Float64Array, turned: Int32Array): number {
    return this.#watched.readTurned(list, turned);
  }

  takeChanges(): readonly Change[] {
    return this.outputs.takeChanges();
  }

  takeNotices(): readonly Notice[] {
    return this.told.takeNotices();
  }

  takeProblems(): readonly ProblemRecord[] {
    return this.told.takeProblems();
  }

  takeMessages(): readonly Message[] {
    return this.told.takeMessages();
  }

  #cell(name: string): Cell {
    const cell = this.program.cells.get(name);
    if (!cell) throw new RangeError(`the house has no thing called "${name}"`);
    return cell;
  }

  #cellOfKind(name: string, ...kinds: readonly Cell["kind"][]): Cell {
    const cell = this.#cell(name);
    if (kinds.includes(cell.kind)) return cell;
    throw new RangeError(`"${name}" is ${cell.kind === "output" ? "an output" : `a ${cell.kind}`}, no ${kinds.join(" or ")}`);
  }

  // ── Starting ──────────────────────────────────────────────────────────────────────────────────────────────────────

  #start(): void {
    const { restore: snapshot, given, at } = this.#options;
    const { evaluator } = this;
    for (const { node, first, type, kind } of this.program.cells.values()) {
      if (kind !== "sensor" && first !== undefined) evaluator.set(node, baseOf(first, type));
    }
    if (snapshot) {
      this.#putClock(snapshot.clockAhead);
      this.leftOut = restore(this, snapshot, at);
      this.#ringing = snapshot.ringing;
      for (const name of snapshot.refusing) {
        const cell = this.program.cells.get(name);
        if (cell?.kind !== "sensor") continue;
        this.#refusing.add(name);
        this.#inbox.refuse(cell.node);
        this.#quietly.unsettle(cell.node);
      }
    } else if (given) this.#settle(given);
    evaluator.now = at;
    this.#putClock(this.#clockAhead);
    this.#silent = false;
    evaluator.markTemporal();
    if (!snapshot && given) this.events.seeGiven();
    else if (!snapshot) this.events.seeFirst();
    // The first step decides every output again, and with it when what protects it is over.
    this.program.outputs.forEach((_, output) => this.outputs.undecided.add(output));
    this.#againAt = at;
    this.#pending = at;
    if (snapshot?.queued) this.#queueAgain(snapshot.queued, at);
    // Only where a house has a place and depends on the sun is there anything to look at each day.
    if (this.house.place && this.#sunless.watches) this.agenda.set(this.program.day.timer, at);
    if (!snapshot) this.program.events.forEach((_, event) => this.events.planMoments(event));
    this.recorder.begin(evaluator.values, snapshot !== undefined);
    this.#lookAhead();
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
    // What depends on time within what depends on time comes to rest one look after the other.
    const looks = Array.from({ length: lastingDepth(this.program) }, (_, look) => FOR_EVER / 2 ** look);
    for (const now of [...looks, at - 1]) {
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
    evaluator.beginMemories(at);
    for (const { index, node } of this.program.outputs)
      Object.assign(this.outputs.states[index] as OutputState, { value: evaluator.values[node], since: FOR_EVER });
  }

  // ── One instant ───────────────────────────────────────────────────────────────────────────────────────────────────

  //   idle ──▶ inputs ──▶ turns ──▶ sending ──▶ shown ──▶ ending ──▶ idle        what throws in between: broken
  //
  // While it is shown, a host looks at the instant: what it throws is none of ours. The step ends, and then it is thrown.

  #step(at: number): void {
    let thrown: { readonly error: unknown } | undefined;
    try {
      this.#phase = "inputs";
      this.#calm[1] = NEVER;
      this.evaluator.now = at;
      this.#againAt = Number.POSITIVE_INFINITY;
      this.#quiet = this.#options.journal === undefined;
      if (this.#inputsAt <= at) this.#takeInputs();
      this.#pending = this.#inputsAt;
      this.#takeDeadlines(at);
      if (this.#starting) this.events.houseStarts();
      this.#phase = "turns";
      this.evaluator.settle();
      // Most steps only change conditions that nobody depends on: then there is nothing to decide, to send or to end.
      const isStill = this.#isStill;
      if (isStill) this.#ringing = false;
      else this.#turnAndSend();
      this.#phase = "shown";
      thrown = this.#show(at);
      this.#phase = "ending";
      if (!isStill) {
        this.#endMoments();
        this.#stepAgain();
      }
      this.#phase = "idle";
    } catch (error) {
      this.#break(error);
    }
    if (thrown) throw thrown.error;
  }

  #turnAndSend(): void {
    this.#turn();
    this.#lookAtCrossed();
    this.outputs.judgeHands();
    this.#phase = "sending";
    // After a restart every output is sent again.
    const told = this.outputs.send(this.#starting && this.#options.restore !== undefined);
    if (this.told.outputsSent(this.#starting ? this.program.outputs.map(({ index }) => index) : told)) this.evaluator.settle();
    this.#starting = false;
  }

  #show(at: number): { readonly error: unknown } | undefined {
    const { onInstant } = this.#options;
    if (!onInstant) return undefined;
    try {
      onInstant(at);
    } catch (error) {
      return { error };
    }
    return undefined;
  }

  #takeInputs(): void {
    this.#inputsAt = Number.POSITIVE_INFINITY;
    const turned = this.#turnedTogether();
    this.#inbox.sort();
    for (let node = this.#inbox.take(); node >= 0; node = this.#inbox.take()) {
      const cell = this.#cellOf[node] as Cell;
      const value = this.#inbox.valueOf(node);
      if (turned || cell.kind !== "dial" || this.mayTurn([[cell.name, value]])) this.#takeInput(cell, value);
    }
    for (const sensor of this.#inbox.takePresses()) this.raise(this.program.presses.get(sensor) as number);
    for (const act of this.#inbox.takeActs()) this.#act(act);
  }

  /** Whether the dials that are set in one instant may be set so together: else each is judged by itself. */
  #turnedTogether(): boolean {
    if (this.program.bands.length === 0) return true;
    const isDial = (node: number) => this.#cellOf[node]?.kind === "dial";
    if (!this.#inbox.nodes.some(isDial)) return true;
    const dials = this.#inbox.nodes.filter(isDial);
    return this.#crossings.refusal(new Map(dials.map((node) => [node, this.#inbox.valueOf(node)]))) === undefined;
  }

  #takeInput(cell: Cell, value: number): void {
    const { evaluator } = this;
    this.recorder.put(cell, value);
    if (cell.kind !== "sensor") {
      this.events.setAnew(cell.name);
      evaluator.set(cell.node, value);
    } else if (Number.isNaN(value)) evaluator.forget(cell.node);
    else evaluator.report(cell.node, value);
  }

  /** Something is so for this instant only. */
  raise(pulse: number): void {
    this.#raised.push(pulse);
    this.evaluator.set(pulse, 1);
  }

  #takeDeadlines(at: number): void {
    const firstTimer = this.program.timers.length;
    for (;;) {
      const due = this.agenda.next;
      const timer = this.agenda.take(at);
      if (timer < 0) return;
      if (timer < firstTimer) this.#fallDue(timer, due);
      else this.evaluator.fallDue(timer);
    }
  }

  #fallDue(index: number, due: number): void {
    const timer = this.program.timers[index];
    switch (timer?.kind) {
      case "output":
        this.outputs.undecided.add(timer.output);
        break;
      case "hand":
        this.outputs.endHand(timer.output);
        break;
      case "claim":
        this.outputs.endClaim(timer.claim);
        break;
      case "cell":
        this.events.goBack(timer.event, timer.turn);
        break;
      case "wait":
        this.events.wake(timer.event);
        break;
      case "trigger":
        this.events.moment(timer.event, timer.trigger, due);
        break;
      case "look":
        this.#turned.push({ kind: "trigger", event: timer.event, trigger: timer.trigger });
        break;
      case "countdown":
        this.raise(this.countdowns.runOut(timer.countdown));
        break;
      case "day":
        this.#newDay();
        break;
      case "pause":
        this.resume(timer.rule);
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
      this.events.runSteps();
      const outputs = this.outputs.decide();
      this.events.lookAtDoses();
      if (this.#isSettled) break;
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

  /** Nothing is left to be looked at in this instant. */
  get #isSettled(): boolean {
    return (
      this.evaluator.settled &&
      this.#lasting.length + this.#turned.length === 0 &&
      this.events.quiet &&
      this.outputs.undecided.size === 0
    );
  }

  /** Nothing is left to be looked at, no moment has to end and nothing runs that every step looks at. */
  get #isStill(): boolean {
    return this.#isSettled && !this.#starting && this.#raised.length + this.#crossed.length === 0 && !this.events.dosing;
  }

  #breakRing(ring: ReadonlySet<string>): void {
    const names = [...ring];
    if (!this.#ringing)
      this.recorder.problem(
        "ring",
        `${names.length === 0 ? "rules" : names.join(", ")} ${names.length === 1 ? "triggers itself in a loop; its outputs were" : "trigger each other in a loop; their outputs were"} left unchanged`,
      );
    this.#ringing = true;
    this.outputs.freeze(ring);
    this.evaluator.settle();
    this.events.forgetFired();
    this.#lasting = [];
    this.#turned = [];
    this.outputs.decide();
    this.evaluator.settle();
    this.outputs.thaw();
    this.#quiet = false;
  }

  /** Presses, notices and messages are over with their instant. */
  #endMoments(): void {
    if (this.#raised.length === 0) return;
    const over = this.#raised;
    this.#raised = [];
    this.evaluator.endMoments(over);
    for (const listener of [...this.#turned, ...this.#lasting]) this.events.seeEnd(listener);
    this.#lasting = [];
    this.#turned = [];
  }

  /** What the end of a moment releases, and what disobeys what was just sent, is looked at in a step of the same instant. */
  #stepAgain(): void {
    if (this.#ringing || (this.outputs.undecided.size === 0 && this.evaluator.settled)) return;
    this.#againAt = this.now;
    this.#pending = this.now;
  }

  /** Told by the evaluator of every node that changed. */
  #changed(node: number): void {
    if (!this.#silent && Number.isNaN(this.evaluator.values[node] as number)) this.#lookAtSilence(node);
    if (!this.#silent && this.recorder.recording) this.recorder.changed(node, this.evaluator.values[node] as number);
    this.#watched.changed(node);
    const end = this.#decidingAt[node + 1] as number;
    for (let at = this.#decidingAt[node] as number; at < end; at++) this.outputs.undecided.add(this.#deciding[at] as number);
    const listeners = this.#listeners[node];
    if (!listeners || this.#silent) return;
    for (const listener of listeners) {
      if (listener.kind === "mode") this.outputs.endHandByMode(listener.output);
      else if (listener.kind === "until") this.#lasting.push(listener);
      else if (listener.kind === "band") this.#crossed.push(listener.band);
      else this.#turned.push(listener);
    }
  }

  /** A sensor that was known and is not any more, though nobody said so, has fallen silent. */
  #lookAtSilence(node: number): void {
    const cell = this.#cellOf[node];
    const since = cell?.kind === "sensor" ? this.evaluator.lastReport(node) : Number.NaN;
    if (!cell || Number.isNaN(since)) return;
    this.recorder.problem("silent", `${cell.name} has sent no valid reading for ${writeDuration(this.now - since)}`);
  }

  #lookAtCrossed(): void {
    if (this.#starting) this.#crossings.begin(this.#options.restore !== undefined);
    if (this.#crossed.length === 0) return;
    for (const band of new Set(this.#crossed)) this.#crossings.look(this.program.bands[band] as Program["bands"][number]);
    this.#crossed = [];
  }

  /** What conditions have become by this turn: first ends what was asked until then, then edges fire and waits end. */
  #lookAtTurned(): void {
    while (this.#lasting.length > 0) {
      const lasting = this.#lasting;
      this.#lasting = [];
      for (const listener of lasting) this.events.lookAtLasting(listener);
      // A dial that goes back may turn more.
      this.evaluator.settle();
    }
    if (this.#turned.length === 0) return;
    const turned = this.#turned;
    this.#turned = [];
    for (const listener of turned) {
      if (listener.kind === "trigger") this.events.look(listener.event, listener.trigger);
      else this.events.lookAtWait(listener);
    }
  }

  // ── What steps and persons do ─────────────────────────────────────────────────────────────────────────────────────

  #newDay(): void {
    const { clock } = this.#sky;
    const { day } = clock.local(this.now);
    for (const event of this.#sunless.newly(this.#sky, this.now))
      this.recorder.problem(
        "no-sun",
        `there is no ${event} from ${dateOfDay(day)} on; a trigger at it waits until it comes again`,
      );
    this.agenda.set(this.program.day.timer, clock.instant(day + 1, 0));
  }

  mayTurn(settings: readonly (readonly [name: string, value: number])[]): boolean {
    if (this.program.bands.length === 0) return true;
    const dials = settings.flatMap(([name, value]) => {
      const cell = this.#cell(name);
      return cell.kind === "dial" && !Number.isNaN(value) ? [{ cell, value: clampTo(cell, value) }] : [];
    });
    const why = dials.length > 0 && this.#crossings.refusal(new Map(dials.map(({ cell, value }) => [cell.node, value])));
    if (!why) return true;
    const wanted = dials.map(({ cell, value }) => `${cell.name} is not set to ${sayValue(cell.type, ownOf(value, cell.type))}`);
    this.recorder.problem("refused", `${wanted.join(", ")}: ${why}`);
    return false;
  }

  lookAgain(listener: ListenerOf<"wait" | "until">): void {
    if (listener.kind === "until") this.#lasting.push(listener);
    else this.#turned.push(listener);
  }

  setCell(name: string, value: number): void {
    const cell = this.#cell(name);
    const made = clampTo(cell, value);
    this.events.setAnew(name);
    this.recorder.put(cell, made);
    this.evaluator.set(cell.node, made);
  }

  // ── What a person does ──────────────────────────────────────────────────────────────────────────────────────────────

  switch(output: number, value: number, lasts: number | undefined): void {
    this.outputs.switch(output, value, lasts);
  }

  endHand(output: number): void {
    this.outputs.endHand(output);
  }

  /** It releases its claims and ends its running steps; its memories go on. */
  pause(rule: number, lasts: number | undefined): void {
    const { timer, claims, events, name } = this.program.rules[rule] as Program["rules"][number];
    this.outputs.paused.add(rule);
    this.recorder.note({ kind: "person", text: `pauses ${name}` }, []);
    const until = lasts === undefined ? {} : { until: Math.ceil(this.now + lasts) };
    this.recorder.note({ kind: "paused", rule: name, ...until }, []);
    this.agenda.set(timer, lasts === undefined ? Number.POSITIVE_INFINITY : Math.ceil(this.now + lasts));
    for (const event of events) this.events.stop(event);
    for (const claim of claims) if (this.program.claims[claim]?.held === undefined) this.outputs.letGo(claim);
    this.outputs.redecide(claims);
  }

  resume(rule: number): void {
    const { timer, claims, name } = this.program.rules[rule] as Program["rules"][number];
    if (this.outputs.paused.delete(rule)) this.recorder.note({ kind: "resumed", rule: name }, []);
    this.agenda.clear(timer);
    this.outputs.redecide(claims);
  }

  apply(preset: string): void {
    const settings = (this.program.presets.get(preset) ?? []).map(
      ({ name, value }) => [name, this.evaluator.current(value)] as const,
    );
    if (!this.mayTurn(settings)) return;
    for (const { name, value } of this.program.presets.get(preset) ?? []) {
      const base = this.evaluator.current(value);
      if (Number.isNaN(base)) continue;
      const output = this.program.outputs.findIndex((one) => one.name === name);
      if (output >= 0) this.outputs.switch(output, base, undefined);
      else this.setCell(name, base);
    }
  }

  run(rule: number): void {
    const [event] = this.program.rules[rule]?.events ?? [];
    if (event !== undefined && !this.outputs.paused.has(rule)) this.events.run(event);
  }

  snapshot(): Snapshot {
    this.#enter("a snapshot", this.now);
    const queued = this.#inputsAt === Number.POSITIVE_INFINITY ? null : this.#inbox.toJSON(this.#inputsAt);
    return takeSnapshot(this, {
      // Reports that made no step are remembered too.
      at: queued ? this.now : Math.max(this.now, this.#calm[0] as number),
      clockAhead: this.#clockAhead,
      refusing: [...this.#refusing],
      ringing: this.#ringing,
      queued,
    });
  }

  /** What was queued as the house went down. */
  #queueAgain(queued: Queued, now: number): void {
    const due = Math.max(queued.at, now);
    this.#calm[0] = due;
    this.#inputsAt = due;
    const leftOut = this.#inbox.restore(queued, this.program, (act) => this.#misfitAct(act));
    for (const node of this.#inbox.nodes) this.#quietly.unsettle(node);
    this.leftOut = [...this.leftOut, ...leftOut];
  }

  #misfitAct(act: Act): string | undefined {
    try {
      if (act.kind === "person") actOf(act.action, this.program, this);
      if (act.kind === "confirms") outputValue(this.program, act.output, act.value);
    } catch (error) {
      if (error instanceof RangeError) return error.message;
      throw error;
    }
    return undefined;
  }
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

/** How many parts that depend on time stand within one another, at least one. */
function lastingDepth({ graph: { nodes } }: Program): number {
  const depths: number[] = [];
  const deeper = (most: number, depth: number) => Math.max(most, depth);
  for (const { op, args } of nodes) {
    const within = args.map((part) => depths[part] as number).reduce(deeper, 0);
    depths.push(within + (ops[op].lasts ? 1 : 0));
  }
  return depths.reduce(deeper, 1);
}
