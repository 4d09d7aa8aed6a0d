// A permanent request that nothing ever takes back.

import { type Condition, type House, offPartOf, restOf, type Step, standings, stepsIn } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { HOUR, MINUTE } from "../time/index.js";
import type { Situation } from "../trial/index.js";
import { type Ask, allOf, constantOf, strength } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import type { Stage } from "./scene.js";

export function noWayBack(inquiry: Inquiry): Draft[] {
  return [...setForGood(inquiry), ...toggledForGood(inquiry), ...endless(inquiry), ...neverAtRest(inquiry)];
}

/** A toggle that is stronger than what holds the output: on or off, it never follows that again. */
function toggledForGood({ house, asks }: Inquiry): Draft[] {
  return house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence, place) => {
      if (!("do" in sentence)) return [];
      return stepsIn(sentence.do).flatMap(({ step }): Draft[] => {
        if (step.kind !== "toggle" || isReleased(house, step.name)) return [];
        const outdone = asks.find(
          (ask) => ask.output === step.name && ask.way === "held" && strength(ask) > standings.indexOf(rule.standing),
        );
        if (!outdone) return [];
        return [
          {
            code: "no-way-back",
            about: { kind: "steps", rule: rule.name, sentence: place },
            reason: `${rule.name} toggles ${step.name} permanently, and is stronger than ${outdone.rule.name}, which then never takes effect again.`,
            remedy: `End it somewhere with \`release ${step.name}\`, or write \`set ${step.name} to … for 10 min\`.`,
            related: [{ about: outdone.about, says: outdone.rule.name }],
          },
        ];
      });
    }),
  );
}

function isReleased(house: House, output: string): boolean {
  return house.rules.some(({ sentences }) =>
    sentences.some(
      (sentence) =>
        "do" in sentence && stepsIn(sentence.do).some(({ step }) => step.kind === "release" && step.output === output),
    ),
  );
}

/** A memory whose end can never come: a purifier that runs for ever. */
function endless(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask) =>
    ask.way !== "held" || ask.keep
      ? []
      : ask.conditions.flatMap((condition): Draft[] => {
          if (condition.kind !== "until" || condition.atMost || !inquiry.neverHold([condition.reset])) return [];
          const [sensor] = inquiry.measuredIn(condition.reset);
          const range =
            sensor?.range && sensor.type.kind === "number"
              ? `: ${sensor.name} is ${sensor.range[0]}..${sensor.range[1]} ${sensor.type.unit}`
              : "";
          return [
            {
              code: "no-way-back",
              about: ask.about,
              reason: `Once \`${writeExpression(condition.condition)}\` has been true, ${ask.output} stays at ${writeExpression(ask.value)}: \`${writeExpression(condition.reset)}\` is never true${range}.`,
              remedy: "Use an end that can be reached.",
            },
          ];
        }),
  );
}

function setForGood(inquiry: Inquiry): Draft[] {
  const { house, asks } = inquiry;
  return house.outputs.flatMap((output) => {
    const lasting = asks.filter((ask) => ask.output === output.name && ask.way === "for good");
    const [first] = lasting;
    const rest = restOf(output);
    const values = new Set(lasting.map(({ value }) => writeExpression(value)));
    const value = first && constantOf(first);
    if (!first || values.size > 1 || value === undefined || takenBack(house, output.name)) return [];
    if (value !== rest) return [ofOutput(inquiry, first, output.name)];
    // Permanently at rest is a way back, but for what a weaker rule asks for.
    const outdone = asks.find((ask) => ask.output === output.name && strength(ask) > strength(first) && ask.way !== "for good");
    return outdone ? [ofTakeover(inquiry, first, outdone)] : [];
  });
}

