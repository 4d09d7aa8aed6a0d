// Why a person was told something.
import type { Run } from "../engine/index.js";
import type { EventSentence, Rule } from "../house/index.js";
import { writeTrigger } from "../language/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";

/** A notice of a run, in the order in which they came. */
export interface ToldNotice {
  readonly at: number;
  readonly text: string;
  readonly through?: string;
}

/** What was told in a run, from its beginning to its end. */
export function noticesOf({ journal, from, to }: Run): ToldNotice[] {
  return journal.records.flatMap(({ event, at }) => {
    if (event.kind !== "notice" || at < from || at > to) return [];
    return [{ at, text: event.text, ...(event.through !== undefined && { through: event.through }) }];
  });
}

/**
 * Why a notice was told: the rule, what started it and what was provided then.
 * @param number which of the notices of the run, from 1
 * @throws RangeError when the run has no such notice
 */
export function whyNotice(run: Run, number: number): Explanation {
  const { records } = run.journal;
  const told = records.filter(({ event, at }) => event.kind === "notice" && at >= run.from && at <= run.to);
  const record = told[number - 1];
  if (record?.event.kind !== "notice") throw new RangeError(`the run has no notice ${number}, only ${told.length}`);
  const narrator = new Narrator(run, record.at);
  const clock = new Narrator(run, run.from);
  const through = record.event.through === undefined ? "" : ` through ${record.event.through}`;
  const head = `notice ${number}, at ${clock.when(record.at)}${through}: "${record.event.text}"`;
  const step = record.causes.map((id) => records[id]).find((one) => one?.event.kind === "step");
  if (step?.event.kind !== "step") return explanation(head);
  const { rule: name, sentence } = step.event;
  const rule = run.program.house.rules.find((one) => one.name === name) as Rule;
  const event = rule.sentences[sentence] as EventSentence;
  const trigger = step.causes.map((id) => records[id]).find((one) => one?.event.kind === "trigger");
  const title = rule.title === undefined ? "" : ` "${rule.title}"`;
  const started = trigger
    ? `rule ${name}${title} was started at ${narrator.when(trigger.at)}`
    : `rule ${name}${title} was run by hand`;
  return explanation(head, [explanation(started, trigger ? startedBy(run, event, trigger.at) : [])]);
}

/** The triggers that were true then, and what was provided. */
function startedBy(run: Run, { when, provided }: EventSentence, at: number): Explanation[] {
  const then = new Narrator(run, at);
  const fired = when.flatMap((trigger): Explanation[] => {
    if (trigger.kind !== "becomes true") return when.length === 1 ? [explanation(`when ${writeTrigger(trigger)}`)] : [];
    return then.value(trigger.condition) === 1 ? [then.explain(trigger.condition)] : [];
  });
  const others = fired.length > 0 ? fired : [explanation(`when ${when.map(writeTrigger).join(" or when ")}`)];
  return [...others, ...(provided ? [explanation("provided", [then.explain(provided)])] : [])];
}
