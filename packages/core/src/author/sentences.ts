// Rules and guards written in TypeScript: the language's own words, as plain data.

import type {
  Drive,
  EventSentence,
  Guard,
  Keep,
  Permit,
  Preset,
  Rule,
  Sentence,
  Standing,
  Step,
  Target,
  Text,
  Trigger,
} from "../house/index.js";
import { EVERY_DAY } from "../time/index.js";
import type { Dimension } from "../units/index.js";
import {
  type Amount,
  amount,
  type Condition,
  type DifferenceOf,
  type Lasting,
  type NumberOf,
  type Operand,
  operand,
  type Term,
  type TimeOfDay,
  type WordOf,
} from "./terms.js";
import { type DayName, type NamedCountdown, type NamedSchedule, type Thing, type Titled, titled, weekdays } from "./things.js";

type AnyOutput = Thing<"output", unknown>;
type Switch = Thing<"output", WordOf<"on" | "off">>;
type Settable = Thing<"output" | "dial" | "mode", unknown>;
type NumberThing<Of extends Dimension> = Thing<"output" | "dial", NumberOf<Of>>;
type KindOf<Of> = Of extends Thing<"output" | "dial" | "mode", infer Kind> ? Kind : never;

/** A target with a tolerance, or a resting zone between two; numbers of one dimension. */
interface KeepOf<Of extends Dimension> {
  readonly value: Term<NumberOf<Of>>;
  readonly at: Amount<Of> | { readonly low: Amount<Of>; readonly high: Amount<Of> };
  readonly tolerance:
    | Amount<DifferenceOf<Of>>
    | { readonly below: Amount<DifferenceOf<Of>>; readonly above: Amount<DifferenceOf<Of>> };
  readonly raiseWith?: Switch;
  readonly lowerWith?: Switch;
}

/** What is kept: a value at a target of its own dimension, with a tolerance that is a difference of it. */
export type KeepData = { [Of in Dimension]: KeepOf<Of> }[Dimension];

/** `hold: [held(bench.lamps, quantity(80, "%"))]`. */
export function held<Of extends AnyOutput>(output: Of, value: Operand<KindOf<NoInfer<Of>>>): Target {
  return { output: output.name, value: operand(value as Term<unknown>, output.words) };
}

/** What holds a state has no moment: that is another sentence. */
interface StateData {
  readonly while?: Condition;
  readonly when?: never;
  readonly do?: never;
}

/** A sentence of a rule: `while` with `hold`, `keep` or `cycle`, or `when` with `do`. */
export type SentenceData =
  | (StateData & { readonly hold: readonly Target[] })
  | (StateData & { readonly keep: KeepData })
  | (StateData & { readonly cycle: { readonly output: Switch; readonly on: Lasting; readonly off: Lasting } })
  | {
      /** A condition starts the steps as it becomes true. */
      readonly when: readonly (Condition | Trigger)[];
      readonly provided?: Condition;
      readonly do: readonly Step[];
      /** @default "start over" */
      readonly ifTriggeredAgain?: EventSentence["ifTriggeredAgain"];
    };

/** One purpose in one or more sentences; of plain standing unless said otherwise. */
export function rule(
  name: string,
  sentences: readonly SentenceData[],
  { as = "plain", ...titles }: Titled & { readonly as?: Standing } = {},
): Rule {
  return { name, ...titled(titles), standing: as, sentences: sentences.map(sentenceOf) };
}

function sentenceOf(data: SentenceData): Sentence {
  if (data.do) {
    const { when, provided, ifTriggeredAgain = "start over" } = data;
    const triggers = when.map(
      (one): Trigger => ("expression" in one ? { kind: "becomes true", condition: one.expression } : one),
    );
    return { when: triggers, ...(provided && { provided: provided.expression }), do: data.do, ifTriggeredAgain };
  }
  const head = data.while ? { while: data.while.expression } : {};
  if ("hold" in data) return { ...head, hold: data.hold };
  if ("keep" in data) return { ...head, keep: keepOf(data.keep as KeepOf<Dimension>) };
  const { output, on, off } = data.cycle;
  return { ...head, cycle: { outputs: [output.name], on: amount(on), off: amount(off) } };
}

