// What a house remembers, written down and taken up again. Everything is keyed by names and expressions: after an edit,
// what still fits is kept and the rest is listed.

import { misfitNumber } from "../house/index.js";
import type { ClaimState, OutputState } from "./claims.js";
import type { Outputs } from "./outputs.js";
import type { Parts } from "./parts.js";
import type { Cell, ClaimProgram, EventProgram, Program } from "./program.js";
import { type ClaimSnapshot, claimKeyOf, type OutputSnapshot, type Queued, type Snapshot } from "./snapshot.js";

/** What only the running house itself knows. */
export interface Present {
  readonly at: number;
  /** How far the clock of the house is ahead, in milliseconds. */
  readonly clockAhead: number;
  readonly refusing: readonly string[];
  readonly ringing: boolean;
  readonly queued: Queued | null;
}

/** So long ago that everything given has lasted. */
export const FOR_EVER = -8.64e15;

const finite = (value: number | undefined) => (value !== undefined && Number.isFinite(value) ? value : null);
const unknown = (value: number | null) => value ?? Number.NaN;
const claimKey = ({ reason, output }: ClaimProgram, { outputs }: Program) =>
  claimKeyOf({ ...reason, output: outputs[output]?.name ?? "" });
const eventKey = ({ rule, sentence }: EventProgram) => `${rule}#${sentence}`;

/** What a record holds under a name of its own, and nothing that every object has. */
function own<Saved>(record: Readonly<Record<string, Saved>>, name: string): Saved | undefined {
  return Object.hasOwn(record, name) ? record[name] : undefined;
}

export function takeSnapshot(parts: Parts, present: Present): Snapshot {
  const { program, evaluator, outputs, events, agenda } = parts;
  const due = (timer: number) => finite(agenda.due(timer));
  const named = <Item, Saved>(
    items: readonly Item[],
    save: (item: Item, index: number) => readonly [string, Saved] | undefined,
  ) => Object.fromEntries(items.map(save).filter((entry) => entry !== undefined));
  return {
    version: 4,
    house: program.house.name,
    ...present,
    nodes: named(program.graph.nodes, ({ key, op }, node) => (op === "constant" ? undefined : [key, evaluator.state(node)])),
    outputs: named(program.outputs, ({ name, index, handTimer }): readonly [string, OutputSnapshot] => {
      const state = outputs.states[index] as OutputState;
      const { value, since, hand, handIsOpen, restUntil, restFrom, confirmed, disobeys } = state;
      const rests = { restUntil: finite(restUntil), restFrom: finite(restFrom) };
      const asked = { value: finite(value), since: finite(since), hand: finite(hand), handEnds: due(handTimer), handIsOpen };
      return [name, { ...asked, ...rests, confirmed: finite(confirmed), disobeys, moving: movingOf(parts, index) }];
    }),
    claims: named(program.claims, (claim): readonly [string, ClaimSnapshot] | undefined => {
      const { asked, timed, value, turn, step, ramp, rampEnded } = outputs.claims[claim.index] as ClaimState;
      if (!asked) return undefined;
      const line = ramp ? ([ramp.from, ramp.to, ramp.start, ramp.over] as const) : null;
      const lasts = { ends: due(claim.timer), ramp: line, rampEnded: finite(rampEnded) };
      return [claimKey(claim, program), { value: finite(value), timed, turn, step, ...lasts }];
    }),
    events: named(program.events, (event) => [eventKey(event), events.snapshot(event.index)]),
    countdowns: named(program.countdowns, ({ name, running, timer }) =>
      evaluator.values[running] === 1 ? [name, due(timer)] : undefined,
    ),
    paused: named(program.rules, ({ name, timer }, index) => (outputs.paused.has(index) ? [name, due(timer)] : undefined)),
    turns: outputs.turns,
    unknownTimes: parts.unknownTimes.told,
    backUntil: finite(events.backUntil),
  };
}

/** The claim whose moving value an output follows, and how far it has followed it. */
function movingOf({ program, outputs }: Parts, output: number): OutputSnapshot["moving"] {
  const { movingBy, movingValue, movingNext, movingSent } = outputs.states[output] as OutputState;
  const claim = program.outputs[output]?.claims.find((one) => movingBy !== undefined && lineOf(outputs, one) === movingBy);
  return claim
    ? { claim: claimKey(claim, program), value: finite(movingValue), next: finite(movingNext), sent: finite(movingSent) }
    : null;
}

/** What moves the value of a claim, if anything does. */
function lineOf(outputs: Outputs, claim: ClaimProgram): OutputState["movingBy"] {
  return claim.held ?? outputs.claims[claim.index]?.ramp;
}

