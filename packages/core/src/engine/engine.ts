// Runs a house: inputs and time in, changes of outputs out. A pure function of the house, its starting state and the
// inputs with their times; it reads no clock and does no I/O.
import { Agenda, Evaluator } from "../expression/index.js";
import type { Expression, House, Value } from "../house/index.js";
import { clockOf, nextOccurrence } from "../time/index.js";
import { writeDuration, writeQuantity, writeReading, writeTimeOfDay } from "../units/index.js";
import { type ClaimState, type Decision, decide, type Sent } from "./claims.js";
import type { Event, Journal, Reason } from "./journal.js";
import {
  baseOf,
  type Cell,
  compile,
  type EventProgram,
  type Listener,
  type OutputProgram,
  ownOf,
  type Program,
  type StepProgram,
  type TextPart,
} from "./program.js";
import type { EventSnapshot, Snapshot } from "./snapshot.js";

export interface EngineOptions {
  /** The first instant, in milliseconds since 1970 UTC. */
  readonly at: number;
  /** What has been so for ever, by name: a settled start without edges. Left out: a cold start. */
  readonly given?: Readonly<Record<string, Value>>;
  /** Goes on from a snapshot, taken at `at` or before. */
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

export interface Engine {
  readonly house: House;
  /** The instant up to which everything has happened. */
  readonly now: number;
  /** The next instant at which something happens by itself; infinite when nothing does. */
  readonly nextDeadline: number;
  /**
   * A sensor's reading in its own unit, or its word. Queued: reports of one instant make one step. A reading out of the
   * sensor's range, or of the wrong kind, is refused and noted. One before `now` is taken at `now` and noted.
   * @throws RangeError when the house has no such sensor
   */
  report(sensor: string, value: Value, at: number): void;
  /**
   * Sets a dial or a mode; queued like a report.
   * @throws RangeError when there is no such dial or mode, or the value is not one of its own
   */
  set(name: string, value: Value, at: number): void;
  /**
   * Runs all that is queued or falls due up to an instant, that instant included.
   * @throws RangeError when `at` lies before `now`
   */
  advanceTo(at: number): void;
  /** The value of a sensor, output, dial or mode in its own unit; undefined when unknown. */
  value(name: string): Value | undefined;
  /** The watched conditions in their order: 1 true, 0 false, NaN unknown. */
  watched(index: number): number;
  /** What outputs did since the last call. */
  takeChanges(): Change[];
  /** What was told since the last call. */
  takeNotices(): Notice[];
  readonly journal: Journal | undefined;
  /** The house compiled: what the numbers of nodes in the journal mean. */
  readonly program: Program;
  snapshot(): Snapshot;
}

/**
 * An engine for a house.
 * @throws RangeError when `at` is no whole number of milliseconds, or a given name or value does not fit the house
 */
export function createEngine(house: House, options: EngineOptions): Engine {
  if (!Number.isSafeInteger(options.at)) throw new RangeError(`"at" is a whole number of milliseconds, not ${options.at}`);
  return new Runner(compile(house, options.watch), options);
}

interface EventState {
  /** The next step; -1 when none are running. */
  next: number;
  waiting: boolean;
  queued: number;
  /** What each trigger last saw of its condition. */
  readonly seen: number[];
  /** For steps that set a dial or mode for a time: what it was before. */
  readonly changed: Map<number, number>;
}

type ListenerOf<Kind extends Listener["kind"]> = Extract<Listener, { kind: Kind }>;

interface Input {
  readonly cell: Cell;
  readonly value: number;
}

/** So long ago that everything given has lasted. */
const FOR_EVER = -8.64e15;
/** More turns in one instant mean that rules chase each other. */
const MOST_TURNS = 64;
/** The turns in which those that chase each other are looked for. */
const RING_TURNS = 32;

class Runner implements Engine {
  readonly journal: Journal | undefined;
  readonly program: Program;
  readonly #options: EngineOptions;
  readonly #agenda: Agenda;
  readonly #evaluator: Evaluator;
  readonly #claims: ClaimState[];
  readonly #events: EventState[];
  readonly #sent: { value: number; since: number }[];
  readonly #undecided = new Set<number>();
  readonly #fired = new Set<number>();
  /** What was asked until something is so, triggers and waits, whose conditions changed: to be looked at once a turn. */
  #lasting: ListenerOf<"until">[] = [];
  #turned: ListenerOf<"trigger" | "wait">[] = [];
  readonly #woken = new Set<number>();
  /** Outputs held at what they had before an instant in which they chased each other. */
  readonly #frozen = new Set<number>();
  readonly #reasons: Reason[];
  readonly #refusing = new Set<string>();
  #ringing = false;
  #inputs = new Map<string, Input>();
  #pending = Number.POSITIVE_INFINITY;
  #turns = 0;
  #stepping = false;
  #silent = true;
  #changes: Change[] = [];
  #notices: Notice[] = [];
  /** The last record of each node and output, the causes of what comes of them. */
  readonly #lastOfNode: number[] = [];
  readonly #lastOfOutput: number[] = [];
  #cause: readonly number[] = [];

