// Phrases: what a construct of the language looks like, told once as its words and what stands between them. From its
// phrase a construct is chosen, read, offered, and written again.
import { phraseHabits, wordings } from "./habits.js";
import { type Cursor, phrases as joined } from "./parser/cursor.js";
import type { Span } from "./token.js";

/** What stands between the words of a phrase. */
export interface Slot<Part> {
  /** What is asked for there: `a time`. */
  readonly says: string;
  read(c: Cursor): Part;
  write(part: Part): string;
  /** How many tokens it takes from so many ahead, 0 where it does not begin there; left out where that is not known. */
  readonly ahead?: (c: Cursor, at: number) => number;
  /** Whether there may be more of it than that. */
  readonly goesOn?: true;
}

/** Words; slots by their names; or what may be left out, of several beginnings the one that comes. */
export type Piece = string | { readonly [name: string]: AnySlot } | Choice;

// biome-ignore lint/suspicious/noExplicitAny: whatever a slot holds
export type AnySlot = Slot<any>;

/** Alternatives that may all be left out. */
export class Choice<Of extends readonly (readonly Piece[])[] = readonly (readonly Piece[])[]> {
  constructor(readonly alternatives: Of) {}
}

/** What may be left out. */
export function maybe<const Pieces extends readonly Piece[]>(...pieces: Pieces): Choice<readonly [Pieces]> {
  return new Choice([pieces]);
}

/** One of several, or none. */
export function either<const Of extends readonly (readonly Piece[])[]>(...alternatives: Of): Choice<Of> {
  return new Choice(alternatives);
}

type Joined<Union> = (Union extends unknown ? (one: Union) => void : never) extends (all: infer All) => void ? All : never;
type OfSlots<Of> = Of extends string | Choice
  ? never
  : { readonly [Name in keyof Of]: Of[Name] extends Slot<infer Part> ? Part : never };
type OfPiece<Of> = Of extends Choice<infer Alternatives> ? Partial<Joined<OfPiece<Alternatives[number][number]>>> : OfSlots<Of>;

/** What the slots of a phrase hold. */
export type PartsOf<Pieces extends readonly Piece[]> = Joined<OfPiece<Pieces[number]>>;

/** What was read of a phrase, by the names of its slots. */
export type Parts = Readonly<Record<string, unknown>>;

/** A construct in a tree: which, and what its slots hold. */
export interface PhraseNode<Kind extends string = string> {
  readonly kind: Kind;
  readonly parts: Parts;
  readonly span: Span;
}

/** Constructs by their names. */
export type Table<Kind extends string = string> = Readonly<
  Record<Kind, { readonly phrase: readonly Piece[]; readonly says?: string }>
>;

/** The words of a text as tokens: `unknown`, `after`; `,`, `at most`. */
function tokensOf(words: string): string[] {
  return words.match(wordPattern) ?? [];
}

const wordPattern = new RegExp(`${[...joined].join("|")}|[^\\s,]+|,`, "g");

const anyOf = Object.entries as <Of>(record: Readonly<Record<string, Of>>) => [string, Of][];

// ── Reading ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** What a phrase begins with, as far as it can be told apart by its tokens. */
function leadOf(phrase: readonly Piece[]): readonly Lead[] {
  const known = leads.get(phrase);
  if (known) return known;
  const lead: Lead[] = [];
  for (const piece of phrase) {
    if (typeof piece === "string") {
      lead.push(...tokensOf(piece));
      continue;
    }
    const slot = piece instanceof Choice ? undefined : (Object.values(piece)[0] as Slot<unknown>);
    if (!slot?.ahead) break;
    lead.push(slot);
    if (slot.goesOn) break;
  }
  leads.set(phrase, lead);
  return lead;
}

type Lead = string | Slot<unknown>;
const leads = new WeakMap<readonly Piece[], readonly Lead[]>();

interface Met {
  /** How many parts of a lead come next, and how many tokens they are. */
  readonly parts: number;
  readonly tokens: number;
  /** Its first words are worded otherwise. */
  readonly isOther: boolean;
}

