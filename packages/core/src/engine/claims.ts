// What becomes of one output: guards, a person's hand, claims and protections, as *Who wins* says. From the state of the
// claims and the values of the nodes to a value and its reason.

import type { Evaluator } from "../expression/index.js";
import { ownOf, type Standing, standings } from "../house/index.js";
import { equalNumbers, stepOf } from "../units/index.js";
import type { Reason } from "./journal.js";
import type { ClaimProgram, Held, OutputProgram, PermitProgram } from "./program.js";
import type { UnknownTimes } from "./unknown-times.js";

/** A straight line in time that a claim follows. */
export interface Ramp {
  readonly from: number;
  readonly to: number;
  readonly start: number;
  readonly over: number;
}

/** What a claim asks for now. */
export interface ClaimState {
  /** Asked by a step that was taken; held claims look at their nodes instead. */
  asked: boolean;
  /** Asked for a time. */
  timed: boolean;
  value: number;
  /** Later is larger. */
  turn: number;
  /** The step that asked. */
  step: number;
  ramp: Ramp | undefined;
  /** When its ramp ended and became a plain `set`; NaN where it was none. */
  rampEnded: number;
}

/** What an output was last sent, and what else it remembers. */
export interface OutputState {
  value: number;
  /** Since when it has been so. */
  since: number;
  /** What a person switched by hand. */
  hand: number | undefined;
  /** Without saying for how long: it ends with a mode too. */
  handIsOpen: boolean;
  /** Until when it rests after a run that lasted its longest; the value it may not have till then. */
  restUntil: number;
  restFrom: number;
  /** A moving value that was decided on, whose it is, and when it moves on. */
  movingBy: Ramp | Held | undefined;
  movingValue: number;
  movingNext: number;
  /** When it was last sent. */
  movingSent: number;
  /** What it last said it does; NaN before it said anything. */
  confirmed: number;
  /** It said that it does something else than it was told, which has been noted. */
  disobeys: boolean;
}

export interface Decision {
  readonly value: number;
  readonly reason: Reason;
  /** When it has to be decided again. */
  readonly again: number;
}

interface Candidate {
  /** Undefined: a person's hand. */
  readonly claim: ClaimProgram | undefined;
  readonly value: number;
  /** The smaller, the stronger. */
  readonly rank: number;
}

/** Outputs of which one runs at a time, in the order in which they are named. */
export interface Company {
  readonly guard: string;
  readonly members: readonly Situation[];
  readonly apart: number;
}

/** What `paused` rules ask for does not count. */
export interface Situation {
  readonly output: OutputProgram;
  readonly state: OutputState;
  readonly claims: readonly ClaimState[];
  readonly evaluator: Evaluator;
  readonly paused: ReadonlySet<number>;
  readonly unknownTimes: UnknownTimes;
}

export function decide(situation: Situation, companies: readonly Company[] = []): Decision {
  if (companies.length === 0) return decideAlone(situation);
  // What moves may come to be more than rest, or at rest, and that decides of the others too.
  const turns = Math.min(...companies.flatMap(({ members }) => members.map(nextTurn)));
  for (const company of companies) {
    const apart = keptApart(situation, company);
    if (apart) return { ...apart, again: Math.min(apart.again, turns) };
  }
  const alone = decideAlone(situation);
  return { ...alone, again: Math.min(alone.again, turns) };
}

function decideAlone(situation: Situation): Decision {
  const { output, state, evaluator } = situation;
  const lacking = lackingOf(situation);
  const winner = strongest(situation, lacking);
  const wished = lacking.length === 0 ? winner : strongest(situation, none);
  // A hand has no claim, and nobody has none either.
  const refused = wished && !(winner && wished.claim === winner.claim) ? forbiddenBy(lacking, wished.value) : undefined;
  const rest = winner ? undefined : restOf(output, state, lacking);
  const chosen = steady(situation, winner, winner?.value ?? rest?.value ?? Number.NaN);
  // Behind the steadying: what a guard cuts is cut at once.
  const cut = lacking.length === 0 ? undefined : limit(chosen.value, lacking, evaluator);
  const guard = refused?.guard ?? rest?.guard ?? cut?.guard;
  const whose = winner ? (winner.claim?.reason ?? byHand) : nobodys;
  const reason = guard === undefined ? whose : { ...whose, guard };
  return protect(situation, { value: cut?.value ?? chosen.value, reason, again: chosen.again }, lacking);
}

