// What there is: house, zones, sensors, outputs, dials, modes, groups, lets, countdowns, presets.

import { dimensionOf, isUnit } from "../../units/index.js";
import { typeNames } from "../binder/names.js";
import { declarationHabits, deviceHabits, houseHabits, rangeHabits } from "../habits.js";
import { comesOne, comesOther, firstWords, readOne, type Table, takeOther } from "../phrase.js";
import type {
  AttributeNode,
  CountdownNode,
  GroupNode,
  HouseEntry,
  HouseNode,
  LetNode,
  ModeNode,
  PresetNode,
  Quoted,
  TargetNode,
  Term,
  ThingNode,
  Word,
  ZoneEntry,
  ZoneNode,
} from "../syntax.js";
import { dialAttributes } from "../vocabulary/dial.js";
import { outputAttributes } from "../vocabulary/output.js";
import { sensorAttributes } from "../vocabulary/sensor.js";
import { isNumberToken } from "./ahead.js";
import type { Cursor } from "./cursor.js";
import { guard } from "./guards.js";
import { heading, splitNote, target, trailingNote } from "./heading.js";
import { quoted } from "./quoted.js";
import { rule } from "./rules.js";
import { condition, signed, sum, value } from "./terms.js";
import { typeNode, words } from "./types.js";
import { anyWord, name } from "./words.js";

const houseBegins = new Set(["place", "clock", "hand", "readings", "note"]);

export function house(c: Cursor): HouseNode {
  const first = c.word("house");
  const title = quoted(c);
  const entries = c.block("house", houseBegins, () => houseEntry(c));
  return { kind: "house", title, entries, span: c.span(first) };
}

function houseEntry(c: Cursor): HouseEntry {
  const first = c.token;
  if (said(c, "place")) {
    if (c.token.kind === "text") c.fail(["a latitude"], "Write latitude and longitude: 46.95 N, 7.45 E.");
    const latitude = signed(c);
    c.separator(",");
    return { kind: "place", latitude, longitude: signed(c), span: c.span(first) };
  }
  if (said(c, "clock")) return { kind: "clock", zone: quoted(c), span: c.span(first) };
  if (c.takeWords("hand", "lasts")) {
    return { kind: "hand lasts", duration: sum(c), span: c.span(first) };
  }
  if (c.takeWords("readings", "last")) return { kind: "readings last", duration: sum(c), span: c.span(first) };
  if (c.takeWord("note")) return { kind: "note", text: quoted(c), span: c.span(first) };
  return c.fail(['"place"', '"clock"', '"hand lasts"', '"readings last"', '"note"']);
}

/** Takes a word of the house, or another that is meant for it, and the sign behind it that is not needed. */
function said(c: Cursor, word: string): boolean {
  if (!c.takeWord(word) && !c.takeMeant(word, houseHabits[word] ?? [])) return false;
  if (c.isSign(":") || c.isSign("=")) c.needless();
  return true;
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
  const first = c.opening("zone");
  const head = heading(c, "zone");
  if (c.isSign("{", 1)) c.takeMeant("", [":", "="]);
  c.zone = head.name.text;
  const body = c.block(`zone ${head.name.text}`, zoneBegins, () => zoneEntry(c));
  c.zone = undefined;
  return { kind: "zone", ...head, ...splitNote(body), span: c.span(first) };
}

function zoneEntry(c: Cursor): ZoneEntry | Quoted {
  if (c.takeWord("note")) return quoted(c);
  const meant = declarationHabits[c.token.text];
  const parse = c.choose(zoneParsers) ?? (c.peek().kind === "word" && meant ? zoneParsers[meant] : undefined);
  if (parse) return parse(c);
  const isBare = c.token.kind === "word" && c.isSign(":", 1);
  const remedy = isBare ? `Write sensor, output or dial before it: sensor ${c.token.text}: ….` : undefined;
  return c.fail([...[...zoneBegins].map((word) => `"${word}"`), "the closing }"], remedy);
}

