// What a house wants of its values: by `keep`, by two points, or only by turns.
import {
  type Condition,
  type CycleSentence,
  type Expression,
  type House,
  isBound,
  isIn,
  isUp,
  type Keep,
  type Sensor,
  type Sentence,
} from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { type Dimension, dimensionOf } from "../units/index.js";
import type { Aim, CycleMeasure } from "./measures.js";

const nothing: Expression = { kind: "number", value: 0, unit: "" };

/** Each kept value and each pair of points of a house. */
export function aimsOf(house: House): Aim[] {
  return ofSentences(house, (sentence, rule, place) => {
    if ("keep" in sentence) return [keptBy(sentence.keep, sentence.while, rule, place)];
    const outputs =
      "hold" in sentence ? sentence.hold.map(({ output }) => output) : "cycle" in sentence ? sentence.cycle.outputs : [];
    return outputs.length === 0 || !("while" in sentence) || !sentence.while
      ? []
      : betweenPoints(sentence.while, outputs, rule, place);
  });
}

/** A `cycle` without a pair of points, and the sensor that it moves. */
export function turnsOf(house: House): {
  readonly about: Pick<CycleMeasure, "rule" | "sentence" | "value">;
  readonly applies: Expression | undefined;
  readonly outputs: readonly string[];
}[] {
  return ofSentences(house, (sentence, rule, place) => {
    if (!("cycle" in sentence)) return [];
    if (sentence.while && betweenPoints(sentence.while, sentence.cycle.outputs, rule, place).length > 0) return [];
    return movedBy(house, sentence).map((sensor) => ({
      about: { rule, sentence: place, value: { kind: "value", of: sensor.name } },
      applies: sentence.while,
      outputs: sentence.cycle.outputs,
    }));
  });
}

function ofSentences<Item>(house: House, of: (sentence: Sentence, rule: string, place: number) => readonly Item[]): Item[] {
  return house.rules.flatMap(({ name, sentences }) => sentences.flatMap((sentence, place) => of(sentence, name, place)));
}

function keptBy(keep: Keep, applies: Condition | undefined, rule: string, sentence: number): Aim {
  const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
  const { below, above } = keep.tolerance ?? { below: nothing, above: nothing };
  const drive = (outputs: readonly string[] | undefined, way: 1 | -1) => (outputs ? [{ outputs, way }] : []);
  const drives = [...drive(keep.raiseWith?.outputs, 1), ...drive(keep.lowerWith?.outputs, -1)];
  return { about: { how: "keep", rule, sentence }, value: keep.value, low, high, below, above, applies, drives };
}

/** `A below 18 °C until above 20 °C`, alone or joined by `and` with when it counts. */
function betweenPoints(when: Condition, outputs: readonly string[], rule: string, sentence: number): Aim[] {
  const joined = when.kind === "and" ? when.of : [when];
  return joined.flatMap((one, place): Aim[] => {
    if (one.kind !== "until" || !isBound(one.condition) || !isBound(one.reset)) return [];
    const { condition, reset } = one;
    const same = writeExpression(condition.left) === writeExpression(reset.left) && isUp(condition.kind) !== isUp(reset.kind);
    if (!same) return [];
    const others = joined.filter((_, other) => other !== place);
    const [low, high] = isUp(condition.kind) ? [reset.right, condition.right] : [condition.right, reset.right];
    return [
      {
        about: { how: "until", rule, sentence },
        value: condition.left,
        low,
        high,
        below: nothing,
        above: nothing,
        applies: others.length === 0 ? undefined : others.length === 1 ? (others[0] as Condition) : { kind: "and", of: others },
        drives: [{ outputs, way: isUp(condition.kind) ? -1 : 1 }],
      },
    ];
  });
}

const movedQuantities: Readonly<Record<string, Dimension>> = {
  heat: "temperature",
  water: "relative humidity",
  light: "light",
};

/** The first sensor, in the zones of its outputs, of what they give. */
function movedBy(house: House, { cycle: { outputs } }: CycleSentence): Sensor[] {
  for (const effect of house.physics.effects) {
    if ((effect.kind !== "gives" && effect.kind !== "word gives") || !outputs.includes(effect.output)) continue;
    const dimension = movedQuantities[effect.what];
    const zone = effect.output.split(".")[0] as string;
    const sensor = house.sensors.find(
      ({ name, type }) => isIn(zone, name) && type.kind === "number" && dimensionOf(type.unit) === dimension,
    );
    if (sensor) return [sensor];
  }
  return [];
}
