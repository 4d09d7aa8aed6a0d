// The outputs while a house runs: what steps and hands ask of them, what is decided, and what is sent at the end of an
// instant.

import type { Agenda, Evaluator } from "../expression/index.js";
import { ownOf } from "../house/index.js";
import { type ClaimState, type Company, type Decision, decide, longestOf, type OutputState, type Situation } from "./claims.js";
import type { Change } from "./interface.js";
import type { Reason } from "./journal.js";
import { Marks } from "./marks.js";
import type { ClaimProgram, OutputProgram, Program } from "./program.js";
import type { Recorder } from "./recorder.js";
import type { UnknownTimes } from "./unknown-times.js";

/** What a step asks: one with `ends` lasts until then, a `timed` one until it is dropped; `from` and `over` make a line. */
export interface Asking {
  readonly timed: boolean;
  readonly ends: number;
  readonly step: number;
  readonly over?: number;
  readonly from?: number;
}

const none: readonly string[] = [];
const nothing: readonly number[] = [];
const unchanged: readonly Change[] = [];

export class Outputs {
  readonly claims: readonly ClaimState[];
  readonly states: readonly OutputState[];
  readonly paused = new Set<number>();
  /** How many claims steps have made. */
  turns = 0;
  /** Those to be decided again in this turn. */
  readonly undecided: Marks;
  /** Those whose value may differ from what was last sent. */
  readonly #touched: Marks;
  /** Those held at what they had before an instant in which they chased each other. */
  readonly #frozen = new Set<number>();
  readonly #reasons: Reason[];
  /** Those that a person switched in this instant. */
  readonly #switched = new Set<number>();
  readonly #situations: readonly Situation[];
  /** Those each output never runs together with. */
  readonly #companies: readonly (readonly Company[])[];
  #changes: Change[] = [];

