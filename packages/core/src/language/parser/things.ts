// What there is: house, zones, sensors, outputs, dials, modes, schedules.
import type {
  Attribute,
  GuardNode,
  HouseEntry,
  HouseNode,
  ModeNode,
  OpeningNode,
  Quoted,
  RuleNode,
  ScheduleNode,
  ThingNode,
  TypeNode,
  Word,
  ZoneNode,
} from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { guard, rule } from "./rules.js";
import { anyWord, quoted, signed, sum, value } from "./terms.js";

export const weekdays = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"] as const;

const houseBegins = new Set(["place", "clock", "hand", "note"]);

export function house(c: Cursor): HouseNode {
  const first = c.word("house");
  const title = quoted(c);
  const entries = c.block("house", houseBegins, () => houseEntry(c));
  return { kind: "house", title, entries, span: c.span(first) };
}

function houseEntry(c: Cursor): HouseEntry {
  const first = c.token;
  if (c.takeWord("place")) {
    const latitude = signed(c);
    c.sign(",");
    return { kind: "place", latitude, longitude: signed(c), span: c.span(first) };
  }
  if (c.takeWord("clock")) return { kind: "clock", zone: quoted(c), span: c.span(first) };
  if (c.takeWord("hand")) {
    c.word("lasts");
    return { kind: "hand lasts", duration: sum(c), span: c.span(first) };
  }
  if (c.takeWord("note")) return { kind: "note", text: quoted(c), span: c.span(first) };
  return c.fail(['"place"', '"clock"', '"hand lasts"', '"note"']);
}

/** The name and title that open a declaration. */
export function heading(c: Cursor, what: string): { name: Word; title?: Quoted } {
  const declared = anyWord(c, `a name for the ${what}`);
  return c.token.kind === "text" ? { name: declared, title: quoted(c) } : { name: declared };
}

/** `note "…"` among entries: kept, and left out of them. */
export function splitNote<Entry>(entries: readonly (Entry | Quoted)[]): { entries: Entry[]; note?: Quoted } {
  const isNote = (entry: Entry | Quoted): entry is Quoted => typeof entry === "object" && entry !== null && "parts" in entry;
  const note = entries.find(isNote);
  const rest = entries.filter((entry): entry is Entry => !isNote(entry));
  return note ? { entries: rest, note } : { entries: rest };
}

const zoneBegins = new Set(["sensor", "output", "dial", "rule", "guard", "note"]);

export function zone(c: Cursor): ZoneNode {
  const first = c.word("zone");
  const head = heading(c, "zone");
  const body = c.block(`zone ${head.name.text}`, zoneBegins, () => zoneEntry(c));
  return { kind: "zone", ...head, ...splitNote(body), span: c.span(first) };
}

function zoneEntry(c: Cursor): ThingNode | RuleNode | GuardNode | Quoted {
  if (c.takeWord("note")) return quoted(c);
  if (c.isWord("rule")) return rule(c);
  if (c.isWord("guard")) return guard(c);
  if (c.isWord("sensor") || c.isWord("output") || c.isWord("dial")) return thing(c);
  return c.fail(['"sensor"', '"output"', '"dial"', '"rule"', '"guard"', '"note"', "the closing }"]);
}

export function thing(c: Cursor): ThingNode {
  const first = c.next();
  const kind = first.text as ThingNode["kind"];
  const head = heading(c, kind);
  c.sign(":");
  const type = typeNode(c);
  const list: (Attribute | Quoted)[] = [];
  while (c.takeSign(",")) list.push(c.takeWord("note") ? quoted(c) : attribute(c, kind));
  const { entries, note } = splitNote<Attribute>(list);
  return { kind, ...head, type, attributes: entries, ...(note && { note }), span: c.span(first) };
}