/** Takes a snapshot up into a house that has just been made, and comes up at `at`; names what does not fit. */
export function restore(parts: Parts, snapshot: Snapshot, at: number): string[] {
  const { program, evaluator, outputs, events, agenda } = parts;
  const plan = (timer: number, due: number | null) => agenda.set(timer, due ?? Number.POSITIVE_INFINITY);
  evaluator.now = snapshot.at;
  const leftOut = restoreNodes(parts, snapshot);
  for (const name of Object.keys(snapshot.outputs))
    if (!program.outputs.some((output) => output.name === name)) leftOut.push(name);
  for (const { name, index, handTimer, withoutControl, node } of program.outputs) {
    const saved = own(snapshot.outputs, name);
    if (!saved || leftOut.includes(name)) continue;
    const state = outputs.states[index] as OutputState;
    restoreOutput(state, saved);
    if (saved.hand !== null) plan(handTimer, saved.handEnds);
    // While the house was down an output did what it does without control.
    if (at > snapshot.at && withoutControl !== undefined && withoutControl !== state.value) {
      Object.assign(state, { value: withoutControl, since: snapshot.at });
      evaluator.values[node] = withoutControl;
    }
  }
  leftOut.push(...restoreClaims(parts, snapshot));
  for (const { name, index } of program.outputs) {
    const moving = own(snapshot.outputs, name)?.moving;
    const claim = program.outputs[index]?.claims.find((one) => claimKey(one, program) === moving?.claim);
    if (!moving || !claim || leftOut.includes(name)) continue;
    Object.assign(outputs.states[index] as OutputState, {
      movingBy: lineOf(outputs, claim),
      movingValue: unknown(moving.value),
      movingNext: moving.next ?? Number.POSITIVE_INFINITY,
      movingSent: moving.sent ?? Number.NEGATIVE_INFINITY,
    });
  }
  for (const { name, running, timer } of program.countdowns) {
    const runsOut = own(snapshot.countdowns, name);
    if (runsOut === undefined) continue;
    evaluator.set(running, 1);
    plan(timer, runsOut);
  }
  for (const [index, { name, timer }] of program.rules.entries()) {
    const until = own(snapshot.paused, name);
    if (until === undefined) continue;
    outputs.paused.add(index);
    plan(timer, until);
  }
  events.backUntil = snapshot.backUntil ?? Number.NEGATIVE_INFINITY;
  for (const event of program.events) {
    const saved = own(snapshot.events, eventKey(event));
    events.planMoments(event.index);
    if (saved) events.restore(event.index, saved, snapshot.at);
  }
  outputs.turns = snapshot.turns;
  parts.unknownTimes.restore(snapshot.unknownTimes);
  return leftOut;
}

function restoreNodes({ program, evaluator }: Parts, snapshot: Snapshot): string[] {
  const leftOut: string[] = [];
  const { graph, cells } = program;
  const known = new Set(graph.nodes.map(({ key }) => key));
  // Names alone are told: an expression that was edited is in nobody's mind.
  for (const key of Object.keys(snapshot.nodes)) if (!known.has(key) && !/[ (]/.test(key) && !cells.has(key)) leftOut.push(key);
  graph.nodes.forEach(({ key }, node) => {
    const state = own(snapshot.nodes, key);
    const cell = cells.get(key);
    if (!state) return;
    if (cell && Array.isArray(state) && !fitsCell(cell, state[0] ?? null)) leftOut.push(key);
    else evaluator.restore(node, state);
  });
  return leftOut;
}

function restoreOutput(state: OutputState, saved: OutputSnapshot): void {
  const { value, since, hand, handIsOpen, restUntil, restFrom, confirmed, disobeys } = saved;
  Object.assign(state, {
    value: unknown(value),
    since: since ?? FOR_EVER,
    hand: hand ?? undefined,
    handIsOpen,
    restUntil: restUntil ?? Number.NEGATIVE_INFINITY,
    restFrom: unknown(restFrom),
    confirmed: unknown(confirmed),
    disobeys,
  });
}

function restoreClaims({ program, agenda, outputs }: Parts, { claims }: Snapshot): string[] {
  const taken = new Set<string>();
  for (const claim of program.claims) {
    const key = claimKey(claim, program);
    const saved = own(claims, key);
    const cell = program.cells.get(program.outputs[claim.output]?.name ?? "");
    if (!saved || claim.held || !cell || !fitsCell(cell, saved.value)) continue;
    taken.add(key);
    const ramp = saved.ramp ? { from: saved.ramp[0], to: saved.ramp[1], start: saved.ramp[2], over: saved.ramp[3] } : undefined;
    const { timed, step, turn, value, ends } = saved;
    const asked = { asked: true, timed, value: unknown(value), step, turn, ramp, rampEnded: unknown(saved.rampEnded) };
    Object.assign(outputs.claims[claim.index] as ClaimState, asked);
    agenda.set(claim.timer, ends ?? Number.POSITIVE_INFINITY);
  }
  return Object.keys(claims).filter((key) => !taken.has(key));
}

/** Whether what a snapshot holds may be taken up, in the base unit; of a sensor anything may. */
function fitsCell(cell: Cell, base: number | null): boolean {
  return base === null || cell.kind === "sensor" || misfitNumber(cell, base) === undefined;
}
