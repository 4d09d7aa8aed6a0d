// What is looked at once, where it should be looked at for as long as it lasts.

import { type Condition, hasPress, type Lasting, offWordOf, onWordOf, restOf, type Step, stepsIn } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { HOUR, MINUTE } from "../time/index.js";
import { type Ask, constantOf, risingOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import type { Stage } from "./scene.js";

/** A crossing starts a run that ends by itself; the state may last, and no crossing comes again. */
export function alreadyPast(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask): Draft[] => {
    const { event, step } = ask;
    const state = event && lastingState(inquiry, event.when);
    if (!event || !state || ask.way !== "for a time" || step?.kind === "ramp" || isCovered(inquiry, ask)) return [];
    if (step?.kind === "dose" && !isMeasured(inquiry, state)) return [];
    if (endsWithState(inquiry, step, state)) return [];
    const ends = endOf(inquiry, ask);
    const fired = inquiry.firing(event, ask.conditions, ask.output);
    const shows =
      fired &&
      ends !== undefined &&
      inquiry.scene.shows(
        `Still true, and ${ask.output} is no longer ${writeExpression(ask.value)}`,
        fired.stages,
        [
          { claim: "holds", condition: state, at: fired.at + ends + MINUTE },
          { claim: "never", condition: isAt(ask), from: fired.at + ends + MINUTE, to: fired.at + ends + 3 * HOUR },
        ],
        fired.at + ends + 3 * HOUR,
      );
    const always = stateOf(step, state);
    const request =
      step?.kind === "dose"
        ? `gives ${ask.output} one dose`
        : `sets ${ask.output} to ${writeExpression(ask.value)}${step?.kind === "set" && step.for ? ` for ${writeExpression(step.for)}` : ""}`;
    return [
      {
        code: "already-past",
        about: { kind: "sentence", rule: ask.rule.name, sentence: ask.sentence },
        reason: `${ask.rule.name} ${request} when \`${writeExpression(state)}\` becomes true. If it is still true after that, nothing happens until it has been false once.`,
        remedy: always
          ? `Write it as a state: \`while ${writeExpression(always)} hold ${ask.output} at ${writeExpression(ask.value)}\`.`
          : `Check again and again: \`when every 1 h, provided ${writeExpression(state)} do { … }\`.`,
        ...(shows && { shows }),
      },
    ];
  });
}

/** How long what a step sets lasts. */
function lastingOf(step: Step | undefined): Lasting {
  return step?.kind === "set" || step?.kind === "apply" ? step : {};
}

/** The state that asks for the same as a step does, for as long as it lasts; none for a dose. */
function stateOf(step: Step | undefined, state: Condition): Condition | undefined {
  const { for: duration, until } = lastingOf(step);
  if (duration) return { kind: "in the last", condition: state, duration };
  return until?.kind === "state" ? { kind: "until", condition: state, reset: until.condition } : undefined;
}

/** What lasts until the state is over leaves nothing out. */
function endsWithState(inquiry: Inquiry, step: Step | undefined, state: Condition): boolean {
  const { until, atMost } = lastingOf(step);
  return until?.kind === "state" && !atMost && inquiry.neverHold([state, until.condition]);
}

/** A state that may last: what a trigger waits for, unless it is a press or a change. */
function lastingState(inquiry: Inquiry, when: NonNullable<Ask["event"]>["when"]): Condition | undefined {
  // A trigger that comes again and again covers what was missed.
  if (when.some(({ kind }) => kind !== "becomes true")) return undefined;
  return risingOf(when).find((condition) => !hasPress(condition) && inquiry.sensorsIn(condition).length > 0);
}

function isMeasured(inquiry: Inquiry, condition: Condition): boolean {
  return inquiry.measuredIn(condition).length > 0;
}

/** Whether a state sentence, or a permanent step, asks for the same. */
function isCovered(inquiry: Inquiry, ask: Ask): boolean {
  return inquiry.asks.some(
    (other) =>
      other.output === ask.output &&
      other.way !== "for a time" &&
      (other.event === undefined || other.event === ask.event) &&
      writeExpression(other.value) === writeExpression(ask.value),
  );
}

/** Longer than any dose of a house runs. */
const DOSE = 10 * MINUTE;

/** How long after its start a request is over, in milliseconds; a dose well before its time here. */
function endOf({ scene }: Inquiry, { step }: Ask): number | undefined {
  if (step?.kind === "dose") return DOSE;
  const { for: duration, atMost = duration } = lastingOf(step);
  const lasts = atMost ? scene.figure(atMost) : Number.NaN;
  return Number.isFinite(lasts) ? lasts : undefined;
}

const isAt = ({ output, value }: Ask): Condition => ({ kind: "is", left: { kind: "value", of: output }, right: value });

