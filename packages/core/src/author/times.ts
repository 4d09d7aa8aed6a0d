// Times of the week and of the year, values by the hour, countdowns; what the sun and the clock say.

import type { Countdown, Profile, Range, Schedule, SunEvent } from "../house/index.js";
import { fixedTimeOf } from "../house/index.js";
import { type DatesRange, dayOfDate, EVERY_DAY, type FixedTime, monthNames, type Weekday, weekdayNames } from "../time/index.js";
import type { DimensionOf, Unit } from "../units/index.js";
import {
  amount,
  type Condition,
  type DateOf,
  type Lasting,
  type NumberOf,
  type Operand,
  operand,
  type Pressed,
  type Term,
  type TimeOfDay,
  type WordOf,
} from "./kinds.js";
import { dayTime } from "./terms.js";
import { type Thing, type Titled, titled, typeOf } from "./things.js";

/** A day of the week: `"Mon"`. */
export type DayName = (typeof weekdayNames)[number];

/** Days of the week by their numbers; every day where none is said. */
export function weekdays(days: readonly DayName[] | undefined): readonly Weekday[] {
  return days ? days.map((day) => weekdayNames.indexOf(day) as Weekday).sort((a, b) => a - b) : EVERY_DAY;
}

// ── Schedules ───────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Spans of local time on some days of the week; one that ends before it begins passes midnight. */
export interface Times {
  /** @default every day */
  readonly on?: readonly DayName[];
  /** Times of day, those of the sun too: `["07:30", minus(sunTime("sunset"), minutes(20))]`. */
  readonly spans: readonly (readonly [from: Operand<TimeOfDay>, to: Operand<TimeOfDay>])[];
}

/** A schedule, as `during`, `begins` and people depend on it. */
export interface NamedSchedule {
  readonly schedule: Schedule;
}

/** On which days a schedule applies at all, and on which it does not. */
export interface ScheduleOptions extends Titled {
  readonly only?: readonly DatesRange[];
  readonly except?: readonly DatesRange[];
}

/**
 * Named times of the week.
 * @throws RangeError when a time of day is none, or not the same every day but for the sun
 */
export function schedule(
  name: string,
  times: readonly Times[],
  { only, except, ...titles }: ScheduleOptions = {},
): NamedSchedule {
  const openings = times.map(({ on, spans }) => ({
    days: weekdays(on),
    spans: spans.map(([from, to]) => ({ from: fixedTime(from), to: fixedTime(to) })),
  }));
  return { schedule: { name, ...titled(titles), openings, ...(except && { except }), ...(only && { only }) } };
}

/** Times that a calendar file (RFC 5545) says; its text stands among the `calendars` of the house. */
export function calendar(name: string, file: string, titles: Titled = {}): NamedSchedule {
  return { schedule: { name, ...titled(titles), openings: [], file } };
}

function fixedTime(time: Operand<TimeOfDay>): FixedTime {
  const found = fixedTimeOf(operand(time));
  if (!found) throw new RangeError("a schedule goes by times of day and by the sun, not by what changes");
  return found;
}

/**
 * Days of one year, both included: `dates("2026-12-24", "2027-01-02")`.
 * @throws RangeError when there is no such date
 */
export function dates(from: string, to = from): DatesRange {
  return { kind: "dates", from: dayOf(from), to: dayOf(to) };
}

/**
 * Days of every year, both included: `everyYear("Dec 24", "Jan 2")`.
 * @throws RangeError when there is no such day
 */
export function everyYear(from: string, to = from): DatesRange {
  return { kind: "yearly", from: monthDay(from), to: monthDay(to) };
}

function monthDay(text: string): [month: number, day: number] {
  const [name = "", number = ""] = text.split(" ");
  const [month, day] = [(monthNames as readonly string[]).indexOf(name) + 1, Number(number)];
  // A leap year has every day that any year has.
  if (month === 0 || dayOfDate(2024, month, day) === undefined) throw new RangeError(`"${text}" is no day of a year, as Dec 24`);
  return [month, day];
}

function dayOf(date: string): number {
  const [year = 0, month = 0, day = 0] = date.split("-").map(Number);
  const found = dayOfDate(year, month, day);
  if (found === undefined) throw new RangeError(`"${date}" is no date, as 2026-03-14`);
  return found;
}

/** While a schedule applies. */
export function during({ schedule: { name } }: NamedSchedule): Condition {
  return { expression: { kind: "during", schedule: name } };
}

/** While a schedule does not apply. */
export function outside({ schedule: { name } }: NamedSchedule): Condition {
  return { expression: { kind: "not", of: { kind: "during", schedule: name } } };
}

/** How long until a schedule next begins; zero while it never does. */
export function beginsIn({ schedule: { name } }: NamedSchedule): Term<NumberOf<"duration">> {
  return { expression: { kind: "begins in", schedule: name } };
}

