// Where in the texts stands what an explanation speaks of.
import type { House, Run, Sentence } from "modrik";
import type { HouseText, SpokenOf } from "modrik/language";
import type { Link, Place } from "./messages.js";

/** Of an output: the sentence that has it so, or all that could ask for it; of all else its declaration. */
export function linksOf(text: HouseText, run: Run, name: string, at: number, isIdle: boolean): Link[] {
  const { house } = run.past;
  if (!house.outputs.some((output) => output.name === name)) return [linkTo(text, { kind: "thing", name }, name)].flat();
  const { rule, sentence, guard } = run.past.reason(name, at);
  const asking = isIdle
    ? askersIn(house, name).flatMap((one) => linkTo(text, { kind: "sentence", ...one }, `rule ${one.rule}`))
    : rule !== undefined && sentence !== undefined
      ? linkTo(text, { kind: "sentence", rule, sentence }, `rule ${rule}`)
      : [];
  const guarding = guard === undefined ? [] : linkTo(text, { kind: "thing", name: guard }, `guard ${guard}`);
  return [...asking, ...guarding];
}

/** A link, where the texts have such a place. */
export function linkTo(text: HouseText, what: SpokenOf, label: string): Link[] {
  const place = placeIn(text, what);
  return place ? [{ label: `${label}, line ${place.line}`, place }] : [];
}

export function placeIn(text: HouseText, what: SpokenOf): Place | undefined {
  const found = text.placeOf(what);
  return found && { file: found.file, from: found.from, line: found.line };
}

function askersIn(house: House, output: string): { rule: string; sentence: number }[] {
  return house.rules.flatMap(({ name: rule, sentences }) =>
    sentences.flatMap((one, sentence) => (asks(one, output) ? [{ rule, sentence }] : [])),
  );
}

function asks(one: Sentence, output: string): boolean {
  if ("hold" in one) return one.hold.some((target) => target.output === output);
  if ("cycle" in one) return one.cycle.outputs.includes(output);
  if ("keep" in one) return [one.keep.raiseWith, one.keep.lowerWith].some((drive) => drive?.outputs.includes(output));
  return JSON.stringify(one.do).includes(JSON.stringify(output));
}