/** Switched on by one moment of the clock and off by another: a house that starts between them has missed the first. */
export function startsInTheMiddle(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask): Draft[] => {
    const { event } = ask;
    if (!event || ask.way !== "for good" || !byTheClock(event) || startsToo(inquiry, ask)) return [];
    const setsBack = inquiry.asks.some(
      (one) =>
        one.output === ask.output &&
        one.event &&
        one.event !== event &&
        byTheClock(one.event) &&
        writeExpression(one.value) !== writeExpression(ask.value),
    );
    const output = inquiry.house.outputs.find(({ name }) => name === ask.output);
    if (!setsBack || (output && restOf(output) === constantOf(ask))) return [];
    const fired = inquiry.firing(event, ask.conditions, ask.output);
    const at = (fired?.at ?? 0) + MINUTE;
    const shows =
      fired &&
      inquiry.scene.shows(
        `Started a minute later, ${ask.output} is not ${writeExpression(ask.value)}`,
        fired.stages.slice(0, 1).map((stage) => ({ ...stage, at })),
        [{ claim: "never", condition: isAt(ask) }],
        at + HOUR,
      );
    const [trigger] = event.when;
    return [
      {
        code: "already-past",
        about: { kind: "sentence", rule: ask.rule.name, sentence: ask.sentence },
        reason: `${ask.rule.name} sets ${ask.output} at one time and back at another. A house that starts in between has missed the first.`,
        remedy:
          trigger?.kind === "begins"
            ? `Write it as a state: \`while during ${trigger.schedule} hold ${ask.output} at ${writeExpression(ask.value)}\`.`
            : `Write it as a state: \`while clock from … to … hold ${ask.output} at ${writeExpression(ask.value)}\`.`,
        ...(shows && { shows }),
      },
    ];
  });
}

function byTheClock({ when }: NonNullable<Ask["event"]>): boolean {
  return when.every(({ kind }) => kind === "at" || kind === "begins" || kind === "ends");
}

/** Whether something else sets the same at a start, or holds it. */
function startsToo(inquiry: Inquiry, ask: Ask): boolean {
  return inquiry.asks.some(
    (other) =>
      other.output === ask.output &&
      writeExpression(other.value) === writeExpression(ask.value) &&
      (other.event === undefined || other.event.when.some(({ kind }) => kind === "the house starts")),
  );
}

/** What is provided, or chosen by, at a crossing may become true later: then nothing looks at it again. */
export function lookedAtOnce(inquiry: Inquiry): Draft[] {
  const seen = new Set<string>();
  return inquiry.asks.flatMap((ask): Draft[] => {
    const { event, conditions } = ask;
    if (!event || ask.way !== "for good" || conditions.length === 0) return [];
    const key = `${ask.rule.name}/${ask.sentence}`;
    const rising = risingOf(event.when).filter((condition) => !hasPress(condition));
    const lasting = rising.length === event.when.length && rising.some((one) => inquiry.sensorsIn(one).length > 0);
    const measured = conditions.some((one) => isMeasured(inquiry, one));
    const looksAgain = inquiry.asks.some(
      (other) =>
        other !== ask &&
        other.output === ask.output &&
        other.event === undefined &&
        writeExpression(other.value) === writeExpression(ask.value),
    );
    if (seen.has(key) || looksAgain || !(lasting || (measured && isStep(ask)))) return [];
    seen.add(key);
    const state = lasting ? rising[0] : undefined;
    const said = conditions.map(writeExpression).join(" and ");
    const shows = state && showsLater(inquiry, ask, state);
    const whole = [...(state ? [writeExpression(state)] : []), said].join(" and ");
    return [
      {
        code: "looked-at-once",
        about: { kind: "sentence", rule: ask.rule.name, sentence: ask.sentence },
        reason: `${ask.rule.name} checks \`${said}\` only at that moment. If it becomes true later, ${ask.output} is not set.`,
        remedy: `Write it as a state, which is checked all the time: \`while ${whole} hold ${ask.output} at ${writeExpression(ask.value)}\`.`,
        ...(shows && { shows }),
      },
    ];
  });
}

/** A run that is permitted at its start alone: what permits it, a contact, may change before the run is over. */
export function permittedOnce(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask): Draft[] => {
    const { event, output } = ask;
    if (!event || ask.way !== "for a time" || ask.step?.kind === "ramp") return [];
    const permits = ask.conditions.filter((one) => isContact(inquiry, one) && !isGuarded(inquiry, output, one));
    const [first] = permits;
    if (!first) return [];
    const said = permits.map(writeExpression).join(" and ");
    const shows = showsChange(inquiry, ask, first);
    return [
      {
        code: "looked-at-once",
        about: { kind: "sentence", rule: ask.rule.name, sentence: ask.sentence },
        reason: `${ask.rule.name} checks \`${said}\` only when it starts ${output}. If it changes during the run, the run goes on.`,
        remedy: `Use a guard, which is checked all the time: \`permit ${output} ${writeExpression(ask.value)} only while ${said}\`.`,
        ...(shows && { shows }),
      },
    ];
  });
}

