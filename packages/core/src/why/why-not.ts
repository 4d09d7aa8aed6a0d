// Why an output is not otherwise: every rule that could have asked for something else, and what each still lacked.
import { type Ask, asksOf } from "../check/index.js";
import type { Reason, Run } from "../engine/index.js";
import {
  baseOf,
  type Condition,
  type EventSentence,
  type Output,
  offPartOf,
  readValue,
  type Trigger,
  unitOfExpression,
} from "../house/index.js";
import { writeExpression, writePermit, writeTrigger } from "../language/index.js";
import { nextOccurrence, stretchOf } from "../time/index.js";
import { expressionOf } from "../trial/index.js";
import { differenceUnit, fromBase, units, writeFigure, writeReading } from "../units/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";
import { lacking } from "./lacking.js";
import { switchedBy, turnsTo } from "./switched.js";
import { sayPause } from "./why.js";

/**
 * Why an output does not have another value at an instant of a run.
 * @param wanted the value asked about, as one writes it: `on`, `80 %`. Left out: the other of two words, else any other
 * @throws RangeError when the house has no such output, the value is none of its own, or `at` lies outside the run
 */
export function whyNot(run: Run, output: string, at: number, wanted?: string): Explanation {
  if (at < run.from || at > run.to) throw new RangeError(`instant ${at} is outside the run, ${run.from} to ${run.to}`);
  const found = run.past.house.outputs.find(({ name }) => name === output);
  if (!found) throw new RangeError(`the house has no output called "${output}"`);
  const read = wanted === undefined ? undefined : readValue(found, wanted);
  if (read && "misfit" in read) throw new RangeError(`"${output}" is never ${wanted}: ${read.misfit}`);
  return new Missing(run, found, at, wanted).tell();
}

function otherWord({ name, type }: Output, narrator: Narrator): string | undefined {
  if (type.kind !== "words" || type.words.length !== 2) return undefined;
  const value = narrator.reading({ kind: "value", of: name });
  return type.words.find((word) => word !== value);
}

class Missing {
  readonly #narrator: Narrator;
  readonly #run: Run;
  readonly #output: Output;
  readonly #wanted: string | undefined;
  readonly #reason: Reason;

  constructor(run: Run, output: Output, at: number, wanted: string | undefined) {
    this.#run = run;
    this.#output = output;
    this.#narrator = new Narrator(run, at);
    this.#wanted = wanted ?? otherWord(output, this.#narrator);
    this.#reason = run.past.reason(output.name, at);
  }