/** An output that stays as it is where nobody asks, and is asked for one state alone: once in it, it never leaves it. */
function neverAtRest(inquiry: Inquiry): Draft[] {
  const { house, asks, scene } = inquiry;
  return house.outputs.flatMap((output): Draft[] => {
    const { name, type } = output;
    const own = asks.filter((ask) => ask.output === name);
    const [first] = own;
    const isGuarded = house.guards.some(({ permits }) => permits.some((permit) => permit.output === name));
    if (!first || type.kind !== "words" || restOf(output) !== undefined || isGuarded || takenBack(house, name)) return [];
    const value = constantOf(first);
    // What is set for good is another finding, and what is held always needs no rest.
    if (value === undefined || own.some((ask) => constantOf(ask) !== value || ask.way === "for good")) return [];
    if (own.some(({ way, conditions }) => way === "held" && conditions.length === 0)) return [];
    // A `keep` alone asks for its off part too, as long as its `while` holds.
    const closing = own.find(({ keep }) => keep && offPartOf(keep.keep, output) !== undefined);
    if (closing?.conditions.length === 1) return [];
    const begins = first.event
      ? inquiry.firing(first.event, first.conditions, name)
      : stagesOf(scene.find(first.conditions, { of: name }), inquiry);
    const condition = { kind: "is", left: { kind: "value", of: name }, right: first.value } as const;
    const whole = allOf(first.conditions);
    // What is held has to be shown to stay once its condition is over.
    const over = begins && !first.event && whole ? endOf(first.conditions, begins.at + HOUR, inquiry) : undefined;
    const shows =
      begins &&
      (first.event || over) &&
      scene.shows(
        `${name} is still ${value} a day later`,
        [...begins.stages, ...(over ? [over] : [])],
        [
          { claim: "always", condition, from: begins.at + MINUTE, to: begins.at + 24 * HOUR },
          ...(over && whole ? [{ claim: "never", condition: whole, from: over.at + MINUTE } as const] : []),
        ],
      );
    const other = type.words.length === 2 ? type.words.find((word) => word !== value) : "…";
    return [
      {
        code: "no-way-back",
        about: first.about,
        reason: closing
          ? `Where ${closing.rule.name} no longer applies, ${name} stays as it is, even ${value}: it has no at-rest value, and nothing else asks for it.`
          : `Once ${first.rule.name} has had ${name} at ${value}, it stays there: ${name} has no at-rest value, and nothing asks for another.`,
        remedy: `Add to its declaration: \`at rest ${other}\`.`,
        ...(shows && { shows }),
      },
    ];
  });
}

/** A situation in which the first of some conditions is over: one with an `until` by its end. */
function endOf([first]: readonly Condition[], at: number, { scene }: Inquiry): Stage | undefined {
  if (!first) return undefined;
  return first.kind === "until" ? scene.find([first.reset], { at }) : scene.find([], { not: [first], at });
}

function stagesOf(situation: Situation | undefined, { scene }: Inquiry) {
  return situation && { stages: scene.leadingTo(situation), at: situation.at };
}

/** Whether some step releases it, or moves it from where it is. */
function takenBack(house: House, output: string): boolean {
  const moves = (step: Step) => {
    if (step.kind === "ramp") return step.outputs.includes(output);
    if (step.kind === "release") return step.output === output;
    return (step.kind === "toggle" || step.kind === "raise" || step.kind === "lower") && step.name === output;
  };
  return house.rules.some(({ sentences }) =>
    sentences.some((sentence) => "do" in sentence && stepsIn(sentence.do).some(({ step }) => moves(step))),
  );
}

/** An urgent `off` that the rules of every day never come back from. */
function ofTakeover(inquiry: Inquiry, ask: Ask, outdone: Ask): Draft {
  const { scene } = inquiry;
  const { output } = ask;
  const value = writeExpression(ask.value);
  const wanted = scene.find(outdone.conditions, { of: output });
  const fired = ask.event && inquiry.firing(ask.event, [...ask.conditions, ...outdone.conditions], output);
  const condition = { kind: "is", left: { kind: "value", of: output }, right: ask.value } as const;
  const from = (fired?.at ?? 0) + MINUTE;
  const shows =
    fired &&
    wanted &&
    scene.shows(
      `${output} is still ${value} a day later`,
      [...fired.stages, { at: fired.at + HOUR, values: wanted.values }],
      [{ claim: "always", condition, from, to: from + 23 * HOUR }],
    );
  return {
    code: "no-way-back",
    about: ask.about,
    reason: `${ask.rule.name} sets ${output} to ${value} permanently, and is stronger than ${outdone.rule.name}, which then never takes effect again.`,
    remedy: `Give it a time, \`for 10 min\`, or end it somewhere with \`release ${output}\`.`,
    related: [{ about: outdone.about, says: outdone.rule.name }],
    ...(shows && { shows }),
  };
}

function ofOutput(inquiry: Inquiry, ask: Ask, output: string): Draft {
  const value = writeExpression(ask.value);
  const fired = ask.event && inquiry.firing(ask.event, ask.conditions, output);
  const [before] = fired?.stages ?? [];
  const stages = fired && before ? [...fired.stages, { ...before, at: fired.at + HOUR }] : [];
  const condition = { kind: "is", left: { kind: "value", of: output }, right: ask.value } as const;
  const from = (fired?.at ?? 0) + MINUTE;
  const shows =
    fired &&
    inquiry.scene.shows(`${output} is still ${value} a day later`, stages, [
      { claim: "always", condition, from, to: from + 23 * HOUR },
    ]);
  return {
    code: "no-way-back",
    about: ask.about,
    reason: `${ask.rule.name} sets ${output} to ${value} permanently, and nothing ever reverses that.`,
    remedy: `Write it as a state, \`while … hold ${output} at ${value}\`, which ends by itself; or give it a time, \`for 10 min\`; or write \`release ${output}\` elsewhere.`,
    ...(shows && { shows }),
  };
}
