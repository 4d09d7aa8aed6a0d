// Houses with one small mistake in them: trials that pass all the same do not look at that place.

import {
  type Bound,
  type Condition,
  type Expression,
  type Guard,
  type House,
  ifsIn,
  type Rule,
  replaceParts,
  type Sentence,
  type Trial,
  unitOfExpression,
} from "../house/index.js";
import type { SpokenOf } from "../language/index.js";
import { writeExpression, writeNeverTogether, writePermit, writeSentence, writeTrigger } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { differenceUnit, fromBase, plainMove, toBase, units } from "../units/index.js";
import { thingsRead } from "./reads.js";
import { isFound, Search } from "./search.js";
import { Settled } from "./settled.js";
import { saysSituation } from "./situation.js";

/** One mistake. */
export interface Mutant {
  readonly about: SpokenOf;
  /** As it is written, and as it is in this house. */
  readonly before: string;
  readonly after: string;
  readonly house: House;
  /** The two conditions, where one was changed: what tells them apart kills it. */
  readonly conditions?: { readonly before: Condition; readonly after: Condition };
  /** Things that the changed sentence reads or sets. */
  readonly touches: ReadonlySet<string>;
}

/** A part of a sentence and what may stand in its place. */
interface Change {
  readonly part: object;
  readonly to: unknown;
  readonly before: string;
  readonly after: string;
  readonly isCondition?: boolean;
}

/**
 * Every house with one mistake: bounds and targets moved by their tolerance, comparisons turned round, a `for` or a
 * memory dropped, a condition negated, a time of day moved by half an hour, a sentence or permit taken out.
 */
export function mutantsOf(house: House): Mutant[] {
  return [
    ...house.rules.flatMap((rule) => rule.sentences.flatMap((sentence, index) => ofSentence(house, rule, sentence, index))),
    ...house.guards.flatMap((guard) => ofGuard(house, guard)),
    ...house.lets.flatMap((one) =>
      changesIn(house, one.value).map((change) =>
        mutant(
          { kind: "thing", name: one.name },
          change,
          (value) => ({
            ...house,
            lets: house.lets.map((other) => (other === one ? { ...one, value: value(one.value) } : other)),
          }),
          new Set([one.name, ...thingsRead(one)]),
        ),
      ),
    ),
  ];
}

type Replace = <Holder>(holder: Holder) => Holder;

function mutant(
  about: SpokenOf,
  { part, to, before, after, isCondition }: Change,
  inHouse: (replace: Replace) => House,
  touches: ReadonlySet<string>,
): Mutant {
  return {
    about,
    before,
    after,
    get house() {
      return inHouse((holder) => replaceParts(holder, (one) => (one === part ? to : one)));
    },
    ...(isCondition && { conditions: { before: part as Condition, after: to as Condition } }),
    touches,
  };
}

function ofSentence(house: House, rule: Rule, sentence: Sentence, index: number): Mutant[] {
  const about: SpokenOf = { kind: "sentence", rule: rule.name, sentence: index };
  const withSentences = (sentences: readonly Sentence[]): House => ({
    ...house,
    rules: house.rules.map((other) => (other === rule ? { ...rule, sentences } : other)),
  });
  const touches = thingsRead(sentence);
  const text = writeSentence(sentence);
  const without = {
    about,
    before: text,
    after: "(taken out)",
    touches,
    get house() {
      return withSentences(rule.sentences.filter((other) => other !== sentence));
    },
  };
  const inHouse = (replace: Replace) =>
    withSentences(rule.sentences.map((other) => (other === sentence ? replace(sentence) : other)));
  return [without, ...changesOf(house, sentence).map((change) => mutant(about, change, inHouse, touches))];
}

function ofGuard(house: House, guard: Guard): Mutant[] {
  const withPermits = (permits: Guard["permits"]): House => ({
    ...house,
    guards: house.guards.map((other) => (other === guard ? { ...guard, permits } : other)),
  });
  const about: SpokenOf = { kind: "thing", name: guard.name };
  const apart = (guard.neverTogether ?? []).map(
    (one): Mutant => ({
      about,
      before: writeNeverTogether(one),
      after: "(taken out)",
      touches: new Set(one.outputs),
      get house() {
        const neverTogether = guard.neverTogether?.filter((other) => other !== one);
        const guards = house.guards.map((other) => (other === guard ? { ...guard, neverTogether } : other));
        return { ...house, guards: guards as Guard[] };
      },
    }),
  );
  const permits = guard.permits.flatMap((permit, index): Mutant[] => {
    const about: SpokenOf = { kind: "permit", guard: guard.name, permit: index };
    const touches = new Set([permit.output, ...thingsRead(permit)]);
    const inHouse = (replace: Replace) =>
      withPermits(guard.permits.map((other) => (other === permit ? { ...permit, onlyWhile: replace(permit.onlyWhile) } : other)));
    const without = {
      about,
      before: writePermit(permit),
      after: "(taken out)",
      touches,
      get house() {
        return withPermits(guard.permits.filter((other) => other !== permit));
      },
    };
    return [without, ...changesIn(house, permit.onlyWhile).map((change) => mutant(about, change, inHouse, touches))];
  });
  return [...permits, ...apart];
}

