// Why an output is as it is: who won, what they rest on, what kept others back, and what each of them still lacks.
import type { Reason, Run } from "../engine/index.js";
import {
  bandOf,
  type Expression,
  fullOf,
  type Guard,
  type House,
  type Keep,
  type Output,
  type Rule,
  restOf,
  type Sentence,
  sayValue,
  titleOf,
  unitOfExpression,
} from "../house/index.js";
import { writeExpression, writeNeverTogether } from "../language/index.js";
import { differenceUnit, equalNumbers, fromBase, units, writeFigure, writeReading } from "../units/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";
import { isJoint, sayAll } from "./one-line.js";
import { switchedBy, turnsTo } from "./switched.js";

/**
 * Why an output has the value it has at an instant of a run.
 * @throws RangeError when the house has no such output, or `at` lies outside the run
 */
export function why(run: Run, output: string, at: number): Explanation {
  return storyOf(run, output, at).tell();
}

/**
 * Why an output has the value it has at an instant of a run, in a few words, by the titles of rules and guards: for who looks
 * at many outputs at once.
 * @throws RangeError as `why`
 */
export function whyBriefly(run: Run, output: string, at: number): string {
  return storyOf(run, output, at).brief();
}

function storyOf(run: Run, output: string, at: number): OutputStory {
  if (at < run.from || at > run.to) throw new RangeError(`instant ${at} is outside the run, ${run.from} to ${run.to}`);
  if (!run.past.house.outputs.some(({ name }) => name === output))
    throw new RangeError(`the house has no output called "${output}"`);
  return new OutputStory(run, output, at);
}

/** Where something switches: in words, with the side it lies on, and in the base unit. */
interface SwitchPoint {
  readonly says: string;
  readonly at: number;
}

class OutputStory {
  readonly #narrator: Narrator;
  readonly #run: Run;
  readonly #output: string;

  constructor(run: Run, output: string, at: number) {
    this.#run = run;
    this.#output = output;
    this.#narrator = new Narrator(run, at);
  }

