// Event sentences while a house runs: what their triggers last saw, and the steps that are going on.
import { EVERY_DAY, MINUTE } from "../time/index.js";
import { equalNumbers, writeDuration } from "../units/index.js";
import { nextAt, nextEvery } from "./moments.js";
import type { Parts } from "./parts.js";
import {
  type EventProgram,
  type Listener,
  type Program,
  type SettingProgram,
  type StepProgram,
  settingsIn,
  type TriggerProgram,
  type UntilProgram,
  untilOf,
} from "./program.js";
import type { EventSnapshot } from "./snapshot.js";

interface Dose {
  readonly output: number;
  readonly claim: number;
  readonly started: number;
  readonly amount: number;
  readonly rate: number;
  readonly after: number;
  /** When it has given all. */
  readonly ends: number;
  /** The step to go on with where it is broken off. */
  readonly broken: number;
}

interface EventState {
  /** The next step; -1 when none are running. */
  next: number;
  waiting: boolean;
  /** What the wait last saw of the moment it waits for. */
  waitSaw: number;
  queued: number;
  /** What each trigger last saw of its condition. */
  readonly seen: number[];
  /** What steps that last until a moment last saw of it. */
  readonly untilSaw: Map<number, number>;
  /** For what sets a dial or mode for a time, by its place: what it was before. */
  readonly changed: Map<number, number>;
  readonly told: Map<number, { at: number; heldBack: number }>;
  dose: Dose | undefined;
  record: number;
}

/** Moments that were due while the house was down are made up for by so much. */
const LATE = 5 * MINUTE;

/** Steps that change nothing in a house: those that a rule on watch takes. */
const harmless: ReadonlySet<StepProgram["kind"]> = new Set(["tell", "wait", "wait until", "branch", "jump"]);

export class Events {
  readonly #parts: Parts;
  readonly #states: EventState[];
  /** What sets a dial or mode for a time, by its name. */
  readonly #turning: ReadonlyMap<string, readonly Turning[]>;
  /** How many doses are running. */
  #doses = 0;
  /** Until when the clock, put back, says what it has said before. */
  backUntil = Number.NEGATIVE_INFINITY;
  readonly #fired = new Set<number>();
  /** Those that a person runs, whatever is provided. */
  readonly #forced = new Set<number>();
  readonly #woken = new Set<number>();

