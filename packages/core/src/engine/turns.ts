// The turns of an instant: conditions, then steps, then outputs, whose changes are the inputs of the next turn, until
// nothing changes. Rules that chase each other would never come to an end: they are found, told and left as they are.
import { packed } from "../expression/index.js";
import { writeDuration } from "../units/index.js";
import type { Parts } from "./parts.js";
import type { Listener, Program } from "./program.js";

/** Who is told of a change, but for outputs, which are decided again. */
type Attentive = Exclude<Listener, { kind: "output" }>;
type ListenerOf<Kind extends Listener["kind"]> = Extract<Listener, { kind: Kind }>;

/** More turns in one instant mean that rules chase each other. */
const MOST_TURNS = 64;
/** The turns in which those that chase each other are looked for. */
const RING_TURNS = 32;

export class Turns {
  readonly #parts: Parts;
  /** Outputs to be decided again when node n changes: #deciding[#decidingAt[n] … #decidingAt[n+1]-1]. */
  readonly #deciding: Int32Array;
  readonly #decidingAt: Int32Array;
  /** Who else is told of its changes. */
  readonly #listeners: (readonly Attentive[] | undefined)[];
  /** What was asked until something is so, triggers and waits, whose conditions changed: to be looked at once a turn. */
  #lasting: ListenerOf<"until">[] = [];
  /** Bands whose targets cross, or do no more. */
  #crossed: number[] = [];
  #turned: ListenerOf<"trigger" | "wait">[] = [];
  /** Pulses that are up in this instant. */
  #raised: number[] = [];
  /** Rules chase each other, and did in the last step. */
  ringing = false;
  /** While the house is set up, what changes is no change, and nobody is told. */
  silent = true;

  constructor(parts: Parts) {
    this.#parts = parts;
    const { graph, listeners } = parts.program;
    const all = graph.nodes.map((_, node) => listeners.get(node) ?? []);
    [this.#deciding, this.#decidingAt] = packed(
      all.map((some) => some.flatMap((one) => (one.kind === "output" ? [one.output] : []))),
    );
    this.#listeners = all.map((some) => {
      const told = some.filter((one) => one.kind !== "output");
      return told.length > 0 ? told : undefined;
    });
  }

  /** Told by the evaluator of every node that changed. */
  changed(node: number): void {
    const { evaluator, recorder, watching, outputs } = this.#parts;
    const value = evaluator.values[node] as number;
    if (!this.silent && Number.isNaN(value)) this.#lookAtSilence(node);
    if (!this.silent && recorder.recording) recorder.changed(node, value);
    watching.changed(node);
    const end = this.#decidingAt[node + 1] as number;
    for (let at = this.#decidingAt[node] as number; at < end; at++) outputs.undecided.add(this.#deciding[at] as number);
    const listeners = this.#listeners[node];
    if (!listeners || this.silent) return;
    for (const listener of listeners) {
      if (listener.kind === "mode") outputs.endHandByMode(listener.output);
      else if (listener.kind === "band") this.#crossed.push(listener.band);
      else this.lookAt(listener);
    }
  }

  /** A sensor that was known and is not any more, though nobody said so, has fallen silent. */
  #lookAtSilence(node: number): void {
    const { cellOf, evaluator, recorder } = this.#parts;
    const cell = cellOf[node];
    const since = cell?.kind === "sensor" ? evaluator.lastReport(node) : Number.NaN;
    if (!cell || Number.isNaN(since)) return;
    recorder.problem("silent", `${cell.name} has sent no valid reading for ${writeDuration(evaluator.now - since)}`);
  }

  /** It is looked at in the next turn, changed or not. */
  lookAt(listener: ListenerOf<"trigger" | "wait" | "until">): void {
    if (listener.kind === "until") this.#lasting.push(listener);
    else this.#turned.push(listener);
  }

  /** Something is so for this instant only. */
  raise(pulse: number): void {
    this.#raised.push(pulse);
    this.#parts.evaluator.set(pulse, 1);
  }

  /** Turns until nothing changes; where that would never be, the outputs that chase each other are left as they are. */
  run(): void {
    const { evaluator, events, outputs } = this.#parts;
    let changed: (readonly string[])[] | undefined;
    for (let turn = 1; ; turn++) {
      evaluator.settle();
      this.#lookAtTurned();
      events.runSteps();
      const decided = outputs.decide();
      events.lookAtDoses();
      if (this.isSettled) break;
      if (turn > MOST_TURNS - RING_TURNS) {
        changed ??= [];
        changed.push(decided);
      }
      if (turn === MOST_TURNS) return this.#breakRing(new Set(changed?.flat()));
    }
    this.ringing = false;
  }

  /** Nothing is left to be looked at in this instant. */
  get isSettled(): boolean {
    const { evaluator, events, outputs } = this.#parts;
    return evaluator.settled && this.#lasting.length + this.#turned.length === 0 && events.quiet && outputs.undecided.size === 0;
  }

  /** Nothing is left to be looked at, no moment has to end and nothing runs that every step looks at. */
  get isStill(): boolean {
    return this.isSettled && this.#raised.length + this.#crossed.length === 0 && !this.#parts.events.dosing;
  }

  #breakRing(ring: ReadonlySet<string>): void {
    const { evaluator, events, outputs, recorder } = this.#parts;
    const names = [...ring];
    if (!this.ringing)
      recorder.problem(
        "ring",
        `${names.length === 0 ? "rules" : names.join(", ")} ${names.length === 1 ? "triggers itself in a loop; its outputs were" : "trigger each other in a loop; their outputs were"} left unchanged`,
      );
    this.ringing = true;
    outputs.freeze(ring);
    evaluator.settle();
    events.forgetFired();
    this.#lasting = [];
    this.#turned = [];
    outputs.decide();
    evaluator.settle();
    outputs.thaw();
  }

  /** What conditions have become by this turn: first ends what was asked until then, then edges fire and waits end. */
  #lookAtTurned(): void {
    const { evaluator, events } = this.#parts;
    while (this.#lasting.length > 0) {
      const lasting = this.#lasting;
      this.#lasting = [];
      for (const listener of lasting) events.lookAtLasting(listener);
      // A dial that goes back may turn more.
      evaluator.settle();
    }
    if (this.#turned.length === 0) return;
    const turned = this.#turned;
    this.#turned = [];
    for (const listener of turned) {
      if (listener.kind === "trigger") events.look(listener.event, listener.trigger);
      else events.lookAtWait(listener);
    }
  }

  /** Of bands whose targets cross by now it is told. */
  lookAtCrossed(): void {
    if (this.#crossed.length === 0) return;
    const { crossings, program } = this.#parts;
    for (const band of new Set(this.#crossed)) crossings.look(program.bands[band] as Program["bands"][number]);
    this.#crossed = [];
  }

  /** Presses, notices and messages are over with their instant. */
  endMoments(): void {
    if (this.#raised.length === 0) return;
    const { evaluator, events } = this.#parts;
    const over = this.#raised;
    this.#raised = [];
    evaluator.endMoments(over);
    for (const listener of [...this.#turned, ...this.#lasting]) events.seeEnd(listener);
    this.#lasting = [];
    this.#turned = [];
  }
}
