// What there is: house, zones, sensors, outputs, dials, modes, groups, lets, countdowns, presets.
import type {
  Attribute,
  CountdownNode,
  GroupNode,
  HouseEntry,
  HouseNode,
  LetNode,
  ModeNode,
  PresetNode,
  Quoted,
  RawPoint,
  TargetNode,
  ThingNode,
  TypeNode,
  Word,
  ZoneEntry,
  ZoneNode,
} from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { guard, rule } from "./rules.js";
import { anyWord, condition, name, quoted, signed, stateWord, sum, value } from "./terms.js";

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

/** `, note "…"` at the end of a declaration. */
export function trailingNote(c: Cursor): Quoted | undefined {
  return c.takeCommaWord("note") ? quoted(c) : undefined;
}

/** `note "…"` among entries: kept, and left out of them; of several, each is a line. */
export function splitNote<Entry>(entries: readonly (Entry | Quoted)[]): { entries: Entry[]; note?: Quoted } {
  const isNote = (entry: Entry | Quoted): entry is Quoted => typeof entry === "object" && entry !== null && "parts" in entry;
  const [first, ...others] = entries.filter(isNote);
  const rest = entries.filter((entry): entry is Entry => !isNote(entry));
  if (!first) return { entries: rest };
  return { entries: rest, note: { ...first, parts: [...first.parts, ...others.flatMap(({ parts }) => ["\n", ...parts])] } };
}

const zoneParsers: Readonly<Record<string, (c: Cursor) => ZoneEntry>> = {
  sensor: thing,
  output: thing,
  dial: thing,
  let: letNode,
  countdown,
  rule,
  guard,
};

const zoneBegins = new Set([...Object.keys(zoneParsers), "note"]);

export function zone(c: Cursor): ZoneNode {
  const first = c.word("zone");
  const head = heading(c, "zone");
  const body = c.block(`zone ${head.name.text}`, zoneBegins, () => zoneEntry(c));
  return { kind: "zone", ...head, ...splitNote(body), span: c.span(first) };
}

function zoneEntry(c: Cursor): ZoneEntry | Quoted {
  if (c.takeWord("note")) return quoted(c);
  const parse = c.token.kind === "word" && Object.hasOwn(zoneParsers, c.token.text) ? zoneParsers[c.token.text] : undefined;
  return parse ? parse(c) : c.fail([...[...zoneBegins].map((word) => `"${word}"`), "the closing }"]);
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
  if (kind === "sensor") return sensorAttribute(c);
  return kind === "output" ? outputAttribute(c) : dialAttribute(c);
}

function sensorAttribute(c: Cursor): Attribute {
  const first = c.token;
  if (c.takeWords("unknown", "after")) return { kind: "unknown after", value: sum(c), span: c.span(first) };
  if (c.takeWords("smooth", "over")) return { kind: "smooth over", value: sum(c), span: c.span(first) };
  if (c.takeWord("scale")) return { kind: "scale", value: signed(c), span: c.span(first) };
  if (c.takeWord("offset")) return { kind: "offset", value: signed(c), span: c.span(first) };
  if (c.takeWords("device", "health")) return { kind: "device health", span: c.span(first) };
  if (c.takeWord("reads")) {
    const low = rawPoint(c);
    c.word("and");
    return { kind: "reads", points: [low, rawPoint(c)], span: c.span(first) };
  }
  if (startsNumber(c)) return { ...range(c), span: c.span(first) };
  const known = [
    '"unknown after"',
    '"scale"',
    '"offset"',
    '"reads … as … and … as …"',
    '"smooth over"',
    '"device health"',
    '"note"',
  ];
  return c.fail(["a range such as 0..100 %RH", ...known]);
}

function rawPoint(c: Cursor): RawPoint {
  const raw = signed(c);
  c.word("as");
  return { raw, value: signed(c) };
}

