// Why an output is as it is: who won, what they rest on, what kept others back, and what each of them still lacks.
import type { ClaimProgram, JournalRecord, OutputProgram, Reason, Run } from "../engine/index.js";
import type { Expression, Guard, Keep, Rule, Sentence } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { equalNumbers, fromBase, writeReading } from "../units/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";

/**
 * Why an output has the value it has at an instant of a run.
 * @throws RangeError when the house has no such output, or `at` lies outside the run
 */
export function why(run: Run, output: string, at: number): Explanation {
  if (at < run.from || at > run.to) throw new RangeError(`instant ${at} is outside the run, ${run.from} to ${run.to}`);
  const program = run.program.outputs.find(({ name }) => name === output);
  if (!program) throw new RangeError(`the house has no output called "${output}"`);
  return new OutputStory(run, program, at).tell();
}

/** The reason of an output's last decision. */
export function lastReason({ journal }: Run, output: string, instant: number): Reason {
  const isDecision = ({ event, at }: JournalRecord) => event.kind === "decided" && event.output === output && at <= instant;
  const last = journal.records.findLast(isDecision)?.event;
  return last?.kind === "decided" ? last.reason : {};
}

class OutputStory {
  readonly #narrator: Narrator;
  readonly #run: Run;
  readonly #program: OutputProgram;

  constructor(run: Run, program: OutputProgram, at: number) {
    this.#run = run;
    this.#program = program;
    this.#narrator = new Narrator(run, at);
  }