/** What contacts say, and nothing measured: a level, a door. */
function isContact(inquiry: Inquiry, condition: Condition): boolean {
  const sensors = inquiry.sensorsIn(condition);
  return sensors.length > 0 && sensors.every(({ type }) => type.kind === "words" && !type.ordered) && !hasPress(condition);
}

/** Whether a guard of the output looks at one of its sensors. */
function isGuarded(inquiry: Inquiry, output: string, condition: Condition): boolean {
  const permits = inquiry.house.guards.flatMap((guard) => guard.permits.filter((permit) => permit.output === output));
  const guarded = new Set(inquiry.sensorsIn(permits));
  return inquiry.sensorsIn(condition).some((sensor) => guarded.has(sensor));
}

function showsChange(inquiry: Inquiry, ask: Ask, permit: Condition) {
  const { scene } = inquiry;
  const fired = ask.event && inquiry.firing(ask.event, ask.conditions, ask.output);
  const changed = fired && scene.find([], { not: [permit], at: fired.at });
  if (!fired || !changed) return undefined;
  const at = fired.at + 1000;
  return scene.shows(
    `${ask.output} goes on without what it was started with`,
    [...fired.stages, { at, values: changed.values }],
    [
      { claim: "never", condition: permit, from: at, to: at + 1000 },
      { claim: "always", condition: isAt(ask), from: at, to: at + 1000 },
    ],
    at + 1000,
  );
}

/** Chosen by an `if` among the steps. */
function isStep({ event, step }: Ask): boolean {
  return event !== undefined && stepsIn(event.do).some((one) => one.step === step && one.within.length > 0);
}

/** The crossing comes first, what is provided later. */
function showsLater(inquiry: Inquiry, ask: Ask, state: Condition) {
  const { scene } = inquiry;
  const both = scene.find([state, ...ask.conditions], { of: ask.output });
  if (!both) return undefined;
  const fixed = both.at;
  const crossed = scene.search.find([scene.goal(state), ...ask.conditions.slice(0, 1).map((one) => scene.goal(one, false))], {
    at: fixed - HOUR,
  });
  const before = scene.find([], { not: [state, ...ask.conditions.slice(0, 1)], at: fixed - 2 * HOUR });
  if (typeof crossed !== "object" || !before) return undefined;
  const whole = new Map([...both.values, ...crossed.values]);
  const first: Stage = { at: before.at, values: new Map([...whole, ...before.values]) };
  const wait = inquiry.longestWait(state);
  const at = fixed + wait;
  return scene.shows(
    `Both hold, and ${ask.output} is not ${writeExpression(ask.value)}`,
    [first, { at: crossed.at, values: whole }, both],
    [
      { claim: "holds", condition: state, at: at + MINUTE },
      { claim: "never", condition: isAt(ask), from: at, to: at + HOUR },
    ],
    at + HOUR,
  );
}

/** A toggle outside a button's rule does the opposite of what is meant where somebody was there before. */
export function toggles({ house, asks }: Inquiry): Draft[] {
  return house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence, index): Draft[] => {
      if (!("do" in sentence)) return [];
      const step = stepsIn(sentence.do).find((one) => one.step.kind === "toggle")?.step;
      if (step?.kind !== "toggle") return [];
      const about = { kind: "steps", rule: rule.name, sentence: index } as const;
      const output = house.outputs.find(({ name }) => name === step.name);
      if (output && restOf(output) === undefined && !asks.some((ask) => ask.output === step.name)) {
        const reason = `${rule.name} toggles ${step.name}, whose state is unknown until a person sets it: it has no at-rest value, and no rule sets it.`;
        return [{ code: "toggle", about, reason, remedy: `Add to its declaration: \`at rest ${offWordOf(output)}\`.` }];
      }
      const pressed = sentence.when.every((trigger) => trigger.kind === "becomes true" && hasPress(trigger.condition));
      if (pressed) return [];
      const setting = [...house.modes, ...house.dials].find(({ name }) => name === step.name);
      const [first = "on"] = setting?.type.kind === "words" ? setting.type.words : [];
      const on = (output && onWordOf(output)) ?? first;
      const reason = `${rule.name} toggles ${step.name}. If someone has already switched it, this does the opposite of what you want.`;
      const remedy = `Set the value instead: \`set ${step.name} to ${on}\`. Keep \`toggle\` for buttons.`;
      return [{ code: "toggle", about, reason, remedy }];
    }),
  );
}