const byHand: Reason = { hand: true };
const nobodys: Reason = {};

const none: readonly PermitProgram[] = [];

/** The permits that do not hold, by what the steps before have set: a dose sees the fan that was switched on for it. */
function lackingOf({ output, evaluator }: Situation): readonly PermitProgram[] {
  let lacking: PermitProgram[] | undefined;
  for (const permit of output.permits)
    if (evaluator.peek(permit.onlyWhile) !== 1) {
      lacking ??= [];
      lacking.push(permit);
    }
  return lacking ?? none;
}

// ── Never together ──────────────────────────────────────────────────────────────────────────────────────────────────────

/** One that is kept at rest: because another is to run, or was at rest too short a time. */
function keptApart(situation: Situation, { guard, members, apart }: Company): Decision | undefined {
  const { output, state, evaluator, unknownTimes } = situation;
  const rest = output.atRest as number;
  let first: Situation | undefined;
  let rank = Number.POSITIVE_INFINITY;
  for (const member of members) {
    const own = rankOfRun(member);
    if (own >= rank) continue;
    first = member;
    rank = own;
  }
  if (!first) return undefined;
  state.movingBy = first === situation ? state.movingBy : undefined;
  if (first !== situation) return { value: rest, reason: { guard }, again: Number.POSITIVE_INFINITY };
  if (state.value !== rest) return undefined;
  const name = `${guard} apart`;
  const lasts = unknownTimes.of(evaluator.current(apart), name, `how long guard ${guard} keeps apart`, "it does not wait") ?? 0;
  const until = Math.max(...members.map((member) => (member === situation ? 0 : Math.ceil(restsSince(member) + lasts))));
  if (until <= evaluator.now) return undefined;
  const wanted = ownOf(strongest(situation, lackingOf(situation))?.value ?? rest, output.type) ?? "unknown";
  return { value: rest, reason: { guard, delayed: { wanted, until } }, again: until };
}

/** How strongly an output is asked to be other than at rest, by a ramp from its beginning; infinite where it is not. */
function rankOfRun(situation: Situation): number {
  const { output, evaluator, claims } = situation;
  const lacking = lackingOf(situation);
  const wish = strongest(situation, lacking);
  if (wish?.claim && claims[wish.claim.index]?.ramp) return wish.rank;
  const value = wish && limit(wish.value, lacking, evaluator).value;
  return wish === undefined || value === output.atRest ? Number.POSITIVE_INFINITY : wish.rank;
}

/** When the moving value that an output is held at has come a step further. */
function nextTurn(situation: Situation): number {
  const { output, evaluator } = situation;
  const wish = strongest(situation, lackingOf(situation));
  const held = wish?.claim?.held;
  if (!wish || !held || !evaluator.isMoving(held.value)) return Number.POSITIVE_INFINITY;
  return Math.max(evaluator.now + 1, evaluator.nextStep(held.value, stepIn(output), wish.value));
}

/** Since when it has been at rest; what still runs is to rest from now on. */
function restsSince({ output, state, evaluator }: Situation): number {
  return state.value === output.atRest ? state.since : evaluator.now;
}

function forbiddenBy(lacking: readonly PermitProgram[], value: number): PermitProgram | undefined {
  return lacking.find(({ what }) => "word" in what && what.word === value);
}

/**
 * The strongest wish that is not forbidden. A hand first; then, standing by standing, what was asked for a time (the later
 * first), what is held (the first written), what was asked plainly (the later first).
 */