/** How long until it ends; zero while it does not apply. */
export function endsIn({ schedule: { name } }: NamedSchedule): Term<NumberOf<"duration">> {
  return { expression: { kind: "ends in", schedule: name } };
}

// ── Profiles ────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Values by the hour, from each time on, on some days of the week. */
export interface ProfilePoints<Kind> {
  /** @default every day */
  readonly on?: readonly DayName[];
  readonly points: readonly (readonly [from: Operand<TimeOfDay>, value: Operand<Kind>])[];
}

export interface NamedProfile<Kind> extends Term<Kind> {
  readonly profile: Profile;
}

/** What else is said of a profile. */
export interface ProfileOptions extends Titled {
  readonly range?: Range;
  /** A straight line from point to point, instead of steps. @default false */
  readonly ramped?: boolean;
}

/** A value by the hour: a number in a unit, or one of some words. It has to be among the `profiles` of the house. */
export function profile<Of extends Unit>(
  name: string,
  of: Of,
  days: readonly ProfilePoints<NumberOf<DimensionOf<Of>>>[],
  options?: ProfileOptions,
): NamedProfile<NumberOf<DimensionOf<Of>>>;
export function profile<const Words extends readonly [string, string, ...string[]]>(
  name: string,
  of: Words,
  days: readonly ProfilePoints<WordOf<Words[number]>>[],
  options?: ProfileOptions,
): NamedProfile<WordOf<Words[number]>>;
export function profile(
  name: string,
  of: "time",
  days: readonly ProfilePoints<TimeOfDay>[],
  options?: ProfileOptions,
): NamedProfile<TimeOfDay>;
export function profile(
  name: string,
  of: Unit | "time" | readonly string[],
  days: readonly { readonly on?: readonly DayName[]; readonly points: readonly (readonly [Operand<TimeOfDay>, unknown])[] }[],
  { range, ramped = false, ...titles }: ProfileOptions = {},
): NamedProfile<never> {
  const type = typeOf(of);
  const words = type.kind === "words" ? { words: type.words } : {};
  const all = days.map(({ on, points }) => ({
    days: weekdays(on),
    points: points.map(([from, value]) => ({ from: fixedTime(from), value: operand(value as Term<never>, words.words) })),
  }));
  const said = { name, ...titled(titles), type, ...(range && { range }), ramped, days: all };
  return { profile: said, expression: { kind: "value", of: name }, ...words };
}

// ── Countdowns ──────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A countdown, as steps start it and conditions ask after it. */
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

/** How long a countdown still runs; zero while it does not. */
export function remaining({ countdown: { name } }: NamedCountdown): Term<NumberOf<"duration">> {
  return { expression: { kind: "remaining", countdown: name } };
}

// ── The sun and the clock ───────────────────────────────────────────────────────────────────────────────────────────────

/** Today's time of day of an event of the sun. */
export function sunTime(event: SunEvent): Term<TimeOfDay> {
  return { expression: { kind: "sun time", event } };
}

/** Degrees above the horizon, as it is seen. */
export const sunElevation: Term<NumberOf<"angle">> = { expression: { kind: "sun", what: "elevation" } };
/** Degrees clockwise from north. */
export const sunAzimuth: Term<NumberOf<"angle">> = { expression: { kind: "sun", what: "azimuth" } };
/** The time of day. */
export const clockTime: Term<TimeOfDay> = { expression: { kind: "clock", what: "time" } };
/** The date. */
export const clockDate: Term<DateOf> = { expression: { kind: "clock", what: "date" } };
/** The day of the week; Mon is the lowest. */
export const clockWeekday: Term<WordOf<DayName>> = {
  expression: { kind: "clock", what: "weekday" },
  words: weekdayNames,
};

/** While the wall clock is within [from, to); a span may pass midnight. */
export function clockBetween(from: Operand<TimeOfDay>, to: Operand<TimeOfDay>): Condition {
  return { expression: { kind: "clock between", from: dayTime(from), to: dayTime(to) } };
}

// ── What is known of things besides their value ──────────────────────────────────────────────────────────────────────────

/** How long ago a sensor last reported. */
export function age(sensor: Thing<"sensor", unknown>): Term<NumberOf<"duration">> {
  return { expression: { kind: "age", of: sensor.name } };
}

/** How much the last dose of an output gave; unknown before the first. */
export function lastAmount(output: Thing<"output", unknown>): Term<NumberOf<"volume">> {
  return { expression: { kind: "last amount", output: output.name } };
}

/** What an output does when nobody asks. */
export function rest<Kind>(output: Thing<"output", Kind>): Term<Kind> {
  return { expression: { kind: "rest", of: output.name }, ...(output.words && { words: output.words }) };
}

/** What was confirmed differs from what was last sent. */
export function disobeys(output: Thing<"output", unknown>): Condition {
  return { expression: { kind: "disobeys", output: output.name } };
}

/** True for the instant of a press only. */
export function isPressed(button: Thing<"sensor", Pressed>): Condition {
  return { expression: { kind: "pressed", sensor: button.name } };
}