function keepOf({ value, at, tolerance, raiseWith, lowerWith }: KeepOf<Dimension>): Keep {
  const drive = (output: Switch): Drive => ({ outputs: [output.name] });
  const [below, above] = "below" in tolerance ? [tolerance.below, tolerance.above] : [tolerance, tolerance];
  return {
    value: value.expression,
    at: "low" in at ? { low: amount(at.low), high: amount(at.high) } : amount(at),
    tolerance: { below: amount(below), above: amount(above) },
    ...(raiseWith && { raiseWith: drive(raiseWith) }),
    ...(lowerWith && { lowerWith: drive(lowerWith) }),
  };
}

// ── Triggers ────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** At each change into another known value. */
export function changes(thing: Thing<"sensor" | "output" | "dial" | "mode", unknown>): Trigger {
  return { kind: "changes", of: thing.name };
}

/** At a time of day, as `"07:30"` or that of a dial. */
export function atTime(time: Operand<TimeOfDay>, on?: readonly DayName[]): Trigger {
  return { kind: "at", at: { time: operand(time) }, days: on ? weekdays(on) : EVERY_DAY };
}

/** Aligned to local midnight. */
export function every(duration: Lasting, on?: readonly DayName[]): Trigger {
  return { kind: "every", every: amount(duration), days: on ? weekdays(on) : EVERY_DAY };
}

/** As a schedule begins to apply. */
export function begins({ schedule: { name } }: NamedSchedule): Trigger {
  return { kind: "begins", schedule: name };
}

/** A schedule ends, or a countdown runs out. */
export function ends(of: NamedSchedule | NamedCountdown): Trigger {
  return "schedule" in of ? { kind: "ends", schedule: of.schedule.name } : { kind: "runs out", countdown: of.countdown.name };
}

// ── Steps ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Asks for an output's value, or sets a dial or a mode; for good, for a time, or until something is so. */
export function set<Of extends Settable>(
  thing: Of,
  to: Operand<KindOf<NoInfer<Of>>>,
  ending: { readonly for?: Lasting; readonly until?: Condition } = {},
): Step {
  return { kind: "set", name: thing.name, to: operand(to as Term<unknown>, thing.words), ...lastingOf(ending) };
}

/** How long what is set lasts: for good where nothing is said. */
function lastingOf({ for: time, until }: { readonly for?: Lasting; readonly until?: Condition }) {
  return {
    ...(time && { for: amount(time) }),
    ...(until && { until: { kind: "state", condition: until.expression } as const }),
  };
}

/** Takes back what plain `set` steps of every rule asked of an output. */
export function release(output: AnyOutput): Step {
  return { kind: "release", output: output.name };
}

/** Starts a countdown, for as long as it usually lasts unless said otherwise. */
export function start({ countdown: { name } }: NamedCountdown, lasts?: Lasting): Step {
  return { kind: "start", countdown: name, ...(lasts && { with: amount(lasts) }) };
}

/** Stops a countdown; it does not run out then. */
export function stop({ countdown: { name } }: NamedCountdown): Step {
  return { kind: "stop", countdown: name };
}

/** Pauses these steps for so long. */
export function wait(duration: Lasting): Step {
  return { kind: "wait", for: amount(duration) };
}

/** Pauses these steps until something is so, at most for so long; at once where it is so already. */
export function waitUntil(condition: Condition, limit?: { readonly atMost: Lasting }): Step {
  const until = { kind: "state", condition: condition.expression } as const;
  return { kind: "wait until", until, ...(limit && { atMost: amount(limit.atMost) }) };
}

/** Chooses now between two rows of steps. */
export function branch(when: Condition, then: readonly Step[], otherwise: readonly Step[] = []): Step {
  return { kind: "if", branches: [{ if: when.expression, do: then }], else: otherwise };
}