function met(c: Cursor, lead: readonly Lead[]): Met {
  const said = wordingsOf(lead);
  const other = said ? otherWording(c, said) : 0;
  let tokens = other;
  for (const [parts, part] of lead.entries()) {
    if (said && other > 0 && parts < said.own.length) continue;
    // A row after the other is looked at, and mostly nobody asks what could come.
    if (c.asked) {
      if (typeof part === "string") c.offer(wordsFrom(lead, parts), tokens);
      else c.want(part.says, tokens);
    }
    const takes =
      typeof part === "string" ? (c.comes(part, tokens) || isMeant(c, part, tokens) ? 1 : 0) : slotAhead(c, part, tokens);
    if (takes === 0) return { parts, tokens, isOther: other > 0 };
    tokens += takes;
  }
  return { parts: lead.length, tokens, isOther: other > 0 };
}

/** Some words and their other wordings, as tokens; and what others begin with. */
interface Wordings {
  readonly own: readonly string[];
  readonly others: readonly (readonly string[])[];
  readonly firsts: ReadonlySet<string>;
}

const otherWordings: ReadonlyMap<string, Wordings> = new Map(
  Object.entries(wordings).map(([words, all]) => {
    const others = all.map(tokensOf);
    return [words, { own: tokensOf(words), others, firsts: new Set(others.map(([first = ""]) => first)) }];
  }),
);

/** The other wordings of the words that a lead begins with, looked up once for each. */
function wordingsOf(lead: readonly Lead[]): Wordings | undefined {
  if (!knownWordings.has(lead)) {
    const begins = typeof lead[0] === "string";
    knownWordings.set(lead, begins ? otherWordings.get(wordsFrom(lead, 0)) : undefined);
  }
  return knownWordings.get(lead);
}

const knownWordings = new WeakMap<readonly Lead[], Wordings | undefined>();

/** How many tokens another wording is, where one comes and the words themselves do not; else 0. */
function otherWording(c: Cursor, { own, others, firsts }: Wordings): number {
  if (!firsts.has(c.token.text)) return 0;
  const comes = (wording: readonly string[]) => wording.every((token, at) => c.comes(token, at));
  const isPart = (wording: readonly string[]) => wording.every((token, at) => token === own[at]);
  // What only lacks its last words is meant where a number, or a text, comes in their place.
  const isMeant = (wording: readonly string[]) => comes(wording) && (!isPart(wording) || isFigure(c, wording.length));
  return comes(own) ? 0 : (others.find(isMeant)?.length ?? 0);
}

function isFigure(c: Cursor, at: number): boolean {
  return ["number", "quantity", "duration", "text"].includes(c.peek(at + (isNeedless(c, at) ? 1 : 0)).kind);
}

/** Behind a word a sign is not needed, and looked past. */
function slotAhead(c: Cursor, { ahead }: Slot<unknown>, at: number): number {
  const before = at > 0 && isNeedless(c, at) ? 1 : 0;
  const takes = ahead?.(c, at + before) ?? 0;
  return takes === 0 ? 0 : before + takes;
}

const isNeedless = (c: Cursor, at: number) => c.isSign(":", at) || c.isSign("=", at);

function begins(c: Cursor, phrase: readonly Piece[]): boolean {
  const lead = leadOf(phrase);
  return met(c, lead).parts === lead.length;
}

/**
 * Reads one of the constructs of a table: the one that more words speak for. Where none comes, that is told with what to
 * write, else with all that could come.
 */
