// The words of every problem met while reading. A fault is what went wrong as data; its sentence says what is wrong in
// the writer's own words, its remedy what to do.
import { daysOf, longMonthNames } from "../time/index.js";
import { type Dimension, writeNumber } from "../units/index.js";
import { editDistance } from "./nearest.js";
import type { ProblemCode } from "./problem.js";

type Faults = {
  unexpected: { found: string; expected: readonly string[]; in: string; remedy?: string };
  /** A line or block is over though something is wanted after its last word. */
  brokenOff: { after: string; expected: readonly string[]; in: string; remedy?: string };
  missingVerb: { word: string; verb: string };
  unclosedBrace: { what: string };
  strayBrace: object;
  unclosedText: object;
  strangeSign: { text: string };
  /** Written out of habit: what is meant, empty where it should be left out. */
  habit: { written: string; meant: string; remedy?: string };
  durationOrder: { text: string };
  noSuchTime: { text: string };
  /** A date that the calendar does not have; without a year, one that no year has. */
  noSuchDate: { text: string; year?: number; month: number };
  noHouse: { empty: boolean };
  noClock: object;
  unknownZone: { zone: string };
  secondHouse: object;
  /** With what should be written after it, where that is mechanical. */
  /** Mechanical where it is known what is to stand before or after what is written. */
  missing: { what: string; remedy: string; before?: string; after?: string };
  /** A sentence or a part of one, said in another order or with other words than it should be; in lines, as that may be. */
  wording: { what: string; right: readonly string[] };
  unitMissing: { number: string; unit: string };
  unitUnknown: { unit: string; nearest: readonly string[] };
  unitMismatch: { found: string; wanted: string; compared: boolean; remedy?: string };
  /** A name of the house, where another kind of thing is needed. */
  wrongKind: { name: string; found: string; remedy: string };
  absolute: { says: string; remedy: string };
  notTruth: { what: string; remedy: string };
  /** `7.30` */
  timeByPoint: { written: string };
  wrongType: { what: string; wanted: string; remedy?: string };
  measuredIs: { what: string };
  unknownName: { name: string; nearest: readonly string[]; wanted: string; remedy?: string | undefined };
  unknownWord: { word: string; words: readonly string[]; nearest: readonly string[] };
  doubleName: { name: string };
  reservedName: { name: string; why: string };
  outOfRange: { what: string; range: string };
  backwards: { says: string; remedy: string };
  crossingTargets: { numbers: string; remedy?: string };
  forbidsAll: { output: string };
  onlyInTrials: { what: string };
  notHere: { what: string; remedy: string };
  whichKind: { word: string; kinds: readonly string[] };
  incompletePick: { says: string; remedy: string };
  ringOfLets: { names: readonly string[] };
  deviceHealth: { sensor: string };
  notSimulated: { what: string; remedy: string };
  missingCalendar: { file: string };
  outsideTrial: { what: string; trial: string };
  missingRecording: { file: string };
  noPlace: { what: string };
};

export type Fault = { [Kind in keyof Faults]: { readonly kind: Kind } & Faults[Kind] }[keyof Faults];

export interface Said {
  readonly code: ProblemCode;
  readonly reason: string;
  readonly remedy?: string;
  readonly nearest?: readonly string[];
  /** Where the remedy is mechanical: what is to stand in the place of what is written there, if that is as expected. */
  readonly fix?: (written: string) => string | undefined;
}

/** A dimension as people say it. */
export function sayDimension(dimension: Dimension): string {
  return dimension === "plain" ? "a bare number" : dimension;
}