  constructor(
    readonly program: Program,
    readonly evaluator: Evaluator,
    readonly agenda: Agenda,
    readonly recorder: Recorder,
    readonly unknownTimes: UnknownTimes,
  ) {
    const { claims, outputs } = program;
    const since = evaluator.now;
    this.claims = claims.map(() => ({
      asked: false,
      timed: false,
      value: Number.NaN,
      turn: 0,
      step: 0,
      ramp: undefined,
      rampEnded: Number.NaN,
    }));
    this.states = outputs.map(({ atRest }) => ({
      value: atRest ?? Number.NaN,
      since,
      hand: undefined,
      handIsOpen: false,
      restUntil: Number.NEGATIVE_INFINITY,
      restFrom: Number.NaN,
      movingBy: undefined,
      movingValue: Number.NaN,
      movingNext: Number.NEGATIVE_INFINITY,
      movingSent: Number.NEGATIVE_INFINITY,
      confirmed: Number.NaN,
      disobeys: false,
    }));
    this.#reasons = outputs.map(() => ({}));
    this.undecided = new Marks(outputs.length);
    this.#touched = new Marks(outputs.length);
    this.#situations = outputs.map((output, index) => {
      const state = this.states[index] as OutputState;
      return { output, state, claims: this.claims, evaluator, paused: this.paused, unknownTimes };
    });
    this.#companies = outputs.map((_, index) =>
      program.groups
        .filter((group) => group.outputs.includes(index))
        .map(({ guard, outputs: members, apart }) => ({
          guard,
          apart,
          members: members.map((member) => this.#situations[member] as Situation),
        })),
    );
  }

  #program(output: number): OutputProgram {
    return this.program.outputs[output] as OutputProgram;
  }

  #state(output: number): OutputState {
    return this.states[output] as OutputState;
  }

  // ── What is asked ───────────────────────────────────────────────────────────────────────────────────────────────────

  /** The steps after it see what the output has become. */
  ask(claim: number, value: number, { timed, ends, step, from, over }: Asking): void {
    const program = this.program.claims[claim] as ClaimProgram;
    if (!timed) this.#replacePlain(program);
    const ramp = from === undefined || over === undefined ? undefined : { from, to: value, start: this.evaluator.now, over };
    Object.assign(this.claims[claim] as ClaimState, {
      asked: true,
      timed,
      value,
      turn: ++this.turns,
      step,
      ramp,
      rampEnded: Number.NaN,
    });
    this.agenda.set(program.timer, ends);
    this.#stir(program.output);
    this.#decideNow(program.output);
  }

  /** A plain `set` lasts until a later one of the same standing. */
  #replacePlain({ output, standing }: ClaimProgram): void {
    this.#takeBack(output, (claim) => claim.standing === standing);
  }

  #takeBack(output: number, which: (claim: ClaimProgram) => boolean): void {
    for (const claim of this.#program(output).claims) {
      const state = this.claims[claim.index] as ClaimState;
      if (state.asked && !state.timed && which(claim)) state.asked = false;
    }
  }

  isAskedBy(claim: number, step: number): boolean {
    const { timed, step: by } = this.claims[claim] as ClaimState;
    return timed && by === step;
  }

  letGo(claim: number): void {
    (this.claims[claim] as ClaimState).asked = false;
    const { timer, output } = this.program.claims[claim] as ClaimProgram;
    this.agenda.clear(timer);
    this.#stir(output);
  }

  /** The time of a claim is over; the end of a ramp stays as a plain `set` does. */
  endClaim(claim: number): void {
    const state = this.claims[claim] as ClaimState;
    if (!state.ramp) return this.letGo(claim);
    const program = this.program.claims[claim] as ClaimProgram;
    // Of two ramps that end in one instant the one asked later led, and its end stays.
    const led = this.#program(program.output).claims.some(({ index, standing }) => {
      const other = this.claims[index] as ClaimState;
      return standing === program.standing && other.asked && other.rampEnded === this.evaluator.now && other.turn > state.turn;
    });
    if (led) return this.letGo(claim);
    this.#replacePlain(program);
    Object.assign(state, { timed: false, ramp: undefined, rampEnded: this.evaluator.now });
    this.#stir(program.output);
  }

  /** Takes back what plain `set` steps of every rule asked. */
  release(output: number): void {
    this.#takeBack(output, () => true);
    this.#stir(output);
    this.#decideNow(output);
  }

  /** What is asked of an output decides of it, and of those it never runs together with. */
  #stir(output: number): void {
    this.undecided.add(output);
    for (const { members } of this.#companies[output] as readonly Company[])
      for (const member of members) this.undecided.add(member.output.index);
  }

  redecide(claims: readonly number[]): void {
    for (const claim of claims) this.#stir((this.program.claims[claim] as ClaimProgram).output);
  }

  /** A person switches it; without a time as long as a hand lasts, or until a mode changes before that a rule of it mentions. */
  switch(output: number, value: number, lasts: number | undefined): void {
    const program = this.#program(output);
    Object.assign(this.#state(output), { hand: value, handIsOpen: lasts === undefined });
    this.agenda.set(program.handTimer, this.#endOfHand(program, lasts));
    this.#stir(output);
    this.#switched.add(output);
    this.recorder.note({ kind: "person", text: `sets ${program.name} to ${ownOf(value, program.type)}` }, []);
  }

  /** When an instant is decided: whether guards let a person have what they asked for in it. */
  judgeHands(): void {
    if (this.#switched.size === 0) return;
    for (const output of this.#switched) {
      const { name, type, node } = this.#program(output);
      const { hand } = this.#state(output);
      const { guard, delayed } = this.#reasons[output] as Reason;
      if (hand === undefined || guard === undefined || delayed || this.evaluator.values[node] === hand) continue;
      this.recorder.problem("not-permitted", `guard ${guard} does not permit ${name} ${ownOf(hand, type)}`);
    }
    this.#switched.clear();
  }

  #endOfHand({ name }: OutputProgram, lasts: number | undefined): number {
    if (lasts !== undefined) return Math.ceil(this.evaluator.now + lasts);
    const usual = this.evaluator.current(this.program.handLasts);
    const known = this.unknownTimes.of(
      usual,
      "hand lasts",
      `how long a manual override of ${name} lasts`,
      "it stays until it is released",
    );
    return known === undefined ? Number.POSITIVE_INFINITY : Math.ceil(this.evaluator.now + known);
  }

  endHand(output: number): void {
    this.#state(output).hand = undefined;
    this.agenda.clear(this.#program(output).handTimer);
    this.#stir(output);
  }

  /** A hand claim without an end of its own ends as a mode changes that a rule of the output mentions. */
  endHandByMode(output: number): void {
    const { hand, handIsOpen } = this.#state(output);
    if (hand !== undefined && handIsOpen) this.endHand(output);
  }

  // ── What is decided ─────────────────────────────────────────────────────────────────────────────────────────────────

  /** All are decided on what the conditions of this turn say, before any of them takes its value. Names of the changed. */
  decide(): readonly string[] {
    if (this.undecided.size === 0) return none;
    if (this.undecided.size === 1) {
      const output = this.undecided.first;
      return this.#decideNow(output) ? [this.#program(output).name] : none;
    }
    const outputs = this.undecided.sorted();
    const decisions = outputs.map((output) => this.#decision(output));
    return outputs.filter((output, index) => this.#take(output, decisions[index])).map((output) => this.#program(output).name);
  }

  #decideNow(output: number): boolean {
    return this.#take(output, this.#decision(output));
  }

  #decision(output: number): Decision | undefined {
    return this.#frozen.has(output) ? undefined : decide(this.#situations[output] as Situation, this.#companies[output]);
  }

  /** Whether the output changed. */
  #take(output: number, decision: Decision | undefined): boolean {
    this.undecided.delete(output);
    if (!decision) return false;
    this.agenda.set(this.#program(output).timer, decision.again);
    return this.#put(output, decision.value, decision.reason);
  }

  #put(output: number, value: number, reason: Reason): boolean {
    const program = this.#program(output);
    const same = Object.is(this.evaluator.values[program.node], value);
    if (!same || !sameReason(this.#reasons[output] as Reason, reason)) this.recorder.decided(program, value, reason);
    this.#reasons[output] = reason;
    if (same) return false;
    this.#touched.add(output);
    this.evaluator.set(program.node, value);
    return true;
  }

  /** The value of an output now, and who keeps it from another, in words. */
  now(output: number): { value: number; because: string } {
    const { guard, hand, rule } = this.#reasons[output] as Reason;
    const because =
      guard !== undefined ? `guard ${guard}` : hand ? "hand" : rule !== undefined ? `rule ${rule}` : "nothing that asks for it";
    return { value: this.evaluator.values[this.#program(output).node] as number, because };
  }

  // ── Those that chase each other ─────────────────────────────────────────────────────────────────────────────────────

  /** They keep what they had before the instant, whatever is decided, until they thaw. */
  freeze(names: ReadonlySet<string>): void {
    for (const { index, name } of this.program.outputs) if (names.has(name)) this.#frozen.add(index);
    for (const output of this.#frozen) this.#put(output, this.#state(output).value, {});
  }

  /** They are looked at again with the next step, whatever brings it. */
  thaw(): void {
    for (const output of this.#frozen) this.undecided.add(output);
    this.#frozen.clear();
  }

  // ── What is sent ────────────────────────────────────────────────────────────────────────────────────────────────────

  /** The net changes of the instant; with `all`, every output. Which were sent. */
  send(all: boolean): readonly number[] {
    if (this.#touched.size === 0 && !all) return nothing;
    const touched = all ? this.states.map((_, output) => output) : this.#touched.sorted();
    const sent = touched.filter((output) => this.#sendOne(output, all));
    this.#touched.clear();
    return sent;
  }

  /** Whether it was sent. */
  #sendOne(output: number, always: boolean): boolean {
    const program = this.#program(output);
    const state = this.#state(output);
    const { now, values } = this.evaluator;
    const value = values[program.node] as number;
    const same = Object.is(state.value, value);
    if (same && !always) return false;
    if (!same) {
      this.#rest(output);
      state.since = now;
    }
    state.value = value;
    this.#planLongest(output);
    const own = ownOf(value, program.type);
    this.#changes.push({ at: now, output: program.name, value: own, because: this.#reasons[output] as Reason });
    this.recorder.sent(program, value);
    this.compareConfirmed(output);
    return true;
  }

  /** A run that lasted its longest, whatever ended it, is followed by its rest. */
  #rest(output: number): void {
    const longest = longestOf(this.#situations[output] as Situation);
    const state = this.#state(output);
    const { now } = this.evaluator;
    if (!longest || now < Math.ceil(state.since + longest.lasts)) return;
    state.restUntil = Math.ceil(now + longest.rest);
    state.restFrom = longest.value;
  }

  /** A run that began has its longest time from now on. */
  #planLongest(output: number): void {
    const longest = longestOf(this.#situations[output] as Situation);
    if (!longest) return;
    const { timer } = this.#program(output);
    const end = Math.ceil(this.#state(output).since + longest.lasts);
    this.agenda.set(timer, Math.min(this.agenda.due(timer), end));
  }

  /** What it says it does. */
  confirm(output: number, value: number): void {
    const state = this.#state(output);
    state.confirmed = value;
    this.compareConfirmed(output);
    const obeys = value === state.value;
    if (obeys || state.disobeys) {
      state.disobeys = !obeys;
      return;
    }
    state.disobeys = true;
    const { name, type } = this.#program(output);
    this.recorder.problem("disobeys", `${name} was set to ${ownOf(state.value, type)} but reports ${ownOf(value, type)}`);
  }

  compareConfirmed(output: number): void {
    const { disobeys } = this.#program(output);
    const { confirmed, value } = this.#state(output);
    if (disobeys >= 0 && !Number.isNaN(confirmed)) this.evaluator.set(disobeys, confirmed === value ? 0 : 1);
  }

  takeChanges(): readonly Change[] {
    const changes = this.#changes;
    if (changes.length === 0) return unchanged;
    this.#changes = [];
    return changes;
  }
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