export function readOne<Kind extends string>(
  c: Cursor,
  table: Table<Kind>,
  { besides = [], remedy }: { readonly besides?: readonly string[]; readonly remedy?: string | undefined } = {},
): PhraseNode<Kind> {
  const first = c.token;
  let chosen: { readonly kind: Kind; readonly tokens: number; readonly isOther: boolean } | undefined;
  let furthest = { tokens: 0, expected: [] as string[] };
  for (const [kind, { phrase, says }] of anyOf(table) as [Kind, Table[string]][]) {
    const lead = leadOf(phrase);
    const { parts, tokens, isOther } = met(c, lead);
    if (parts === lead.length) {
      // What is written as it should be goes before what is not.
      const isBetter = !chosen || (chosen.isOther === isOther ? tokens > chosen.tokens : chosen.isOther);
      if (isBetter) chosen = { kind, tokens, isOther };
      continue;
    }
    if (tokens > furthest.tokens) furthest = { tokens, expected: [] };
    if (tokens < furthest.tokens) continue;
    furthest.expected.push(parts === 0 ? (says ?? sayLead(lead)) : sayPart(lead[parts] as Lead));
  }
  if (!chosen) {
    for (let skipped = 0; skipped < furthest.tokens; skipped++) c.next();
    const expected = [...new Set([...furthest.expected, ...(furthest.tokens === 0 ? besides : [])])];
    const [word = ""] = expected.length === 1 ? tokensOf(expected.join().replaceAll('"', "")) : [];
    const said = remedy ?? c.instead(phraseHabits[word] ?? {});
    return furthest.tokens === 0 || said !== undefined ? c.fail(expected, said) : c.failFor(...expected);
  }
  const parts = readPhrase(c, table[chosen.kind].phrase);
  return { kind: chosen.kind, parts, span: c.span(first) };
}

/** Whether one of the constructs of a table comes next. */
export function comesOne(c: Cursor, table: Table): boolean {
  return Object.values(table).some(({ phrase }) => begins(c, phrase));
}

function sayPart(part: Lead): string {
  return typeof part === "string" ? `"${part}"` : part.says;
}

/** `"unknown after"`, or what stands in front. */
function sayLead(lead: readonly Lead[]): string {
  const [front] = lead;
  return typeof front === "string" ? `"${wordsFrom(lead, 0)}"` : (front?.says ?? "");
}

/** The words of a lead from one of them to the next slot: `unknown after`. */
function wordsFrom(lead: readonly Lead[], from: number): string {
  const end = lead.findIndex((part, index) => index >= from && typeof part !== "string");
  return lead.slice(from, end < 0 ? lead.length : end).join(" ");
}

export function readPhrase(c: Cursor, phrase: readonly Piece[]): Parts {
  const parts: Record<string, unknown> = {};
  for (const [place, piece] of phrase.entries()) {
    if (typeof piece === "string") {
      if (place > 0 || !takeOther(c, piece)) takeAll(c, tokensOf(piece), () => sayRest(phrase, place));
    } else if (piece instanceof Choice) {
      const found = piece.alternatives.find((alternative) => begins(c, alternative));
      if (found) Object.assign(parts, readPhrase(c, found));
    } else {
      if (place > 0 && isNeedless(c, 0)) c.needless();
      for (const [name, slot] of anyOf(piece)) parts[name] = slot.read(c);
    }
  }
  return parts;
}

/** Whether some words come in another wording. */
export function comesOther(c: Cursor, words: string): boolean {
  const said = otherWordings.get(words);
  return said !== undefined && otherWording(c, said) > 0;
}

/** Takes another wording of some words, where one comes: told, and read on with. */
export function takeOther(c: Cursor, words: string): boolean {
  const said = otherWordings.get(words);
  const other = said ? otherWording(c, said) : 0;
  if (other === 0) return false;
  const first = c.token;
  for (let taken = 0; taken < other; taken++) c.next();
  c.tellMeant(first, words);
  return true;
}

/** What people write instead of some words within a phrase. */
const wordHabits: Readonly<Record<string, readonly string[]>> = {
  to: ["at", "="],
  "..": ["to", "-"],
  over: ["in", "within"],
  is: ["=", "to", "at", "becomes", "turns", "goes", "equals", "reads"],
  moves: ["rises", "climbs", "falls", "drops", "sinks"],
};

