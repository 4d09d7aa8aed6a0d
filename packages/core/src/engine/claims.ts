// What becomes of one output: claims, guards and protections, as *Who wins* says. Pure: from the state of the claims and
// the values of the nodes to a value and its reason.
import { equalNumbers } from "../units/index.js";
import type { Reason } from "./journal.js";
import { type ClaimProgram, type OutputProgram, ownOf, type PermitProgram } from "./program.js";

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
}

export interface Decision {
  readonly value: number;
  readonly reason: Reason;
  /** When a delayed change is due. */
  readonly again: number;
}

/** What an output was when it was last sent, and since when. */
export interface Sent {
  readonly value: number;
  readonly since: number;
}

interface Winner {
  readonly claim: ClaimProgram;
  readonly value: number;
}

export function decide(
  output: OutputProgram,
  states: readonly ClaimState[],
  values: Float64Array,
  sent: Sent,
  now: number,
): Decision {
  const lacking = output.permits.filter(({ onlyWhile }) => values[onlyWhile] !== 1);
  const wishes = strongestFirst(output, states, values);
  const forbiddenBy = (value: number) => lacking.find(({ what }) => "word" in what && what.word === value);
  const winner = wishes.find(({ value }) => !forbiddenBy(value));
  const refused = wishes[0] !== winner ? forbiddenBy(wishes[0]?.value ?? Number.NaN) : undefined;
  const rest = winner ? undefined : restOf(output, sent, lacking);
  const chosen = winner?.value ?? rest?.value ?? Number.NaN;
  const cut = limit(chosen, lacking, values);
  const guard = refused?.guard ?? rest?.guard ?? cut.guard;
  const reason: Reason = {
    ...(winner && { rule: winner.claim.rule, sentence: winner.claim.sentence }),
    ...(guard !== undefined && { guard }),
  };
  return protect(
    output,
    { value: cut.value, reason, again: Number.POSITIVE_INFINITY },
    sent,
    now,
    values,
    Boolean(forbiddenBy(sent.value)),
  );
}

/** Timed before held before plain within a standing; of two timed or plain the later, of two held the first written. */
function strongestFirst(output: OutputProgram, states: readonly ClaimState[], values: Float64Array): Winner[] {
  const wishes: (Winner & { readonly kind: number; readonly turn: number })[] = [];
  for (const claim of output.claims) {
    const state = states[claim.index] as ClaimState;
    if (claim.held) {
      const value = values[claim.held.value] as number;
      const holds = claim.held.when < 0 || values[claim.held.when] === 1;
      if (holds && !Number.isNaN(value)) wishes.push({ claim, value, kind: 1, turn: 0 });
    } else if (state.asked) wishes.push({ claim, value: state.value, kind: state.timed ? 0 : 2, turn: state.turn });
  }
  const standing = ({ claim }: Winner) => ["urgent", "plain", "background"].indexOf(claim.standing);
  return wishes.sort((a, b) => standing(a) - standing(b) || a.kind - b.kind || b.turn - a.turn || a.claim.index - b.claim.index);
}

/** Nobody asks: at rest, else as it was, else the first permitted word. */
function restOf(output: OutputProgram, sent: Sent, lacking: readonly PermitProgram[]): { value: number; guard?: string } {
  const value = output.atRest ?? sent.value;
  const refused = lacking.find(({ what }) => "word" in what && what.word === value);
  if (!refused || output.type.kind !== "words") return { value };
  const words = output.type.words.map((_, place) => place);
  const free = words.find((place) => !lacking.some(({ what }) => "word" in what && what.word === place));
  return { value: free ?? value, guard: refused.guard };
}

/** Numbers are cut to what the guards leave. */
function limit(value: number, lacking: readonly PermitProgram[], values: Float64Array): { value: number; guard?: string } {
  let cut: { value: number; guard?: string } = { value };
  for (const { what, guard } of lacking) {
    if ("above" in what) {
      const most = values[what.above] as number;
      if (cut.value > most && !equalNumbers(cut.value, most)) cut = { value: most, guard };
    } else if ("below" in what) {
      const least = values[what.below] as number;
      if (cut.value < least && !equalNumbers(cut.value, least)) cut = { value: least, guard };
    }
  }
  return cut;
}

/** A change not asked for by a guard waits until the least time of the present value is over. */
function protect(
  output: OutputProgram,
  decision: Decision,
  sent: Sent,
  now: number,
  values: Float64Array,
  forbidden: boolean,
): Decision {
  const least = output.atLeast.get(sent.value);
  if (least === undefined || decision.value === sent.value || forbidden) return decision;
  const until = Math.ceil(sent.since + (values[least] as number));
  if (!(now < until)) return decision;
  const wanted = ownOf(decision.value, output.type) ?? "unknown";
  return { value: sent.value, reason: { ...decision.reason, delayed: { wanted, until } }, again: until };
}