  tell(): Explanation {
    const thing: Expression = { kind: "value", of: this.#output };
    const since = this.#narrator.since(thing);
    const value = this.#narrator.reading(thing);
    const head = `${this.#output} is ${value}, since ${this.#narrator.when(since)}`;
    return explanation(head, this.#because(this.#run.past.reason(this.#output, this.#narrator.at)));
  }

  brief(): string {
    const { house } = this.#narrator;
    const { delayed, guard, hand, rule, sentence = 0 } = this.#run.past.reason(this.#output, this.#narrator.at);
    const wanted = delayed ? `should be ${delayed.wanted}; ` : "";
    if (guard !== undefined) {
      const because = this.#guard(guard).because;
      const title = titleIn(house.guards, guard);
      return `${wanted}${title}${because.length > 0 ? `: ${sayEach(because)}` : ""}`;
    }
    if (hand) return `${wanted}by hand`;
    if (rule === undefined) return `${wanted}${this.#idle()}`;
    const title = titleIn(house.rules, rule);
    const asking = house.rules.find(({ name }) => name === rule)?.sentences[sentence];
    if (!asking || "do" in asking) {
      const asked = this.#run.past.lastAsked(rule, sentence, this.#output, this.#narrator.at);
      return `${wanted}${title}${asked === undefined ? "" : `, at ${this.#narrator.when(asked)}`}`;
    }
    const way = "keep" in asking ? wayOf(asking.keep, this.#output) : undefined;
    if ("keep" in asking && way) {
      const { ends } = this.#turnOf(asking.keep, way);
      const { on, off } = switchedBy(asking.keep, this.#declared);
      const now = this.#narrator.reading(asking.keep.value, this.#narrator.at, ends.at);
      const next = this.#isDriving(asking.keep, way) ? off : on;
      return `${wanted}${title}: ${writeExpression(asking.keep.value)} is ${now}; ${next} ${ends.says}`;
    }
    const rests =
      "keep" in asking
        ? this.#inProportion({ name: rule, standing: "plain", sentences: [] }, asking.keep, asking.while).because
        : this.#while(asking.while);
    return `${wanted}${title}${rests.length > 0 ? `: ${sayEach(rests)}` : ""}`;
  }

  /** Nobody asks for anything: what the first that would still lacks. */
  #idle(): string {
    const rest = hasRest(this.#narrator.house, this.#output) ? "at rest" : "as it was";
    for (const rule of this.#narrator.house.rules)
      for (const sentence of rule.sentences) {
        if ("do" in sentence || rule.standing === "watch" || !outputsOf(sentence).includes(this.#output)) continue;
        const lacks = [...this.#paused(rule), ...this.#lacks(sentence)];
        return `${rest}${lacks.length > 0 ? `; ${sayEach(lacks.slice(0, 1))}` : ""}`;
      }
    return rest;
  }

  #because(reason: Reason): Explanation[] {
    const parts: Explanation[] = [];
    if (reason.delayed) {
      const { wanted, until } = reason.delayed;
      const why = reason.guard === undefined ? "its minimum time lasts" : "it has to wait";
      parts.push(explanation(`it should be ${wanted}, but ${why} until ${this.#narrator.when(until)}`));
    }
    if (reason.rests)
      parts.push(explanation(`it ran for its maximum time and rests until ${this.#narrator.when(reason.rests.until)}`));
    if (reason.guard !== undefined) parts.push(this.#guard(reason.guard));
    if (reason.hand) return [...parts, explanation("a person switched it by hand")];
    if (reason.rule !== undefined) parts.push(this.#rule(reason.rule, reason.sentence ?? 0));
    else if (reason.guard === undefined)
      parts.push(
        explanation(`no rule is active, so it ${hasRest(this.#narrator.house, this.#output) ? "is at rest" : "stays as it is"}`),
      );
    if (reason.rule === undefined) parts.push(...this.#others());
    return [...parts, ...this.#watching()];
  }

  /** Rules on trial: what they would ask for now. */
  #watching(): Explanation[] {
    return this.#narrator.house.rules.flatMap((rule) =>
      rule.sentences.flatMap((sentence, index): Explanation[] => {
        if (rule.standing !== "watch" || "do" in sentence || !outputsOf(sentence).includes(this.#output)) return [];
        const asks = this.#run.past.asked(rule.name, index, this.#output, this.#narrator.at);
        const says = `${sayRule(rule)}, on watch, ${wouldDo(sentence, this.#declared)}${asks ? "" : ", but not now"}`;
        return [explanation(says, asks ? this.#while(sentence.while) : [...this.#paused(rule), ...this.#lacks(sentence)])];
      }),
    );
  }

  #guard(name: string): Explanation {
    const guard = this.#narrator.house.guards.find((one) => one.name === name) as Guard;
    const refusing = guard.permits.filter(
      ({ output, onlyWhile }) => output === this.#output && this.#narrator.value(onlyWhile) !== 1,
    );
    const together = (guard.neverTogether ?? []).filter(({ outputs }) => outputs.includes(this.#output));
    if (refusing.length === 0 && together.length > 0)
      return explanation(
        `guard ${name}: ${together.map(writeNeverTogether).join("; ")}`,
        together.flatMap(({ outputs }) => outputs.filter((other) => other !== this.#output).map((other) => this.#company(other))),
      );
    return explanation(
      `guard ${name} does not permit it`,
      refusing.map(({ onlyWhile }) => this.#narrator.explain(onlyWhile)),
    );
  }

  /** What one that it never runs together with does, and since when. */
  #company(output: string): Explanation {
    const value: Expression = { kind: "value", of: output };
    return explanation(`${output} is ${this.#narrator.reading(value)}${this.#narrator.sinceWhen(value)}`);
  }

  #rule(name: string, index: number): Explanation {
    const rule = this.#narrator.house.rules.find((one) => one.name === name) as Rule;
    const sentence = rule.sentences[index] as Sentence;
    if ("keep" in sentence) return this.#keep(rule, sentence.keep, sentence.while);
    if ("hold" in sentence) return explanation(`${sayRule(rule)} holds it`, this.#while(sentence.while));
    if ("cycle" in sentence) return explanation(`${sayRule(rule)} switches it on and off in turn`, this.#while(sentence.while));
    return this.#asked(rule, index);
  }

  #while(condition: Expression | undefined): Explanation[] {
    return condition ? [this.#narrator.explain(condition)] : [];
  }

  /** A step asked for it: when, and what had happened. */
  #asked(rule: Rule, index: number): Explanation {
    const { at } = this.#narrator;
    const step = this.#run.past.lastAsked(rule.name, index, this.#output, at);
    const when = step === undefined ? "" : ` at ${this.#narrator.when(step)}`;
    return explanation(`${sayRule(rule)} set it${when}`);
  }

  #keep(rule: Rule, keep: Keep, applies: Expression | undefined): Explanation {
    const narrator = this.#narrator;
    const way = wayOf(keep, this.#output);
    if (way === undefined) return this.#inProportion(rule, keep, applies);
    const { begun, ends, turn } = this.#turnOf(keep, way);
    const name = writeExpression(keep.value);
    const began = narrator.since(bandOf(keep, way));
    const then = narrator.reading(keep.value, began, begun.at);
    // Not driving, it may have come here from being unknown, and not from beyond its band.
    const isNever = !this.#isDriving(keep, way) && !isBeyond(narrator.value(keep.value, began), begun.at, way === "raise");
    const start = isNever
      ? `${name} has not been ${ends.says} since ${narrator.when(began)}`
      : began > narrator.beginning
        ? `${name} was ${then} at ${narrator.when(began)}, ${begun.says}`
        : `${name} was ${begun.says} before the beginning`;
    const now = `it is ${narrator.reading(keep.value, narrator.at, ends.at)} now; it ${turn} ${ends.says}`;
    return explanation(sayRule(rule), [explanation(start), explanation(now), ...this.#while(applies)]);
  }

  /** What brought it where it is, what will end that, and what it does then. */
  #turnOf(keep: Keep, way: "raise" | "lower"): { begun: SwitchPoint; ends: SwitchPoint; turn: string } {
    const { starts, stops } = this.#points(keep, way);
    const { on, off } = switchedBy(keep, this.#declared);
    return this.#isDriving(keep, way)
      ? { begun: starts, ends: stops, turn: turnsTo(off) }
      : { begun: stops, ends: starts, turn: turnsTo(on) };
  }

  #isDriving(keep: Keep, way: "raise" | "lower"): boolean {
    return this.#narrator.value(bandOf(keep, way)) === 1;
  }

  get #declared(): Output {
    return this.#narrator.house.outputs.find(({ name }) => name === this.#output) as Output;
  }

  /** By its distance from the target. */
  #inProportion(rule: Rule, keep: Keep, applies: Expression | undefined): Explanation {
    const narrator = this.#narrator;
    const lowers = keep.lowerWith?.outputs.includes(this.#output) === true;
    const over = (lowers ? keep.lowerWith : keep.raiseWith)?.proportion?.over as Expression;
    const target = "low" in keep.at ? (lowers ? keep.at.high : keep.at.low) : keep.at;
    const unit = differenceUnit(unitOfExpression(narrator.house, keep.value));
    const far = Math.abs(narrator.value(target) - narrator.value(keep.value)) / units[unit].factor;
    const name = `${writeExpression(keep.value)} ${narrator.reading(keep.value)}`;
    if (Number.isNaN(far))
      return explanation(`${sayRule(rule)} works in proportion`, narrator.unknownBehind(keep.value, target, over));
    const says = `${name} is ${writeReading(far, unit)} from ${narrator.figure(target)}; at ${narrator.reading(over)} it would be full`;
    return explanation(`${sayRule(rule)} works in proportion`, [
      explanation(says),
      ...narrator.opened(keep.value, target),
      ...this.#while(applies),
    ]);
  }

  /** The two switch points of one way of a `keep`, with how they come about. */
  #points(keep: Keep, way: "raise" | "lower"): { starts: SwitchPoint; stops: SwitchPoint } {
    const narrator = this.#narrator;
    const unit = unitOfExpression(this.#narrator.house, keep.value);
    const say = (base: number) => writeFigure(fromBase(base, unit), unit);
    const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
    const below = keep.tolerance ? narrator.value(keep.tolerance.below) : 0;
    const above = keep.tolerance ? narrator.value(keep.tolerance.above) : 0;
    const both = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
    const [target, other] =
      way === "raise" ? [narrator.value(low), narrator.value(high)] : [narrator.value(high), narrator.value(low)];
    const sign = way === "raise" ? -1 : 1;
    const [near, far] = way === "raise" ? [below, above] : [above, below];
    const step = writeFigure(near / units[unit].factor, "");
    const startsAt = target + sign * near;
    const [outside, inside] = way === "raise" ? ["below", "above"] : ["above", "below"];
    const starts = `${outside} ${say(startsAt)} (${say(target)} ${sign < 0 ? "-" : "+"} ${step})`;
    const stopsAt = both ? target : equalNumbers(target, other) ? other - sign * far : other;
    const stops = `${both ? "at" : inside} ${say(stopsAt)}`;
    return { starts: { says: starts, at: startsAt }, stops: { says: stops, at: stopsAt } };
  }

  /** What each rule that could have asked still lacks. */
  #others(): Explanation[] {
    return this.#narrator.house.rules.flatMap((rule) =>
      rule.sentences.flatMap((sentence, index): Explanation[] => {
        if ("do" in sentence || !outputsOf(sentence).includes(this.#output)) return [];
        if (rule.standing === "watch") return [];
        // One that asks now, and is refused, is told like one that takes effect.
        if (this.#run.past.asked(rule.name, index, this.#output, this.#narrator.at))
          return [explanation("this rule asks for it now", [this.#rule(rule.name, index)])];
        return [
          explanation(`${sayRule(rule)} ${wouldDo(sentence, this.#declared)}, but not now`, [
            ...this.#paused(rule),
            ...this.#lacks(sentence),
          ]),
        ];
      }),
    );
  }

  #paused({ name }: Rule): Explanation[] {
    const paused = this.#run.past.paused(name, this.#narrator.at);
    return paused ? [explanation(sayPause(name, paused.until, this.#narrator))] : [];
  }

  #lacks(sentence: StateSentence): Explanation[] {
    const narrator = this.#narrator;
    const parts: Explanation[] = [];
    if (sentence.while && narrator.value(sentence.while) !== 1) parts.push(narrator.explain(sentence.while));
    const way = "keep" in sentence ? wayOf(sentence.keep, this.#output) : undefined;
    if ("keep" in sentence && way && narrator.value(bandOf(sentence.keep, way)) !== 1) {
      const { starts } = this.#points(sentence.keep, way);
      const { value } = sentence.keep;
      const reading = narrator.reading(value, narrator.at, starts.at);
      const { on } = switchedBy(sentence.keep, this.#declared);
      const unknown = narrator.unknownBehind(value, bandOf(sentence.keep, way));
      if (unknown.length > 0)
        parts.push(explanation(`${writeExpression(value)} is ${reading} and cannot be compared with its target`, unknown));
      else parts.push(explanation(`${writeExpression(value)} is ${reading}; it ${turnsTo(on)} ${starts.says}`));
    }
    const isCycle = "cycle" in sentence && parts.length === 0;
    if (isCycle)
      parts.push(
        explanation(
          `it is in the off part of its cycle: on ${narrator.figure(sentence.cycle.on)}, off ${narrator.figure(sentence.cycle.off)}`,
        ),
      );
    return parts;
  }
}

/** `would set it to on`. */
function wouldDo(sentence: StateSentence, output: Output): string {
  if ("cycle" in sentence) return "would switch it on and off in turn";
  const target = "hold" in sentence ? sentence.hold.find((one) => one.output === output.name) : undefined;
  if (target) return `would set it to ${writeExpression(target.value)}`;
  if ("keep" in sentence && wayOf(sentence.keep, output.name) === undefined) return "would set it in proportion";
  return `would set it to ${sayValue(output.type, fullOf(output))}`;
}

function hasRest(house: House, output: string): boolean {
  const found = house.outputs.find(({ name }) => name === output);
  return found !== undefined && restOf(found) !== undefined;
}

/** `paused by hand until 10:31`. */
export function sayPause(rule: string, until: number | undefined, narrator: Narrator): string {
  return `rule ${rule} is paused by hand${until === undefined ? "" : ` until ${narrator.when(until)}`}`;
}

type StateSentence = Exclude<Sentence, { readonly do: unknown }>;

function outputsOf(sentence: StateSentence): readonly string[] {
  if ("hold" in sentence) return sentence.hold.map(({ output }) => output);
  if ("cycle" in sentence) return sentence.cycle.outputs;
  return [sentence.keep.raiseWith, sentence.keep.lowerWith].flatMap((drive) => drive?.outputs ?? []);
}

/** Which way a `keep` drives an output by its band; in proportion it has none. */
function wayOf({ raiseWith, lowerWith }: Keep, output: string): "raise" | "lower" | undefined {
  const drives = [
    ["raise", raiseWith],
    ["lower", lowerWith],
  ] as const;
  const own = drives.find(([, drive]) => drive?.outputs.includes(output));
  return own?.[1]?.proportion ? undefined : own?.[0];
}

/** Whether a value lies at or beyond a point, upwards or downwards. */
function isBeyond(value: number, point: number, upwards: boolean): boolean {
  return equalNumbers(value, point) || value > point === upwards;
}

/** Each of several; what only joins others by these. */
function sayEach(all: readonly Explanation[]): string {
  return sayAll(all.flatMap((one) => (isJoint(one) ? one.because : [one])));
}

function titleIn(things: readonly { readonly name: string; readonly title?: string }[], name: string): string {
  const found = things.find((one) => one.name === name);
  return found ? titleOf(found) : name;
}

function sayRule({ name, title }: Rule): string {
  return title === undefined ? `rule ${name}` : `rule ${name} "${title}"`;
}