  tell(): Explanation {
    const { name, node } = this.#program;
    const since = this.#narrator.since(node);
    const value = this.#narrator.reading({ kind: "value", of: name });
    const head = `${name} is ${value}, since ${this.#narrator.when(since)}`;
    return explanation(head, this.#because(lastReason(this.#run, name, this.#narrator.at)));
  }

  #because(reason: Reason): Explanation[] {
    const parts: Explanation[] = [];
    if (reason.delayed) {
      const { wanted, until } = reason.delayed;
      parts.push(explanation(`it is to be ${wanted}, but its least time lasts until ${this.#narrator.when(until)}`));
    }
    if (reason.rests)
      parts.push(explanation(`it ran as long as it may, and rests until ${this.#narrator.when(reason.rests.until)}`));
    if (reason.guard !== undefined) parts.push(this.#guard(reason.guard));
    if (reason.hand) return [...parts, explanation("a person switched it by hand")];
    if (reason.rule !== undefined) parts.push(this.#rule(reason.rule, reason.sentence ?? 0));
    else if (reason.guard === undefined) parts.push(explanation("no rule asks for anything else"));
    if (reason.rule === undefined) parts.push(...this.#others());
    return parts;
  }

  #guard(name: string): Explanation {
    const guard = this.#run.program.house.guards.find((one) => one.name === name) as Guard;
    const refusing = guard.permits.filter(
      ({ output, onlyWhile }) => output === this.#program.name && this.#narrator.value(onlyWhile) !== 1,
    );
    return explanation(
      `guard ${name} forbids more`,
      refusing.map(({ onlyWhile }) => this.#narrator.explain(onlyWhile)),
    );
  }

  #rule(name: string, index: number): Explanation {
    const rule = this.#run.program.house.rules.find((one) => one.name === name) as Rule;
    const sentence = rule.sentences[index] as Sentence;
    if ("keep" in sentence) return this.#keep(rule, index, sentence.keep, sentence.while);
    if ("hold" in sentence) return explanation(`${sayRule(rule)} holds it`, this.#while(sentence.while));
    if ("cycle" in sentence) return explanation(`${sayRule(rule)} switches it on and off in turn`, this.#while(sentence.while));
    return this.#asked(rule, index);
  }

  #while(condition: Expression | undefined): Explanation[] {
    return condition ? [this.#narrator.explain(condition)] : [];
  }

  /** A step asked for it: when, and what had happened. */
  #asked(rule: Rule, index: number): Explanation {
    const isStep = ({ event, at }: JournalRecord) =>
      event.kind === "step" && event.rule === rule.name && event.sentence === index && at <= this.#narrator.at;
    const step = this.#run.journal.records.findLast(isStep);
    const when = step ? ` at ${this.#narrator.when(step.at)}` : "";
    return explanation(`${sayRule(rule)} asked for it${when}`);
  }

  #claimOf(rule: string, index: number): ClaimProgram | undefined {
    return this.#program.claims.find((claim) => claim.rule === rule && claim.sentence === index);
  }

  #keep(rule: Rule, index: number, keep: Keep, applies: Expression | undefined): Explanation {
    const band = this.#claimOf(rule.name, index)?.held?.band;
    const narrator = this.#narrator;
    if (!band) return explanation(`${sayRule(rule)} follows in proportion`, this.#while(applies));
    const points = this.#points(keep, band.way);
    const name = writeExpression(keep.value);
    const began = narrator.since(band.node);
    const then = narrator.reading(keep.value, began, points.startsAt);
    const now = narrator.reading(keep.value, narrator.at, points.stopsAt);
    const side = band.way === "raise" ? "below" : "above";
    const start =
      began <= narrator.beginning
        ? `${name} was ${side} ${points.starts} before the beginning`
        : `${name} was ${then} at ${narrator.when(began)}, ${side} ${points.starts}`;
    const stops = `it is ${now} now, and this stops ${points.stops}`;
    return explanation(sayRule(rule), [explanation(start), explanation(stops), ...this.#while(applies)]);
  }

  /** The two switch points of one way of a `keep`, with how they come about. */
  #points(keep: Keep, way: "raise" | "lower"): { starts: string; startsAt: number; stops: string; stopsAt: number } {
    const { graph } = this.#run.program;
    const narrator = this.#narrator;
    const unit = graph.unitOf(keep.value);
    const say = (base: number) => writeReading(fromBase(base, unit), unit);
    const [low, high] = "low" in keep.at ? [keep.at.low, keep.at.high] : [keep.at, keep.at];
    const below = keep.tolerance ? narrator.value(keep.tolerance.below) : 0;
    const above = keep.tolerance ? narrator.value(keep.tolerance.above) : 0;
    const both = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
    const [target, other] =
      way === "raise" ? [narrator.value(low), narrator.value(high)] : [narrator.value(high), narrator.value(low)];
    const sign = way === "raise" ? -1 : 1;
    const [near, far] = way === "raise" ? [below, above] : [above, below];
    const step = writeReading(near, unit).replace(unit, "").trim();
    const startsAt = target + sign * near;
    const starts = `${say(startsAt)} (${say(target)} ${sign < 0 ? "-" : "+"} ${step})`;
    const stopsAt = both ? target : equalNumbers(target, other) ? other - sign * far : other;
    const stops = `${both ? "at" : way === "raise" ? "above" : "below"} ${say(stopsAt)}`;
    return { starts, startsAt, stops, stopsAt };
  }

  /** What each rule that could have asked still lacks. */
  #others(): Explanation[] {
    const { house } = this.#run.program;
    return this.#program.claims.flatMap(({ rule, sentence, held }): Explanation[] => {
      const named = house.rules.find(({ name }) => name === rule) as Rule;
      const said = named.sentences[sentence] as Sentence;
      if (!held || "do" in said) return [];
      // One that asks now, and is refused, is told like one that has its way.
      if (held.when < 0 || this.#narrator.history.at(held.when, this.#narrator.at) === 1) {
        return [explanation("it is asked for all the same", [this.#rule(rule, sentence)])];
      }
      return [explanation(`${sayRule(named)} would, but`, this.#lacks(said, held.band))];
    });
  }

  #lacks(
    sentence: Exclude<Sentence, { do: unknown }>,
    band: { node: number; way: "raise" | "lower" } | undefined,
  ): Explanation[] {
    const narrator = this.#narrator;
    const parts: Explanation[] = [];
    if (sentence.while && narrator.value(sentence.while) !== 1) parts.push(narrator.explain(sentence.while));
    if ("keep" in sentence && band && narrator.history.at(band.node, narrator.at) !== 1) {
      const { starts, startsAt } = this.#points(sentence.keep, band.way);
      const side = band.way === "raise" ? "below" : "above";
      const { value } = sentence.keep;
      const reading = narrator.reading(value, narrator.at, startsAt);
      parts.push(explanation(`${writeExpression(value)} ${reading} has not been ${side} ${starts}`));
    }
    return parts;
  }
}

function sayRule({ name, title }: Rule): string {
  return title === undefined ? `rule ${name}` : `rule ${name} "${title}"`;
}
