// What starts the steps of an event sentence, and the steps, written in TypeScript.

import type { Lasting as LastingData, Occasion, Step, Text, Trigger, Until } from "../house/index.js";
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
} from "./kinds.js";
import type { NamedPreset, Settable } from "./sentences.js";
import { dayTime, is, type Reckoned } from "./terms.js";
import { type NamedGroup, type Outputs, outputsOf, type Thing } from "./things.js";
import { type DayName, type NamedCountdown, type NamedProfile, type NamedSchedule, weekdays } from "./times.js";

/** One thing that may be set, or all outputs of a group. */
type ToSet<Kind> = Settable<Kind> | NamedGroup<Kind>;
const each = <Kind>(of: ToSet<Kind>): readonly Settable<Kind>[] => ("outputs" in of ? of.outputs : [of]);

// ── Triggers ────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** What has a name and a value. */
type Changing<Kind> = Thing<"sensor" | "output" | "dial" | "mode", Kind> | Reckoned<Kind> | NamedProfile<Kind>;

/** At each change into another known value. */
export function changes(of: Changing<unknown>): Occasion;
/** Each time a number is so far from where it last fired. */
export function changes<Of extends Dimension>(of: Changing<NumberOf<Of>>, by: Amount<DifferenceOf<NoInfer<Of>>>): Occasion;
export function changes({ expression }: Changing<unknown>, by?: object): Occasion {
  if (expression.kind !== "value") throw new RangeError("only what has a name changes");
  return { kind: "changes", of: expression.of, ...(by && { by: amount(by as Amount<Dimension>) }) };
}

/** As a thing gets a word or a value; to end a wait with, at its next moment even where it is so already. */
export function becomes<Kind>(thing: Term<Kind>, one: Operand<NoInfer<Kind>>): Occasion {
  return { kind: "becomes true", condition: is(thing, one).expression };
}

/** A time of day, on every day: a trigger, or what ends a wait. */
export type AtTime = Extract<Trigger, { readonly kind: "at" }>;

/** At a time of day, as `"07:30"`, that of a dial or of the sun. */
export function atTime(time: Operand<TimeOfDay>): AtTime;
/** The same on some days of the week. */
export function atTime(time: Operand<TimeOfDay>, on: readonly DayName[] | undefined): Trigger;
export function atTime(time: Operand<TimeOfDay>, on?: readonly DayName[]): Trigger {
  return { kind: "at", at: dayTime(time), days: weekdays(on) };
}

/** Aligned to local midnight. */
export function every(duration: Lasting, on?: readonly DayName[]): Trigger {
  return { kind: "every", every: amount(duration), days: weekdays(on) };
}

/** As a schedule begins to apply. */
export function begins({ schedule: { name } }: NamedSchedule): Occasion {
  return { kind: "begins", schedule: name };
}

/** A schedule ends, or a countdown runs out. */
export function ends(of: NamedSchedule | NamedCountdown): Occasion {
  return "schedule" in of ? { kind: "ends", schedule: of.schedule.name } : { kind: "runs out", countdown: of.countdown.name };
}

/** As the house starts, and after each restart. */
export function houseStarts(): Trigger {
  return { kind: "the house starts" };
}

// ── Steps ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A state ends what waits for it at once where it is so already; a moment, or a time of day, when it comes. */
export type Ending = Condition | Occasion | AtTime;

function untilOf(ending: Ending): Until {
  if ("expression" in ending) return { kind: "state", condition: ending.expression };
  return ending.kind === "at" ? { kind: "at", at: ending.at } : ending;
}

/** How long what is set lasts: permanently where nothing is said. */
export interface Ends {
  readonly for?: Lasting;
  readonly until?: Ending;
  /** The longest time for which `until` is waited for. */
  readonly atMost?: Lasting;
}

function lastingOf({ for: time, until, atMost }: Ends): LastingData {
  return {
    ...(time && { for: amount(time) }),
    ...(until !== undefined && { until: untilOf(until) }),
    ...(atMost && { atMost: amount(atMost) }),
  };
}

