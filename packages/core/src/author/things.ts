// Zones and what is in them, dials, modes, schedules and countdowns, written in TypeScript as plain data.

import type { Countdown, Dial, Mode, Output, Schedule, Sensor, Zone as ZoneData } from "../house/index.js";
import { onOff, type Range, type ValueType } from "../house/index.js";
import type { Weekday } from "../time/index.js";
import type { DimensionOf, Quantity, Unit } from "../units/index.js";
import {
  amount,
  type Condition,
  type Lasting,
  type NumberOf,
  type Term,
  type TimeOfDay,
  timeOfDay,
  type WordOf,
} from "./terms.js";

/** A moment that is pressed, not a state. */
export interface Pressed {
  readonly pressed: true;
}

type Declaration =
  | { readonly list: "sensors"; readonly thing: Sensor }
  | { readonly list: "outputs"; readonly thing: Output }
  | { readonly list: "dials"; readonly thing: Dial }
  | { readonly list: "modes"; readonly thing: Mode };

/** A thing that has its name: what conditions and rules speak of. */
export interface Thing<Role extends "sensor" | "output" | "dial" | "mode", Kind> extends Term<Kind> {
  readonly role: Role;
  readonly name: string;
  readonly declaration: Declaration;
}

/** A thing that has no name yet; it gets that of its place in a zone. */
export interface Spec<Role extends "sensor" | "output" | "dial" | "mode", Kind> {
  named(name: string): Thing<Role, Kind>;
}

/** How people call a thing, and what they should know of it. */
export interface Titled {
  readonly title?: string;
  readonly note?: string;
}

/** What is left out stays out: the data is then equal to that of a text. */
export function titled({ title, note }: Titled): Titled {
  return { ...(title !== undefined && { title }), ...(note !== undefined && { note }) };
}

function spec<Role extends "sensor" | "output" | "dial" | "mode", Kind>(
  role: Role,
  type: ValueType,
  declare: (name: string) => Declaration,
): Spec<Role, Kind> {
  const words = type.kind === "words" ? { words: type.words } : {};
  return {
    named: (name) => ({ role, name, declaration: declare(name), expression: { kind: "value", of: name }, ...words }),
  };
}

function typeOf(of: Unit | readonly string[] | "press" | "on/off", ordered: boolean): ValueType {
  if (typeof of !== "string") return { kind: "words", words: of, ordered };
  if (of === "press") return { kind: "press" };
  return of === "on/off" ? onOff : { kind: "number", unit: of };
}

export interface SensorOptions extends Titled {
  readonly range?: Range;
  readonly unknownAfter?: Lasting;
  /** Of words: whether they go from lowest to highest. @default false */
  readonly ordered?: boolean;
  readonly smoothOver?: Lasting;
  readonly deviceHealth?: true;
}

/** A number in a unit, one of some words, or a press. */
export function sensor<Of extends Unit>(of: Of, options?: SensorOptions): Spec<"sensor", NumberOf<DimensionOf<Of>>>;
export function sensor<const Words extends readonly [string, string, ...string[]]>(
  of: Words,
  options?: SensorOptions,
): Spec<"sensor", WordOf<Words[number]>>;
export function sensor(of: "press", options?: Titled): Spec<"sensor", Pressed>;
export function sensor(of: Unit | readonly string[] | "press", options: SensorOptions = {}): Spec<"sensor", never> {
  const { range, unknownAfter, ordered = false, smoothOver, deviceHealth } = options;
  const titles = titled(options);
  const type = typeOf(of, ordered);
  return spec("sensor", type, (name) => ({
    list: "sensors",
    thing: {
      name,
      ...titles,
      type,
      ...(range && { range }),
      ...(unknownAfter && { unknownAfter: amount(unknownAfter) }),
      ...(smoothOver && { smoothOver: amount(smoothOver) }),
      ...(deviceHealth && { deviceHealth }),
    },
  }));
}

export interface OutputOptions<Word extends string = string> extends Titled {
  readonly range?: Range;
  /** What it does when nobody asks. @default off, or 0 */
  readonly atRest?: number | Word;
  /** Least times, by word. */
  readonly atLeast?: Partial<Record<Word, Lasting>>;
  readonly withoutControl?: number | Word;
  readonly uses?: Quantity<"W" | "kW">;
  readonly delivers?: { readonly rate: Quantity<"ml/s" | "l/min" | "l/h" | "m³/h">; readonly after?: Lasting };
}

/** `"on/off"`, other words, or a number in a unit. */
export function output(of: "on/off", options?: OutputOptions<"on" | "off">): Spec<"output", WordOf<"on" | "off">>;
export function output<Of extends Unit>(of: Of, options?: OutputOptions<never>): Spec<"output", NumberOf<DimensionOf<Of>>>;
export function output<const Words extends readonly [string, string, ...string[]]>(
  of: Words,
  options?: OutputOptions<Words[number]>,
): Spec<"output", WordOf<Words[number]>>;
export function output(of: "on/off" | Unit | readonly string[], options: OutputOptions = {}): Spec<"output", never> {
  const { range, atRest, atLeast = {}, withoutControl, uses, delivers } = options;
  const titles = titled(options);
  const type = typeOf(of, false);
  return spec("output", type, (name) => ({
    list: "outputs",
    thing: {
      name,
      ...titles,
      type,
      ...(range && { range }),
      ...(atRest !== undefined && { atRest }),
      atLeast: Object.entries(atLeast).flatMap(([word, duration]) => (duration ? [{ word, duration: amount(duration) }] : [])),
      atMost: [],
      ...(uses && { uses: amount(uses) }),
      ...(delivers && {
        delivers: { rate: amount(delivers.rate), ...(delivers.after && { after: amount(delivers.after) }) },
      }),
      ...(withoutControl !== undefined && { withoutControl }),
    },
  }));
}

