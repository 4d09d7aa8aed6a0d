// Who may ask something of an output, in the order in which they win.
import { type House, modesMentioned, type Rule, type Sentence, type Step, standings, stepsIn, thingsIn } from "../house/index.js";

/** How an output is asked, from strongest to weakest within a standing. */
const ways = ["for a time", "held", "for good"] as const;
type Way = (typeof ways)[number];

export interface Asker {
  readonly rule: Rule;
  readonly sentence: Sentence;
  readonly way: Way;
}

export function askersOf(house: House, output: string): Asker[] {
  const askers = house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence): Asker[] => waysOf(house, sentence, output).map((way) => ({ rule, sentence, way }))),
  );
  const rank = ({ rule, way }: Asker) => standings.indexOf(rule.standing) * ways.length + ways.indexOf(way);
  return askers.sort((a, b) => rank(a) - rank(b));
}

/** Modes whose change ends a person's hand on an output, where they did not say for how long. */
export function handEndsWith(house: House, output: string): string[] {
  const rules = new Set(askersOf(house, output).map(({ rule }) => rule));
  return [...new Set([...rules].flatMap((rule) => modesMentioned(house, rule)))];
}

/** Things that the sentences which may ask something of an output look at, by their whole names. */
export function lookedAtFor(house: House, output: string): string[] {
  return thingsIn(askersOf(house, output).map(({ sentence }) => sentence));
}

function waysOf(house: House, sentence: Sentence, output: string): Way[] {
  if ("do" in sentence) return [...new Set(stepsIn(sentence.do).flatMap(({ step }) => wayOf(house, step, output)))];
  const held =
    "hold" in sentence
      ? sentence.hold.map((target) => target.output)
      : "cycle" in sentence
        ? sentence.cycle.outputs
        : [sentence.keep.raiseWith, sentence.keep.lowerWith].flatMap((drive) => drive?.outputs ?? []);
  return held.includes(output) ? ["held"] : [];
}

function wayOf(house: House, step: Step, output: string): Way[] {
  switch (step.kind) {
    case "set":
      return step.name === output ? [step.for || step.until ? "for a time" : "for good"] : [];
    case "toggle":
    case "raise":
    case "lower":
      return step.name === output ? ["for good"] : [];
    case "ramp":
      return step.outputs.includes(output) ? ["for a time"] : [];
    case "dose":
      return step.output === output ? ["for a time"] : [];
    case "apply": {
      const preset = house.presets.find(({ name }) => name === step.preset);
      return preset?.targets.some((target) => target.output === output)
        ? [step.for || step.until ? "for a time" : "for good"]
        : [];
    }
    default:
      return [];
  }
}
