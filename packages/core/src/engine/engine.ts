// Runs a house: inputs and time in, changes of outputs out. A pure function of the house, its starting state and the
// inputs with their times; it reads no clock and does no I/O.

import { type Absorbed, Agenda, Evaluator, type Quiet } from "../expression/index.js";
import { baseOf, type House, misfit, misfitNumber, ownOf, sayValue, typeOf, type Value } from "../house/index.js";
import type { Sky } from "../time/index.js";
import { equalNumbers, writeDuration } from "../units/index.js";
import type { OutputState } from "./claims.js";
import { compile } from "./compile.js";
import { Countdowns } from "./countdowns.js";
import { Crossings } from "./crossings.js";
import { Deeds } from "./deeds.js";
import { Events } from "./events.js";
import { givenIn, settleGiven } from "./given.js";
import { actOf, outputValue } from "./hands.js";
import { HouseClock } from "./house-clock.js";
import { Inbox } from "./inbox.js";
import type { Change, Engine, EngineOptions, Message, Notice } from "./interface.js";
import { FOR_EVER, restore, takeSnapshot } from "./memory.js";
import { Outputs } from "./outputs.js";
import type { Parts } from "./parts.js";
import type { ProblemRecord } from "./past.js";
import type { PersonAction } from "./person-action.js";
import { type Cell, cellNamed, type Program } from "./program.js";
import { Recorder } from "./recorder.js";
import type { Act, Queued, Snapshot } from "./snapshot.js";
import { Told } from "./told.js";
import { Turns } from "./turns.js";
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

/** What a step is at; once broken, it stays so. */
type Phase = "idle" | "inputs" | "turns" | "sending" | "shown" | "ending" | "broken";

/** As far as instants go. */
const LAST_INSTANT = Number.MAX_SAFE_INTEGER;
const NEVER = Number.NEGATIVE_INFINITY;

/** More steps of one instant are a fault of ours: it is told, and nothing stands still without a word. */
const MOST_STEPS = 1000;

class Runner implements Engine, Parts {
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
  readonly told: Told;
  readonly countdowns: Countdowns;
  readonly crossings: Crossings;
  readonly watching: Watched;
  readonly cellOf: (Cell | undefined)[];
  readonly deeds: Deeds;
  readonly turns: Turns;
  readonly clock: HouseClock;
  readonly #inbox: Inbox;
  readonly #refusing = new Set<string>();
  /** Whether reports may be taken without a step: nobody writes down what happens. */
  readonly #mayBeQuiet: boolean;
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
  #starting = true;

  constructor(program: Program, options: EngineOptions) {
    const { graph, timers } = program;
    this.program = program;
    this.#options = options;
    this.#mayBeQuiet = options.journal === undefined;
    this.recorder = new Recorder(
      options.journal,
      program,
      () => this.now,
      (code, text) => this.told.problem(code, text),
    );
    this.cellOf = new Array(graph.nodes.length).fill(undefined);
    for (const cell of program.cells.values()) this.cellOf[cell.node] = cell;
    this.#inbox = new Inbox(program, this.cellOf);
    this.agenda = new Agenda(graph.nodes.length + timers.length);
    const watched = new Set(program.watched);
    this.evaluator = new Evaluator(graph, this.agenda, timers.length, options.at, {
      onChange: (node) => this.turns.changed(node),
      isTold: (node) => options.journal !== undefined || program.listeners.has(node),
      isWatched: (node) => watched.has(node),
      isAwaited: (node) => this.#inbox.isAwaited(node),
      foldsSides: this.#mayBeQuiet,
    });
    this.#quietly = this.evaluator.quiet;
    this.#absorbed = this.evaluator.absorbed;
    this.unknownTimes = new UnknownTimes(this.recorder);
    this.outputs = new Outputs(program, this.evaluator, this.agenda, this.recorder, this.unknownTimes);
    this.told = new Told(program, this.evaluator, this.recorder, (pulse) => this.turns.raise(pulse));
    this.countdowns = new Countdowns(program, this.evaluator, this.agenda, this.unknownTimes);
    this.crossings = new Crossings(program.bands, this.evaluator, this.recorder);
    this.watching = new Watched(program, this.evaluator);
    this.clock = new HouseClock(this);
    this.deeds = new Deeds(this);
    this.events = new Events(this);
    this.turns = new Turns(this);
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
    return this.clock.sky;
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
    this.#calm[1] =
      this.#mayBeQuiet && !this.turns.ringing && this.#phase === "idle" ? Math.min(this.nextDeadline, LAST_INSTANT) : NEVER;
  }

