// Trials written in TypeScript: when they begin, what is given, what happens, what is expected.

import type { Expectation, Happening, Occurrence, Setting, Trial } from "../house/index.js";
import type { Dimension, Quantity } from "../units/index.js";
import {
  type Amount,
  amount,
  type Condition,
  type DifferenceOf,
  type InstantOf,
  type Lasting,
  type NumberOf,
  type Operand,
  operand,
  type Pressed,
  type Term,
  type TimeOfDay,
} from "./kinds.js";
import type { NamedPreset } from "./sentences.js";
import { type NamedGroup, type Thing, type Titled, titled } from "./things.js";
import type { NamedCountdown } from "./times.js";

/** A time of day, or a date and time: `"22:30"`, `"2026-01-10 22:30"`, `plus(sunTime("sunset"), minutes(5))`. */
export type When = string | Term<TimeOfDay> | Term<InstantOf>;
const whenOf = (when: When) => operand(when as Operand<TimeOfDay>);

type AnyThing<Kind> = Thing<"sensor" | "output" | "dial" | "mode", Kind>;

/** What somebody writes in a trial; see `trial`. */
export interface TrialData extends Titled {
  /** A date and time. */
  readonly from: Operand<InstantOf>;
  readonly lasts?: Lasting;
  readonly to?: When;
  /** The file of a recording it runs on; its reports stand among the `recordings` of the house. */
  readonly replay?: string;
  /** As a new house begins: nothing has been before. */
  readonly cold?: true;
  /** On the simulated rooms: with the first weather of the house, or the one of this name. */
  readonly simulated?: true | string;
  readonly given?: readonly Setting[];
  readonly happenings?: readonly HappeningData[];
  readonly expectations: readonly Expectation[];
}

/** A line of a timeline: at a time, over a span of time, or so long after the line before it. */
export type HappeningData = { readonly what: Occurrence } & (
  | { readonly at: When }
  | { readonly from: When; readonly to: When }
  | { readonly later: Quantity<"ms"> }
);

/** A trial: on the timeline all that is expected has to be so. */
export function trial(name: string, data: TrialData): Trial {
  const { from, lasts, to, replay, cold, simulated, given = [], happenings = [], expectations } = data;
  return {
    name,
    ...titled(data),
    from: operand(from),
    ...(lasts && { lasts: amount(lasts) }),
    ...(to !== undefined && { to: whenOf(to) }),
    ...(replay !== undefined && { replay }),
    ...(cold && { cold }),
    ...(simulated !== undefined && { simulated: simulated === true ? {} : { weather: simulated } }),
    given,
    happenings: happenings.map(happeningOf),
    expectations,
  };
}

function happeningOf(data: HappeningData): Happening {
  const { what } = data;
  if ("later" in data) return { when: { later: data.later.value }, what };
  if ("at" in data) return { when: { at: whenOf(data.at) }, what };
  return { when: { at: whenOf(data.from), to: whenOf(data.to) }, what };
}

/** What a thing is as the trial begins. */
export function given<Kind>(thing: AnyThing<Kind>, value: Operand<NoInfer<Kind>>): Setting {
  return { name: thing.name, value: operand(value as Term<unknown>, thing.words) };
}

// ── What happens ────────────────────────────────────────────────────────────────────────────────────────────────────────

/** What a person does something to: a thing, a group, or a rule or guard by its name. */
type Named = AnyThing<unknown> | NamedGroup<unknown> | NamedCountdown | NamedPreset | string;

function nameOf(of: Named): string {
  if (typeof of === "string") return of;
  if ("group" in of) return of.group.name;
  if ("countdown" in of) return of.countdown.name;
  return "preset" in of ? of.preset.name : of.name;
}