  tell(): Explanation {
    const { name } = this.#output;
    const narrator = this.#narrator;
    const value = narrator.reading({ kind: "value", of: name });
    if (value === this.#wanted)
      return explanation(`${name} is ${value}, since ${narrator.when(narrator.since({ kind: "value", of: name }))}`);
    const asks = asksOf(narrator.house)
      .filter((ask) => ask.output === name)
      .flatMap((ask) => [ask, ...this.#offPart(ask)])
      .filter((ask) => this.#isOther(ask, value));
    const parts = [...this.#standing(value), ...this.#permits(), ...asks.flatMap((ask) => this.#ask(ask))];
    const other = this.#wanted ?? "anything else";
    const head = this.#wanted === undefined ? `${name} is ${value}` : `${name} is ${value}, not ${other}`;
    return explanation(head, parts.length > 0 ? parts : [explanation(`no rule ever sets it to ${other}`)]);
  }

  /** What a `keep` that drives alone asks for too, and what that lacks now: its `while`, and the end of its band. */
  #offPart({ keep, ...ask }: Ask): Ask[] {
    const off = keep && offPartOf(keep.keep, this.#output);
    const band = ask.conditions.at(-1);
    if (off === undefined || band?.kind !== "until") return [];
    const { type } = this.#output;
    const ends = this.#narrator.value(band) === 1 ? [band.reset] : [];
    return [{ ...ask, value: expressionOf(baseOf(off, type), type), conditions: [...ask.conditions.slice(0, -1), ...ends] }];
  }

  /** An ask for the value asked about, or for any other than the output has. */
  #isOther(ask: Ask, value: string): boolean {
    const said = this.#narrator.reading(ask.value);
    return this.#wanted === undefined ? said !== value : said === this.#wanted || writeExpression(ask.value) === this.#wanted;
  }

  /** What holds it as it is, where that is stronger than any wish. */
  #standing(value: string): Explanation[] {
    const { rule, hand, delayed, rests } = this.#reason;
    const narrator = this.#narrator;
    if (delayed)
      return [explanation(`it should be ${delayed.wanted}, but its minimum time lasts until ${narrator.when(delayed.until)}`)];
    if (rests) return [explanation(`it ran for its maximum time and rests until ${narrator.when(rests.until)}`)];
    if (hand) return [explanation(`a person switched it to ${value} by hand, which is stronger than any rule`)];
    return rule === undefined ? [] : [explanation(`rule ${rule} sets it to ${value}`)];
  }

  /** Permits for the value asked about that do not hold. */
  #permits(): Explanation[] {
    const { house } = this.#narrator;
    return house.guards.flatMap((guard) =>
      guard.permits
        .filter(({ output, onlyWhile }) => output === this.#output.name && this.#narrator.value(onlyWhile) !== 1)
        .filter(({ what }) => !("word" in what) || this.#wanted === undefined || what.word === this.#wanted)
        .map((permit) =>
          explanation(
            `guard ${guard.name} does not permit it: ${writePermit(permit)}`,
            lacking(this.#narrator, permit.onlyWhile),
          ),
        ),
    );
  }

  #ask(ask: Ask): Explanation[] {
    const { rule, event, value } = ask;
    const title = rule.title === undefined ? "" : ` "${rule.title}"`;
    const asked = `rule ${rule.name}${title} would set it to ${writeExpression(value)}`;
    const paused = this.#run.past.paused(rule.name, this.#narrator.at);
    if (paused) return [explanation(`${asked}, but not now`, [explanation(sayPause(rule.name, paused.until, this.#narrator))])];
    if (event) return [explanation(`${asked}, but not now`, this.#event(event, ask))];
    const parts = ask.conditions.flatMap((condition) => this.#lacks(condition, ask));
    if (parts.length === 0) return [explanation(`${asked}, but something stronger applies`, this.#outdone())];
    return [explanation(`${asked}, but not now`, parts)];
  }

  /** Who is stronger. */
  #outdone(): Explanation[] {
    const { rule, guard, hand, delayed, rests } = this.#reason;
    if (delayed) return [explanation(`its minimum time lasts until ${this.#narrator.when(delayed.until)}`)];
    if (rests) return [explanation(`it rests until ${this.#narrator.when(rests.until)}`)];
    if (guard !== undefined) return [explanation(`guard ${guard} does not permit it`)];
    if (hand) return [explanation("a person switched it by hand")];
    return rule === undefined ? [] : [explanation(`rule ${rule} is stronger, or comes first`)];
  }

  /** The band of a `keep` is told by its switch point. */
  #lacks(condition: Condition, { keep }: Ask): Explanation[] {
    const isBand =
      keep !== undefined && condition.kind === "until" && condition.condition.kind === (keep.way === "raise" ? "below" : "above");
    if (!isBand || !("left" in condition.condition)) return lacking(this.#narrator, condition);
    if (this.#narrator.value(condition) === 1) return [];
    const { left, right } = condition.condition;
    const narrator = this.#narrator;
    const unit = unitOfExpression(this.#narrator.house, left);
    const point = narrator.value(right);
    const now = narrator.value(left);
    const side = keep.way === "raise" ? "below" : "above";
    const reading = `${writeExpression(left)} is ${narrator.reading(left, narrator.at, point)}`;
    if (Number.isNaN(now) || Number.isNaN(point))
      return [explanation(`${reading} and cannot be compared with its target`, narrator.unknownBehind(condition))];
    const said = writeFigure(fromBase(point, unit), unit);
    const difference = differenceUnit(unit);
    const by = writeReading(Math.abs(now - point) / units[difference].factor, difference);
    return [
      explanation(
        `${reading}; it ${turnsTo(switchedBy(keep.keep, this.#output).on)} ${side} ${said} (${writeExpression(right)}): ${by} too ${keep.way === "raise" ? "high" : "low"}`,
      ),
    ];
  }

  #event(event: EventSentence, ask: Ask): Explanation[] {
    const narrator = this.#narrator;
    const fired = this.#run.past.lastOf("trigger", ask.rule.name, ask.sentence, narrator.at);
    if (fired === undefined) {
      const provided = event.provided ? lacking(narrator, event.provided) : [];
      return [
        explanation(
          "nothing has triggered it",
          event.when.map((trigger) => this.#trigger(trigger)),
        ),
        ...provided,
      ];
    }
    const ended = ask.way === "for a time" ? "that is over" : "something later changed it, or is stronger";
    return [
      explanation(`it was started at ${narrator.when(fired)}: ${ended}`),
      ...event.when.map((trigger) => this.#trigger(trigger)),
    ];
  }

  /** When a trigger next comes, or what it waits for. */
  #trigger(trigger: Trigger): Explanation {
    const narrator = this.#narrator;
    const sky = { clock: narrator.clock, place: this.#narrator.house.place };
    const says = `when ${writeTrigger(trigger)}`;
    switch (trigger.kind) {
      case "becomes true": {
        if (narrator.value(trigger.condition) !== 1) return explanation(says, lacking(narrator, trigger.condition));
        const since = narrator.when(narrator.since(trigger.condition));
        return explanation(`${says}: it has been true since ${since}, so it does not become true again`);
      }
      case "at": {
        const ms = narrator.value(trigger.at.time);
        const next = nextOccurrence(sky, { ...(trigger.at.sun && { sun: trigger.at.sun }), ms }, trigger.days, narrator.at);
        return explanation(Number.isFinite(next) ? `${says}: next ${narrator.when(next)}` : `${says}: never again`);
      }
      case "begins":
      case "ends": {
        const schedule = this.#narrator.house.schedules.find(({ name }) => name === trigger.schedule);
        const { open, until } = schedule
          ? stretchOf(schedule, sky, narrator.at)
          : { open: false, until: Number.POSITIVE_INFINITY };
        const next = open === (trigger.kind === "ends") ? until : schedule ? stretchOf(schedule, sky, until).until : until;
        return explanation(Number.isFinite(next) ? `${says}: next ${narrator.when(next)}` : `${says}: never again`);
      }
      default:
        return explanation(`${says}: not yet`);
    }
  }
}
