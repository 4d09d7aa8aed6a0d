// Why a person was told something.
import type { Run } from "../engine/index.js";
import type { EventSentence, Rule } from "../house/index.js";
import { writeTrigger } from "../language/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";
import { sayInstant } from "./moments.js";

/** A notice of a run, in the order in which they came. */
export interface ToldNotice {
  readonly at: number;
  readonly text: string;
  readonly through?: string;
}

/** What was told in a run, from its beginning to its end. */
export function noticesOf({ past, from, to }: Run): ToldNotice[] {
  return past.notices(from, to).map(({ by: _, ...told }) => told);
}

/**
 * Why a notice was told: the rule, what started it and what was provided then.
 * @param number which of the notices of the run, from 1
 * @throws RangeError when the run has no such notice
 */
export function whyNotice(run: Run, number: number): Explanation {
  const told = run.past.notices(run.from, run.to);
  const notice = told[number - 1];
  if (!notice) throw new RangeError(`the run has no notice ${number}, only ${told.length}`);
  const narrator = new Narrator(run, notice.at);
  const through = notice.through === undefined ? "" : ` through ${notice.through}`;
  const when = sayInstant(narrator.clock, notice.at, run.from);
  const head = `notice ${number}, at ${when}${through}: "${notice.text}"`;
  if (!notice.by) return explanation(head);
  const { rule: name, sentence, startedAt } = notice.by;
  const rule = run.past.house.rules.find((one) => one.name === name) as Rule;
  const event = rule.sentences[sentence] as EventSentence;
  const title = rule.title === undefined ? "" : ` "${rule.title}"`;
  const started =
    startedAt === undefined
      ? `rule ${name}${title} was run by hand`
      : `rule ${name}${title} was triggered at ${narrator.when(startedAt)}`;
  return explanation(head, [explanation(started, startedAt === undefined ? [] : startedBy(run, event, startedAt))]);
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