export interface DialOptions extends Titled {
  readonly range: Range;
  /** How far a nudge goes. */
  readonly step?: number;
}

/** A value one changes without touching a rule: what it is at first, and its unit, words or `"time"`. */
export function dial<Of extends Unit>(atFirst: number, of: Of, options: DialOptions): Spec<"dial", NumberOf<DimensionOf<Of>>>;
export function dial(atFirst: string, of: "time", options?: Titled): Spec<"dial", TimeOfDay>;
export function dial<const Words extends readonly [string, string, ...string[]]>(
  atFirst: NoInfer<Words[number]>,
  of: Words,
  options?: Titled,
): Spec<"dial", WordOf<Words[number]>>;
export function dial(
  atFirst: number | string,
  of: Unit | "time" | readonly string[],
  options: Partial<DialOptions> = {},
): Spec<"dial", never> {
  const { range, step } = options;
  const titles = titled(options);
  const type: ValueType = of === "time" ? { kind: "time" } : typeOf(of, false);
  const first = of === "time" ? timeOfDay(String(atFirst)) : atFirst;
  return spec("dial", type, (name) => ({
    list: "dials",
    thing: {
      name,
      ...titles,
      type,
      ...(range && { range }),
      atFirst: first,
      ...(step !== undefined && { step }),
    },
  }));
}

/** A state of the whole house. */
export function mode<const Words extends readonly [string, string, ...string[]]>(
  name: string,
  words: Words,
  atFirst: NoInfer<Words[number]>,
  options: Titled = {},
): Thing<"mode", WordOf<Words[number]>> {
  const type = { kind: "words", words, ordered: false } as const;
  const thing = { name, ...titled(options), type, atFirst };
  return spec<"mode", WordOf<Words[number]>>("mode", type, () => ({ list: "modes", thing })).named(name);
}

// ── Zones ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** What a zone says of itself; kept apart from the things in it, which may have any name. */
export const ofZone: unique symbol = Symbol("zone");

export type Specs = Readonly<Record<string, Spec<"sensor" | "output" | "dial", unknown>>>;

/** A zone: its things by name, each with the kind the compiler knows. */
export type Zone<Of extends Specs> = { readonly [Name in keyof Of]: ReturnType<Of[Name]["named"]> } & {
  readonly [ofZone]: ZoneData;
};

/** A zone with its things, each by its name: `bench.humidity`. */
export function zone<const Of extends Specs>(name: string, things: Of, options: Titled = {}): Zone<Of> {
  const named = Object.fromEntries(Object.entries(things).map(([own, thing]) => [own, thing.named(`${name}.${own}`)]));
  return { ...named, [ofZone]: { name, ...titled(options) } } as Zone<Of>;
}

// ── Times ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

const dayNames = { Mon: 0, Tue: 1, Wed: 2, Thu: 3, Fri: 4, Sat: 5, Sun: 6 } as const;
export type DayName = keyof typeof dayNames;

export function weekdays(days: readonly DayName[]): Weekday[] {
  return days.map((day) => dayNames[day]).sort((a, b) => a - b);
}

/** Spans of local time on some days of the week; one that ends before it begins passes midnight. */
export interface Times {
  /** @default every day */
  readonly on?: readonly DayName[];
  readonly spans: readonly (readonly [from: string, to: string])[];
}

export interface NamedSchedule {
  readonly schedule: Schedule;
}

/**
 * Named times of the week.
 * @throws RangeError when a time of day is none
 */
export function schedule(name: string, times: readonly Times[], options: Titled = {}): NamedSchedule {
  const every: readonly DayName[] = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
  const openings = times.map(({ on = every, spans }) => ({
    days: weekdays(on),
    spans: spans.map(([from, to]) => ({ from: { ms: timeOfDay(from) }, to: { ms: timeOfDay(to) } })),
  }));
  return { schedule: { name, ...titled(options), openings } };
}

/** While a schedule applies. */
export function during({ schedule: { name } }: NamedSchedule): Condition {
  return { expression: { kind: "during", schedule: name } };
}

/** While a schedule does not apply. */
export function outside({ schedule: { name } }: NamedSchedule): Condition {
  return { expression: { kind: "not", of: { kind: "during", schedule: name } } };
}

export interface NamedCountdown {
  readonly countdown: Countdown;
}

/** A countdown that rules start and stop, with how long it usually lasts. */
export function countdown(name: string, lasts: Lasting, options: Titled = {}): NamedCountdown {
  return { countdown: { name, ...titled(options), lasts: amount(lasts) } };
}

/** While a countdown runs. */
export function isRunning({ countdown: { name } }: NamedCountdown): Condition {
  return { expression: { kind: "running", countdown: name } };
}

/** True for the instant of a press only. */
export function isPressed(button: Thing<"sensor", Pressed>): Condition {
  return { expression: { kind: "pressed", sensor: button.name } };
}