const isDuration = (unit: string) => ["ms", "s", "min", "h", "d"].includes(unit);
const quote = (text: string) => `"${text}"`;
const oneOf = (words: readonly string[]) =>
  words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} or ${words.at(-1)}`;
const meant = (nearest: readonly string[]) => (nearest.length > 0 ? `Did you mean ${oneOf(nearest.map(quote))}?` : undefined);

/** The one nearest word in the place of what is not known; of several, people choose. */
const only = (unknown: string, nearest: readonly string[]) => (written: string) =>
  written === unknown && nearest.length === 1 && isSlip(unknown, nearest[0] as string) ? nearest[0] : undefined;

/** A slip changes a third of the letters of a name at most, its zone left aside, and no number: more is another name. */
function isSlip(written: string, known: string): boolean {
  const [own, other] = [written, known].map((name) => name.slice(name.lastIndexOf(".") + 1).toLowerCase()) as [string, string];
  const most = Math.floor(own.length / 3);
  const [number, otherNumber] = [own, other].map((name) => name.replace(/\D/g, ""));
  return number === otherNumber && editDistance(own, other, most) <= most;
}

/** `7.3`, or `7`, as a time of day. */
const clockOfNumber = (number: number) => number.toFixed(2).replace(".", ":").padStart(5, "0");

/** Less than a whole, where a percentage is wanted. */
const isPart = (number: string, unit: string) => unit === "%" && Number(number) > 0 && Number(number) < 1;

/** Lines in the place of as many, broken where those were; nothing where they are not as many, or a comment would be lost. */
function inLinesOf(written: string, lines: readonly string[]): string | undefined {
  const breaks = written.match(/\r?\n[ \t]*/g) ?? [];
  if (breaks.length === 0) return lines.join(" ");
  if (written.includes("#")) return undefined;
  // What only joins it to the line before goes.
  const joined = /^(then|do|[,:{])[ \t]*\r?\n/.test(written) ? 1 : 0;
  if (breaks.length - joined !== lines.length - 1) return undefined;
  return lines.map((line, place) => `${breaks[place - 1 + joined] ?? ""}${line}`).join("");
}

/** Words and signs that are of the language, in other places than they are written in by habit. */
const own: ReadonlySet<string> = new Set([..."is and or at to for from if in of set when clock : = , - on off".split(" ")]);

/** What is to be written after a word, in quotes: of a value it is that word that says which. */
function wantedAfter(quoted: string, expected: readonly string[]): string {
  if (expected[0] !== "a value") return `${oneOf(expected)} after it`;
  if (/^"(for|over|wait|in the last)"$/.test(quoted)) return "a length of time after it, such as 5 min";
  return /^"(and|or|not|if|while|when|provided)"$/.test(quoted) ? "a condition after it" : "a value after it";
}

const sentences: { [Kind in keyof Faults]: (fault: Faults[Kind]) => Said } = {
  unexpected: ({ found, expected, in: where, remedy }) => ({
    code: "syntax",
    reason: `Unexpected ${found}, ${where}.`,
    remedy: remedy ?? `Expected ${oneOf(expected)}.`,
  }),
  brokenOff: ({ after, expected, in: where, remedy }) => ({
    code: "syntax",
    reason: `Nothing comes after ${after === '","' ? "this comma" : after}, ${where}.`,
    remedy: remedy ?? sentence(`${after === '","' ? "take it out, or " : ""}write ${wantedAfter(after, expected)}.`),
  }),
  missingVerb: ({ word, verb }) => ({
    code: "syntax",
    reason: `${quote(word)} needs a verb.`,
    remedy: `Write ${verb} ${word}.`,
    fix: (written) => (written === word ? `${verb} ${word}` : undefined),
  }),
  unclosedBrace: ({ what }) => ({
    code: "syntax",
    reason: `The { of ${what} is never closed.`,
    remedy: "Add the missing } at its end.",
  }),
  strayBrace: () => ({ code: "syntax", reason: "This } has no matching {.", remedy: "Remove it, or add the missing {." }),
  unclosedText: () => ({
    code: "syntax",
    reason: "This text has no closing quote.",
    remedy: 'Add a " at its end. A text must fit on one line.',
  }),
  strangeSign: ({ text }) => ({
    code: "syntax",
    reason: `${quote(shorten(text))} is not part of the language.`,
    remedy: text.startsWith("?") ? "For one value or another write if … then … else …." : "Remove it.",
    ...(/^[[\]]$/.test(text) && { fix: () => "" }),
  }),
  habit: ({ written, meant, remedy }) => ({
    code: "syntax",
    reason: `${written.startsWith('"') ? shorten(written, 24) : quote(shorten(written, 24))} ${own.has(written) ? "cannot stand here" : "is not part of the language"}.`,
    remedy: remedy ?? (meant === "" ? "Remove it." : `Write ${/^[\p{L}\p{N}]/u.test(meant) ? meant : quote(meant)}.`),
    ...(remedy === undefined && { fix: () => meant }),
  }),
  durationOrder: ({ text }) => ({
    code: "syntax",
    reason: `The parts of ${quote(text)} are in the wrong order.`,
    remedy: "Write larger units first, each once: 1 h 30 min.",
  }),
  noSuchTime: ({ text }) => ({
    code: "out-of-range",
    reason: `${text} is not a time: ${whyNoTime(text)}.`,
    remedy: "Write a time of day such as 07:30.",
  }),
  noSuchDate: ({ text, year, month }) => ({
    code: "out-of-range",
    reason: `${text} does not exist: ${whyNoDate(year, month)}.`,
    remedy: "Write a date as year-month-day: 2026-03-14.",
  }),
  noHouse: ({ empty }) => ({
    code: "syntax",
    reason: empty ? "This file is empty." : "No house is declared.",
    remedy: 'Begin with: house "Name" { clock "Europe/Zurich" }.',
  }),
  noClock: () => ({
    code: "syntax",
    reason: "The house has no clock.",
    remedy: 'Add its time zone to house { … }: clock "Europe/Zurich".',
  }),
  unknownZone: ({ zone }) => ({
    code: "unknown-name",
    reason: `${quote(zone)} is not a valid time zone.`,
    remedy: "Use an IANA name with region and city, e.g. Europe/Zurich.",
  }),
  secondHouse: () => ({
    code: "double-name",
    reason: "This is defined twice.",
    remedy: "A house has one name, one place and one clock. Remove one of the two.",
  }),
  missing: ({ what, remedy, before, after }) => ({
    code: "syntax",
    reason: what,
    remedy,
    ...(before !== undefined && { fix: (written: string) => `${before} ${written}` }),
    ...(after !== undefined && {
      fix: (written: string) => (/^[,:]$/.test(after) ? `${written}${after}` : `${written} ${after}`),
    }),
  }),
  wording: ({ what, right }) => ({
    code: "syntax",
    reason: what,
    remedy: `Write ${right.join(" ")}.`,
    fix: (written) => inLinesOf(written, right),
  }),
  unitMissing: ({ number, unit }) => ({
    code: "unit",
    reason: `${quote(number)} has no unit.`,
    remedy: isDuration(unit)
      ? `Write ${number} s, ${number} min or ${number} h.`
      : isPart(number, unit)
        ? `Write ${writeNumber(100 * Number(number))} %, or ${number} %.`
        : `Write ${number} ${unit}.`,
    // Which unit of time, and of which whole a part is meant, nobody but its writer knows.
    ...(!isDuration(unit) &&
      !isPart(number, unit) && { fix: (written: string) => (/^[\d.]+$/.test(written) ? `${written} ${unit}` : undefined) }),
  }),
  unitUnknown: ({ unit, nearest }) => ({
    code: "unit",
    reason: `${quote(unit)} is not a unit or a kind of value.`,
    remedy: meant(nearest) ?? "Use a unit such as °C, %RH, lx, ppm, or words such as open/closed.",
    nearest,
    fix: only(unit, nearest),
  }),
  unitMismatch: ({ found, wanted, compared, remedy }) => ({
    code: "unit",
    reason: compared ? `Cannot compare ${wanted} with ${found}.` : `Expected ${wanted}, found ${found}.`,
    remedy: remedy ?? "Use units of the same kind on both sides.",
  }),
  wrongKind: ({ name, found, remedy }) => ({ code: "type", reason: `${name} is ${withArticle(found)}.`, remedy }),
  absolute: ({ says, remedy }) => ({ code: "unit", reason: says, remedy }),
  notTruth: ({ what, remedy }) => ({ code: "type", reason: `${quote(what)} alone is not true or false.`, remedy }),
  timeByPoint: ({ written }) => ({
    code: "type",
    reason: `${quote(written)} is a number; a time of day is needed here.`,
    remedy: `Write ${clockOfNumber(Number(written))}.`,
    fix: () => clockOfNumber(Number(written)),
  }),
  wrongType: ({ what, wanted, remedy }) => ({
    code: "type",
    reason: `Expected ${wanted}, found ${what}.`,
    remedy: remedy ?? `Write ${wanted} here.`,
  }),
  measuredIs: ({ what }) => ({
    code: "type",
    reason: `${quote(what)} is measured, and a measurement is almost never exactly one value.`,
    remedy: "Use between, at least or at most.",
  }),
  unknownName: ({ name, nearest, wanted, remedy }) => ({
    code: "unknown-name",
    reason: `There is no ${wanted} called ${quote(name)}.`,
    remedy:
      remedy ??
      meant(nearest) ??
      `Declare it, or use ${wanted === "thing" ? "the name of something" : withArticle(wanted)} that this house has.`,
    nearest,
    fix: only(name, nearest),
  }),
  unknownWord: ({ word, words, nearest }) => ({
    code: "unknown-name",
    reason: words.length === 1 ? `${quote(word)} is not allowed here.` : `${quote(word)} is none of ${words.join("/")}.`,
    remedy: meant(nearest) ?? `Use ${oneOf(words)}.`,
    nearest,
    fix: only(word, nearest),
  }),
  doubleName: ({ name }) => ({
    code: "double-name",
    reason: `${quote(name)} is the name of two things.`,
    remedy: "Rename one of them.",
  }),
  reservedName: ({ name, why }) => ({
    code: "syntax",
    reason: `${quote(name)} cannot be a name: ${why}.`,
    remedy: "Choose another word.",
  }),
  outOfRange: ({ what, range }) => ({
    code: "out-of-range",
    reason: `${what} is outside ${range}.`,
    remedy: "Change the value, or widen the range.",
  }),
  backwards: ({ says, remedy }) => ({ code: "out-of-range", reason: says, remedy }),
  crossingTargets: ({ numbers, remedy }) => ({
    code: "crossing-targets",
    reason: `The targets cross: ${numbers}.`,
    remedy: remedy ?? "Put the lower target first and leave room for the tolerance between them.",
  }),
  forbidsAll: ({ output }) => ({
    code: "forbids-all",
    reason: `The guards can forbid every value of ${output}.`,
    remedy: "Leave at least one of its values out of the guards.",
  }),
  onlyInTrials: ({ what }) => ({
    code: "syntax",
    reason: `${quote(what)} is only allowed in the expectations of a trial.`,
    remedy: "Use a condition on a sensor, dial, mode or output.",
  }),
  notHere: ({ what, remedy }) => ({ code: "syntax", reason: `${quote(what)} cannot stand here.`, remedy }),
  whichKind: ({ word, kinds }) => ({
    code: "type",
    reason:
      kinds.length === 0
        ? `Which kind is ${quote(word)}? No thing in this house has this state.`
        : `Which kind is ${quote(word)}? Several have this state: ${kinds.join(" and ")}.`,
    remedy: `Name the kind: let x: ${kinds[0] ?? `${word}/…`} = ….`,
  }),
  incompletePick: ({ says, remedy }) => ({ code: "incomplete-pick", reason: says, remedy }),
  ringOfLets: ({ names }) => ({
    code: "ring-of-lets",
    reason: `${names.join(" needs ")} needs ${names[0]}.`,
    remedy: "Break the circle: one of them must not depend on the others.",
  }),
  deviceHealth: ({ sensor }) => ({
    code: "device-health",
    reason: `${sensor} measures the device, not the room.`,
    remedy: "Use a room sensor, or a let that combines several.",
  }),
  notSimulated: ({ what, remedy }) => ({ code: "not-simulated", reason: `${sentence(what)} is not simulated.`, remedy }),
  noPlace: ({ what }) => ({
    code: "syntax",
    reason: `${quote(what)} needs the position of the house.`,
    remedy: "Add it to house { … }: place 46.95 N, 7.45 E.",
  }),
  missingRecording: ({ file }) => ({
    code: "unknown-name",
    reason: `There is no recording ${quote(file)} in the folder of the house.`,
    remedy: "Put the CSV or SenML file next to the .modrik files.",
  }),
  outsideTrial: ({ what, trial }) => ({
    code: "out-of-range",
    reason: `${what} is outside the trial, which runs ${trial}.`,
    remedy: "Make the trial longer, or use a time within it.",
  }),
  missingCalendar: ({ file }) => ({
    code: "unknown-name",
    reason: `There is no calendar ${quote(file)} in the folder of the house.`,
    remedy: "Put the iCalendar file next to the .modrik files.",
  }),
};

/** The sentence, code and remedy of a fault. */
export function sayFault(fault: Fault): Said {
  const say = sentences[fault.kind] as (fault: Fault) => Said;
  return say(fault);
}

export function withArticle(noun: string): string {
  return `${/^[aeiou]/.test(noun) ? "an" : "a"} ${noun}`;
}

/** A sentence begins with a capital letter, unless it begins with a name. */
function sentence(text: string): string {
  return /^\p{L}+[._\d]/u.test(text) ? text : text.charAt(0).toUpperCase() + text.slice(1);
}

/** `minutes go up to 59`, of a time such as `07:61`. */
function whyNoTime(text: string): string {
  const [hours, minutes] = text.split(":").map(Number) as [number, number];
  if (hours > 24 || (hours === 24 && minutes > 0)) return "times of day run from 00:00 to 24:00";
  return minutes > 59 ? "minutes go up to 59" : "seconds go up to 59";
}

/** `February 2026 has 28 days`, of a date such as `2026-02-30`. */
function whyNoDate(year: number | undefined, month: number): string {
  const name = longMonthNames[month - 1];
  if (name === undefined) return "months go from 01 to 12";
  const days = daysOf(month, year ?? LEAP_YEAR);
  return year === undefined ? `${name} has ${days} days at most` : `${name} ${year} has ${days} days`;
}

const LEAP_YEAR = 2028;

function shorten(text: string, most = 12): string {
  return text.length > most ? `${text.slice(0, most)}…` : text;
}