const attributes: Readonly<Record<ThingNode["kind"], Table>> = {
  sensor: sensorAttributes,
  output: outputAttributes,
  dial: dialAttributes,
};

/** What it is comes after a colon; where that is missing it is told at the name, not at what happens to follow. */
function typeSign(c: Cursor, kind: string, declared: Word): void {
  const example = kind === "sensor" ? "°C" : kind === "output" ? "on/off" : "15..25 °C";
  const noKind = () =>
    c.missing(declared.span, `${declared.text} has no kind.`, `Add it after a colon, for example ${declared.text}: ${example}.`);
  if (!c.isSign(":") && (c.token.leads || c.isSign("}"))) noKind();
  if (c.isSign(",") && c.peek().kind === "word" && c.isSign(":", 2))
    c.missing(c.token, "Each thing is declared by itself.", `Write ${kind} ${declared.text}: … and ${kind} ${c.peek().text}: ….`);
  const isRange = ["..", "-", "to"].some((sign) => c.comes(sign, 2));
  if (kind === "dial" && (c.isSign("=") || c.isSign(":")) && isNumberToken(c.peek()) && !isRange)
    c.missing(
      declared.span,
      `${declared.text} has no range.`,
      `Write for example dial ${declared.text}: 15..25 °C, at first 20 °C.`,
    );
  if (beginsType(c)) c.separator(":");
  else if ((c.comes("in") || c.comes("as") || c.comes("of")) && c.peek().kind === "unit") c.takeMeant(":", [c.token.text]);
  else if (!c.takeMeant(":", ["="])) c.sign(":");
  if (!c.asked && (c.isSign("}") || (c.token.leads && c.begins.has(c.token.text)))) noKind();
}

function beginsType(c: Cursor): boolean {
  const { kind, text } = c.token;
  if (kind === "number" || kind === "quantity" || kind === "unit") return true;
  return kind === "word" && (isUnit(text) || text in typeNames || c.isSign("/", 1) || c.isSign("<", 1));
}

/** `open, closed`: words that are meant to be parted by a stroke. */
function wordByHabit(c: Cursor, kind: ThingNode["kind"]): boolean {
  const [word, next] = [c.token, c.peek(2)];
  if (word.kind !== "word" || next.kind !== "word") return false;
  if (c.comes("or", 1)) return true;
  if (!c.isSign(",", 1)) return false;
  const isType = isUnit(word.text) || word.text in typeNames;
  const behind = c.peek(3);
  if (!(behind.leads || behind.text === "," || behind.text === "}")) return false;
  // `on at least 3 min` is an attribute.
  if (["at least", "at most", "when"].includes(behind.text)) return false;
  return !isType && !firstWords(attributes[kind]).some((one) => one.split(" ")[0] === next.text) && next.text !== "note";
}

export function thing(c: Cursor): ThingNode {
  const kind = (declarationHabits[c.token.text] ?? c.token.text) as ThingNode["kind"];
  const first = c.opening(kind);
  const head = heading(c, kind);
  typeSign(c, kind, head.name);
  const type = typeNode(c, wordByHabit(c, kind));
  const states = type.kind === "words" ? type.words.map(({ text }) => text) : undefined;
  c.subject = states;
  const list: (AttributeNode | Quoted)[] = [];
  // One with a broken attribute is still what its name says, wherever it is used.
  let isWhole = true;
  if (kind === "dial") list.push(...firstByHabit(c));
  while (c.isSign(",") || comesOne(c, attributes[kind])) {
    c.separator(",");
    const one = c.item(() => attribute(c, kind, states ?? []));
    if (one) list.push(one);
    else isWhole = false;
  }
  const { entries, note } = splitNote<AttributeNode>(list);
  return {
    kind,
    ...head,
    type,
    attributes: entries,
    ...(!isWhole && { isBroken: true as const }),
    ...(note && { note }),
    span: c.span(first),
  };
}

