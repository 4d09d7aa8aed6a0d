// Schedules and profiles: days, dates, spans and points of time.
import { monthNames, weekdayNames } from "../../time/index.js";
import type { DatesNode, OpeningNode, ProfileEntry, ProfileNode, Quoted, ScheduleNode } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { days, isDay } from "./days.js";
import { heading, splitNote, trailingNote } from "./heading.js";
import { quoted, sum, value } from "./terms.js";
import { typeNode } from "./types.js";

const openingBegins: ReadonlySet<string> = new Set(["daily", "except", "only", "note", ...weekdayNames]);

export function schedule(c: Cursor): ScheduleNode {
  const first = c.word("schedule");
  const head = heading(c, "schedule");
  if (c.takeWords("from", "calendar")) {
    const calendar = quoted(c);
    const note = trailingNote(c);
    return { kind: "schedule", ...head, calendar, openings: [], ...(note && { note }), span: c.span(first) };
  }
  const body = c.block(`schedule ${head.name.text}`, openingBegins, () => (c.takeWord("note") ? quoted(c) : opening(c)));
  const { entries, note } = splitNote<OpeningNode>(body);
  return { kind: "schedule", ...head, openings: entries, ...(note && { note }), span: c.span(first) };
}

function opening(c: Cursor): OpeningNode {
  const first = c.token;
  if (c.isWord("except") || c.isWord("only")) {
    const kind = c.next().text as "except" | "only";
    return { kind, dates: c.list(() => dates(c)), span: c.span(first) };
  }
  const on = days(c);
  const spans = [];
  do {
    const from = sum(c);
    c.word("to");
    spans.push({ from, to: sum(c) });
  } while (c.isSign(",") && !isDay(c, 1) && c.takeSign(","));
  return { kind: "days", days: on, spans, span: c.span(first) };
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
  const from = monthDay(c);
  const to = c.takeSign("..") ? monthDay(c) : from;
  return { kind: "yearly", from, to, span: c.span(first) };
}

function monthDay(c: Cursor): [number, number] {
  const month = (monthNames as readonly string[]).indexOf(c.token.text);
  if (!c.isAmong(monthNames)) c.fail(["a date such as 2026-12-24", "a month and day such as Oct 15"]);
  c.next();
  if (c.token.kind !== "number") c.fail(["a day of the month"]);
  return [month + 1, c.next().value];
}

const profileBegins: ReadonlySet<string> = new Set(["daily", "note", ...weekdayNames]);

export function profile(c: Cursor): ProfileNode {
  const first = c.word("profile");
  const head = heading(c, "profile");
  const type = c.takeSign(":") ? typeNode(c) : undefined;
  const ramped = c.takeWord("ramped");
  const body = c.block(`profile ${head.name.text}`, profileBegins, (): ProfileEntry | Quoted =>
    c.takeWord("note") ? quoted(c) : profileEntry(c),
  );
  const { entries, note } = splitNote<ProfileEntry>(body);
  return { kind: "profile", ...head, ...(type && { type }), ramped, entries, ...(note && { note }), span: c.span(first) };
}

function profileEntry(c: Cursor): ProfileEntry {
  const first = c.token;
  const on = days(c);
  const points = [];
  do {
    const of = value(c);
    c.word("from");
    points.push({ value: of, from: sum(c) });
  } while (c.isSign(",") && !isDay(c, 1) && c.takeSign(","));
  return { days: on, points, span: c.span(first) };
}