function isMeant(c: Cursor, word: string, ahead: number): boolean {
  return ahead > 0 && (wordHabits[word] ?? []).includes(c.peek(ahead).text);
}

/** @param rest how the phrase goes on from there */
function takeAll(c: Cursor, tokens: readonly string[], rest: () => string): void {
  tokens.forEach((token, index) => {
    if (c.asked) c.offer(wordsFrom(tokens, index));
    if (c.comes(token)) c.next();
    else if (!c.takeMeant(token, wordHabits[token] ?? []))
      c.fail([`"${index === 0 ? rest() : token}"`], c.instead(phraseHabits[token] ?? {}));
  });
}

/** `then … at least …`: a phrase from one of its words to its last, but for what may be left out. */
function sayRest(phrase: readonly Piece[], from: number): string {
  const pieces = phrase.slice(from).filter((piece) => !(piece instanceof Choice));
  const last = pieces.findLastIndex((piece) => typeof piece === "string");
  if (last <= 0) return String(pieces[0]);
  return pieces.map((piece) => (typeof piece === "string" ? piece : "…")).join(" ");
}

/** The first words of the constructs of a table. */
export function firstWords(table: Table): string[] {
  return Object.values(table).flatMap(({ phrase }) => {
    const [front] = leadOf(phrase);
    return typeof front === "string" ? [front] : [];
  });
}

// ── Writing ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A construct as text, one blank between its words. */
export function writePhrase(phrase: readonly Piece[], parts: Parts): string {
  let text = "";
  let tight = true;
  for (const { text: said, isWords } of piecesOf(phrase, parts)) {
    if (said === "") continue;
    const joins = isWords && (said === ".." || said.startsWith(","));
    text += tight || joins ? said : ` ${said}`;
    tight = isWords && said === "..";
  }
  return text;
}

export function writeOne<Kind extends string>(table: Table<Kind>, { kind, parts }: Omit<PhraseNode<Kind>, "span">): string {
  return writePhrase(table[kind].phrase, parts);
}

interface Written {
  readonly text: string;
  readonly isWords: boolean;
}

function piecesOf(phrase: readonly Piece[], parts: Parts): Written[] {
  return phrase.flatMap((piece): Written[] => {
    if (typeof piece === "string") return [{ text: piece, isWords: true }];
    if (piece instanceof Choice) {
      const found = piece.alternatives.find((alternative) => namesIn(alternative).every((name) => parts[name] !== undefined));
      return found ? piecesOf(found, parts) : [];
    }
    return anyOf(piece).map(([name, slot]) => ({ text: slot.write(parts[name]), isWords: false }));
  });
}

/** The slots that a phrase has in any case. */
function namesIn(phrase: readonly Piece[]): string[] {
  return phrase.flatMap((piece) => (typeof piece === "string" || piece instanceof Choice ? [] : Object.keys(piece)));
}

// ── Rows ────────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** All that the language knows of one construct: how it looks, what it means at a place, and how that is said again. */
export interface Row<Meaning, Place, Told = undefined, Bound = Meaning | undefined> {
  readonly phrase: readonly Piece[];
  /** How it is asked for, where its words do not tell. */
  readonly says?: string;
  bind(parts: Parts, place: Place): Bound;
  unbind(meaning: Meaning, told: Told): Parts;
}

/** A row, its parts by their types. */
export function row<Meaning, Place, Told = undefined, Bound = Meaning | undefined>() {
  return <const Phrase extends readonly Piece[]>(
    phrase: Phrase,
    {
      says,
      bind,
      unbind,
    }: {
      readonly says?: string;
      readonly bind: (parts: PartsOf<Phrase>, place: Place) => Bound;
      readonly unbind: (meaning: Meaning, told: Told) => PartsOf<Phrase>;
    },
  ): Row<Meaning, Place, Told, Bound> => ({
    phrase,
    ...(says !== undefined && { says }),
    bind: bind as (parts: Parts, place: Place) => Bound,
    unbind: unbind as (meaning: Meaning, told: Told) => Parts,
  });
}
