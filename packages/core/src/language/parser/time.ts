// Schedules and profiles: days, dates, spans and points of time.
import { DAY, daysOf, EVERY_DAY, monthNames, weekdayNames, writeDays } from "../../time/index.js";
import { writeTimeOfDay } from "../../units/index.js";
import { rampedHabits } from "../habits.js";
import type { DatesNode, OpeningNode, ProfileEntry, ProfileNode, Quoted, ScheduleNode, Term } from "../syntax.js";
import { isNumberToken } from "./ahead.js";
import type { Cursor } from "./cursor.js";
import { comesDays, days } from "./days.js";
import { heading, splitNote, trailingNote } from "./heading.js";
import { quoted } from "./quoted.js";
import { sum, value } from "./terms.js";
import { typeNode } from "./types.js";

const openingBegins: ReadonlySet<string> = new Set(["daily", "except", "only", "note", ...weekdayNames]);

export function schedule(c: Cursor): ScheduleNode {
  const first = c.opening("schedule");
  const head = heading(c, "schedule");
  const lacksCalendar = c.comes("from") && c.peek().kind === "text" && c.takeMeant("from calendar", ["from"]);
  if (lacksCalendar || c.takeWords("from", "calendar")) {
    const calendar = quoted(c);
    const note = trailingNote(c);
    return { kind: "schedule", ...head, calendar, openings: [], ...(note && { note }), span: c.span(first) };
  }
  if (c.isSign("=") || c.isSign(":")) c.fail(['"{"'], `Write schedule ${head.name.text} { … }.`);
  const body = c.block(`schedule ${head.name.text}`, openingBegins, () => (c.takeWord("note") ? quoted(c) : opening(c)));
  const { entries, note } = splitNote<OpeningNode>(body);
  return { kind: "schedule", ...head, openings: entries, ...(note && { note }), span: c.span(first) };
}

/** `June`, `Jun`: the month that is meant. */
function monthOf(text: string): string | undefined {
  return monthNames.find(
    (month) => text.length >= 3 && text.toLowerCase().startsWith(month.toLowerCase()) && /^\p{Lu}/u.test(text),
  );
}

function opening(c: Cursor): OpeningNode {
  const first = c.token;
  if (c.isWord("except") || c.isWord("only")) {
    const kind = c.next().text as "except" | "only";
    if (/^(public_)?(holiday|vacation)s?$/i.test(c.token.text))
      c.missing(
        c.token,
        "Holidays are read from a calendar.",
        'Declare schedule holidays from calendar "holidays.ics", then write outside holidays in the rule.',
      );
    return { kind, dates: c.list(() => dates(c)), span: c.span(first) };
  }
  if ((c.isSign(",") || c.comes("on") || c.comes("every")) && comesDays(c, 1) && !comesDays(c)) c.takeMeant("", [c.token.text]);
  if ((c.comes("from") || c.comes("between")) && monthNames.some((month) => c.comes(month, 1)))
    c.missing(c.token, "Dates have a line of their own.", "Write only Nov 1..Feb 28 on a line of its own.");
  if (c.comes("calendar")) {
    const text = c.peek().kind === "text" ? c.peek().text : '"holidays.ics"';
    c.missing(c.token, "A calendar is a schedule of its own.", `Write in place of the braces: from calendar ${text}.`);
  }
  if (monthOf(c.token.text) !== undefined)
    c.missing(c.token, "Dates have a line of their own.", "Write only Jun 1..Aug 31 on a line of its own.");
  const on = openingDays(c);
  const spans = [];
  do spans.push(stretch(c));
  while (takesMore(c));
  return { kind: "days", days: on, spans, span: c.span(first) };
}

/** `daily except Sun`: told as the days that are left, and read on with. */
function openingDays(c: Cursor): number[] {
  const first = c.token;
  const { on } = c.faults.whole(
    first,
    () => {
      const all = days(c);
      if (!c.comes("except") || !comesDays(c, 1)) return { on: all, isLess: false };
      c.next();
      const other = days(c);
      if (all.every((day) => other.includes(day)))
        c.missing(c.span(first), "No day is left.", "Name the days that are left instead, such as Mon..Sat 08:00 to 12:00.");
      return { on: all.filter((day) => !other.includes(day)), isLess: true };
    },
    ({ on: left, isLess }) => {
      const what = "Days that are left out are not said.";
      return isLess ? [c.span(first), { kind: "wording", what, right: [writeDays(left)] }] : undefined;
    },
  );
  return on;
}

/** Another of the same days, behind a comma. */
function takesMore(c: Cursor): boolean {
  return !comesDays(c, 1) && (c.takeSign(",") || c.takeMeant(",", ["and"]));
}

/** From one time to another. */
function stretch(c: Cursor): { from: Term; to: Term } {
  c.takeMeant("", ["from", "at"]);
  const from = sum(c);
  // `08:00-17:00` reads as a difference.
  if (from.kind === "binary" && from.sign === "-" && from.right.kind === "time" && !c.comes("to")) {
    c.tellMeant(from.span, `${c.textOf(from.left.span)} to ${c.textOf(from.right.span)}`);
    return { from: from.left, to: from.right };
  }
  const hours = hoursOf(from);
  if (hours && !c.comes("to")) {
    const [begins, ends] = hours.map((hour): Term => ({ kind: "time", ms: (hour * DAY) / 24, span: from.span })) as [Term, Term];
    c.tellMeant(from.span, hours.map((hour) => `${String(hour).padStart(2, "0")}:00`).join(" to "));
    return { from: begins, to: ends };
  }
  if (c.comes("for") && c.peek().kind === "duration" && from.kind === "time") {
    const begins = c.next();
    const ms = (from.ms + c.next().value) % DAY;
    c.tellMeant(begins, `to ${writeTimeOfDay(ms)}`);
    return { from, to: { kind: "time", ms, span: c.span(begins) } };
  }
  if (!c.takeMeant("to", ["until", "till", ".."])) c.word("to");
  return { from, to: sum(c) };
}