/** A value a sensor reads, or that a dial or a mode has; over a span of time it moves there. */
export function happens<Kind>(kind: "is" | "moves to", thing: AnyThing<Kind>, value: Operand<NoInfer<Kind>>): Occurrence;
/** A fault of a sensor or an output. */
export function happens(kind: "falls silent" | "sticks" | "refuses", thing: AnyThing<unknown>): Occurrence;
export function happens(kind: "is pressed", button: Thing<"sensor", Pressed>): Occurrence;
/** A reading goes elsewhere for a while. */
export function happens<Kind>(
  kind: "jumps to",
  sensor: Thing<"sensor", Kind>,
  value: Operand<NoInfer<Kind>>,
  how: { readonly for: Lasting },
): Occurrence;
/** How a sensor reports from then on, or by how much an output's doing comes late. */
export function happens(
  kind: "reports every" | "arrives late" | "obeys late",
  thing: Thing<"sensor" | "output", unknown>,
  by: Lasting,
): Occurrence;
export function happens<Of extends Dimension>(
  kind: "wobbles by",
  sensor: Thing<"sensor", NumberOf<Of>>,
  by: Amount<DifferenceOf<NoInfer<Of>>>,
): Occurrence;
/** Somebody sets something: for a time, or until a time of day. */
export function happens<Kind>(
  kind: "person sets",
  thing: AnyThing<Kind> | NamedGroup<Kind>,
  value: Operand<NoInfer<Kind>>,
  how?: { readonly for?: Lasting; readonly until?: When },
): Occurrence;
export function happens(kind: "person pauses", rule: string, how?: { readonly for?: Lasting }): Occurrence;
/** Somebody releases an output, resumes a rule, applies a preset, starts or stops a countdown, runs a rule. */
export function happens(
  kind: "person releases" | "person resumes" | "person applies" | "person starts" | "person stops" | "person runs",
  what: Named,
): Occurrence;
/** A message as it comes over the wiring. */
export function happens(kind: "message", topic: string, reads: string): Occurrence;
export function happens(kind: "the house restarts"): Occurrence;
export function happens(kind: "the house is down", how: { readonly for: Lasting }): Occurrence;
export function happens(kind: "the clock jumps", by: Lasting): Occurrence;
export function happens(kind: Occurrence["kind"], ...parts: readonly unknown[]): Occurrence {
  const [what, second, how = {}] = parts as [Named, Operand<never>, { readonly for?: Lasting; readonly until?: When }];
  const lasts = (of: { readonly for?: Lasting }) => of.for && { for: amount(of.for) };
  switch (kind) {
    case "is":
    case "moves to":
    case "jumps to":
    case "person sets": {
      const value = operand(second, wordsOf(what));
      const until = how.until === undefined ? {} : { until: whenOf(how.until) };
      return { kind, name: nameOf(what), value, ...lasts(how), ...until } as Occurrence;
    }
    case "reports every":
    case "arrives late":
    case "obeys late":
    case "wobbles by":
      return { kind, name: nameOf(what), by: operand(second) };
    case "person pauses":
      return { kind, name: nameOf(what), ...lasts((second ?? {}) as typeof how) };
    case "message":
      return { kind, topic: nameOf(what), reads: String(second) };
    case "the house restarts":
      return { kind };
    case "the house is down":
      return { kind, ...lasts(what as unknown as typeof how) } as Occurrence;
    case "the clock jumps":
      return { kind, by: operand(what as unknown as Operand<never>) };
    default:
      return { kind, name: nameOf(what) };
  }
}

const wordsOf = (of: Named): readonly string[] | undefined => {
  if (typeof of === "string") return undefined;
  return "outputs" in of ? of.outputs[0]?.words : "words" in of ? of.words : undefined;
};

// ── What is expected ────────────────────────────────────────────────────────────────────────────────────────────────────

/** When a claim is looked at: by or at a time, over a span, or from a time to the trial's end; else at the end, or over all of the trial. */
export type Looked =
  | { readonly by?: When; readonly at?: never; readonly from?: never; readonly to?: never }
  | { readonly at: When; readonly by?: never; readonly from?: never; readonly to?: never }
  | { readonly from: When; readonly to?: When; readonly by?: never; readonly at?: never };

function looked({ by, at, from, to }: Looked) {
  return {
    ...(by !== undefined && { by: whenOf(by) }),
    ...(at !== undefined && { at: whenOf(at) }),
    ...(from !== undefined && { from: whenOf(from) }),
    ...(to !== undefined && { to: whenOf(to) }),
  };
}

const claims =
  (claim: "holds" | "never" | "always") =>
  (condition: Condition, when: Looked = {}): Expectation => ({
    claim,
    condition: condition.expression,
    ...looked(when),
  });

/** It is so: by a time, at a time, or at the trial's end. */
export const expects = claims("holds");
/** It is not true at any instant. */
export const never = claims("never");
/** It is true at every instant. */
export const always = claims("always");

/** Whenever the first becomes so, the second is so within so long. */
export function whenever(
  condition: Condition,
  then: Condition,
  { within, ...when }: { readonly within?: Lasting } & Looked = {},
): Expectation {
  const limit = within ? { within: amount(within) } : {};
  return { claim: "whenever", condition: condition.expression, then: then.expression, ...limit, ...looked(when) };
}

const counted = (kind: "count" | "time true" | "share", of: Condition): Term<never> => ({
  expression: { kind, condition: of.expression },
});

/** How often a condition became true in the span of its expectation. */
export const countOf = (of: Condition): Term<NumberOf<"plain">> => counted("count", of);
/** For how long it was true. */
export const timeOf = (of: Condition): Term<NumberOf<"duration">> => counted("time true", of);
/** For what share of the span it was true. */
export const shareOf = (of: Condition): Term<NumberOf<"share">> => counted("share", of);

/** At the instant a notice comes whose text has this in it. */
export const told = (text: string): Condition => ({ expression: { kind: "told", text } });
/** At the instant a problem of this code comes up. */
export const problem = (code: string): Condition => ({ expression: { kind: "problem", text: code } });
/** At the instant a message goes to an address of the wiring. */
export const sent = (text: string, to: string): Condition => ({ expression: { kind: "sent", text, to } });
