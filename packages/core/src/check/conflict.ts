// Reasons for different values of one output that can hold together, with an example and who wins.
import type { Condition } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { type Ask, allOf, strength } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** Of sentences that hold one output at the same standing, and whose strength is only that they are written first. */
export function conflicts(inquiry: Inquiry): Draft[] {
  const held = inquiry.asks.filter(({ way }) => way === "held");
  return held.flatMap((winner, index) =>
    held.flatMap((loser, other) => {
      if (loser.output !== winner.output || !differ(winner, loser)) return [];
      if (strength(winner) < strength(loser)) return isOutdone(inquiry, winner, loser) ? [outdone(winner, loser)] : [];
      return loser.standing === winner.standing && other > index ? ofPair(inquiry, winner, loser) : [];
    }),
  );
}

/** Whether another wins over one wherever that holds, as far as can be known. */
function isOutdone(inquiry: Inquiry, winner: Ask, loser: Ask): boolean {
  return inquiry.isExact([...winner.conditions, ...loser.conditions]) && implies(inquiry, loser, winner);
}

function outdone(winner: Ask, loser: Ask): Draft {
  const isStronger = strength(winner) < strength(loser);
  const because = isStronger ? "is stronger" : "comes first";
  const remedy = isStronger
    ? "Give the stronger one a condition, or remove one of the two."
    : "Write the special case first, or give it a higher standing: `as urgent`.";
  return {
    code: "unreachable",
    about: loser.about,
    reason: `${loser.rule.name} never takes effect on ${winner.output}: whenever it applies, ${winner.rule.name} applies too and ${because}.`,
    remedy,
    related: [{ about: winner.about, says: say(winner) }],
  };
}

/** Live values count as different where they are written differently. */
function differ(one: Ask, other: Ask): boolean {
  return writeExpression(one.value) !== writeExpression(other.value);
}

function ofPair(inquiry: Inquiry, winner: Ask, loser: Ask): Draft[] {
  const { scene } = inquiry;
  const both = scene.find([...winner.conditions, ...loser.conditions], { of: winner.output });
  if (!both || sharesSignal(inquiry, winner, loser)) return [];
  if (isOutdone(inquiry, winner, loser)) return [outdone(winner, loser)];
  // A special case written before the general one is what the order of writing is for.
  if (implies(inquiry, winner, loser)) return [];
  const { output } = winner;
  const [stronger, weaker] = [say(winner), say(loser)];
  const conditions = [...winner.conditions, ...loser.conditions];
  const condition: Condition = allOf(conditions) ?? { kind: "is", left: { kind: "value", of: output }, right: winner.value };
  const { at } = both;
  const claims = [{ claim: "holds", condition, at }] as const;
  const shows = scene.shows(`${stronger} and ${weaker} together`, scene.leadingTo(both), claims, at + MINUTE);
  return [
    {
      code: "conflict",
      about: winner.about,
      reason: `${stronger} and ${weaker} can both apply to ${output} at the same time${inExample(inquiry, both.values)}.`,
      remedy: `${winner.rule.name} then wins, because it comes first. If that is not what you want, make one \`as urgent\`, or add a condition.`,
      related: [{ about: loser.about, says: weaker }],
      ...(shows && { shows }),
    },
  ];
}

function say({ rule, sentence, value }: Ask): string {
  const which = rule.sentences.length > 1 ? ` (sentence ${sentence + 1})` : "";
  return `${rule.name}${which} at ${writeExpression(value)}`;
}

/** Two that share out one signal are told of by their bounds. */
function sharesSignal(inquiry: Inquiry, one: Ask, other: Ask): boolean {
  const bounded = ({ conditions }: Ask) =>
    conditions.flatMap((part) =>
      "left" in part && inquiry.measuredIn(part.left).length > 0 ? [writeExpression(part.left)] : [],
    );
  const rest = ({ conditions }: Ask) => conditions.filter((part) => !("left" in part)).length;
  const [first] = bounded(one);
  return first !== undefined && bounded(other).includes(first) && rest(one) === 0 && rest(other) === 0;
}

/** Whether no situation has the one without the other. */
function implies(inquiry: Inquiry, one: Ask, other: Ask): boolean {
  const { scene } = inquiry;
  const all = allOf(other.conditions);
  if (!all) return true;
  const found = scene.search.find([...one.conditions.map((condition) => scene.goal(condition)), scene.goal(all, false)], {
    anyDial: true,
  });
  return found === "none";
}

/** `, for example when bench.motion is moving and shop is open`. */
function inExample(inquiry: Inquiry, values: ReadonlyMap<number, number>): string {
  const said = [...values].flatMap(([node, value]) => inquiry.scene.said(node, value));
  return said.length === 0 ? "" : `, for example when ${said.join(", ")}`;
}