  constructor(program: Program, options: EngineOptions) {
    const { graph, timers, outputs, claims, events } = program;
    this.program = program;
    this.#options = options;
    this.journal = options.journal;
    this.#agenda = new Agenda(graph.nodes.length + timers.length);
    this.#evaluator = new Evaluator(graph, this.#agenda, options.at, (node, value) => this.#changed(node, value));
    this.#claims = claims.map(() => ({ asked: false, timed: false, value: Number.NaN, turn: 0, step: 0 }));
    this.#events = events.map(({ triggers }) => ({
      next: -1,
      waiting: false,
      queued: 0,
      seen: triggers.map(() => Number.NaN),
      changed: new Map(),
    }));
    this.#sent = outputs.map(({ atRest }) => ({ value: atRest ?? Number.NaN, since: options.at }));
    this.#reasons = outputs.map(() => ({}));
    this.#start();
  }

  get house(): House {
    return this.program.house;
  }

  get now(): number {
    return this.#evaluator.now;
  }

  get nextDeadline(): number {
    return Math.min(this.#pending, this.#agenda.next);
  }

  report(sensor: string, value: Value, at: number): void {
    const cell = this.#cell(sensor);
    if (cell.kind !== "sensor") throw new RangeError(`"${sensor}" is no sensor but a ${cell.kind}`);
    this.#queue(cell, value, at);
  }

  set(name: string, value: Value, at: number): void {
    const cell = this.#cell(name);
    if (cell.kind !== "dial" && cell.kind !== "mode") throw new RangeError(`"${name}" is no dial or mode but a ${cell.kind}`);
    const why = misfit(cell, value);
    if (why) throw new RangeError(`"${name}" cannot be ${value}: ${why}`);
    this.#queue(cell, value, at);
  }

  #queue(cell: Cell, value: Value, at: number): void {
    if (this.#stepping) throw new RangeError(`"${cell.name}" cannot be reported while a step runs`);
    if (!Number.isSafeInteger(at)) throw new RangeError(`an instant is a whole number of milliseconds, not ${at}`);
    if (at > this.#pending) this.advanceTo(at - 1);
    const late = at < this.now;
    if (late) this.#note({ kind: "problem", code: "late", text: `${cell.name} came ${writeDuration(this.now - at)} late` }, []);
    const why = cell.kind === "sensor" ? misfit(cell, value) : undefined;
    if (why) {
      if (!this.#refusing.has(cell.name))
        this.#note({ kind: "problem", code: "refused", text: `${cell.name} reads ${value}: ${why}` }, []);
      this.#refusing.add(cell.name);
      // The last good value stands until it is too old; a sensor whose values never are is unknown at once.
      if (cell.ages) return;
    } else this.#refusing.delete(cell.name);
    this.#pending = Math.min(this.#pending, Math.max(at, this.now));
    this.#inputs.set(cell.name, { cell, value: why ? Number.NaN : baseOf(value, cell.type) });
  }

  advanceTo(at: number): void {
    if (at < this.now) throw new RangeError(`instant ${at} is before the engine's now, ${this.now}`);
    for (let next = this.nextDeadline; next <= at; next = this.nextDeadline) this.#step(next);
    this.#evaluator.now = at;
  }

  value(name: string): Value | undefined {
    const { node, type } = this.#cell(name);
    return ownOf(this.#evaluator.values[node] as number, type);
  }

  watched(index: number): number {
    return this.#evaluator.values[this.program.watched[index] as number] as number;
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

  #cell(name: string): Cell {
    const cell = this.program.cells.get(name);
    if (!cell) throw new RangeError(`the house has no thing called "${name}"`);
    return cell;
  }

  // ── Starting ──────────────────────────────────────────────────────────────────────────────────────────────────────

  #start(): void {
    const { restore, given } = this.#options;
    const evaluator = this.#evaluator;
    for (const { node, first, type, kind } of this.program.cells.values()) {
      if (kind !== "sensor" && first !== undefined) evaluator.set(node, baseOf(first, type));
    }
    if (restore) this.#restore(restore);
    else if (given) this.#settle(given);
    evaluator.clock = clockOf(this.house.clock);
    evaluator.now = restore?.at ?? this.#options.at;
    this.#silent = false;
    evaluator.markTemporal();
    if (restore) evaluator.settle();
    else this.#readTriggers(given !== undefined);
    // The first step decides every output anew, and with it when what protects it is over.
    this.program.outputs.forEach((_, output) => this.#undecided.add(output));
    this.#pending = evaluator.now;
    this.program.events.forEach((_, event) => this.#planMoments(event));
    this.#writeState();
  }

  /** What is given has been so for ever: nodes take their values as of long ago, then as of now, and nothing turns. */
  #settle(given: Readonly<Record<string, Value>>): void {
    const evaluator = this.#evaluator;
    const at = this.#options.at;
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
    for (const { index, node } of this.program.outputs) {
      this.#sent[index] = { value: evaluator.values[node] as number, since: FOR_EVER };
    }
  }

  /** After a cold start the first known value of a condition is an edge; `begins` and `ends` wait for a real one. */
  #readTriggers(settled: boolean): void {
    const { values } = this.#evaluator;
    this.program.events.forEach(({ triggers }, event) => {
      triggers.forEach((trigger, number) => {
        if (trigger.kind === "edge" && settled) this.#see(event, number, values[trigger.node] as number);
      });
    });
    this.#fired.clear();
  }

  #planMoments(event: number): void {
    const { triggers } = this.program.events[event] as EventProgram;
    for (const trigger of triggers) {
      if (trigger.kind !== "at") continue;
      const time = this.#evaluator.values[trigger.time] as number;
      const next = Number.isNaN(time)
        ? Number.POSITIVE_INFINITY
        : nextOccurrence(clockOf(this.house.clock), time, trigger.days, this.now);
      this.#agenda.set(trigger.timer, next);
    }
  }

  /** The journal begins with what is known, as of the start. */
  #writeState(): void {
    if (!this.journal) return;
    const { graph } = this.program;
    const { values } = this.#evaluator;
    if (this.#options.restore) {
      for (const { id, event } of this.journal.records) if (event.kind === "node") this.#lastOfNode[event.node] = id;
      return;
    }
    graph.nodes.forEach((_, node) => {
      const value = values[node] as number;
      if (!Number.isNaN(value)) this.#lastOfNode[node] = this.#note({ kind: "node", node, value }, []);
    });
  }

  // ── One instant ───────────────────────────────────────────────────────────────────────────────────────────────────

  #step(at: number): void {
    this.#stepping = true;
    this.#evaluator.now = at;
    this.#takeInputs();
    this.#takeDeadlines(at);
    this.#turn(at);
    this.#send(at);
    this.#options.onInstant?.(at);
    for (const { node } of this.program.told) this.#evaluator.set(node, 0);
    this.#evaluator.settle();
    this.#stepping = false;
  }

  #takeInputs(): void {
    this.#pending = Number.POSITIVE_INFINITY;
    const inputs = this.#inputs;
    this.#inputs = new Map();
    for (const { cell, value } of inputs.values()) {
      const record = this.#note({ kind: "value", thing: cell.name, value: ownOf(value, cell.type) }, []);
      this.#cause = [record];
      if (cell.kind === "sensor" && Number.isNaN(value)) this.#evaluator.forget(cell.node);
      else if (cell.kind === "sensor") this.#evaluator.report(cell.node, value);
      else {
        this.#setAnew(cell);
        this.#evaluator.set(cell.node, value);
      }
      this.#lastOfNode[cell.node] = record;
      this.#cause = [];
    }
  }

  #takeDeadlines(at: number): void {
    const base = this.program.graph.nodes.length;
    for (let timer = this.#agenda.take(at); timer >= 0; timer = this.#agenda.take(at)) {
      if (timer < base) this.#evaluator.mark(timer);
      else this.#fallDue(timer - base);
    }
  }

  #fallDue(index: number): void {
    const timer = this.program.timers[index];
    switch (timer?.kind) {
      case "output":
        this.#undecided.add(timer.output);
        break;
      case "claim":
        this.#letGo(timer.claim);
        break;
      case "cell":
        this.#goBack(timer.event, timer.step);
        break;
      case "wait":
        this.#woken.add(timer.event);
        break;
      case "trigger":
        this.#fire(timer.event);
        this.#planMoments(timer.event);
        break;
      case undefined:
        throw new RangeError(`no timer ${index}`);
      default:
        throw new RangeError(`no such timer: ${JSON.stringify(timer satisfies never)}`);
    }
  }

  /** Turns until nothing changes: conditions, then steps, then outputs, whose changes are the inputs of the next. */
  #turn(at: number): void {
    const changed: string[][] = [];
    for (let turn = 1; ; turn++) {
      this.#evaluator.settle();
      this.#lookAtTurned();
      this.#runSteps();
      changed.push(this.#decideOutputs());
      if (
        this.#evaluator.settled &&
        this.#lasting.length + this.#turned.length === 0 &&
        this.#fired.size === 0 &&
        this.#undecided.size === 0
      )
        break;
      if (turn === MOST_TURNS) {
        this.#breakRing(at, new Set(changed.slice(-RING_TURNS).flat()));
        return;
      }
    }
    this.#ringing = false;
  }

  #breakRing(at: number, ring: ReadonlySet<string>): void {
    const names = [...ring];
    const text = `${names.join(", ")} chase each other; they keep what they had`;
    if (!this.#ringing) this.#note({ kind: "problem", code: "ring", text }, []);
    this.#ringing = true;
    for (const { index, name } of this.program.outputs) if (ring.has(name)) this.#frozen.add(index);
    for (const index of this.#frozen) this.#put(index, (this.#sent[index] as Sent).value, {});
    this.#evaluator.settle();
    this.#fired.clear();
    this.#woken.clear();
    this.#lasting = [];
    this.#turned = [];
    this.#decideOutputs();
    this.#evaluator.settle();
    // Looked at again with the next step, whatever brings it.
    for (const index of this.#frozen) this.#undecided.add(index);
    this.#frozen.clear();
    this.#evaluator.now = at;
  }

  #send(at: number): void {
    for (const { index, name, node, type } of this.program.outputs) {
      const value = this.#evaluator.values[node] as number;
      const sent = this.#sent[index] as { value: number; since: number };
      if (Object.is(sent.value, value)) continue;
      sent.value = value;
      sent.since = at;
      const own = ownOf(value, type);
      this.#changes.push({ at, output: name, value: own, because: this.#reasons[index] as Reason });
      this.#note({ kind: "sent", output: name, value: own }, this.#causes(this.#lastOfOutput[index]));
    }
  }

  /** Told by the evaluator of every node that changed. */
  #changed(node: number, value: number): void {
    if (this.journal && !this.#silent) {
      const { a, b } = (this.program.graph.nodes[node] ?? { a: -1, b: -1 }) as { a: number; b: number };
      const causes = this.#cause.length > 0 ? this.#cause : this.#causes(this.#lastOfNode[a], this.#lastOfNode[b]);
      this.#lastOfNode[node] = this.#note({ kind: "node", node, value }, causes);
    }
    for (const listener of this.program.listeners.get(node) ?? []) {
      if (listener.kind === "output") this.#undecided.add(listener.output);
      else if (this.#silent) continue;
      else if (listener.kind === "until") this.#lasting.push(listener);
      else this.#turned.push(listener);
    }
  }

  /** What conditions have become by this turn: first ends what was asked until then, then edges fire and waits end. */
  #lookAtTurned(): void {
    while (this.#lasting.length > 0) {
      const lasting = this.#lasting;
      this.#lasting = [];
      for (const { event, step } of lasting) this.#lookAtLasting(event, step);
      // A dial that goes back may turn more.
      this.#evaluator.settle();
    }
    const turned = this.#turned;
    this.#turned = [];
    for (const listener of turned) {
      if (listener.kind === "trigger") this.#lookAtTrigger(listener.event, listener.trigger);
      else if (this.#waitIsOver(listener.event)) this.#woken.add(listener.event);
    }
  }

  #lookAtLasting(event: number, number: number): void {
    const step = this.program.events[event]?.steps[number];
    if (step && "until" in step && this.#evaluator.values[step.until] === 1) this.#endLasting(event, number);
  }

  #lookAtTrigger(event: number, number: number): void {
    const trigger = this.program.events[event]?.triggers[number];
    if (trigger?.kind === "at") this.#planMoments(event);
    else if (trigger) this.#see(event, number, this.#evaluator.values[trigger.node] as number);
  }

  /** An edge: true now, and not when last known. */
  #see(event: number, number: number, value: number): void {
    const trigger = this.program.events[event]?.triggers[number];
    if (trigger?.kind !== "edge" || Number.isNaN(value)) return;
    const { seen } = this.#events[event] as EventState;
    const before = seen[number] as number;
    seen[number] = value;
    const wanted = trigger.rises ? 1 : 0;
    if (value === wanted && before !== value && (trigger.coldEdge || !Number.isNaN(before))) {
      this.#fire(event, this.#lastOfNode[trigger.node]);
    }
  }

  #fire(event: number, cause?: number): void {
    this.#fired.add(event);
    const { rule, sentence } = this.program.events[event] as EventProgram;
    this.#lastOfEvent[event] = this.#note({ kind: "trigger", rule, sentence }, this.#causes(cause));
  }

  readonly #lastOfEvent: number[] = [];

  // ── Steps ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Waits that ended, then triggers, in the order of the rules; every `provided` is read before any step. */
  #runSteps(): void {
    const inOrder = (events: ReadonlySet<number>) => [...events].sort((a, b) => a - b);
    const woken = inOrder(this.#woken);
    const fired = inOrder(this.#fired).filter((event) => {
      const { provided } = this.program.events[event] as EventProgram;
      return provided < 0 || this.#evaluator.values[provided] === 1;
    });
    this.#woken.clear();
    this.#fired.clear();
    for (const event of woken) {
      const state = this.#events[event] as EventState;
      if (state.next < 0) continue;
      state.waiting = false;
      this.#agenda.clear((this.program.events[event] as EventProgram).timer);
      this.#run(event);
    }
    for (const event of fired) this.#begin(event);
  }

  #begin(event: number): void {
    const program = this.program.events[event] as EventProgram;
    const state = this.#events[event] as EventState;
    for (const other of this.program.events) {
      if (other.rule === program.rule && other !== program) this.#stop(other.index);
    }
    if (state.next >= 0 && program.again === "ignore") return;
    if (state.next >= 0 && program.again === "wait") {
      state.queued++;
      return;
    }
    this.#stop(event);
    state.next = 0;
    this.#run(event);
  }

  /** Ends the running steps of an event; what they asked for stays. */
  #stop(event: number): void {
    const state = this.#events[event] as EventState;
    state.next = -1;
    state.waiting = false;
    state.queued = 0;
    this.#agenda.clear((this.program.events[event] as EventProgram).timer);
  }

  #run(event: number): void {
    const { steps, rule, sentence } = this.program.events[event] as EventProgram;
    const state = this.#events[event] as EventState;
    for (;;) {
      while (state.next >= 0 && state.next < steps.length) {
        const number = state.next++;
        this.#cause = this.#causes(
          this.#note({ kind: "step", rule, sentence, step: number }, this.#causes(this.#lastOfEvent[event])),
        );
        const waits = this.#do(event, number, steps[number] as StepProgram);
        this.#evaluator.settle();
        this.#cause = [];
        if (waits) return;
      }
      state.next = -1;
      if (state.queued === 0) return;
      state.queued--;
      state.next = 0;
    }
  }

  /** Takes one step; true when the steps behind it have to wait. */
  #do(event: number, number: number, step: StepProgram): boolean {
    const { values } = this.#evaluator;
    switch (step.kind) {
      case "ask":
        this.#ask(step, number);
        return false;
      case "turn":
        this.#turnCell(event, number, step);
        return false;
      case "tell":
        this.#tell(step.text, step.through);
        return false;
      case "wait":
        return this.#wait(event, values[step.for] as number);
      case "wait until": {
        if (values[step.condition] === 1) return false;
        (this.#events[event] as EventState).waiting = true;
        if (step.atMost >= 0) this.#wait(event, values[step.atMost] as number);
        return true;
      }
      default:
        throw new RangeError(`no such step: ${JSON.stringify(step satisfies never)}`);
    }
  }

  #wait(event: number, duration: number): boolean {
    if (!(duration > 0)) return false;
    this.#agenda.set((this.program.events[event] as EventProgram).timer, Math.ceil(this.now + duration));
    return true;
  }

  #waitIsOver(event: number): boolean {
    const { waiting, next } = this.#events[event] as EventState;
    const step = this.program.events[event]?.steps[next - 1];
    return waiting && step?.kind === "wait until" && this.#evaluator.values[step.condition] === 1;
  }

  #ask(step: Extract<StepProgram, { kind: "ask" }>, number: number): void {
    const { values } = this.#evaluator;
    const claim = this.program.claims[step.claim];
    const value = values[step.value] as number;
    if (!claim || Number.isNaN(value)) return;
    const timed = step.for >= 0 || step.until >= 0;
    if (step.until >= 0 && values[step.until] === 1) return this.#letGo(step.claim);
    if (!timed) this.#replacePlain(claim.output, step.claim);
    Object.assign(this.#claims[step.claim] as ClaimState, { asked: true, timed, value, turn: ++this.#turns, step: number });
    this.#agenda.clear(claim.timer);
    if (step.for >= 0) this.#agenda.set(claim.timer, Math.ceil(this.now + (values[step.for] as number)));
    this.#take(claim.output, this.#decision(claim.output));
  }

  /** A plain `set` lasts until a later one of the same standing. */
  #replacePlain(output: number, by: number): void {
    const standing = this.program.claims[by]?.standing;
    for (const { index, output: of, standing: other } of this.program.claims) {
      const state = this.#claims[index] as ClaimState;
      if (of === output && other === standing && state.asked && !state.timed) state.asked = false;
    }
  }

  #letGo(claim: number): void {
    (this.#claims[claim] as ClaimState).asked = false;
    const program = this.program.claims[claim];
    if (!program) return;
    this.#agenda.clear(program.timer);
    this.#undecided.add(program.output);
  }

  #turnCell(event: number, number: number, step: Extract<StepProgram, { kind: "turn" }>): void {
    const { values } = this.#evaluator;
    const cell = this.#cell(step.cell);
    const made = clampTo(cell, values[step.value] as number);
    if (Number.isNaN(made)) return;
    if (step.until >= 0 && values[step.until] === 1) return;
    const { changed } = this.#events[event] as EventState;
    const former = changed.get(number) ?? (values[cell.node] as number);
    this.#setAnew(cell);
    const record = this.#note({ kind: "value", thing: cell.name, value: ownOf(made, cell.type) }, this.#cause);
    this.#evaluator.set(cell.node, made);
    this.#lastOfNode[cell.node] = record;
    if (step.for < 0 && step.until < 0) return;
    changed.set(number, former);
    if (step.for >= 0) this.#agenda.set(step.timer, Math.ceil(this.now + (values[step.for] as number)));
  }

  /** A dial or mode set for a time goes back, unless it was set anew meanwhile. */
  #goBack(event: number, number: number): void {
    const step = this.program.events[event]?.steps[number];
    const { changed } = this.#events[event] as EventState;
    const former = changed.get(number);
    if (step?.kind !== "turn" || former === undefined) return;
    const cell = this.#cell(step.cell);
    this.#setAnew(cell);
    const record = this.#note({ kind: "value", thing: cell.name, value: ownOf(former, cell.type) }, []);
    this.#evaluator.set(cell.node, former);
    this.#lastOfNode[cell.node] = record;
  }

  /** What was set for a time and is set anew does not go back. */
  #setAnew(cell: Cell): void {
    for (const { index, steps } of this.program.events) {
      const { changed } = this.#events[index] as EventState;
      for (const number of changed.keys()) {
        const step = steps[number];
        if (step?.kind !== "turn" || step.cell !== cell.name) continue;
        changed.delete(number);
        this.#agenda.clear(step.timer);
      }
    }
  }

  #endLasting(event: number, number: number): void {
    const step = this.program.events[event]?.steps[number];
    if (step?.kind === "turn") this.#goBack(event, number);
    else if (step?.kind === "ask" && this.#claims[step.claim]?.timed && this.#claims[step.claim]?.step === number) {
      this.#letGo(step.claim);
    }
  }

  #tell(parts: readonly TextPart[], through: string | undefined): void {
    const text = parts.map((part) => (typeof part === "string" ? part : this.#say(part))).join("");
    const event: Event = { kind: "notice", text, ...(through !== undefined && { through }) };
    this.#note(event, this.#cause);
    this.#notices.push({ at: this.now, text, ...(through !== undefined && { through }) });
    for (const { text: wanted, node } of this.program.told) if (text.includes(wanted)) this.#evaluator.set(node, 1);
  }

  #say({ node, type }: Exclude<TextPart, string>): string {
    const value = ownOf(this.#evaluator.values[node] as number, type);
    if (value === undefined) return "unknown";
    if (typeof value === "string") return value;
    if (type.kind === "time") return writeTimeOfDay(value);
    return type.kind === "number" ? writeReading(value, type.unit) : writeQuantity({ value, unit: "" });
  }

  // ── Outputs ───────────────────────────────────────────────────────────────────────────────────────────────────────

  /** All are decided on what the conditions of this turn say, before any of them takes its value. */
  #decideOutputs(): string[] {
    const outputs = [...this.#undecided].sort((a, b) => a - b);
    const decisions = outputs.map((output) => this.#decision(output));
    return outputs.flatMap((output, index) =>
      this.#take(output, decisions[index]) ? [(this.program.outputs[output] as OutputProgram).name] : [],
    );
  }

  #decision(output: number): Decision | undefined {
    if (this.#frozen.has(output)) return undefined;
    const program = this.program.outputs[output] as OutputProgram;
    return decide(program, this.#claims, this.#evaluator.values, this.#sent[output] as Sent, this.now);
  }

  /** Whether the output changed. */
  #take(output: number, decision: Decision | undefined): boolean {
    this.#undecided.delete(output);
    if (!decision) return false;
    const { node, timer } = this.program.outputs[output] as OutputProgram;
    const before = this.#evaluator.values[node];
    this.#agenda.set(timer, decision.again);
    this.#put(output, decision.value, decision.reason);
    return !Object.is(this.#evaluator.values[node], before);
  }

  #put(output: number, value: number, reason: Reason): void {
    const { node, name, type, claims, permits } = this.program.outputs[output] as OutputProgram;
    const before = this.#evaluator.values[node] as number;
    if (this.journal && (!Object.is(before, value) || !sameReason(this.#reasons[output] as Reason, reason))) {
      const nodes = [
        ...claims.flatMap(({ held }) => (held ? [held.when, held.value] : [])),
        ...permits.map(({ onlyWhile }) => onlyWhile),
      ];
      const causes = this.#cause.length > 0 ? this.#cause : this.#causes(...nodes.map((part) => this.#lastOfNode[part]));
      this.#lastOfOutput[output] = this.#note({ kind: "decided", output: name, value: ownOf(value, type), reason }, causes);
    }
    this.#reasons[output] = reason;
    if (!Object.is(before, value)) this.#evaluator.set(node, value);
  }

  // ── Journal and snapshot ──────────────────────────────────────────────────────────────────────────────────────────

  #note(event: Event, causes: readonly number[]): number {
    return this.journal ? this.journal.add(this.now, event, causes) : -1;
  }

  #causes(...records: readonly (number | undefined)[]): number[] {
    return records.filter((record) => record !== undefined && record >= 0) as number[];
  }

  snapshot(): Snapshot {
    const { graph, outputs, claims, events } = this.program;
    const known = (value: number) => (Number.isFinite(value) ? value : null);
    const due = (timer: number) => known(this.#agenda.due(timer));
    return {
      version: 1,
      at: this.now,
      nodes: Object.fromEntries(
        graph.nodes.flatMap(({ key, op }, node) => (op === "constant" ? [] : [[key, this.#evaluator.state(node)]])),
      ),
      outputs: Object.fromEntries(
        outputs.map(({ name, index }) => {
          const { value, since } = this.#sent[index] as Sent;
          return [name, { value: known(value), since: known(since) }];
        }),
      ),
      claims: Object.fromEntries(
        claims.flatMap((claim) => {
          const { asked, timed, value, turn, step } = this.#claims[claim.index] as ClaimState;
          return asked ? [[this.#claimKey(claim.index), { value: known(value), timed, turn, step, ends: due(claim.timer) }]] : [];
        }),
      ),
      events: Object.fromEntries(events.map((event) => [eventKey(event), this.#eventSnapshot(event)])),
      turns: this.#turns,
    };
  }

  #claimKey(claim: number): string {
    const { rule, sentence, output } = this.program.claims[claim] ?? { rule: "", sentence: 0, output: 0 };
    return `${rule}#${sentence} ${this.program.outputs[output]?.name}`;
  }

  #eventSnapshot(event: EventProgram): EventSnapshot {
    const known = (value: number) => (Number.isFinite(value) ? value : null);
    const { next, waiting, queued, seen, changed } = this.#events[event.index] as EventState;
    return {
      next: next < 0 ? null : next,
      waiting,
      queued,
      wakes: known(this.#agenda.due(event.timer)),
      seen: seen.map(known),
      changed: [...changed].map(([number, former]) => {
        const step = event.steps[number];
        const ends = step?.kind === "turn" ? known(this.#agenda.due(step.timer)) : null;
        return { step: number, former: known(former), ends };
      }),
    };
  }

  #restore(snapshot: Snapshot): void {
    const { graph, outputs, claims, events } = this.program;
    const unknown = (value: number | null) => value ?? Number.NaN;
    const due = (timer: number, at: number | null) => this.#agenda.set(timer, at ?? Number.POSITIVE_INFINITY);
    graph.nodes.forEach(({ key }, node) => {
      const state = snapshot.nodes[key];
      if (state) this.#evaluator.restore(node, state);
    });
    for (const { name, index } of outputs) {
      const sent = snapshot.outputs[name];
      if (sent) this.#sent[index] = { value: unknown(sent.value), since: sent.since ?? FOR_EVER };
    }
    for (const { index, timer } of claims) {
      const claim = snapshot.claims[this.#claimKey(index)];
      if (!claim) continue;
      Object.assign(this.#claims[index] as ClaimState, {
        asked: true,
        timed: claim.timed,
        value: unknown(claim.value),
        step: claim.step,
        turn: claim.turn,
      });
      due(timer, claim.ends);
    }
    for (const event of events) {
      const saved = snapshot.events[eventKey(event)];
      if (!saved) continue;
      const state = this.#events[event.index] as EventState;
      Object.assign(state, { next: saved.next ?? -1, waiting: saved.waiting, queued: saved.queued });
      event.triggers.forEach((_, number) => {
        state.seen[number] = unknown(saved.seen[number] ?? null);
      });
      due(event.timer, saved.wakes);
      for (const { step: number, former, ends } of saved.changed) {
        state.changed.set(number, unknown(former));
        const step = event.steps[number];
        if (step?.kind === "turn") due(step.timer, ends);
      }
    }
    this.#turns = snapshot.turns;
  }
}

function eventKey({ rule, sentence }: EventProgram): string {
  return `${rule}#${sentence}`;
}

function sameReason(a: Reason, b: Reason): boolean {
  return a.rule === b.rule && a.sentence === b.sentence && a.guard === b.guard && a.delayed?.until === b.delayed?.until;
}

/** Why a value is not one of a thing's own, if it is not. */
function misfit({ type, range }: Cell, value: Value): string | undefined {
  if (type.kind === "words") {
    return typeof value === "string" && type.words.includes(value) ? undefined : `it is one of ${type.words.join("/")}`;
  }
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