  constructor(parts: Parts) {
    this.#parts = parts;
    this.#states = parts.program.events.map(({ triggers }) => ({
      next: -1,
      waiting: false,
      waitSaw: Number.NaN,
      queued: 0,
      seen: triggers.map(() => Number.NaN),
      untilSaw: new Map(),
      changed: new Map(),
      told: new Map(),
      dose: undefined,
      record: -1,
    }));
    this.#turning = turningIn(parts.program.events);
  }

  get quiet(): boolean {
    return this.#fired.size === 0 && this.#woken.size === 0;
  }

  forgetFired(): void {
    this.#fired.clear();
    this.#forced.clear();
    this.#woken.clear();
  }

  #program(event: number): EventProgram {
    return this.#parts.program.events[event] as EventProgram;
  }

  #state(event: number): EventState {
    return this.#states[event] as EventState;
  }

  // ── Triggers ────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** What is given is not an edge: every condition has been seen as it is. */
  seeGiven(): void {
    this.#states.forEach((_, event) => {
      for (const number of this.#program(event).triggers.keys()) this.look(event, number);
    });
    this.forgetFired();
  }

  /** Modes, dials and outputs have a value from the first instant, and a change counts from it. */
  seeFirst(): void {
    this.#states.forEach(({ seen }, event) => {
      for (const [number, trigger] of this.#program(event).triggers.entries())
        if (trigger.kind === "changes") seen[number] = this.#parts.evaluator.values[trigger.node] as number;
    });
  }

  planMoments(event: number): void {
    for (const trigger of this.#program(event).triggers) this.#plan(trigger);
  }

  #plan(trigger: TriggerProgram): void {
    const { agenda, now } = this.#parts;
    // What has happened does not happen again while the clock comes to it a second time.
    const after = Math.max(now, this.backUntil - 1);
    if (trigger.kind === "at" || trigger.kind === "every") agenda.set(trigger.timer, this.#nextMoment(trigger, after));
  }

  /** The next moment of a trigger by the clock, strictly after an instant. */
  #nextMoment(trigger: TriggerProgram, after: number): number {
    const { sky, evaluator } = this.#parts;
    if (trigger.kind === "at") return nextAt(sky, trigger.at, evaluator.current(trigger.at.time), trigger.days, after);
    if (trigger.kind === "every") return nextEvery(sky, evaluator.current(trigger.every), trigger.days, after);
    return Number.POSITIVE_INFINITY;
  }

  /** A moment of the clock has come; late by so much where the house was down when it was due. */
  moment(event: number, number: number, due: number): void {
    const { now } = this.#parts;
    const late = now - due;
    const trigger = this.#program(event).triggers[number] as TriggerProgram;
    if (late >= LATE)
      this.#parts.recorder.problem(
        "missed",
        `rule ${this.#program(event).rule} was due ${writeDuration(late)} ago and was skipped`,
      );
    // Of several that went by, a later one may still be made up for.
    if (late < LATE || this.#nextMoment(trigger, now - LATE) <= now) this.fire(event);
    this.#plan(trigger);
  }

  houseStarts(): void {
    for (const { index, triggers } of this.#parts.program.events) {
      if (triggers.some(({ kind }) => kind === "the house starts")) this.fire(index);
    }
  }

  /** Looks at what a trigger watches, once it changed: an edge fires. */
  look(event: number, number: number): void {
    const { evaluator } = this.#parts;
    const trigger = this.#program(event).triggers[number] as TriggerProgram;
    const { seen } = this.#state(event);
    if (trigger.kind === "at" || trigger.kind === "every") this.#plan(trigger);
    if (trigger.kind !== "edge" && trigger.kind !== "changes") return;
    const value = evaluator.current(trigger.node);
    if (Number.isNaN(value)) return;
    const before = seen[number] as number;
    if (trigger.kind === "changes") {
      const far = trigger.by < 0 ? before !== value : isFar(before, value, evaluator.current(trigger.by));
      if (Number.isNaN(before) || far) seen[number] = value;
      if (trigger.timer >= 0) this.#watch(trigger, seen[number] as number);
      if (far && !Number.isNaN(before)) this.fire(event, this.#parts.recorder.recordOf(trigger.node));
      return;
    }
    seen[number] = value;
    const wanted = trigger.rises ? 1 : 0;
    if (trigger.byClock && this.#parts.now < this.backUntil) return;
    if (value === wanted && before !== value && (trigger.cold || !Number.isNaN(before)))
      this.fire(event, this.#parts.recorder.recordOf(trigger.node));
  }

  /** A value that moves by itself is looked at when it is so far from what it was. */
  #watch({ node, by, timer }: Extract<TriggerProgram, { kind: "changes" }>, from: number): void {
    const { agenda, evaluator, now } = this.#parts;
    const far = evaluator.current(by);
    agenda.set(timer, far > 0 ? Math.max(now + 1, evaluator.nextStep(node, far, from)) : Number.POSITIVE_INFINITY);
  }

  /** The end of an instant is not an edge, but is seen: by triggers, and by what waits or lasts until a moment. */
  seeEnd(listener: Listener): void {
    if (listener.kind === "mode" || listener.kind === "output" || listener.kind === "band") return;
    const { steps, triggers } = this.#program(listener.event);
    const state = this.#state(listener.event);
    const see = (of: { readonly kind: string; readonly node?: number } | undefined, seen: (value: number) => void) => {
      if (of?.kind !== "edge" || of.node === undefined) return;
      const value = this.#parts.evaluator.current(of.node);
      if (!Number.isNaN(value)) seen(value);
    };
    if (listener.kind === "trigger") {
      see(triggers[listener.trigger], (value) => {
        state.seen[listener.trigger] = value;
      });
      return;
    }
    see(untilOf(steps[listener.step]), (value) => {
      if (listener.kind === "until") state.untilSaw.set(listener.step, value);
      else if (state.waiting && state.next - 1 === listener.step) state.waitSaw = value;
    });
  }

  fire(event: number, cause = -1): void {
    const { rule, sentence, ruleIndex } = this.#program(event);
    if (this.#parts.outputs.paused.has(ruleIndex)) return;
    this.#fired.add(event);
    this.#state(event).record = this.#parts.recorder.note({ kind: "trigger", rule, sentence }, cause < 0 ? [] : [cause]);
  }

  /** A person runs the first steps of a rule, whatever `provided` says; with its trigger, once. */
  run(event: number): void {
    const { rule, ruleIndex } = this.#program(event);
    if (this.#parts.outputs.paused.has(ruleIndex)) return;
    this.#forced.add(event);
    this.#fired.add(event);
    // No trigger of its own came, and none is told of later.
    this.#state(event).record = this.#parts.recorder.note({ kind: "person", text: `runs ${rule}` }, []);
  }

  // ── Waits and what lasts until something ────────────────────────────────────────────────────────────────────────────

  wake(event: number): void {
    this.#woken.add(event);
  }

  /** A listener's condition changed: what was asked until then ends. */
  lookAtLasting({ event, step: number }: Extract<Listener, { kind: "until" }>): void {
    const until = untilOf(this.#program(event).steps[number]);
    if (!until) return;
    if (
      this.#isOver(until, this.#state(event).untilSaw.get(number) ?? Number.NaN, (saw) =>
        this.#state(event).untilSaw.set(number, saw),
      )
    ) {
      this.#endLasting(event, number);
    }
  }

  lookAtWait({ event, step: number }: Extract<Listener, { kind: "wait" }>): void {
    const state = this.#state(event);
    const step = this.#program(event).steps[number];
    if (!state.waiting || state.next - 1 !== number || step?.kind !== "wait until") return;
    const saw = (value: number) => {
      state.waitSaw = value;
    };
    if (this.#isOver(step.until, state.waitSaw, saw)) this.#woken.add(event);
  }

  /** A state is over when it is so, a moment when it comes. */
  #isOver(until: UntilProgram, before: number, see: (value: number) => void): boolean {
    if (until.kind === "at") return false;
    const { evaluator } = this.#parts;
    const value = evaluator.current(until.node);
    if (until.kind === "state") return value === 1;
    if (Number.isNaN(value)) return false;
    if (until.kind === "changes") {
      const far = until.by < 0 ? before !== value : isFar(before, value, evaluator.current(until.by));
      if (Number.isNaN(before)) see(value);
      return far && !Number.isNaN(before);
    }
    see(value);
    return value === (until.rises ? 1 : 0) && before !== value;
  }

  #endLasting(event: number, number: number): void {
    for (const setting of settingsIn(this.#program(event).steps[number]))
      if (setting.kind === "turn") this.goBack(event, setting.turn);
      else if (this.#parts.outputs.isAskedBy(setting.claim, number)) this.#parts.outputs.letGo(setting.claim);
  }

  /** A dial or mode set for a time goes back, unless it was set again meanwhile. */
  goBack(event: number, turn: number): void {
    const setting = this.#program(event).turns[turn];
    const former = this.#state(event).changed.get(turn);
    if (!setting || former === undefined) return;
    this.#parts.deeds.setCell(setting.cell, former);
  }

  /** What was set for a time and is set again does not go back. */
  setAnew(cell: string): void {
    for (const { event, turn, timer } of this.#turning.get(cell) ?? []) {
      if (this.#state(event).changed.delete(turn)) this.#parts.agenda.clear(timer);
    }
  }

  // ── Steps ───────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Waits that ended, then triggers, in the order of the rules; every `provided` is read before any step. */
  runSteps(): void {
    if (!this.quiet) this.#runSteps();
  }

  /** Apart from the look at whether there are any: a function with closures costs something when it is entered. */
  #runSteps(): void {
    const woken = inOrder(this.#woken);
    const fired = inOrder(this.#fired).filter((event) => this.#mayBegin(event));
    this.forgetFired();
    for (const event of woken) {
      if (this.#state(event).next < 0) continue;
      this.#endWait(event);
      this.#run(event);
    }
    for (const event of fired) this.#begin(event);
  }

  #mayBegin(event: number): boolean {
    const { provided } = this.#program(event);
    return provided < 0 || this.#parts.evaluator.current(provided) === 1 || this.#forced.has(event);
  }

  #endWait(event: number): void {
    const state = this.#state(event);
    state.waiting = false;
    this.#parts.agenda.clear(this.#program(event).timer);
    if (state.dose) this.#endDose(event, "");
  }

  #begin(event: number): void {
    const program = this.#program(event);
    const state = this.#state(event);
    for (const other of this.#parts.program.rules[program.ruleIndex]?.events ?? []) if (other !== event) this.stop(other);
    if (state.next >= 0 && program.again === "ignore") return;
    if (state.next >= 0 && program.again === "wait") {
      state.queued++;
      return;
    }
    this.stop(event);
    state.next = 0;
    this.#run(event);
  }

  /** Ends the running steps of an event; what they asked for stays, but for a dose. */
  stop(event: number): void {
    const state = this.#state(event);
    if (state.dose) this.#endDose(event, "its rule was triggered again");
    state.next = -1;
    state.waiting = false;
    state.queued = 0;
    this.#parts.agenda.clear(this.#program(event).timer);
  }

  #run(event: number): void {
    const { steps, rule, sentence } = this.#program(event);
    const state = this.#state(event);
    for (;;) {
      while (state.next >= 0 && state.next < steps.length) {
        const number = state.next++;
        const step = steps[number] as StepProgram;
        const record = this.#parts.recorder.note(
          { kind: "step", rule, sentence, step: number, ...this.#asksOf(step) },
          state.record < 0 ? [] : [state.record],
        );
        this.#parts.recorder.cause = record < 0 ? [] : [record];
        const waits = this.#do(event, number, step);
        this.#parts.recorder.cause = [];
        if (waits) return;
      }
      state.next = -1;
      if (state.queued === 0) return;
      state.queued--;
      state.next = 0;
    }
  }

  /** The outputs a step asks for something, for the journal. */
  #asksOf(step: StepProgram): { asks?: readonly string[] } {
    if (!this.#parts.recorder.recording) return {};
    const of = step.kind === "ramp" || step.kind === "dose" ? [step] : settingsIn(step);
    const claims = of.flatMap((one) => ("claims" in one ? one.claims : "claim" in one ? [one.claim] : []));
    return claims.length > 0 ? { asks: claims.map((claim) => this.#outputOf(claim)) } : {};
  }

  /** Takes one step; true when the steps after it have to wait. */
  #do(event: number, number: number, step: StepProgram): boolean {
    const parts = this.#parts;
    if (this.#program(event).watches && !harmless.has(step.kind)) return false;
    const value = (node: number) => parts.evaluator.peek(node);
    switch (step.kind) {
      case "ask":
      case "turn":
        this.#set(event, number, step, value(step.value));
        return false;
      case "toggle": {
        const now = value(step.node);
        if (!Number.isNaN(now)) this.#set(event, number, step.of, 1 - now);
        return false;
      }
      case "relative": {
        const [low, high] = step.range ?? [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
        const changed = value(step.node) + step.sign * value(step.by);
        this.#set(event, number, step.of, Math.min(high, Math.max(low, changed)));
        return false;
      }
      case "ramp":
        return this.#ramp(event, number, step);
      case "dose":
        return this.#dose(event, number, step);
      case "release":
        parts.outputs.release(step.output);
        return false;
      case "apply":
        this.#apply(event, number, step.settings);
        return false;
      case "start":
        if (step.lasts < 0) parts.countdowns.start(step.countdown);
        else parts.countdowns.start(step.countdown, value(step.lasts));
        return false;
      case "stop":
        parts.countdowns.stop(step.countdown);
        return false;
      case "tell":
        this.#tell(event, number, step);
        return false;
      case "send":
        parts.told.send(step.text, step.to);
        return false;
      case "wait": {
        const lasts = this.#time(event, number, step.for, "wait", "it ends at once");
        return lasts !== undefined && this.#wait(event, lasts);
      }
      case "wait until":
        return this.#waitUntil(event, number, step);
      case "branch":
        if (value(step.condition) !== 1) this.#state(event).next = step.else;
        return false;
      case "jump":
        this.#state(event).next = step.to;
        return false;
      default:
        throw new RangeError(`no such step: ${JSON.stringify(step satisfies never)}`);
    }
  }

  /** A time that a step names; undefined where it is not known, which is told once. */
  #time(event: number, number: number, node: number, what: string, comesOfIt: string): number | undefined {
    const { rule, sentence } = this.#program(event);
    const time = this.#parts.evaluator.peek(node);
    return this.#parts.unknownTimes.of(
      time,
      `${rule}#${sentence}.${number} ${what}`,
      `rule ${rule}: the time of "${what}"`,
      comesOfIt,
    );
  }

  #wait(event: number, duration: number): boolean {
    if (!(duration > 0)) return false;
    const { agenda, now } = this.#parts;
    agenda.set(this.#program(event).timer, Math.ceil(now + duration));
    return true;
  }

  #waitUntil(event: number, number: number, { until, atMost }: Extract<StepProgram, { kind: "wait until" }>): boolean {
    const { evaluator, agenda, now } = this.#parts;
    const state = this.#state(event);
    if (until.kind === "state" && evaluator.peek(until.node) === 1) return false;
    const most = atMost < 0 ? undefined : this.#time(event, number, atMost, "wait until …, at most", "it does not limit");
    const limit = most === undefined ? Number.POSITIVE_INFINITY : Math.ceil(now + most);
    if (until.kind === "at" && this.#time(event, number, until.at.time, "wait until", "it ends at once") === undefined)
      return false;
    state.waiting = true;
    this.#lookAgain(until, { kind: "wait", event, step: number });
    if (until.kind !== "at") state.waitSaw = evaluator.peek(until.node);
    agenda.set(this.#program(event).timer, Math.min(limit, until.kind === "at" ? this.#nextOf(until) : Number.POSITIVE_INFINITY));
    return true;
  }

  /** A state that was so before these steps, and is not so amid them, may be so after them with no change to tell of it. */
  #lookAgain(until: UntilProgram, listener: Extract<Listener, { kind: "wait" | "until" }>): void {
    if (until.kind === "state" && this.#parts.evaluator.current(until.node) === 1) this.#parts.turns.lookAt(listener);
  }

  #nextOf({ at }: Extract<UntilProgram, { kind: "at" }>): number {
    const { sky, evaluator, now } = this.#parts;
    return nextAt(sky, at, evaluator.peek(at.time), EVERY_DAY, now);
  }

  /** A preset is allowed, or refused, as one, and ends as one: by what was so before the first of it was set. */
  #apply(event: number, number: number, settings: readonly SettingProgram[]): void {
    const value = (setting: SettingProgram) => this.#parts.evaluator.peek(setting.value);
    const turned = settings.flatMap((one) => (one.kind === "turn" ? [[one.cell, value(one)] as const] : []));
    if (!this.#parts.deeds.mayTurn(turned)) return;
    const over = this.#beginLasting(event, number, settings[0]?.until);
    for (const one of settings) this.#setNow(event, number, one, value(one), over);
  }

  #set(event: number, number: number, step: SettingProgram, value: number): void {
    if (Number.isNaN(value) || (step.kind === "turn" && !this.#parts.deeds.mayTurn([[step.cell, value]]))) return;
    this.#setNow(event, number, step, value, this.#beginLasting(event, number, step.until));
  }

  /** What a step sets lasts until something, from now on; whether that is so already. */
  #beginLasting(event: number, number: number, until: UntilProgram | undefined): boolean {
    if (!until || until.kind === "at") return false;
    const value = this.#parts.evaluator.peek(until.node);
    this.#state(event).untilSaw.set(number, value);
    if (until.kind === "state" && value === 1) return true;
    this.#lookAgain(until, { kind: "until", event, step: number });
    return false;
  }

  #setNow(event: number, number: number, step: SettingProgram, value: number, over: boolean): void {
    if (Number.isNaN(value)) return;
    const { evaluator, agenda } = this.#parts;
    const timed = step.for >= 0 || step.until !== undefined;
    const ends = this.#endOf(event, number, step);
    if (ends === undefined) return;
    if (step.kind === "ask") {
      if (over) this.#parts.outputs.letGo(step.claim);
      else this.#parts.outputs.ask(step.claim, value, { timed, ends, step: number });
      return;
    }
    if (over) return;
    const { changed } = this.#state(event);
    const former = changed.get(step.turn) ?? evaluator.peek(this.#parts.program.cells.get(step.cell)?.node as number);
    this.#parts.deeds.setCell(step.cell, value);
    if (!timed) return;
    changed.set(step.turn, former);
    agenda.set(step.timer, ends);
  }

  /** When what a step sets is over, infinite where no time ends it; undefined where that is not known. */
  #endOf(event: number, number: number, step: SettingProgram): number | undefined {
    const { until } = step;
    const what = step.kind === "turn" ? step.cell : this.#outputOf(step.claim);
    const time = (node: number, word: string) => this.#time(event, number, node, `set ${what} … ${word}`, "it is not set");
    const lasts = step.for < 0 ? Number.POSITIVE_INFINITY : time(step.for, "for");
    if (lasts === undefined || (until?.kind === "at" && time(until.at.time, "until") === undefined)) return undefined;
    const most =
      step.atMost < 0 ? undefined : this.#time(event, number, step.atMost, `set ${what} …, at most`, "it does not limit");
    const end = Math.ceil(this.#parts.now + Math.min(lasts, most ?? lasts));
    return until?.kind === "at" ? Math.min(end, this.#nextOf(until)) : end;
  }

  #outputOf(claim: number): string {
    const { claims, outputs } = this.#parts.program;
    return outputs[claims[claim]?.output ?? -1]?.name ?? "";
  }

  #ramp(event: number, number: number, { claims, from, to, over }: Extract<StepProgram, { kind: "ramp" }>): boolean {
    const { evaluator, now } = this.#parts;
    const [begins, ends] = [evaluator.peek(from), evaluator.peek(to)];
    const lasts = this.#time(
      event,
      number,
      over,
      `ramp ${claims.map((claim) => this.#outputOf(claim)).join(", ")}`,
      "it does not begin",
    );
    if (Number.isNaN(begins + ends) || lasts === undefined) return false;
    for (const claim of claims)
      this.#parts.outputs.ask(claim, ends, {
        timed: true,
        ends: Math.ceil(now + lasts),
        step: number,
        from: begins,
        over: lasts,
      });
    return this.#wait(event, lasts);
  }

  /** Runs as long as its calibrated flow needs: dead time, and amount by rate. */
  #dose(event: number, number: number, { claim, output, amount, broken }: Extract<StepProgram, { kind: "dose" }>): boolean {
    const parts = this.#parts;
    const { delivers } = parts.program.outputs[output] ?? {};
    if (!delivers) return false;
    const [volume, rate] = [parts.evaluator.peek(amount), parts.evaluator.peek(delivers.rate)];
    const name = this.#outputOf(claim);
    const { full } = delivers;
    const after = this.#time(event, number, delivers.after, `delivers … after of ${name}`, "it does not dose");
    if (!(volume > 0) || !(rate > 0) || after === undefined) return false;
    // The rate is in the base unit of flow, ml/s.
    const lasts = Math.ceil(after + (volume / rate) * 1000);
    this.#doses++;
    const ends = parts.now + lasts;
    this.#state(event).dose = { output, claim, started: parts.now, amount: volume, rate, after, ends, broken };
    parts.outputs.ask(claim, full, { timed: true, ends, step: number });
    this.#wait(event, lasts);
    return true;
  }

  /** A dose is being given. */
  get dosing(): boolean {
    return this.#doses > 0;
  }

  /** A dose ends at its first interruption, whatever the cause, says how much it gave, and ends its steps. */
  lookAtDoses(): void {
    if (this.#doses === 0) return;
    for (const [event, { dose }] of this.#states.entries()) {
      if (!dose) continue;
      const { value, because } = this.#parts.outputs.now(dose.output);
      if (value === this.#parts.program.outputs[dose.output]?.delivers?.full) continue;
      this.#endDose(event, because);
      this.#woken.add(event);
    }
  }

  #endDose(event: number, because: string): void {
    const state = this.#state(event);
    const { dose } = state;
    if (!dose) return;
    this.#doses--;
    state.dose = undefined;
    const isBroken = this.#parts.now < dose.ends;
    const given = isBroken ? givenOf(dose, this.#parts.now) : dose.amount;
    this.#keepAmount(dose.output, given);
    if (isBroken) {
      this.#tellDose(dose.output, given, dose.amount, because || "the end of its steps");
      this.#goOnBroken(event, dose.broken);
    }
    this.#parts.outputs.letGo(dose.claim);
  }

  /** Behind a dose that was broken off come the steps of its `otherwise`, if any, and no others. */
  #goOnBroken(event: number, broken: number): void {
    this.#state(event).next = broken < 0 ? this.#program(event).steps.length : broken;
  }

  #keepAmount(output: number, given: number): void {
    const { lastAmount } = this.#parts.program.outputs[output] as Program["outputs"][number];
    if (lastAmount >= 0) this.#parts.evaluator.set(lastAmount, given);
  }

  #tellDose(output: number, given: number, amount: number, stoppedBy: string): void {
    const name = this.#parts.program.outputs[output]?.name;
    const said = `${name}: ${Math.round(given)} of ${Math.round(amount)} ml, stopped by ${stoppedBy}`;
    this.#parts.recorder.problem("dose", said);
  }

  /** One held back is counted in the next that is told. */
  #tell(event: number, number: number, { text, through, onceIn }: Extract<StepProgram, { kind: "tell" }>): void {
    const { now } = this.#parts;
    const { told } = this.#state(event);
    const before = told.get(number);
    const rest = onceIn < 0 ? undefined : this.#time(event, number, onceIn, "tell … at most once in", "it does not limit");
    if (rest !== undefined && before && now < before.at + rest) {
      before.heldBack++;
      return;
    }
    this.#parts.told.tell(text, through, before?.heldBack ?? 0);
    if (onceIn >= 0) told.set(number, { at: now, heldBack: 0 });
  }

  // ── State that lasts ────────────────────────────────────────────────────────────────────────────────────────────────

  snapshot(event: number): EventSnapshot {
    const known = (value: number) => (Number.isFinite(value) ? value : null);
    const { next, waiting, waitSaw, queued, seen, untilSaw, changed, told, dose } = this.#state(event);
    const { timer, turns } = this.#program(event);
    const { agenda } = this.#parts;
    return {
      next: next < 0 ? null : next,
      wakes: known(agenda.due(timer)),
      waitSaw: known(waitSaw),
      waiting,
      queued,
      seen: seen.map(known),
      untilSaw: [...untilSaw].map(([step, saw]) => [step, known(saw)]),
      changed: [...changed].map(([turn, former]) => {
        const setting = turns[turn];
        return { turn, former: known(former), ends: setting ? known(agenda.due(setting.timer)) : null };
      }),
      told: [...told].map(([step, { at, heldBack }]) => [step, at, heldBack]),
      dose: dose ? { started: dose.started, amount: dose.amount, rate: dose.rate, after: dose.after } : null,
    };
  }

  restore(event: number, saved: EventSnapshot, at: number): void {
    const unknown = (value: number | null | undefined) => value ?? Number.NaN;
    const state = this.#state(event);
    const { triggers, timer, steps, turns } = this.#program(event);
    const { agenda } = this.#parts;
    Object.assign(state, {
      next: saved.next ?? -1,
      waiting: saved.waiting,
      waitSaw: unknown(saved.waitSaw),
      queued: saved.queued,
    });
    for (const number of triggers.keys()) state.seen[number] = unknown(saved.seen[number]);
    for (const [step, saw] of saved.untilSaw) state.untilSaw.set(step, unknown(saw));
    for (const [step, when, heldBack] of saved.told) state.told.set(step, { at: when, heldBack });
    agenda.set(timer, saved.wakes ?? Number.POSITIVE_INFINITY);
    for (const { turn, former, ends } of saved.changed) {
      const setting = turns[turn];
      if (!setting) continue;
      state.changed.set(turn, unknown(former));
      agenda.set(setting.timer, ends ?? Number.POSITIVE_INFINITY);
    }
    if (!saved.dose) return;
    // A dose is not gone on with.
    const step = steps[(saved.next ?? 0) - 1];
    if (step?.kind === "dose") {
      const given = givenOf(saved.dose, at);
      this.#parts.outputs.letGo(step.claim);
      this.#keepAmount(step.output, given);
      this.#tellDose(step.output, given, saved.dose.amount, "the controller going down");
      this.#goOnBroken(event, step.broken);
    }
    agenda.clear(timer);
    this.#woken.add(event);
  }
}

/** What a dose has given by an instant, in ml. */
function givenOf({ amount, started, after, rate }: Pick<Dose, "amount" | "started" | "after" | "rate">, at: number): number {
  return Math.min(amount, (Math.max(0, at - started - after) / 1000) * rate);
}

interface Turning {
  readonly event: number;
  readonly turn: number;
  readonly timer: number;
}

/** What sets a dial or mode, by its name: this alone may do so for a time. */
function turningIn(events: readonly EventProgram[]): Map<string, Turning[]> {
  const found = new Map<string, Turning[]>();
  for (const { index, turns } of events)
    for (const { cell, turn, timer } of turns) found.set(cell, [...(found.get(cell) ?? []), { event: index, turn, timer }]);
  return found;
}

/** A value that is so far from another, the distance itself included. */
function isFar(before: number, value: number, by: number): boolean {
  const distance = Math.abs(value - before);
  return distance > by || equalNumbers(distance, by);
}

const none: readonly number[] = [];

function inOrder(events: ReadonlySet<number>): readonly number[] {
  return events.size === 0 ? none : [...events].sort((a, b) => a - b);
}