/** `dial x: 15..25 °C = 20 °C`, or with a comma alone: told, and read on with. */
function firstByHabit(c: Cursor): AttributeNode[] {
  const first = c.token;
  if (!isNumberToken(c.peek())) return [];
  if (c.isSign(",")) {
    const figure = c.peek();
    c.next();
    c.lacksWord("at first", false, figure, figure.text);
  } else if (!c.takeMeant(", at first", ["=", "at"])) return [];
  const parts = { value: value(c) };
  return [{ kind: "atFirst", parts, span: c.span(first) } as AttributeNode];
}

/** @param states of the thing, where it has some */
function attribute(c: Cursor, kind: ThingNode["kind"], states: readonly string[]): AttributeNode | Quoted {
  if (c.takeWord("note")) return quoted(c);
  const { text } = c.token;
  if (kind === "sensor" && (text === "range" || text === "from") && !c.peek().leads)
    c.needless("Remove it: the range alone is enough.");
  return readOne(c, attributes[kind], {
    besides: ['"note"'],
    remedy: c.instead(deviceHabits) ?? (kind === "output" ? form(c, states) : c.instead(rangeHabits)),
  });
}

/** How to write what seems to be meant of an output: how long it stays on or off, or what power it has. */
function form(c: Cursor, states: readonly string[]): string | undefined {
  const ahead = [0, 1, 2, 3, 4].map((place) => c.peek(place));
  const end = ahead.findIndex(({ kind, leads }, place) => kind === "sign" || (leads && place > 0));
  const said = end < 0 ? ahead : ahead.slice(0, end);
  const isRest = said.some(({ text }) => /^(pause|rest|cooldown|delay|off_time|downtime|lockout)$/.test(text));
  const isRun = said.some(({ text }) => /^(run|runs|runtime|running|run_time|uptime)$/.test(text));
  const meant = isRest ? states[1] : isRun ? states[0] : undefined;
  const held = said.find(({ text }) => states.includes(text)) ?? (meant === undefined ? undefined : { text: meant });
  if (said.some(({ text }) => /^(starts|cycles|switches|times)$/.test(text)) && states.length === 2)
    return `Write how long it stays so: ${states[0]} at least 5 min, ${states[1]} at least 5 min.`;
  if (held && said.some(({ text }) => /^(fail|fails|failure|failsafe|safe|power|offline|lost)$/.test(text)))
    return `Write ${held.text} when control is lost.`;
  const figure = said.find(({ kind }) => kind === "quantity" || kind === "duration");
  if (figure?.kind === "duration") {
    if (!held) return undefined;
    const isMost = said.some(({ text }) => /^(at most|max|maximum|longest)$/.test(text));
    const other = states.find((one) => one !== held.text);
    return `Write ${held.text} ${isMost ? `at most ${figure.text} then ${other} at least 10 min` : `at least ${figure.text}`}.`;
  }
  return figure && isUnit(figure.unit) && dimensionOf(figure.unit) === "power" ? `Write uses ${figure.text}.` : undefined;
}

export function mode(c: Cursor): ModeNode {
  const first = c.opening("mode");
  const head = heading(c, "mode");
  if (c.isSign("{")) c.fail(['":"'], `Write mode ${head.name.text}: home/away, at first home.`);
  if (!c.takeMeant(":", ["="])) c.sign(":");
  const list = words(c, c.isSign(",", 1) && c.peek(2).kind === "word");
  c.subject = list.words.map(({ text }) => text);
  const [usual] = list.words;
  const isSaid = c.isWord("at") || comesOther(c, "at first");
  if (!c.isSign(",") && !isSaid && !c.asked)
    c.missing(head.name.span, `${head.name.text} has no starting value.`, `Add it: , at first ${usual?.text}.`);
  let start = usual as Word;
  let note: Quoted | undefined;
  c.reads(() => {
    if (isSaid) c.separator(",");
    else c.sign(",");
    if (!takeOther(c, "at first")) c.words("at", "first");
    start = anyWord(c, "one of its words");
    note = trailingNote(c);
  });
  return { kind: "mode", ...head, ...list, first: start, ...(note && { note }), span: c.span(first) };
}

