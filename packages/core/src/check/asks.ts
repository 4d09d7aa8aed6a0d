// What rules ask of outputs: each sentence and step as one claim, with all that must hold for it.
import {
  bandOf,
  baseOf,
  branchCondition,
  type Condition,
  type EventSentence,
  type Expression,
  fullOf,
  type House,
  type Keep,
  type Rule,
  reachOf,
  type Standing,
  type Step,
  standings,
  stepsIn,
  type Trigger,
  targetsOf,
} from "../house/index.js";
import type { SpokenOf } from "../language/index.js";
import { expressionOf } from "../trial/index.js";

/** A sentence or step that asks an output for a value. */
export interface Ask {
  readonly rule: Rule;
  readonly sentence: number;
  readonly output: string;
  readonly standing: Standing;
  /** Held while its condition holds; else asked by a step: for a time, or permanently. */
  readonly way: "held" | "for a time" | "for good";
  readonly value: Expression;
  /** All that must hold: `while` and the band of a `keep`, or `provided` and the branches a step stands in. */
  readonly conditions: readonly Condition[];
  /** Of a step. */
  readonly event?: EventSentence;
  readonly step?: Step;
  readonly keep?: { readonly keep: Keep; readonly way: "raise" | "lower" };
  readonly about: SpokenOf;
}

const zero: Expression = { kind: "number", value: 0, unit: "K" };

/** A fixed value that is asked for: a word, or a number in the unit it is written in. */
export function constantOf({ value }: Ask): string | number | undefined {
  if (value.kind === "word") return value.word;
  return value.kind === "number" ? value.value : undefined;
}

/** The smaller, the stronger: by its standing. */
export function strength({ standing }: Ask): number {
  return standings.indexOf(standing);
}

/** Everything that is asked of outputs, rule by rule in the order written. */
export function asksOf(house: House): Ask[] {
  // One on watch asks for nothing.
  const asking = house.rules.filter(({ standing }) => standing !== "watch");
  return asking.flatMap((rule) => rule.sentences.flatMap((_, sentence) => asksOfSentence(house, rule, sentence)));
}

function asksOfSentence(house: House, rule: Rule, index: number): Ask[] {
  const sentence = rule.sentences[index] as Rule["sentences"][number];
  const own = { rule, sentence: index, standing: rule.standing };
  if ("do" in sentence) return asksOfEvent(house, sentence, own);
  const state = { ...own, way: "held" as const };
  const conditions = sentence.while ? conjuncts(sentence.while) : [];
  const target = (output: string): SpokenOf => ({ kind: "target", rule: rule.name, sentence: index, output });
  if ("hold" in sentence)
    return sentence.hold.map(({ output, value }) => ({ ...state, output, value, conditions, about: target(output) }));
  if ("cycle" in sentence)
    return sentence.cycle.outputs.map((output) => ({
      ...state,
      output,
      value: fullValue(house, output),
      conditions,
      about: target(output),
    }));
  const { keep } = sentence;
  return (["raise", "lower"] as const).flatMap((way) => {
    const drive = way === "raise" ? keep.raiseWith : keep.lowerWith;
    const about: SpokenOf = { kind: "drive", rule: rule.name, sentence: index, way };
    const band = drive?.proportion ? [] : [bandOf(keep, way)];
    return (drive?.outputs ?? []).map((output) => ({
      ...state,
      output,
      value: drive?.proportion && !drive.proportion.cycle ? following(house, output, keep, way) : fullValue(house, output),
      conditions: [...conditions, ...band],
      keep: { keep, way },
      about,
    }));
  });
}

/** What an output in proportion is asked for: nothing at the target, all of its range at the end of the distance. */
function following(house: House, output: string, keep: Keep, way: "raise" | "lower"): Expression {
  const over = (way === "raise" ? keep.raiseWith : keep.lowerWith)?.proportion?.over ?? zero;
  const [low, high] = targetsOf(keep);
  const all: Expression = way === "raise" ? { kind: "minus", left: low, right: over } : { kind: "plus", left: high, right: over };
  const found = house.outputs.find(({ name }) => name === output);
  const reach = found && reachOf(found);
  if (found?.type.kind !== "number" || !reach) return { kind: "unknown" };
  const { unit } = found.type;
  const [bottom, top] = reach.map((value): Expression => ({ kind: "number", value, unit })) as [Expression, Expression];
  return {
    kind: "scale",
    value: keep.value,
    from: { low: way === "raise" ? low : high, high: all },
    to: { low: bottom, high: top },
  };
}

function asksOfEvent(house: House, event: EventSentence, own: Pick<Ask, "rule" | "sentence" | "standing">): Ask[] {
  const provided = event.provided ? conjuncts(event.provided) : [];
  const about: SpokenOf = { kind: "steps", rule: own.rule.name, sentence: own.sentence };
  return stepsIn(event.do).flatMap(({ step, within }) => {
    const conditions = [...provided, ...within.flatMap((one) => conjuncts(branchCondition(one.step, one.branch)))];
    return settingsOf(house, step).map((setting) => ({ ...own, ...setting, conditions, event, step, about }));
  });
}

/** What an output is asked for by what keeps it on, or doses; unknown where it has no such value. */
export function fullValue(house: House, name: string): Expression {
  const output = house.outputs.find((one) => one.name === name);
  const full = output && fullOf(output);
  return output === undefined || full === undefined ? { kind: "unknown" } : expressionOf(baseOf(full, output.type), output.type);
}

/** What a step asks of outputs. */
function settingsOf(house: House, step: Step): Pick<Ask, "output" | "value" | "way">[] {
  const isOutput = (name: string) => house.outputs.some((output) => output.name === name);
  switch (step.kind) {
    case "set":
      if (!isOutput(step.name)) return [];
      return [{ output: step.name, value: step.to, way: step.for || step.until ? "for a time" : "for good" }];
    case "ramp":
      return step.outputs.map((output) => ({ output, value: step.to, way: "for a time" as const }));
    case "dose":
      return [{ output: step.output, value: fullValue(house, step.output), way: "for a time" }];
    case "apply": {
      const preset = house.presets.find(({ name }) => name === step.preset);
      return (preset?.targets ?? [])
        .filter(({ output }) => isOutput(output))
        .map(({ output, value }) => ({ output, value, way: step.for || step.until ? "for a time" : "for good" }));
    }
    default:
      return [];
  }
}

/** The parts that must all hold. */
export function conjuncts(condition: Condition): readonly Condition[] {
  return condition.kind === "and" ? condition.of.flatMap(conjuncts) : [condition];
}

export function allOf(conditions: readonly Condition[]): Condition | undefined {
  return conditions.length < 2 ? conditions[0] : { kind: "and", of: conditions };
}

/** The conditions whose becoming true fires a trigger. */
export function risingOf(triggers: readonly Trigger[]): Condition[] {
  return triggers.flatMap((trigger) => (trigger.kind === "becomes true" ? [trigger.condition] : []));
}