function changesOf(house: House, sentence: Sentence): Change[] {
  if (!("do" in sentence)) {
    const own = sentence.while ? changesIn(house, sentence.while) : [];
    return "keep" in sentence ? [...own, ...changesOfKeep(sentence.keep)] : own;
  }
  const conditions = sentence.when.flatMap((trigger): Change[] => {
    if (trigger.kind === "becomes true") return changesIn(house, trigger.condition);
    if (trigger.kind !== "at" || trigger.at.time.kind !== "time") return [];
    const ms = (trigger.at.time.ms + 30 * MINUTE) % (24 * 60 * MINUTE);
    const later = { ...trigger, at: { ...trigger.at, time: { kind: "time", ms } as const } };
    return [{ part: trigger, to: later, before: writeTrigger(trigger), after: writeTrigger(later) }];
  });
  const provided = sentence.provided ? changesIn(house, sentence.provided) : [];
  const branches = ifsIn(sentence.do).flatMap((step) => step.branches);
  return [...conditions, ...provided, ...branches.flatMap((one) => changesIn(house, one.if))];
}

/** The target moved by its tolerance, up and down. */
function changesOfKeep({ at, tolerance, value }: Extract<Sentence, { keep: unknown }>["keep"]): Change[] {
  if (!tolerance) return [];
  const targets = "low" in at ? [at.low, at.high] : [at];
  return targets.flatMap((target) =>
    (["plus", "minus"] as const).map((kind): Change => {
      const to: Expression = { kind, left: target, right: tolerance.below };
      const whole = writeExpression(value);
      return {
        part: target,
        to,
        before: `keep ${whole} at ${writeExpression(target)}`,
        after: `keep ${whole} at ${writeExpression(to)}`,
      };
    }),
  );
}

/** Mistakes in a condition and its parts. */
function changesIn(house: House, expression: Expression): Change[] {
  const own = variantsOf(house, expression).map(
    (to): Change => ({
      part: expression,
      to,
      before: writeExpression(expression),
      after: writeExpression(to),
      isCondition: true,
    }),
  );
  return [...own, ...conditionsWithin(expression).flatMap((part) => changesIn(house, part))];
}

function conditionsWithin(expression: Expression): Condition[] {
  switch (expression.kind) {
    case "and":
    case "or":
      return [...expression.of];
    case "not":
      return [expression.of];
    case "for":
    case "in the last":
      return [expression.condition];
    case "until":
      return [expression.condition, expression.reset];
    case "if":
      return [expression.condition];
    default:
      return [];
  }
}

const turned: Readonly<Record<Bound, Bound>> = { above: "below", below: "above", "at least": "at most", "at most": "at least" };

function variantsOf(house: House, expression: Expression): Expression[] {
  switch (expression.kind) {
    case "above":
    case "below":
    case "at least":
    case "at most":
      return [{ ...expression, kind: turned[expression.kind] }, ...movedBounds(house, expression)];
    case "for":
    case "in the last":
      return [expression.condition];
    case "until":
      return [expression.condition];
    case "is":
    case "value":
    case "during":
    case "clock between":
    case "running":
      return [{ kind: "not", of: expression }];
    case "not":
      // What is not said of what it denies is said there.
      return [];
    default:
      return [];
  }
}

/** A plain difference to either side. */
function movedBounds(house: House, bound: Extract<Expression, { kind: Bound }>): Expression[] {
  const { right } = bound;
  const unit = unitOfExpression(house, bound.left) || unitOfExpression(house, right);
  if (right.kind === "word" || right.kind === "time" || right.kind === "date" || unit === "") return [];
  const far = plainMove(right.kind === "number" ? toBase(right) : Number.NaN, unit);
  return ([-1, 1] as const).map((sign) => ({ ...bound, right: movedBy(right, sign * far, unit) }));
}

function movedBy(right: Expression, far: number, unit: keyof typeof units): Expression {
  if (right.kind === "number") {
    const value = Math.round(fromBase(toBase(right) + far, right.unit) * 1e6) / 1e6;
    return { ...right, value };
  }
  const difference = differenceUnit(unit);
  const by: Expression = {
    kind: "number",
    value: Math.round((Math.abs(far) / units[difference].factor) * 1e6) / 1e6,
    unit: difference,
  };
  return { kind: far < 0 ? "minus" : "plus", left: right, right: by };
}

/** Trials in the order in which they are likely to find a mistake: those that speak of what it touches before all others. */
export function trialsAgainst({ touches }: Mutant, trials: readonly Trial[]): Trial[] {
  const speaksOf = (trial: Trial) => [...thingsRead(trial)].some((name) => touches.has(name));
  const near = trials.filter(speaksOf);
  return [...near, ...trials.filter((trial) => !near.includes(trial))];
}

/** Where a mutant does otherwise than the house: `at 10:07 …` as a line of a timeline, or `where …`; nothing where none is known. */
export function distinguishes(house: House, { conditions }: Mutant): string | undefined {
  if (!conditions) return undefined;
  const { before, after } = conditions;
  if (before.kind === "for")
    return `in which \`${writeExpression(before.condition)}\` lasts less than ${writeExpression(before.duration)}`;
  if (before.kind === "in the last")
    return `that looks within ${writeExpression(before.duration)} after \`${writeExpression(before.condition)}\` ended`;
  if (before.kind === "until")
    return `in which \`${writeExpression(before.condition)}\` has ended and \`${writeExpression(before.reset)}\` is not true yet`;
  const settled = new Settled(house);
  const search = new Search(settled);
  const nodes = [settled.node(before), settled.node(after)] as const;
  for (const wanted of [true, false]) {
    const found = search.find([
      { node: nodes[0], wanted },
      { node: nodes[1], wanted: !wanted },
    ]);
    if (isFound(found)) return saysSituation(settled, found);
  }
  return undefined;
}