function strongest(
  { output, state, claims, evaluator, paused }: Situation,
  lacking: readonly PermitProgram[],
): Candidate | undefined {
  if (state.hand !== undefined && !forbiddenBy(lacking, state.hand)) return { claim: undefined, value: state.hand, rank: -1 };
  let best: Candidate | undefined;
  let bestRank = Number.POSITIVE_INFINITY;
  let bestTurn = -1;
  for (const claim of output.claims) {
    const standing = standingRank[claim.standing];
    // Claims come in the order of their standing: a stronger one has been found.
    if (best && standing * 3 > bestRank) break;
    if (paused.size > 0 && paused.has(claim.ruleIndex)) continue;
    const { held } = claim;
    if (held) {
      if (standing * 3 + 1 >= bestRank) continue;
      if (held.when >= 0 && evaluator.values[held.when] !== 1) continue;
      const value = withinRange(output, evaluator.current(held.value));
      if (Number.isNaN(value) || forbiddenBy(lacking, value)) continue;
      bestRank = standing * 3 + 1;
      best = { claim, value, rank: bestRank };
      continue;
    }
    const asked = claims[claim.index] as ClaimState;
    if (!asked.asked) continue;
    const rank = standing * 3 + (asked.timed ? 0 : 2);
    if (rank > bestRank || (rank === bestRank && asked.turn < bestTurn)) continue;
    const value = withinRange(output, asked.ramp ? rampAt(asked.ramp, evaluator.now) : asked.value);
    if (forbiddenBy(lacking, value)) continue;
    best = { claim, value, rank };
    bestRank = rank;
    bestTurn = asked.turn;
  }
  return best;
}

/** An output has a value of its range, whatever is asked of it. */
function withinRange({ range }: OutputProgram, value: number): number {
  return range ? Math.min(range[1], Math.max(range[0], value)) : value;
}

const standingRank = Object.fromEntries(standings.map((one, rank) => [one, rank])) as Readonly<Record<Standing, number>>;

export function rampAt({ from, to, start, over }: Ramp, at: number): number {
  return at >= start + over ? to : from + ((to - from) * (at - start)) / over;
}

/** Nobody asks: at rest, else as it was, else the first permitted word. */
function restOf(output: OutputProgram, state: OutputState, lacking: readonly PermitProgram[]): { value: number; guard?: string } {
  const value = output.atRest ?? state.value;
  const refused = forbiddenBy(lacking, value);
  if (!refused || output.type.kind !== "words") return { value };
  const free = output.type.words.findIndex((_, place) => !forbiddenBy(lacking, place));
  return { value: free < 0 ? value : free, guard: refused.guard };
}

/** Numbers are cut to what the guards leave. */
function limit(value: number, lacking: readonly PermitProgram[], evaluator: Evaluator): { value: number; guard?: string } {
  let cut: { value: number; guard?: string } = { value };
  for (const { what, guard } of lacking) {
    if ("above" in what) {
      const most = evaluator.current(what.above);
      if (cut.value > most && !equalNumbers(cut.value, most)) cut = { value: most, guard };
    } else if ("below" in what) {
      const least = evaluator.current(what.below);
      if (cut.value < least && !equalNumbers(cut.value, least)) cut = { value: least, guard };
    }
  }
  return cut;
}

/** A moving value is sent at most once a second, when it moved by so much of the range. */
const MOVES_BY = 0.005;
const MOVES_EVERY = 1000;

/** The least that a moving value is sent for; of what has no range, as finely as people tell its values apart. */
function stepIn({ range, type }: OutputProgram): number {
  if (range) return MOVES_BY * (range[1] - range[0]);
  return type.kind === "number" ? stepOf(type.unit) : 1;
}