/** Asks for an output's value, of all of a group, or sets a dial or a mode; permanently, for a time, or until something is so. */
export function set<Kind>(thing: ToSet<Kind>, to: Operand<NoInfer<Kind>>, ending: Ends = {}): readonly Step[] {
  return each(thing).map(
    ({ name, words }): Step => ({ kind: "set", name, to: operand(to as Term<unknown>, words), ...lastingOf(ending) }),
  );
}

/** Takes back what plain `set` steps of every rule asked of an output. */
export function release(outputs: Outputs<unknown>): readonly Step[] {
  return outputsOf(outputs).map(({ name }) => ({ kind: "release", output: name }));
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
export function waitUntil(ending: Ending, { atMost }: { readonly atMost?: Lasting } = {}): Step {
  return { kind: "wait until", until: untilOf(ending), ...(atMost && { atMost: amount(atMost) }) };
}

/** Steps, some of which may be several. */
export type Steps = readonly (Step | readonly Step[])[];

/** Chooses now between rows of steps: the first whose condition holds, else the last. */
export function branch(
  when: Condition,
  then: Steps,
  otherwise: Steps = [],
  more: readonly (readonly [Condition, Steps])[] = [],
): Step {
  const branches = [[when, then] as const, ...more].map(([condition, steps]) => ({ if: condition.expression, do: steps.flat() }));
  return { kind: "if", branches, else: otherwise.flat() };
}

type Spoken = string | readonly (string | Term<unknown>)[];
const textOf = (text: Spoken): Text =>
  (typeof text === "string" ? [text] : text).map((part) => (typeof part === "string" ? part : part.expression));

/** A notice to a person; values stand between its pieces. */
export function tell(text: Spoken, { through, onceIn }: { readonly through?: string; readonly onceIn?: Lasting } = {}): Step {
  return {
    kind: "tell",
    text: textOf(text),
    ...(through !== undefined && { through }),
    ...(onceIn && { onceIn: amount(onceIn) }),
  };
}

/** Switches something with two words to the other. */
export function toggle(thing: ToSet<WordOf<string>>): readonly Step[] {
  return each(thing).map(({ name }) => ({ kind: "toggle", name }));
}

const moved = (kind: "raise" | "lower", thing: ToSet<never>, by: Amount<Dimension>) =>
  each(thing).map(({ name }): Step => ({ kind, name, by: amount(by) }));

/** Moves an output or a dial up by so much, within its range. */
export function raise<Of extends Dimension>(thing: ToSet<NumberOf<Of>>, by: Amount<DifferenceOf<NoInfer<Of>>>): readonly Step[] {
  return moved("raise", thing as ToSet<never>, by);
}

/** Moves an output or a dial down by so much, within its range. */
export function lower<Of extends Dimension>(thing: ToSet<NumberOf<Of>>, by: Amount<DifferenceOf<NoInfer<Of>>>): readonly Step[] {
  return moved("lower", thing as ToSet<never>, by);
}

/** Moves outputs evenly from one value to another; the steps after it wait for its end. */
export function ramp<Of extends Dimension>(
  outputs: Outputs<NumberOf<Of>>,
  { from, to, over }: { readonly from: Amount<NoInfer<Of>>; readonly to: Amount<NoInfer<Of>>; readonly over: Lasting },
): Step {
  const names = outputsOf(outputs).map(({ name }) => name);
  return { kind: "ramp", outputs: names, from: amount(from), to: amount(to), over: amount(over) };
}

/** Lets an output that delivers give a volume; where it is broken off, `otherwise` is done, and the steps end. */
export function dose(output: Thing<"output", WordOf<string>>, volume: Amount<"volume">, otherwise?: Steps): Step {
  return { kind: "dose", output: output.name, amount: amount(volume), ...(otherwise && { otherwise: otherwise.flat() }) };
}

/** Asks for all that a preset says; permanently, for a time, or until something is so. */
export function apply({ preset: { name } }: NamedPreset, ending: Ends = {}): Step {
  return { kind: "apply", preset: name, ...lastingOf(ending) };
}

/** Sends a message to an address of the wiring; values stand between the pieces of both. */
export function send(text: Spoken, to: Spoken): Step {
  return { kind: "send", text: textOf(text), to: textOf(to) };
}

/** Ends these steps. */
export function endHere(): Step {
  return { kind: "end here" };
}