/** A notice to a person; values stand between its pieces. */
export function tell(
  text: string | readonly (string | Term<unknown>)[],
  { through, onceIn }: { readonly through?: string; readonly onceIn?: Lasting } = {},
): Step {
  const parts = typeof text === "string" ? [text] : text;
  const said: Text = parts.map((part) => (typeof part === "string" ? part : part.expression));
  return { kind: "tell", text: said, ...(through !== undefined && { through }), ...(onceIn && { onceIn: amount(onceIn) }) };
}

/** Switches an output to the other of its two words. */
export function toggle(output: Switch): Step {
  return { kind: "toggle", name: output.name };
}

/** Moves an output or a dial up by so much, within its range. */
export function raise<Of extends Dimension>(thing: NumberThing<Of>, by: Amount<DifferenceOf<NoInfer<Of>>>): Step {
  return { kind: "raise", name: thing.name, by: amount(by) };
}

/** Moves an output or a dial down by so much, within its range. */
export function lower<Of extends Dimension>(thing: NumberThing<Of>, by: Amount<DifferenceOf<NoInfer<Of>>>): Step {
  return { kind: "lower", name: thing.name, by: amount(by) };
}

/** Moves an output evenly from one value to another; the steps behind it wait for its end. */
export function ramp<Of extends Dimension>(
  output: Thing<"output", NumberOf<Of>>,
  { from, to, over }: { readonly from: Amount<NoInfer<Of>>; readonly to: Amount<NoInfer<Of>>; readonly over: Lasting },
): Step {
  return { kind: "ramp", outputs: [output.name], from: amount(from), to: amount(to), over: amount(over) };
}

/** Lets an output that delivers give a volume; where it is broken off, `otherwise` is done, and the steps end. */
export function dose(output: Switch, volume: Amount<"volume">, otherwise: readonly Step[] = []): Step {
  return { kind: "dose", output: output.name, amount: amount(volume), ...(otherwise.length > 0 && { otherwise }) };
}

/** Asks for all that a preset says; for good, for a time, or until something is so. */
export function apply(
  { preset: { name } }: NamedPreset,
  ending: { readonly for?: Lasting; readonly until?: Condition } = {},
): Step {
  return { kind: "apply", preset: name, ...lastingOf(ending) };
}

/** Sends a message to an address of the wiring. */
export function send(text: string, to: string): Step {
  return { kind: "send", text: [text], to: [to] };
}

/** Ends these steps. */
export function endHere(): Step {
  return { kind: "end here" };
}

// ── Presets ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Values of several things under one name. */
export interface NamedPreset {
  readonly preset: Preset;
}

/** Values of outputs, dials and modes under one name; see `at`. */
export function preset(name: string, targets: readonly Target[], options: Titled = {}): NamedPreset {
  return { preset: { name, ...titled(options), targets } };
}

/** What a thing is set to by a preset. */
export function at<Of extends Settable>(thing: Of, value: Operand<KindOf<NoInfer<Of>>>): Target {
  return { output: thing.name, value: operand(value as Term<unknown>, thing.words) };
}

// ── Guards ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Allows an output a word only while something is so. */
export function permit<Words extends string>(
  output: Thing<"output", WordOf<Words>>,
  word: NoInfer<Words>,
  onlyWhile: Condition,
): Permit {
  return { output: output.name, what: { word }, onlyWhile: onlyWhile.expression };
}

/** Allows an output values beyond a bound only while something is so. */
export function permitBeyond<Of extends Dimension>(
  output: Thing<"output", NumberOf<Of>>,
  bound: { readonly above: Amount<NoInfer<Of>> } | { readonly below: Amount<NoInfer<Of>> },
  onlyWhile: Condition,
): Permit {
  const what = "above" in bound ? { above: amount(bound.above) } : { below: amount(bound.below) };
  return { output: output.name, what, onlyWhile: onlyWhile.expression };
}

/** What is permitted only while something is so: above every rule and every person. */
export function guard(name: string, permits: readonly Permit[], titles: Titled = {}): Guard {
  return { name, ...titled(titles), permits };
}