function outputAttribute(c: Cursor): Attribute {
  const first = c.token;
  if (c.takeWords("at", "rest")) return { kind: "at rest", value: value(c), span: c.span(first) };
  if (c.takeWord("uses")) return { kind: "uses", value: sum(c), span: c.span(first) };
  if (c.takeWord("delivers")) {
    const rate = sum(c);
    return { kind: "delivers", rate, ...(c.takeWord("after") && { after: sum(c) }), span: c.span(first) };
  }
  if (c.takeWord("serves")) {
    const zones = [anyWord(c, "the name of a zone")];
    while (c.takeWord("and")) zones.push(anyWord(c, "the name of a zone"));
    return { kind: "serves", zones, span: c.span(first) };
  }
  if (first.kind === "word" && c.isWord("at least", 1)) {
    const word = anyWord(c, "a state");
    c.next();
    return { kind: "at least", word, duration: sum(c), span: c.span(first) };
  }
  if (first.kind === "word" && c.isWord("at most", 1)) {
    const word = anyWord(c, "a state");
    c.next();
    const duration = sum(c);
    c.word("then");
    const then = anyWord(c, "a state");
    c.word("at least");
    return { kind: "at most", word, duration, then, rest: sum(c), span: c.span(first) };
  }
  if ((first.kind === "word" && c.isWord("without", 1)) || startsNumber(c)) {
    const held = stateWord(c);
    c.words("without", "control");
    return { kind: "without control", value: held, span: c.span(first) };
  }
  return c.fail([
    '"at rest"',
    '"on at least"',
    '"on at most … then off at least"',
    '"uses"',
    '"delivers"',
    '"on without control"',
    '"serves"',
    '"note"',
  ]);
}

function dialAttribute(c: Cursor): Attribute {
  const first = c.token;
  if (c.takeWords("at", "first")) return { kind: "at first", value: value(c), span: c.span(first) };
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

export function typeNode(c: Cursor): TypeNode {
  const first = c.token;
  if (startsNumber(c)) return { ...range(c), span: c.span(first) };
  if (first.kind === "unit") {
    c.next();
    return { kind: "one", word: first.unit, span: first };
  }
  if (c.takeWords("colour", "of")) return { kind: "colour of", of: name(c, "a lamp"), span: c.span(first) };
  if (c.isSign("/", 1) || c.isSign("<", 1)) return { kind: "words", ...words(c), span: c.span(first) };
  const word = anyWord(c, "a unit such as °C, a range such as 0..100 %, or words such as open/closed");
  return { kind: "one", word: word.text, span: first };
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
  c.words("at", "first");
  const start = anyWord(c, "one of its words");
  const note = trailingNote(c);
  return { kind: "mode", ...head, ...list, first: start, ...(note && { note }), span: c.span(first) };
}

export function group(c: Cursor): GroupNode {
  const first = c.word("group");
  const head = heading(c, "group");
  c.sign("=");
  const members = [name(c, "an output")];
  while (c.isSign(",") && !c.isWord("note", 1) && c.takeSign(",")) members.push(name(c, "an output"));
  const note = trailingNote(c);
  return { kind: "group", ...head, members, ...(note && { note }), span: c.span(first) };
}

export function letNode(c: Cursor): LetNode {
  const first = c.word("let");
  const head = heading(c, "let");
  const type = c.takeSign(":") ? typeNode(c) : undefined;
  c.sign("=");
  const of = condition(c);
  const note = trailingNote(c);
  return { kind: "let", ...head, ...(type && { type }), value: of, ...(note && { note }), span: c.span(first) };
}

export function countdown(c: Cursor): CountdownNode {
  const first = c.word("countdown");
  const head = heading(c, "countdown");
  c.sign("=");
  const lasts = sum(c);
  const note = trailingNote(c);
  return { kind: "countdown", ...head, lasts, ...(note && { note }), span: c.span(first) };
}

export function preset(c: Cursor): PresetNode {
  const first = c.word("preset");
  const head = heading(c, "preset");
  const body = c.block(`preset ${head.name.text}`, new Set(["note"]), () => {
    const note = c.takeWord("note") ? [quoted(c)] : [];
    const targets = c.list(() => target(c));
    if (!c.isSign("}")) c.fail([`","`, "the closing }"]);
    return [...note, ...targets];
  });
  const { entries, note } = splitNote<TargetNode>(body.flat());
  return { kind: "preset", ...head, targets: entries, ...(note && { note }), span: c.span(first) };
}

export function target(c: Cursor): TargetNode {
  const output = name(c, "an output");
  c.word("at");
  return { name: output, value: value(c) };
}
