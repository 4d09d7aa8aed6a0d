// Sentences that share the values of one signal out among several outcomes: what none of them covers, and what two do.
import { type Condition, type Expression, isUp } from "../house/index.js";
import { writeExpression, writeTrigger } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { equalNumbers, fromBase } from "../units/index.js";
import { type Ask, allOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import type { Stage } from "./scene.js";

/** Where a stretch ends, in base units, whether it takes that in, and how it is written, where it is. */
interface End {
  readonly at: number;
  readonly isIn: boolean;
  readonly written?: Expression;
}

/** Values of a signal. */
interface Stretch {
  readonly low: End;
  readonly high: End;
}

const everything: Stretch = {
  low: { at: Number.NEGATIVE_INFINITY, isIn: false },
  high: { at: Number.POSITIVE_INFINITY, isIn: false },
};

interface Share {
  readonly ask: Ask;
  readonly signal: Expression;
  readonly stretch: Stretch;
  /** What else must hold. */
  readonly rest: readonly Condition[];
}

/** A gap wider than this share of its own size is meant: between day and night there is an evening. */
const NARROW = 0.05;

export function splits(inquiry: Inquiry): Draft[] {
  const groups = new Map<string, Share[]>();
  for (const ask of inquiry.asks) {
    const share = shareOf(inquiry, ask);
    if (!share) continue;
    const { event, output, way } = ask;
    const triggers = (event?.when ?? []).map(writeTrigger).join();
    const key = [output, way, triggers, writeExpression(share.signal), ...share.rest.map(writeExpression).sort()].join("|");
    groups.set(key, [...(groups.get(key) ?? []), share]);
  }
  return [...groups.values()].flatMap((shares) => ofGroup(inquiry, shares));
}

/** An ask that depends on bounds on one measured signal. */
function shareOf(inquiry: Inquiry, ask: Ask): Share | undefined {
  const { value } = ask;
  if (ask.keep || (value.kind !== "word" && value.kind !== "number" && value.kind !== "colour")) return undefined;
  let signal: Expression | undefined;
  let stretch = everything;
  const rest: Condition[] = [];
  for (const condition of ask.conditions) {
    const bound = boundOf(inquiry, condition);
    const same = bound && (!signal || writeExpression(signal) === writeExpression(bound.signal));
    if (!bound || !same) {
      rest.push(condition);
      continue;
    }
    signal = bound.signal;
    stretch = narrowed(stretch, bound.stretch);
  }
  return signal && { ask, signal, stretch, rest };
}

function boundOf(inquiry: Inquiry, condition: Condition): { signal: Expression; stretch: Stretch } | undefined {
  if (condition.kind === "not") {
    const of = boundOf(inquiry, condition.of);
    const turned = of && complement(of.stretch);
    return of && turned && { signal: of.signal, stretch: turned };
  }
  if (condition.kind === "between") {
    const [low, high] = [endAt(inquiry, condition.low, true), endAt(inquiry, condition.high, true)];
    return low && high && inquiry.measuredIn(condition.value).length > 0
      ? { signal: condition.value, stretch: { low, high } }
      : undefined;
  }
  if (condition.kind !== "above" && condition.kind !== "below" && condition.kind !== "at least" && condition.kind !== "at most")
    return undefined;
  const end = endAt(inquiry, condition.right, condition.kind === "at least" || condition.kind === "at most");
  if (!end || inquiry.measuredIn(condition.left).length === 0) return undefined;
  return { signal: condition.left, stretch: { ...everything, [isUp(condition.kind) ? "low" : "high"]: end } };
}

function endAt(inquiry: Inquiry, written: Expression, isIn: boolean): End | undefined {
  const at = inquiry.scene.figure(written);
  return Number.isNaN(at) ? undefined : { at, isIn, written };
}

/** Of a stretch with one end; nothing of one with two. */
function complement({ low, high }: Stretch): Stretch | undefined {
  if (low === everything.low) return { ...everything, low: { ...high, isIn: !high.isIn } };
  return high === everything.high ? { ...everything, high: { ...low, isIn: !low.isIn } } : undefined;
}

function narrowed(one: Stretch, other: Stretch): Stretch {
  return {
    low: one.low.at > other.low.at ? one.low : other.low,
    high: one.high.at < other.high.at ? one.high : other.high,
  };
}

function ofGroup(inquiry: Inquiry, shares: readonly Share[]): Draft[] {
  const sorted = [...shares].sort(
    ({ stretch: { low: a } }, { stretch: { low: b } }) => a.at - b.at || Number(b.isIn) - Number(a.isIn),
  );
  return sorted.slice(1).flatMap((next, index) => {
    const before = sorted[index] as Share;
    if (writeExpression(before.ask.value) === writeExpression(next.ask.value)) return [];
    return between(inquiry, before, next);
  });
}

function between(inquiry: Inquiry, before: Share, next: Share): Draft[] {
  const { low, high: end } = before.stretch;
  const { low: begin, high } = next.stretch;
  const touching = equalNumbers(end.at, begin.at);
  if (touching ? !end.isIn && !begin.isIn : end.at < begin.at) return gap(inquiry, before, next);
  const overlaps = touching ? end.isIn && begin.isIn : end.at > begin.at;
  const contained = high.at <= end.at || equalNumbers(low.at, begin.at);
  return overlaps && !contained ? overlap(inquiry, before, next) : [];
}

function gap(inquiry: Inquiry, before: Share, next: Share): Draft[] {
  const { at: high, isIn: highIn } = before.stretch.high;
  const { at: low, isIn: lowIn } = next.stretch.low;
  const unit = inquiry.unitOf(before.signal);
  const [from, to] = [fromBase(high, unit), fromBase(low, unit)];
  if (to - from > NARROW * Math.max(Math.abs(from), Math.abs(to))) return [];
  const signal = writeExpression(before.signal);
  const point = equalNumbers(high, low);
  const ends = highIn === lowIn ? (highIn ? ", both excluded" : ", both included") : "";
  const stretch = point
    ? `at exactly ${inquiry.say(low, unit)}`
    : `between ${inquiry.say(high, unit)} and ${inquiry.say(low, unit)}${ends}`;
  const { output } = before.ask;
  const middle = point ? low : (high + low) / 2;
  const neither = [before.ask.value, next.ask.value].map((value) => ({
    claim: "never" as const,
    condition: { kind: "is", left: { kind: "value", of: output }, right: value } as const,
  }));
  const led = leadingTo(inquiry, before, middle);
  const shows = led && inquiry.scene.shows(`Neither while ${signal} is ${stretch}`, led.stages, neither, led.at + MINUTE);
  return [
    {
      code: "gap",
      about: next.ask.about,
      reason: `No rule sets ${output} while ${signal} is ${stretch}: ${line(inquiry, before, next)}.`,
      remedy: `Include the value in one of the two: ${inclusive(before)}.`,
      related: [{ about: before.ask.about, says: writeExpression(before.ask.value) }],
      ...(shows && { shows }),
    },
  ];
}

function overlap(inquiry: Inquiry, before: Share, next: Share): Draft[] {
  const unit = inquiry.unitOf(before.signal);
  const [low, high] = [next.stretch.low.at, before.stretch.high.at];
  const point = equalNumbers(low, high);
  const signal = writeExpression(before.signal);
  const stretch = point
    ? `exactly ${inquiry.say(low, unit)}`
    : `between ${inquiry.say(low, unit)} and ${inquiry.say(high, unit)}`;
  const { output } = before.ask;
  const both = allOf([...before.ask.conditions, ...next.ask.conditions]) as Condition;
  const led = leadingTo(inquiry, before, (low + high) / 2);
  const shows =
    led &&
    inquiry.scene.shows(
      `Both while ${signal} is ${stretch}`,
      led.stages,
      [{ claim: "holds", condition: both, at: led.at }],
      led.at + MINUTE,
    );
  const first = inquiry.asks.indexOf(before.ask) < inquiry.asks.indexOf(next.ask) ? before.ask : next.ask;
  const winner = before.ask.event ? "the later one wins" : `${writeExpression(first.value)} wins, because it comes first`;
  return [
    {
      code: "overlap",
      about: next.ask.about,
      reason: `${output} should be both ${writeExpression(before.ask.value)} and ${writeExpression(next.ask.value)} while ${signal} is ${stretch}: ${line(inquiry, before, next)}.`,
      remedy: `Now ${winner}. Exclude the value from one of them.`,
      related: [{ about: before.ask.about, says: writeExpression(before.ask.value) }],
      ...(shows && { shows }),
    },
  ];
}

/** The two stretches on a line of numbers: `amber below 23 °C | blue above 23.2 °C`. */
function line(inquiry: Inquiry, before: Share, next: Share): string {
  const unit = inquiry.unitOf(before.signal);
  const end = `${before.stretch.high.isIn ? "up to" : "below"} ${inquiry.say(before.stretch.high.at, unit)}`;
  const begin = `${next.stretch.low.isIn ? "from" : "above"} ${inquiry.say(next.stretch.low.at, unit)}`;
  return `${writeExpression(before.ask.value)} ${end} | ${writeExpression(next.ask.value)} ${begin}`;
}

function inclusive(before: Share): string {
  const signal = writeExpression(before.signal);
  // A gap begins where a stretch ends, which is written.
  return `\`${signal} at least ${writeExpression(before.stretch.high.written as Expression)}\`; or choose from the highest down: \`pick by ${signal} { …, otherwise: … }\``;
}

/** Stages that lead to a value of the signal at which the question is asked, and when that is. */
function leadingTo(
  inquiry: Inquiry,
  { ask, signal, rest }: Share,
  middle: number,
): { stages: readonly Stage[]; at: number } | undefined {
  const here = [...rest, inquiry.isAt(signal, middle)];
  if (ask.event) return inquiry.firing(ask.event, here, ask.output);
  const so = inquiry.scene.find(here, { of: ask.output });
  return so && { stages: inquiry.scene.leadingTo(so), at: so.at };
}
