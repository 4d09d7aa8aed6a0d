// Why whatever has a name is as it is: not outputs alone, but what they rest on, and the rules that ask them.
import type { Run } from "../engine/index.js";
import { type Condition, type Guard, type Profile, type Rule, type Sentence, thingsIn } from "../house/index.js";
import { writeExpression, writeNeverTogether, writePermit, writeSentence } from "../language/index.js";
import { profileAt } from "../time/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";
import { lacking } from "./lacking.js";
import { sayInstant } from "./moments.js";
import { sayPause, why } from "./why.js";

/** Names that can be asked about, in the order of a house. */
export function askable(house: Run["past"]["house"]): string[] {
  const { sensors, outputs, dials, modes, groups, lets, countdowns, schedules, profiles, rules, guards } = house;
  return [outputs, groups, sensors, dials, modes, lets, countdowns, schedules, profiles, rules, guards]
    .flat()
    .map(({ name }) => name);
}

/**
 * Why an output, each of a group, a sensor, a dial, a mode, a let, a countdown, a schedule, a profile, a rule or a guard is as
 * it is at an instant of a run.
 * @throws RangeError when the house has nothing of that name, or `at` lies outside the run
 */
export function whyAnything(run: Run, name: string, at: number): Explanation {
  const { house } = run.past;
  if (house.outputs.some((one) => one.name === name)) return why(run, name, at);
  if (at < run.from || at > run.to) throw new RangeError(`instant ${at} is outside the run, ${run.from} to ${run.to}`);
  const narrator = new Narrator(run, at);
  const rule = house.rules.find((one) => one.name === name);
  if (rule) return ofRule(rule, run, narrator);
  const group = house.groups.find((one) => one.name === name);
  if (group)
    return explanation(
      `${name}: ${group.members.join(", ")}`,
      group.members.map((member) => whyAnything(run, member, at)),
    );
  const profile = house.profiles.find((one) => one.name === name);
  if (profile) return ofProfile(profile, narrator);
  const guard = house.guards.find((one) => one.name === name);
  if (guard) return ofGuard(guard, narrator);
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

/** By which of its points it goes, and until when. */
function ofProfile({ name, days, ramped }: Profile, narrator: Narrator): Explanation {
  const is = `${name} is ${narrator.reading({ kind: "value", of: name })}`;
  const stretch = profileAt(days, { clock: narrator.clock, place: narrator.house.place }, narrator.at);
  if (!stretch) return explanation(is);
  const when = (instant: number) => sayInstant(narrator.clock, instant, narrator.at);
  const [value, next] = [writeExpression(stretch.value), writeExpression(stretch.next)];
  const since = ramped
    ? `${is}: ${value} at ${when(stretch.since)}`
    : `${name} is ${narrator.figure(stretch.value)} from ${when(stretch.since)}`;
  const then = ramped ? `, on its way to ${next} at` : `, then ${next} from`;
  const behind = thingsIn(ramped ? [stretch.value, stretch.next] : stretch.value).map(
    (one) => narrator.openLet(one) ?? explanation(`${one} is ${narrator.reading({ kind: "value", of: one })}`),
  );
  return explanation(Number.isFinite(stretch.until) ? `${since}${then} ${when(stretch.until)}` : since, behind);
}

/** What it permits now, and what not yet. */
function ofGuard({ name, title, permits, neverTogether = [] }: Guard, narrator: Narrator): Explanation {
  return explanation(title === undefined ? `guard ${name}` : `guard ${name} "${title}"`, [
    ...permits.map((permit) => explanation(writePermit(permit), standingOf(permit.onlyWhile, narrator))),
    ...neverTogether.map((one) =>
      explanation(
        writeNeverTogether(one),
        one.outputs.map((output) => explanation(`${output} is ${narrator.reading({ kind: "value", of: output })}`)),
      ),
    ),
  ]);
}

/** How a condition is met, or what it lacks. */
function standingOf(condition: Condition, narrator: Narrator): Explanation[] {
  return narrator.value(condition) === 1 ? [narrator.explain(condition)] : lacking(narrator, condition);
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
  return explanation(says, sentence.while ? standingOf(sentence.while, narrator) : []);
}
