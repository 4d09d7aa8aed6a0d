// Why whatever has a name is as it is: not outputs alone, but what they rest on, and the rules that ask them.
import type { Run } from "../engine/index.js";
import type { Rule, Sentence } from "../house/index.js";
import { writeSentence } from "../language/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";
import { lacking } from "./lacking.js";
import { sayPause, why } from "./why.js";

/** Names that can be asked about, in the order of a house. */
export function askable({ sensors, outputs, dials, modes, lets, countdowns, schedules, rules }: Run["past"]["house"]): string[] {
  return [outputs, sensors, dials, modes, lets, countdowns, schedules, rules].flat().map(({ name }) => name);
}

/**
 * Why an output, a sensor, a dial, a mode, a let, a countdown, a schedule or a rule is as it is at an instant of a run.
 * @throws RangeError when the house has nothing of that name, or `at` lies outside the run
 */
export function whyAnything(run: Run, name: string, at: number): Explanation {
  const { house } = run.past;
  if (house.outputs.some((one) => one.name === name)) return why(run, name, at);
  if (at < run.from || at > run.to) throw new RangeError(`instant ${at} is outside the run, ${run.from} to ${run.to}`);
  const narrator = new Narrator(run, at);
  const rule = house.rules.find((one) => one.name === name);
  if (rule) return ofRule(rule, run, narrator);
  const found = narrator.openLet(name);
  if (found) return found;
  if (house.schedules.some((one) => one.name === name)) return narrator.explain({ kind: "during", schedule: name });
  if (house.countdowns.some((one) => one.name === name)) return narrator.explain({ kind: "running", countdown: name });
  const sensor = house.sensors.find((one) => one.name === name);
  const isThing = sensor || [...house.dials, ...house.modes].some((one) => one.name === name);
  if (!isThing) throw new RangeError(`the house has nothing called "${name}"`);
  if (sensor?.type.kind === "press") return narrator.explain({ kind: "pressed", sensor: name });
  const says = `${name} is ${narrator.reading({ kind: "value", of: name })}, since ${narrator.when(narrator.since({ kind: "value", of: name }))}`;
  return explanation(says, sensor && narrator.isUnknown(name) ? [explanation(ofSilence(name, run, narrator))] : []);
}

function ofSilence(name: string, run: Run, narrator: Narrator): string {
  const known = run.past
    .problems(run.from, narrator.at)
    .findLast(({ code, text }) => code === "silent" && text.startsWith(`${name} `));
  return known === undefined ? "it has not sent a valid reading yet" : known.text;
}

/** What each sentence of a rule asks for, and what it rests on or lacks. */
function ofRule({ name, title, sentences }: Rule, run: Run, narrator: Narrator): Explanation {
  const says = title === undefined ? `rule ${name}` : `rule ${name} "${title}"`;
  const paused = run.past.paused(name, narrator.at);
  return explanation(says, [
    ...(paused ? [explanation(sayPause(name, paused.until, narrator))] : []),
    ...sentences.map((sentence, index) => ofSentence(sentence, index, name, run, narrator)),
  ]);
}

function ofSentence(sentence: Sentence, index: number, rule: string, run: Run, narrator: Narrator): Explanation {
  const says = writeSentence(sentence);
  if ("do" in sentence) {
    const started = run.past.lastOf("trigger", rule, index, narrator.at);
    const last = started === undefined ? "nothing has triggered it" : `last triggered at ${narrator.when(started)}`;
    return explanation(says, [explanation(last), ...(sentence.provided ? lacking(narrator, sentence.provided) : [])]);
  }
  if (!sentence.while) return explanation(says);
  return explanation(
    says,
    narrator.value(sentence.while) === 1 ? [narrator.explain(sentence.while)] : lacking(narrator, sentence.while),
  );
}