/** Keeps a moving value where it was sent until it has moved enough; its ends and corners are sent exactly. */
function steady(
  { output, state, claims, evaluator }: Situation,
  winner: Candidate | undefined,
  value: number,
): Omit<Decision, "reason"> {
  const { now } = evaluator;
  const claim = winner?.claim;
  const held = claim?.held;
  const ramp = claim && !held ? claims[claim.index]?.ramp : undefined;
  const moves = held !== undefined && evaluator.isMoving(held.value);
  if (!claim || (!ramp && !moves)) {
    state.movingBy = undefined;
    return { value, again: Number.POSITIVE_INFINITY };
  }
  const by = ramp ?? held;
  const step = stepIn(output);
  const nextFrom = (sent: number) =>
    ramp ? nextOfRamp(ramp, step, now) : evaluator.nextStep((held as { value: number }).value, step, sent);
  const earliest = state.movingSent + MOVES_EVERY;
  if (
    state.movingBy === by &&
    now < state.movingNext &&
    (ramp || now < earliest || !(Math.abs(value - state.movingValue) >= step))
  ) {
    // What it follows may have changed: where it comes to be far enough is calculated from what was sent.
    if (!ramp)
      state.movingNext = Math.max(earliest, Math.abs(value - state.movingValue) >= step ? earliest : nextFrom(state.movingValue));
    return { value: state.movingValue, again: state.movingNext };
  }
  state.movingBy = by;
  state.movingValue = value;
  state.movingSent = now;
  state.movingNext = ramp ? nextFrom(value) : Math.max(now + MOVES_EVERY, nextFrom(value));
  return { value, again: state.movingNext };
}

function nextOfRamp({ from, to, start, over }: Ramp, step: number, now: number): number {
  const end = start + over;
  if (now >= end || from === to) return Number.POSITIVE_INFINITY;
  const takes = (step * over) / Math.abs(to - from);
  return Math.min(Math.ceil(end), Math.ceil(now + Math.max(MOVES_EVERY, takes)));
}

/** A change not asked for by a guard waits until least times are over; a run that lasted its longest ends. */
function protect(situation: Situation, decision: Decision, lacking: readonly PermitProgram[]): Decision {
  const { output, state, evaluator } = situation;
  if (output.atMost.length === 0 && output.atLeast.size === 0) return decision;
  const { now } = evaluator;
  const forbidden = forbiddenBy(lacking, state.value) !== undefined;
  let { value, again } = decision;
  const longest = value === state.value ? longestOf(situation) : undefined;
  if (longest) {
    const end = Math.ceil(state.since + longest.lasts);
    if (now >= end && !forbiddenBy(lacking, longest.then)) {
      const until = Math.ceil(now + longest.rest);
      return { value: longest.then, reason: { ...decision.reason, rests: { until } }, again: until };
    }
    if (now < end) again = Math.min(again, end);
  }
  if (!forbidden && now < state.restUntil && value === state.restFrom && value !== state.value) {
    return {
      value: state.value,
      reason: { ...decision.reason, rests: { until: state.restUntil } },
      again: Math.min(again, state.restUntil),
    };
  }
  const least = output.atLeast.get(state.value);
  if (least === undefined || value === state.value || forbidden) return { value, reason: decision.reason, again };
  const lasts = protectedFor(situation, evaluator.current(least), "at least");
  const until = Math.ceil(state.since + (lasts ?? 0));
  if (lasts === undefined || now >= until) return { value, reason: decision.reason, again };
  const wanted = ownOf(value, output.type) ?? "unknown";
  value = state.value;
  return { value, reason: { ...decision.reason, delayed: { wanted, until } }, again: Math.min(again, until) };
}

/** How long a run of the present value lasts at most, and how long it then rests: nothing where either is not known or nothing. */
export function longestOf(situation: Situation): { value: number; then: number; lasts: number; rest: number } | undefined {
  const { output, state, evaluator } = situation;
  const longest = output.atMost.find((one) => one.value === state.value);
  if (!longest) return undefined;
  const lasts = protectedFor(situation, evaluator.current(longest.duration), "at most");
  const rest = protectedFor(situation, evaluator.current(longest.rest), "then at least");
  if (lasts === undefined || rest === undefined || lasts <= 0 || rest <= 0) return undefined;
  return { value: longest.value, then: longest.then, lasts, rest };
}

function protectedFor({ output, unknownTimes }: Situation, time: number, which: string): number | undefined {
  const place = `${output.name} ${which}`;
  return unknownTimes.of(time, place, `the "${which}" of ${output.name}`, "it does not protect");
}