export function group(c: Cursor): GroupNode {
  const first = c.opening("group");
  const head = heading(c, "group");
  if (c.isSign("{")) c.fail(['"="'], `Write group ${head.name.text} = …, ….`);
  equals(c);
  const members = [name(c, "an output")];
  while (((c.isSign(",") && !c.isWord("note", 1)) || c.comes("and")) && (c.takeSign(",") || c.takeMeant(",", ["and"])))
    members.push(name(c, "an output"));
  while (c.token.kind === "dotted" && !c.token.leads) {
    c.separator(",");
    members.push(name(c, "an output"));
  }
  const note = trailingNote(c);
  return { kind: "group", ...head, members, ...(note && { note }), span: c.span(first) };
}

export function letNode(c: Cursor): LetNode {
  const first = c.opening("let");
  const head = heading(c, "let");
  const type = c.isSign(":") && !comesValue(c, 1) && c.takeSign(":") ? typeNode(c) : undefined;
  equals(c);
  const of = condition(c);
  explainValue(c, of);
  const note = trailingNote(c);
  return { kind: "let", ...head, ...(type && { type }), value: of, ...(note && { note }), span: c.span(first) };
}

/** What goes on with a value elsewhere, on its line. */
function explainValue(c: Cursor, { span }: Term): void {
  const { kind, text, leads } = c.token;
  if (leads) return;
  const said = c.textOf(span);
  if (text === "over")
    c.missing(
      c.token,
      "A value over a time is said with what it is of it.",
      `Write mean(${said} over 10 min), or min, max, rise.`,
    );
  if (kind === "duration" || text === "ago" || text === "before")
    c.missing(c.token, "What was before is looked at over a time.", `Write rise(${said} over 10 min), or mean, min, max.`);
  if (text === "in") c.missing(c.token, "A value has the unit of what it is made of.", "Remove it.");
}

/** What a name is defined with; told where another sign stands there, or none. */
function equals(c: Cursor): void {
  if (c.isSign("=") || c.comes(":") || c.comes("is") || c.comes("be") || (comesValue(c, 0) && !c.token.leads))
    c.separator("=", [":", "is", "be"]);
  else c.sign("=");
}

/** A number or the name of a thing, where no range begins. */
function comesValue(c: Cursor, ahead: number): boolean {
  const { kind } = c.peek(ahead);
  return kind === "dotted" || ((kind === "number" || kind === "quantity" || kind === "duration") && !c.comes("..", ahead + 1));
}

export function countdown(c: Cursor): CountdownNode {
  const first = c.opening("countdown");
  const head = heading(c, "countdown");
  equals(c);
  const lasts = sum(c);
  const note = trailingNote(c);
  return { kind: "countdown", ...head, lasts, ...(note && { note }), span: c.span(first) };
}

export function preset(c: Cursor): PresetNode {
  const first = c.opening("preset");
  const head = heading(c, "preset");
  if (c.isSign(":") || c.isSign("=")) c.fail(['"{"'], `Write preset ${head.name.text} { … at …, … at … }.`);
  const body = c.block(`preset ${head.name.text}`, new Set(["note"]), () => {
    const note = c.takeWord("note") ? [quoted(c)] : [];
    const targets: TargetNode[] = [];
    for (;;) {
      if (c.isName(1)) c.takeMeant("", ["set"]);
      targets.push(target(c, "an output, a dial or a mode"));
      if (c.token.kind === "dotted") c.separator(",");
      else if (!c.takeSign(",")) break;
    }
    if (!c.isSign("}")) c.fail([`","`, "the closing }"]);
    return [...note, ...targets];
  });
  const { entries, note } = splitNote<TargetNode>(body.flat());
  return { kind: "preset", ...head, targets: entries, ...(note && { note }), span: c.span(first) };
}