/** `8-18`, which reads as a difference: two hours of the day. */
function hoursOf(of: Term): readonly [number, number] | undefined {
  if (of.kind !== "binary" || of.sign !== "-" || of.left.kind !== "number" || of.right.kind !== "number") return undefined;
  const hours = [of.left, of.right].map((one) => (one.unit === "" && Number.isInteger(one.value) ? one.value : 25));
  return hours.every((hour) => hour >= 0 && hour <= 24) ? (hours as [number, number]) : undefined;
}

function dates(c: Cursor): DatesNode {
  const first = c.token;
  if (first.kind === "date") {
    c.next();
    const from = first.text;
    if (!c.takeSign("..")) return { kind: "dates", from, to: from, span: first };
    if (c.token.kind !== "date") c.fail(["a date such as 2026-12-24"]);
    return { kind: "dates", from, to: c.next().text, span: c.span(first) };
  }
  const begin = monthDay(c);
  const end = c.takeSign("..") || c.takeMeant("..", ["to", "-"]) ? monthDay(c) : begin;
  const [from, to] = [begin, end].map(([month, day], place): [number, number] => [
    month,
    day ?? (place === 0 ? 1 : daysOf(month, LEAP_YEAR)),
  ]) as [[number, number], [number, number]];
  const span = c.span(first);
  if (begin[1] === undefined || end[1] === undefined) {
    const say = ([month, day]: [number, number]) => `${monthNames[month - 1]} ${day}`;
    c.tellMeant(first, `${say(from)}..${say(to)}`);
  }
  return { kind: "yearly", from, to, span };
}

/** So that a February has all the days that it can have. */
const LEAP_YEAR = 2028;

/** A month, and a day of it, where that is said. */
function monthDay(c: Cursor): [month: number, day: number | undefined] {
  const month = (monthNames as readonly string[]).indexOf(c.token.text);
  if (!c.isAmong(monthNames)) {
    const isWeekday = weekdayNames.some((name) => c.token.text.startsWith(name));
    c.fail(
      ["a date such as 2026-12-24", "a month and day such as Oct 15"],
      isWeekday ? "Name the days that are left instead, such as Mon..Sat 08:00 to 12:00." : undefined,
    );
  }
  c.next();
  return [month + 1, c.token.kind === "number" ? c.next().value : undefined];
}

const profileBegins: ReadonlySet<string> = new Set(["daily", "note", ...weekdayNames]);

export function profile(c: Cursor): ProfileNode {
  const first = c.opening("profile");
  const head = heading(c, "profile");
  const type = c.takeSign(":") ? typeNode(c) : undefined;
  const ramped = c.takeWord("ramped") || c.takeMeant("ramped", rampedHabits);
  const body = c.block(`profile ${head.name.text}`, profileBegins, (): ProfileEntry | Quoted =>
    c.takeWord("note") ? quoted(c) : profileEntry(c),
  );
  const { entries, note } = splitNote<ProfileEntry>(body);
  return { kind: "profile", ...head, ...(type && { type }), ramped, entries, ...(note && { note }), span: c.span(first) };
}

function profileEntry(c: Cursor): ProfileEntry {
  const first = c.token;
  const isBare = (c.comes("at") || c.comes("from")) && c.peek().kind === "time";
  if (isBare) {
    const what = `On which days is not said before "${first.text}".`;
    c.faults.add(first, { kind: "missing", what, remedy: `Write daily … ${first.text} ${c.peek().text}.`, before: "daily" });
  }
  const on = isBare ? [...EVERY_DAY] : days(c);
  const points = [point(c)];
  while (takesMore(c) || comesPoint(c)) {
    if (comesPoint(c)) c.separator(",");
    points.push(point(c));
  }
  return { days: on, points, span: c.span(first) };
}

/** Another point whose comma is missing: a time stands before its value. */
const comesPoint = (c: Cursor) =>
  (c.comes("at") || c.comes("from") ? c.peek() : c.token).kind === "time" && c.taken.kind !== "sign" && !c.token.leads;

/** A value, and from when on. */
function point(c: Cursor): { value: Term; from: Term } {
  const first = c.token;
  const isBehind = (c.comes("from") || c.comes("at")) && c.peek().kind === "time";
  // A value may itself be a time.
  const isBare = first.kind === "time" && (isNumberToken(c.peek()) || c.peek().kind === "dotted" || c.isSign(":", 1));
  if (isBehind || isBare) {
    if (isBehind) c.next();
    const from = sum(c);
    c.takeSign(":");
    const of = value(c);
    c.tellMeant(first, `${c.textOf(of.span)} from ${c.textOf(from.span)}`);
    return { value: of, from };
  }
  const of = value(c);
  if (!c.takeMeant("from", ["at", "after", "since"])) c.word("from");
  const from = sum(c);
  if (c.comes("to") || c.comes("until"))
    c.missing(c.token, "A value of a profile lasts until the next.", "Write the next behind a comma: …, 17 °C from 22:00.");
  return { value: of, from };
}