function attribute(c: Cursor, kind: ThingNode["kind"]): Attribute {
  const first = c.token;
  if (kind === "sensor") {
    if (c.takeWord("unknown")) {
      c.word("after");
      return { kind: "unknown after", duration: sum(c), span: c.span(first) };
    }
    if (startsNumber(c)) return { ...range(c), span: c.span(first) };
    return c.fail(["a range such as 0..100 %RH", '"unknown after"', '"note"']);
  }
  if (kind === "output") {
    if (c.isWord("at") && c.isWord("rest", 1)) {
      c.next();
      c.next();
      return { kind: "at rest", value: value(c), span: c.span(first) };
    }
    if (c.token.kind === "word" && c.isWord("at least", 1)) {
      const word = anyWord(c, "a state");
      c.next();
      return { kind: "at least", word, duration: sum(c), span: c.span(first) };
    }
    return c.fail(['"at rest"', '"on at least"', '"off at least"', '"note"']);
  }
  if (c.isWord("at") && c.isWord("first", 1)) {
    c.next();
    c.next();
    return { kind: "at first", value: value(c), span: c.span(first) };
  }
  if (c.takeWord("step")) return { kind: "step", value: signed(c), span: c.span(first) };
  return c.fail(['"at first"', '"step"', '"note"']);
}

function startsNumber(c: Cursor): boolean {
  return ["number", "quantity", "duration"].includes(c.token.kind) || c.isSign("-") || c.isSign("+");
}

function range(c: Cursor) {
  const low = signed(c);
  c.sign("..");
  return { kind: "range" as const, low, high: signed(c) };
}

function typeNode(c: Cursor): TypeNode {
  const first = c.token;
  if (startsNumber(c)) return { ...range(c), span: c.span(first) };
  if (first.kind === "unit") {
    c.next();
    return { kind: "one", word: first.unit, span: first };
  }
  if (first.kind !== "word") return c.fail(["a unit such as °C, a range such as 0..100 %, or words such as open/closed"]);
  if (c.isSign("/", 1) || c.isSign("<", 1)) return { kind: "words", ...words(c), span: c.span(first) };
  c.next();
  return { kind: "one", word: first.text, span: first };
}

function words(c: Cursor): { words: Word[]; ordered: boolean } {
  const list = [anyWord(c, "a word")];
  const sign = c.isSign("<") ? "<" : "/";
  while (c.takeSign(sign)) list.push(anyWord(c, "a word"));
  return { words: list, ordered: sign === "<" };
}

export function mode(c: Cursor): ModeNode {
  const first = c.word("mode");
  const head = heading(c, "mode");
  c.sign(":");
  const list = words(c);
  c.sign(",");
  c.word("at");
  c.word("first");
  const start = anyWord(c, "one of its words");
  const note = trailingNote(c);
  return { kind: "mode", ...head, ...list, first: start, ...(note && { note }), span: c.span(first) };
}

/** `, note "…"` at the end of a declaration. */
function trailingNote(c: Cursor): Quoted | undefined {
  if (!c.isSign(",") || !c.isWord("note", 1)) return undefined;
  c.next();
  c.next();
  return quoted(c);
}

const openingBegins: ReadonlySet<string> = new Set(["daily", "note", ...weekdays]);

export function schedule(c: Cursor): ScheduleNode {
  const first = c.word("schedule");
  const head = heading(c, "schedule");
  const body = c.block(`schedule ${head.name.text}`, openingBegins, () => (c.takeWord("note") ? quoted(c) : opening(c)));
  const { entries, note } = splitNote<OpeningNode>(body);
  return { kind: "schedule", ...head, openings: entries, ...(note && { note }), span: c.span(first) };
}

function opening(c: Cursor): OpeningNode {
  const first = c.token;
  const on = days(c);
  const spans = [];
  do {
    const from = sum(c);
    c.word("to");
    spans.push({ from, to: sum(c) });
  } while (c.isSign(",") && !isDay(c, 1) && c.takeSign(","));
  return { days: on, spans, span: c.span(first) };
}

/** Days of the week, 0 = Monday; `Sat..Mon` passes the end of the week. */
export function days(c: Cursor): number[] {
  if (c.takeWord("daily")) return [0, 1, 2, 3, 4, 5, 6];
  const found = new Set<number>();
  do {
    const from = day(c);
    const to = c.takeSign("..") ? day(c) : from;
    for (let at = from; ; at = (at + 1) % 7) {
      found.add(at);
      if (at === to) break;
    }
  } while (c.isSign(",") && isDay(c, 1) && c.takeSign(","));
  return [...found].sort((a, b) => a - b);
}

function isDay(c: Cursor, ahead: number): boolean {
  const { kind, text } = c.peek(ahead);
  return kind === "word" && (weekdays as readonly string[]).includes(text);
}

function day(c: Cursor): number {
  if (!isDay(c, 0)) c.fail(["a day of the week (Mon to Sun)", '"daily"']);
  return (weekdays as readonly string[]).indexOf(c.next().text);
}