  #reportSlowly(sensor: number, base: number, at: number): void {
    const cell = this.cellOf[sensor];
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
    actOf(action, this.program, this.deeds);
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
        return actOf(act.action, this.program, this.deeds)();
      case "confirms":
        return this.outputs.confirm(...outputValue(this.program, act.output, act.value));
      case "clock":
        return this.#moveClock(act.by);
      case "refused":
        return this.recorder.problem("refused", act.text);
      default:
        throw new RangeError(`no such act: ${JSON.stringify(act satisfies never)}`);
    }
  }

  /** Moments that the clock passes over are due now; those it comes to again are not. */
  #moveClock(by: number): void {
    if (by < 0) this.events.backUntil = Math.max(this.now, this.events.backUntil) - by;
    else this.events.backUntil -= by;
    const due = new Map<number, number>();
    for (const timer of this.#momentTimers()) due.set(timer, this.agenda.due(timer));
    this.clock.put(this.clock.ahead + by);
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
    const { type } = cellNamed(this.program, name);
    return ownOf(this.evaluator.current(this.program.shown.get(name) as number), type);
  }

  watched(index: number): number {
    return this.watching.value(index);
  }

  readWatched(into: Float64Array): void {
    this.watching.read(into);
  }

  readTurned(list: Float64Array, turned: Int32Array): number {
    return this.watching.readTurned(list, turned);
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

  #cellOfKind(name: string, ...kinds: readonly Cell["kind"][]): Cell {
    const cell = cellNamed(this.program, name);
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
      this.clock.put(snapshot.clockAhead);
      this.leftOut = restore(this, snapshot, at);
      this.turns.ringing = snapshot.ringing;
      for (const name of snapshot.refusing) {
        const cell = this.program.cells.get(name);
        if (cell?.kind !== "sensor") continue;
        this.#refusing.add(name);
        this.#inbox.refuse(cell.node);
        this.#quietly.unsettle(cell.node);
      }
    } else if (given) this.#settle(given);
    evaluator.now = at;
    this.clock.put(this.clock.ahead);
    this.turns.silent = false;
    evaluator.markTemporal();
    if (!snapshot && given) this.events.seeGiven();
    else if (!snapshot) this.events.seeFirst();
    // The first step decides every output again, and with it when what protects it is over.
    this.program.outputs.forEach((_, output) => this.outputs.undecided.add(output));
    this.#againAt = at;
    this.#pending = at;
    if (snapshot?.queued) this.#queueAgain(snapshot.queued, at);
    this.clock.begin(at);
    if (!snapshot) this.program.events.forEach((_, event) => this.events.planMoments(event));
    this.recorder.begin(evaluator.values, snapshot !== undefined);
    this.#lookAhead();
  }

  #settle(given: Readonly<Record<string, Value>>): void {
    const { program, evaluator } = this;
    settleGiven(program, evaluator, givenIn(program, given), this.#options.at, (until) => this.#takeDeadlines(until));
    for (const { index, node } of program.outputs)
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
      if (this.#inputsAt <= at) this.#takeInputs();
      this.#pending = this.#inputsAt;
      this.#takeDeadlines(at);
      if (this.#starting) this.events.houseStarts();
      this.#phase = "turns";
      this.evaluator.settle();
      // Most steps only change conditions that nobody depends on: then there is nothing to decide, to send or to end.
      const isStill = this.turns.isStill && !this.#starting;
      if (isStill) this.turns.ringing = false;
      else this.#turnAndSend();
      this.#phase = "shown";
      thrown = this.#show(at);
      this.#phase = "ending";
      if (!isStill) {
        this.turns.endMoments();
        this.#stepAgain();
      }
      this.#phase = "idle";
    } catch (error) {
      this.#break(error);
    }
    if (thrown) throw thrown.error;
  }

  #turnAndSend(): void {
    const isRestored = this.#options.restore !== undefined;
    this.turns.run();
    if (this.#starting) this.crossings.begin(isRestored);
    this.turns.lookAtCrossed();
    this.outputs.judgeHands();
    this.#phase = "sending";
    // After a restart every output is sent again.
    const told = this.outputs.send(this.#starting && isRestored);
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
      const cell = this.cellOf[node] as Cell;
      const value = this.#inbox.valueOf(node);
      if (turned || cell.kind !== "dial" || this.deeds.mayTurn([[cell.name, value]])) this.#takeInput(cell, value);
    }
    for (const sensor of this.#inbox.takePresses()) this.turns.raise(this.program.presses.get(sensor) as number);
    for (const act of this.#inbox.takeActs()) this.#act(act);
  }

  /** Whether the dials that are set in one instant may be set so together: else each is judged by itself. */
  #turnedTogether(): boolean {
    if (this.program.bands.length === 0) return true;
    const isDial = (node: number) => this.cellOf[node]?.kind === "dial";
    if (!this.#inbox.nodes.some(isDial)) return true;
    const dials = this.#inbox.nodes.filter(isDial);
    return this.crossings.refusal(new Map(dials.map((node) => [node, this.#inbox.valueOf(node)]))) === undefined;
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
        this.turns.lookAt({ kind: "trigger", event: timer.event, trigger: timer.trigger });
        break;
      case "countdown":
        this.turns.raise(this.countdowns.runOut(timer.countdown));
        break;
      case "day":
        this.clock.newDay();
        break;
      case "pause":
        this.deeds.resume(timer.rule);
        break;
      case undefined:
        throw new RangeError(`no timer ${index}`);
      default:
        throw new RangeError(`no such timer: ${JSON.stringify(timer satisfies never)}`);
    }
  }

  /** What the end of a moment releases, and what disobeys what was just sent, is looked at in a step of the same instant. */
  #stepAgain(): void {
    if (this.turns.ringing || (this.outputs.undecided.size === 0 && this.evaluator.settled)) return;
    this.#againAt = this.now;
    this.#pending = this.now;
  }

  // ── Remembering ───────────────────────────────────────────────────────────────────────────────────────────────────

  snapshot(): Snapshot {
    this.#enter("a snapshot", this.now);
    const queued = this.#inputsAt === Number.POSITIVE_INFINITY ? null : this.#inbox.toJSON(this.#inputsAt);
    return takeSnapshot(this, {
      // Reports that made no step are remembered too.
      at: queued ? this.now : Math.max(this.now, this.#calm[0] as number),
      clockAhead: this.clock.ahead,
      refusing: [...this.#refusing],
      ringing: this.turns.ringing,
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
      if (act.kind === "person") actOf(act.action, this.program, this.deeds);
      if (act.kind === "confirms") outputValue(this.program, act.output, act.value);
    } catch (error) {
      if (error instanceof RangeError) return error.message;
      throw error;
    }
    return undefined;
  }
}
