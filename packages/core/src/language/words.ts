// The words of every problem met while reading. A fault is what went wrong as data; its sentence says what is wrong in
// the writer's own words, its remedy what to do.
import type { Dimension } from "../units/index.js";
import { editDistance } from "./nearest.js";
import type { ProblemCode } from "./problem.js";

type Faults = {
  unexpected: { found: string; expected: readonly string[]; in: string };
  missingVerb: { word: string; verb: string };
  unclosedBrace: { what: string };
  strayBrace: object;
  unclosedText: object;
  strangeSign: { text: string };
  /** Written out of habit: what is meant, empty where it is to be left out. */
  habit: { written: string; meant: string; remedy?: string };
  durationOrder: { text: string };
  noSuchTime: { text: string };
  noSuchDate: { text: string };
  noHouse: { empty: boolean };
  noClock: object;
  unknownZone: { zone: string };
  secondHouse: object;
  missing: { what: string; remedy: string };
  unitMissing: { number: string; unit: string };
  unitUnknown: { unit: string; nearest: readonly string[] };
  unitMismatch: { left: string; right: string };
  absolute: { says: string; remedy: string };
  notTruth: { what: string; remedy: string };
  /** `7.30` */
  timeByPoint: { written: string };
  wrongType: { what: string; wanted: string; remedy?: string };
  measuredIs: { what: string };
  unknownName: { name: string; nearest: readonly string[]; wanted: string };
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

/** A slip changes a third of the letters of a name at most, its zone left aside; more than that is another name. */
function isSlip(written: string, known: string): boolean {
  const [own, other] = [written, known].map((name) => name.slice(name.lastIndexOf(".") + 1).toLowerCase()) as [string, string];
  const most = Math.max(1, Math.floor(own.length / 3));
  return editDistance(own, other, most) <= most;
}

const sentences: { [Kind in keyof Faults]: (fault: Faults[Kind]) => Said } = {
  unexpected: ({ found, expected, in: where }) => ({
    code: "syntax",
    reason: `${found} does not fit here, ${where}.`,
    remedy: `Expected ${oneOf(expected)}.`,
  }),
  missingVerb: ({ word, verb }) => ({
    code: "syntax",
    reason: `${quote(word)} stands without a verb.`,
    remedy: `Write ${verb} ${word}.`,
    fix: (written) => (written === word ? `${verb} ${word}` : undefined),
  }),
  unclosedBrace: ({ what }) => ({
    code: "syntax",
    reason: `The brace of ${what} is never closed.`,
    remedy: "Add the missing } where it ends.",
  }),
  strayBrace: () => ({ code: "syntax", reason: "This } closes nothing.", remedy: "Take it out, or add the { it belongs to." }),
  unclosedText: () => ({
    code: "syntax",
    reason: "This text is not closed before the line ends.",
    remedy: 'Add a " at its end; text stands on one line.',
  }),
  strangeSign: ({ text }) => ({
    code: "syntax",
    reason: `${quote(shorten(text))} means nothing in the language.`,
    remedy: "Take it out.",
  }),
  habit: ({ written, meant, remedy }) => ({
    code: "syntax",
    reason: `${quote(shorten(written, 24))} is not how it is written here.`,
    remedy: remedy ?? (meant === "" ? "Take it out." : `Write ${/^[\p{L}\p{N}]/u.test(meant) ? meant : quote(meant)}.`),
    ...(remedy === undefined && { fix: () => meant }),
  }),
  durationOrder: ({ text }) => ({
    code: "syntax",
    reason: `The parts of ${quote(text)} do not descend.`,
    remedy: "Write the largest part first, each once: 1 h 30 min.",
  }),
  noSuchTime: ({ text }) => ({
    code: "out-of-range",
    reason: `There is no time ${quote(text)}.`,
    remedy: "Times of day run from 00:00 to 24:00.",
  }),
  noSuchDate: ({ text }) => ({
    code: "out-of-range",
    reason: `There is no date ${quote(text)}.`,
    remedy: "Dates are written year-month-day: 2026-03-14.",
  }),
  noHouse: ({ empty }) => ({
    code: "syntax",
    reason: empty ? "There is nothing here." : "No house is declared.",
    remedy: 'Begin with: house "Name" { clock "Europe/Zurich" }.',
  }),
  noClock: () => ({
    code: "syntax",
    reason: "The house has no clock.",
    remedy: 'Say its time zone in the braces of house: clock "Europe/Zurich".',
  }),
  unknownZone: ({ zone }) => ({
    code: "unknown-name",
    reason: `${quote(zone)} is no time zone.`,
    remedy: "Use an IANA name, region and city: Europe/Zurich.",
  }),
  secondHouse: () => ({
    code: "double-name",
    reason: "This is said for the second time.",
    remedy: "A house has one name, one place and one clock; take one of the two out.",
  }),
  missing: ({ what, remedy }) => ({ code: "syntax", reason: what, remedy }),
  unitMissing: ({ number, unit }) => ({
    code: "unit",
    reason: `${quote(number)} has no unit.`,
    remedy: isDuration(unit) ? `Say of what: ${number} s, ${number} min or ${number} h.` : `Write ${number} ${unit}.`,
    // Which unit of time is meant nobody but its writer knows.
    ...(!isDuration(unit) && { fix: (written: string) => (/^[\d.]+$/.test(written) ? `${written} ${unit}` : undefined) }),
  }),
  unitUnknown: ({ unit, nearest }) => ({
    code: "unit",
    reason: `${quote(unit)} is no unit and no kind of value.`,
    remedy: meant(nearest) ?? "Use a unit such as °C, %RH, lx, ppm, or words such as open/closed.",
    nearest,
    fix: only(unit, nearest),
  }),
  unitMismatch: ({ left, right }) => ({
    code: "unit",
    reason: `${sentence(left)} cannot stand beside ${right}.`,
    remedy: "Use a unit that measures the same thing on both sides.",
  }),
  absolute: ({ says, remedy }) => ({ code: "unit", reason: says, remedy }),
  notTruth: ({ what, remedy }) => ({ code: "type", reason: `${quote(what)} is no condition by itself.`, remedy }),
  timeByPoint: ({ written }) => ({
    code: "type",
    reason: `${quote(written)} is a number, and a time of day is wanted.`,
    remedy: `Write ${written.replace(".", ":").padStart(5, "0")}.`,
    fix: () => written.replace(".", ":").padStart(5, "0"),
  }),
  wrongType: ({ what, wanted, remedy }) => ({
    code: "type",
    reason: `${sentence(what)} stands where ${wanted} is wanted.`,
    remedy: remedy ?? `Put ${wanted} here.`,
  }),
  measuredIs: ({ what }) => ({
    code: "type",
    reason: `${quote(what)} is measured, and a measured number is hardly ever exactly one value.`,
    remedy: "Use between, at least or at most.",
  }),
  unknownName: ({ name, nearest, wanted }) => ({
    code: "unknown-name",
    reason: `There is no ${wanted} called ${quote(name)}.`,
    remedy: meant(nearest) ?? `Declare it, or use the name of ${wanted === "thing" ? "one" : withArticle(wanted)} of this house.`,
    nearest,
    fix: only(name, nearest),
  }),
  unknownWord: ({ word, words, nearest }) => ({
    code: "unknown-name",
    reason: words.length === 1 ? `${quote(word)} cannot stand here.` : `${quote(word)} is none of ${words.join("/")}.`,
    remedy: meant(nearest) ?? `Use ${oneOf(words)}.`,
    nearest,
    fix: only(word, nearest),
  }),
  doubleName: ({ name }) => ({
    code: "double-name",
    reason: `${quote(name)} means two things.`,
    remedy: "Give one of the two another name.",
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
    reason: `The guards can leave ${output} no permitted value.`,
    remedy: "Leave one of its values out of the guards.",
  }),
  onlyInTrials: ({ what }) => ({
    code: "syntax",
    reason: `${quote(what)} stands only in the expectations of a trial.`,
    remedy: "Use a condition on a sensor, dial, mode or output.",
  }),
  notHere: ({ what, remedy }) => ({ code: "syntax", reason: `${quote(what)} cannot stand here.`, remedy }),
  whichKind: ({ word, kinds }) => ({
    code: "type",
    reason: `${quote(word)} is a word of ${kinds.length === 0 ? "nothing in this house" : `several things: ${kinds.join(" and ")}`}.`,
    remedy: `Say the kind: let x: ${kinds[0] ?? `${word}/…`} = ….`,
  }),
  incompletePick: ({ says, remedy }) => ({ code: "incomplete-pick", reason: says, remedy }),
  ringOfLets: ({ names }) => ({
    code: "ring-of-lets",
    reason: `${names.join(" needs ")} needs ${names[0]}.`,
    remedy: "Break the ring: one of them must do without the others.",
  }),
  deviceHealth: ({ sensor }) => ({
    code: "device-health",
    reason: `${sensor} tells how the device is, not how the room is.`,
    remedy: "Regulate by what the room has: another sensor, or a let of several.",
  }),
  notSimulated: ({ what, remedy }) => ({ code: "not-simulated", reason: `${sentence(what)} is not simulated.`, remedy }),
  noPlace: ({ what }) => ({
    code: "syntax",
    reason: `${quote(what)} needs to know where on earth the house is.`,
    remedy: "Say its place in the braces of house: place 46.95 N, 7.45 E.",
  }),
  missingRecording: ({ file }) => ({
    code: "unknown-name",
    reason: `There is no recording ${quote(file)} beside the house.`,
    remedy: "Put the file, CSV or SenML, into the folder of the house.",
  }),
  outsideTrial: ({ what, trial }) => ({
    code: "out-of-range",
    reason: `${what} is outside the trial, which goes ${trial}.`,
    remedy: "Let the trial go on until then, or name a time within it.",
  }),
  missingCalendar: ({ file }) => ({
    code: "unknown-name",
    reason: `There is no calendar ${quote(file)} beside the house.`,
    remedy: "Put the iCalendar file into the folder of the house.",
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

function shorten(text: string, most = 12): string {
  return text.length > most ? `${text.slice(0, most)}…` : text;
}
