// What in a house decides something: conditions with their smallest parts, branches, bounds.
import { type BoundTest, type Condition, type House, ifsIn, type Sentence, type Step } from "../house/index.js";
import type { SpokenOf } from "../language/index.js";
import { writeExpression } from "../language/index.js";

/** A condition that decides something, and where it stands. */
export interface Decision {
  readonly about: SpokenOf;
  readonly condition: Condition;
  readonly atoms: readonly Condition[];
}

/** The conditions that decide something: whether a sentence applies or fires, what a permit allows, which branch is gone. */
export function decisionsIn(house: House): Decision[] {
  const decisions: Decision[] = [];
  const add = (about: SpokenOf, condition: Condition | undefined) => {
    if (condition) decisions.push({ about, condition, atoms: atomsOf(condition) });
  };
  for (const rule of house.rules)
    rule.sentences.forEach((sentence, index) => {
      const about: SpokenOf = { kind: "sentence", rule: rule.name, sentence: index };
      for (const condition of conditionsOf(sentence)) add(about, condition);
    });
  for (const guard of house.guards)
    guard.permits.forEach(({ onlyWhile }, permit) => add({ kind: "permit", guard: guard.name, permit }, onlyWhile));
  return decisions;
}

function conditionsOf(sentence: Sentence): Condition[] {
  if (!("do" in sentence)) {
    const own = sentence.while ? [sentence.while] : [];
    return "keep" in sentence ? [...own, ...bandsOf(sentence)] : own;
  }
  const triggers = sentence.when.flatMap((trigger) => (trigger.kind === "becomes true" ? [trigger.condition] : []));
  const branches = ifsIn(sentence.do).flatMap((step) => step.branches.map((branch) => branch.if));
  return [...triggers, ...(sentence.provided ? [sentence.provided] : []), ...branches];
}

/** What makes a sentence apply, or fire. */
export function leadingConditions(sentence: Sentence): Condition[] {
  if (!("do" in sentence)) {
    const own = sentence.while ? [sentence.while] : [];
    return "keep" in sentence ? [...own, ...bandsOf(sentence).slice(0, 1)] : own;
  }
  const triggers = sentence.when.flatMap((trigger) => (trigger.kind === "becomes true" ? [trigger.condition] : []));
  return [...triggers.slice(0, 1), ...(sentence.provided ? [sentence.provided] : [])];
}

/** The two points at which a `keep` starts. */
function bandsOf({ keep }: Extract<Sentence, { keep: unknown }>): Condition[] {
  const { value, at, tolerance, raiseWith, lowerWith } = keep;
  if (!tolerance) return [];
  const [low, high] = "low" in at ? [at.low, at.high] : [at, at];
  return [
    ...(raiseWith ? [{ kind: "below", left: value, right: { kind: "minus", left: low, right: tolerance.below } } as const] : []),
    ...(lowerWith ? [{ kind: "above", left: value, right: { kind: "plus", left: high, right: tolerance.above } } as const] : []),
  ];
}

/** For each branch that it is gone, and that it is passed by. */
export function branchesIn(steps: readonly Step[]): { says: string; condition: Condition; taken: boolean }[] {
  return ifsIn(steps).flatMap((step) =>
    step.branches.flatMap((branch) => [
      { says: `\`if ${writeExpression(branch.if)}\` is taken`, condition: branch.if, taken: true },
      { says: `\`if ${writeExpression(branch.if)}\` is not taken`, condition: branch.if, taken: false },
    ]),
  );
}

/** The smallest parts that are true or false by themselves. */
function atomsOf(condition: Condition): Condition[] {
  if (condition.kind === "and" || condition.kind === "or") return condition.of.flatMap(atomsOf);
  return condition.kind === "not" ? atomsOf(condition.of) : [condition];
}

/** The whole, for values of its atoms in their order: three-valued. */
export function truthOf({ condition }: Decision, values: readonly number[]): number {
  let next = 0;
  const evaluate = (part: Condition): number => {
    if (part.kind === "not") return 1 - evaluate(part.of);
    if (part.kind !== "and" && part.kind !== "or") return values[next++] as number;
    const decisive = part.kind === "and" ? 0 : 1;
    const parts = part.of.map(evaluate);
    if (parts.includes(decisive)) return decisive;
    return parts.some((one) => Number.isNaN(one)) ? Number.NaN : 1 - decisive;
  };
  return evaluate(condition);
}

export function withAtom(condition: Condition, atom: Condition, to: Condition): Condition {
  if (condition === atom) return to;
  if (condition.kind === "not") return { kind: "not", of: withAtom(condition.of, atom, to) };
  if (condition.kind !== "and" && condition.kind !== "or") return condition;
  return { kind: condition.kind, of: condition.of.map((part) => withAtom(part, atom, to)) };
}

/** What the whole is where an atom decides it: its own truth, but for each `not` around it. */
export function isDecidedBy(condition: Condition, atom: Condition, truth: boolean): boolean {
  if (condition === atom) return truth;
  if (condition.kind === "not") return !isDecidedBy(condition.of, atom, truth);
  if (condition.kind !== "and" && condition.kind !== "or") return truth;
  const holder = condition.of.find((part) => atomsOf(part).includes(atom));
  return holder ? isDecidedBy(holder, atom, truth) : truth;
}

/** Every comparison with a number, within memories and spans too. */
export function boundsIn(condition: Condition): BoundTest[] {
  switch (condition.kind) {
    case "above":
    case "below":
    case "at least":
    case "at most":
      return condition.right.kind === "word" || condition.right.kind === "time" ? [] : [condition];
    case "and":
    case "or":
      return condition.of.flatMap(boundsIn);
    case "not":
      return boundsIn(condition.of);
    case "for":
    case "in the last":
      return boundsIn(condition.condition);
    case "until":
      return [...boundsIn(condition.condition), ...boundsIn(condition.reset)];
    default:
      return [];
  }
}
