// A place in the tokens, what may come next, and how a broken text is picked up again.
import { declarationHabits } from "../habits.js";
import type { Faults } from "../problem.js";
import { reserved, type Span, starters, type Token } from "../token.js";
import type { WantedName } from "../wanted.js";
import type { Asked, Subject } from "./asked.js";

/** Thrown where a text does not fit, after the fault was noted; caught by the nearest block. */
export class Unparsed extends Error {}

/** Words that begin a declaration at the top of a file. */
export const declarationWords: ReadonlySet<string> = new Set(
  "house zone dial mode group let countdown preset schedule profile rule guard trial physics weather people wire".split(" "),
);

/** Words before the name of something that conditions and steps are about. */
const naming: ReadonlySet<string> = new Set("sensor output dial mode group let countdown preset schedule profile".split(" "));

const none: ReadonlySet<string> = new Set();

/** Words that begin a line within a sentence, or a step. They may be names too: line ends are blanks. */
const clauses: ReadonlySet<string> = new Set(
  "hold keep cycle do provided raise lower set toggle ramp dose release apply start stop tell send wait permit expect".split(" "),
);

/** What stands for a repeated word while the body of its `for each` is read for one of its values. */
export interface Stand {
  readonly tokens: readonly Token[];
  /** Its piece of a name: the value itself where that is a word, else its place. */
  readonly piece: string;
}

export type Repeated = ReadonlyMap<string, Stand>;

/** Tokens with the repeated words replaced. */
export function withoutRepeated(tokens: readonly Token[], repeated: Repeated): Token[] {
  return [...repeated].reduce((found, [word, stand]) => found.flatMap((token) => replaced(token, word, stand)), [...tokens]);
}

function replaced(token: Token, word: string, { tokens, piece }: Stand): Token[] {
  if (token.kind !== "word" && token.kind !== "dotted") return [token];
  if (token.text === word) return tokens.map((other) => ({ ...other, from: token.from, to: token.to, leads: token.leads }));
  const parts = token.text
    .split(".")
    .map((part, index) => (part === word && index === 0 ? piece : part.replaceAll(`{${word}}`, piece)));
  return [{ ...token, text: parts.join(".") }];
}

export class Cursor {
  /** Said in problems: `in rule dry_wood`. */
  where = "at the top of the file";
  /** What may begin an entry there: where one that is broken is left. */
  begins: ReadonlySet<string> = new Set();
  /** What the next state would be of. */
  subject: Subject;
  /** The zone whose braces are around. */
  zone: string | undefined;
  /** Whether a claim of a trial is read: it may also be about what was told. */
  claims = false;
  /** Whether what a sentence waits for is read, in which nothing is parted by commas. */
  conditions = false;
  /** While moments are read, of which there may be several: whether another comes, before which a condition is over. */
  comesMoment: ((c: Cursor, ahead: number) => boolean) | undefined;
  /** Where words stand that are names or states, or were skipped: all others are words of the language. */
  readonly names = new Set<number>();
  #at = 0;
  /** Where the entry begins that is read. */
  #entry = 0;
  /** The last name that was taken, and what for. */
  #named = { at: -1, wanted: "" };
  /** The first word of a line that was taken for a name last, and was none. */
  #wentBackTo = -1;

  /** @param asked hears what is asked for at the end of the tokens, where a writer is */
  constructor(
    readonly source: string,
    readonly tokens: readonly Token[],
    readonly faults: Faults,
    readonly repeated: Repeated = new Map(),
    readonly asked?: Asked,
  ) {}

  get position(): number {
    return this.#at;
  }

  /** An entry begins here: its position. */
  begin(): number {
    this.subject = undefined;
    this.#entry = this.#at;
    return this.#at;
  }

  get token(): Token {
    return this.tokens[this.#at] as Token;
  }

  /** The last one taken. */
  get taken(): Token {
    return this.tokens[Math.max(0, this.#at - 1)] as Token;
  }

  peek(ahead = 1): Token {
    return this.tokens[Math.min(this.#at + ahead, this.tokens.length - 1)] as Token;
  }

  next(): Token {
    const { token } = this;
    if (token.kind !== "end") this.#at++;
    return token;
  }

  /** From a token or span to the last one taken. */
  span(from: Span): Span {
    const last = this.taken;
    return { file: from.file, from: from.from, to: Math.max(last.to, from.from) };
  }

  /** Whether the text ends so far ahead, and somebody wants to know what it could go on with. */
  #hears(ahead: number): boolean {
    return this.asked !== undefined && this.#at + ahead === this.tokens.length - 1;
  }

  /** Tells a writer at the end of the text that words may stand there. */
  offer(words: string, ahead = 0): void {
    if (this.#hears(ahead)) this.asked?.word(words);
  }

  /** Tells a writer at the end of the text what is wanted there: a name, a value, a state. */
  want(what: string, ahead = 0): void {
    if (!this.#hears(ahead)) return;
    // What is only looked at yet has not been read.
    const subject = ahead > 0 && this.isName(ahead - 1) ? this.peek(ahead - 1).text : this.subject;
    this.asked?.slot(what, subject, this.zone);
  }

  #is(text: string, ahead: number): boolean {
    const token = this.peek(ahead);
    return token.kind === "word" && token.text === text;
  }

  isWord(text: string, ahead = 0): boolean {
    this.offer(text, ahead);
    return this.#is(text, ahead);
  }

  /** Whether one of these words comes. */
  isAmong(texts: Iterable<string>, ahead = 0): boolean {
    for (const text of texts) if (this.isWord(text, ahead)) return true;
    return false;
  }

  /** What a table has for the word that comes next. */
  choose<Of>(table: Readonly<Record<string, Of>>): Of | undefined {
    const found = Object.keys(table).find((text) => this.isWord(text));
    return found === undefined ? undefined : table[found];
  }

  /** Whether these words come next, one after another. */
  areWords(...texts: readonly string[]): boolean {
    return texts.every((text, ahead) => {
      this.offer(texts.slice(ahead).join(" "), ahead);
      return this.#is(text, ahead);
    });
  }

  isSign(text: string, ahead = 0): boolean {
    const token = this.peek(ahead);
    return token.kind === "sign" && token.text === text;
  }

  /** Whether a word or sign comes, without offering it. */
  comes(text: string, ahead = 0): boolean {
    return this.#is(text, ahead) || this.isSign(text, ahead);
  }

  /** The same of several, one after another. */
  comesAll(texts: readonly string[], ahead = 0): boolean {
    return texts.every((text, place) => this.comes(text, ahead + place));
  }

  /** A thing's name: a dotted one, or a word that is neither reserved nor a starter. */
  isName(ahead = 0): boolean {
    const { kind, text } = this.peek(ahead);
    return kind === "dotted" || (kind === "word" && isPlain(text));
  }

  takeWord(text: string): boolean {
    if (!this.isWord(text)) return false;
    this.next();
    return true;
  }

  /** Takes all of these words, or none. */
  takeWords(...texts: readonly string[]): boolean {
    if (!this.areWords(...texts)) return false;
    for (const _ of texts) this.next();
    return true;
  }

  takeSign(text: string): boolean {
    if (!this.isSign(text)) return false;
    this.next();
    return true;
  }

  /** Takes a comma and the word after it, or neither. */
  takeCommaWord(text: string): boolean {
    if (!this.isSign(",") || !this.isWord(text, 1)) return false;
    this.next();
    this.next();
    return true;
  }

  word(text: string): Token {
    if (this.isWord(text)) return this.next();
    return this.fail([`"${text}"`]);
  }

  /** The word that a declaration begins with, or another that is meant for it: told, and read on with. */
  opening(text: string): Token {
    return declarationHabits[this.token.text] === text && this.takeMeant(text, [this.token.text]) ? this.taken : this.word(text);
  }

  words(...texts: readonly string[]): void {
    texts.forEach((text, index) => {
      this.offer(texts.slice(index).join(" "));
      if (!this.#is(text, 0)) this.fail([`"${text}"`]);
      this.next();
    });
  }

  /** Takes a word that is a name or a state. */
  takeName(wanted = "a value"): Token {
    this.names.add(this.token.from);
    this.#named = { at: this.#at, wanted };
    return this.next();
  }

  /** Passes over a token that was not read. */
  skip(): void {
    this.names.add(this.token.from);
    this.next();
  }

  /** Takes the name of a thing where nothing else can stand; a state after it is of that thing. */
  name(what: WantedName): Token {
    this.want(what);
    if (!this.isName()) this.failFor(`the name of ${what}`);
    this.subject = this.token.text;
    return this.takeName(`the name of ${what}`);
  }

  sign(text: string): Token {
    if (this.isSign(text)) return this.next();
    return this.fail([`"${text}"`]);
  }

  /** Another word, or sign, where a word is meant: told, and read on with. */
  takeMeant(meant: string, habits: readonly string[]): boolean {
    const { kind, text } = this.token;
    if (!((kind === "word" || kind === "sign" || kind === "text") && habits.includes(text))) return false;
    this.faults.add(this.token, { kind: "habit", written: text, meant });
    this.next();
    return true;
  }

  /** Reads with one of these known, however it ends. */
  knowing<What extends "claims" | "conditions" | "comesMoment", Of>(what: What, is: this[What], read: () => Of): Of {
    const before = this[what];
    this[what] = is;
    try {
      return read();
    } finally {
      this[what] = before;
    }
  }

  /** What is written in a stretch of the text. */
  textOf({ from, to }: Span): string {
    return this.source.slice(from, to);
  }

  /** Tells that what was read from there on is meant otherwise. */
  tellMeant(first: Span, meant: string): void {
    const span = this.span(first);
    this.faults.add(span, { kind: "habit", written: this.textOf(span), meant });
  }

  /**
   * A word is missing before what comes, or before another stretch: told, and read on with.
   * @param goesOn whether more belongs to it than is quoted
   */
  lacksWord(before: string, goesOn = false, span: Span = this.token, written = this.token.text): void {
    const what = `"${written}" needs a word before it.`;
    const remedy = `Write ${before} ${written}${goesOn ? " …" : ""}.`;
    this.faults.add(span, { kind: "missing", what, remedy, before });
  }

  /** What a table has to say of the word or sign that comes. */
  instead(remedies: Readonly<Record<string, string>>): string | undefined {
    const { kind, text } = this.token;
    return kind === "word" || kind === "sign" ? remedies[text] : undefined;
  }

  /** Takes several words where others are meant: told, and read on with. */
  takeAllMeant(meant: string, written: readonly string[]): void {
    const first = this.token;
    for (const _ of written) this.next();
    this.tellMeant(first, meant);
  }

  /** Takes a word or sign that has no business here, and tells so. */
  needless(remedy = "Remove it."): void {
    const token = this.next();
    this.faults.add(token, { kind: "notHere", what: token.text, remedy });
  }

  /** What is missing, told in its own words. */
  missing(span: Span, what: string, remedy: string): never {
    if (this.#hears(0)) this.asked?.close();
    this.faults.add(span, { kind: "missing", what, remedy });
    throw new Unparsed();
  }

  /** A sign that may be missing: that is told, and read on without it. */
  expectSign(text: string): void {
    if (!this.takeSign(text)) this.#unexpected([`"${text}"`]);
  }

  /** A sign of a list or a declaration; one that is missing is told, and read on without it. */
  separator(sign: "," | "=" | ":", others: readonly string[] = []): void {
    if (this.takeSign(sign) || this.takeMeant(sign, others)) return;
    const after = say(this.taken);
    const what = `${separators[sign]} is missing after ${after}.`;
    this.faults.add(this.taken, { kind: "missing", what, remedy: `Write ${sign} there.`, after: sign });
  }

  fail(expected: readonly string[], remedy?: string): never {
    this.#unexpected(expected, remedy);
    throw new Unparsed();
  }

  /** A value, a name or what else a phrase goes on with does not come: on the next line nobody looks for it. */
  failFor(...wanted: readonly string[]): never {
    this.#unexpected(wanted, undefined, this.token.leads || this.#comesToEnd);
    throw new Unparsed();
  }

  /** Whether what is read is over, though it may lack something. */
  get #comesToEnd(): boolean {
    return this.token.kind === "end" || this.isSign("}") || this.#startsThing(this.begins) || this.startsDeclaration(none);
  }

  /**
   * What has been taken for a name, as one was wanted, begins something else, as what comes now shows: what stands before it
   * lacks something. Goes back to it, once, and gives what was wanted.
   */
  #goBack(): string | undefined {
    const { at, wanted } = this.#named;
    const comesMore = this.token.kind !== "end" && (this.token.kind !== "sign" || this.comes("{") || this.comes(":"));
    if (at !== this.#at - 1 || at <= this.#wentBackTo || at === 0 || !comesMore) return undefined;
    this.#at = at;
    if (!this.#begins) {
      this.#at++;
      return undefined;
    }
    this.#wentBackTo = at;
    this.names.delete(this.token.from);
    this.faults.spare(this.token);
    return wanted;
  }

  /** Whether a line of a sentence, an entry or a declaration may begin here. */
  get #begins(): boolean {
    const { leads, text } = this.token;
    return (
      (leads && (clauses.has(text) || this.begins.has(text))) || this.#startsThing(this.begins) || this.startsDeclaration(none)
    );
  }

  /** Where an entry is over before all of it has come, that is told of the last word it has. */
  #unexpected(expected: readonly string[], remedy?: string, isOver = this.#comesToEnd): void {
    if (this.#hears(0)) this.asked?.close();
    const wanted = this.#goBack();
    if (wanted !== undefined) {
      this.faults.add(this.taken, { kind: "brokenOff", after: say(this.taken), expected: [wanted], in: this.where });
      return;
    }
    const last = this.#at > this.#entry ? this.taken : undefined;
    const what = { expected, in: this.where, ...(remedy && { remedy }) };
    if (isOver && last) this.faults.add(last, { kind: "brokenOff", after: say(last), ...what });
    else this.faults.add(this.token, { kind: "unexpected", found: say(this.token), ...what });
  }

  /** One item, then more as long as a comma follows. */
  list<Item>(item: () => Item): Item[] {
    const items = [item()];
    while (this.takeSign(",")) items.push(item());
    return items;
  }

  /** Whether a declaration begins here, at the start of a line, that has no business inside a block. */
  startsDeclaration(allowed: ReadonlySet<string>): boolean {
    const { kind, text, leads } = this.token;
    if (!leads || kind !== "word" || !declarationWords.has(text) || allowed.has(text)) return false;
    if (text === "house") return this.peek().kind === "text";
    if (text === "physics" || text === "people") return this.isSign("{", 1);
    if (text === "wire") return this.peek().kind === "word" && this.isSign("{", 2);
    return this.peek().kind === "word" && (["{", ":", "="].some((sign) => this.isSign(sign, 2)) || this.peek(2).kind === "text");
  }

  /** `sensor t:`, on a line of its own or not. */
  #startsThing(begins: ReadonlySet<string>): boolean {
    const { kind, text } = this.token;
    return kind === "word" && begins.has(text) && this.peek().kind === "word" && this.isSign(":", 2);
  }

  /** An entry that began at a position could not be read: what it declares is known by its name alone. */
  leave(began: number): void {
    const [word, declared] = [this.tokens[began], this.tokens[began + 1]];
    if (!word || declared?.kind !== "word" || !naming.has(word.text)) return;
    this.faults.unread.add(this.zone === undefined ? declared.text : `${this.zone}.${declared.text}`);
  }

  /** Reads the rest of what has begun; where that is broken it is noted, the rest is left out, and false. */
  reads(rest: () => void): boolean {
    try {
      rest();
      return true;
    } catch (error) {
      if (!(error instanceof Unparsed)) throw error;
      this.recover(this.begins);
      return false;
    }
  }

  /** Reads an item of a list; a broken one is noted and left out up to the comma after it, or where the list is over. */
  item<Item>(read: () => Item): Item | undefined {
    try {
      return read();
    } catch (error) {
      if (!(error instanceof Unparsed)) throw error;
      if (this.asked && !this.asked.isEmpty) this.asked.close();
      while (!(this.isSign(",") || this.#comesToEnd || (this.token.leads && this.begins.has(this.token.text)))) this.skip();
      return undefined;
    }
  }

  /** Skips to the next thing that may begin an entry, or to the brace that ends the block. */
  recover(begins: ReadonlySet<string>): void {
    if (this.asked && !this.asked.isEmpty) this.asked.close();
    for (let depth = 0; this.token.kind !== "end"; this.skip()) {
      if (this.isSign("{")) depth++;
      else if (this.isSign("}")) {
        if (depth === 0) return;
        depth--;
      } else if (this.startsDeclaration(begins)) return;
      // A writer is offered what fits after what they have just written, though something before it is broken.
      else if (depth === 0 && (this.token.leads || this.asked) && begins.has(this.token.text)) return;
      else if (depth === 0 && this.#startsThing(begins)) return;
    }
  }

  /** At the end of a text: lets a writer know what could begin here, in the innermost block that is open. */
  attempt(entry: () => unknown): void {
    if (!this.#hears(0)) return;
    try {
      entry();
    } catch (error) {
      if (!(error instanceof Unparsed)) throw error;
    }
    this.asked?.close();
  }

  /** Entries until the brace closes; a broken entry is noted and skipped. */
  block<Entry>(what: string, begins: ReadonlySet<string>, entry: () => Entry): Entry[] {
    const open = this.sign("{");
    const outer = [this.where, this.begins] as const;
    [this.where, this.begins] = [`in ${what}`, begins];
    const entries: Entry[] = [];
    while (!this.takeSign("}")) {
      this.attempt(entry);
      if (this.token.kind === "end" || this.startsDeclaration(begins)) {
        this.faults.add(open, { kind: "unclosedBrace", what });
        break;
      }
      const before = this.begin();
      try {
        entries.push(entry());
      } catch (error) {
        if (!(error instanceof Unparsed)) throw error;
        this.leave(before);
        if (this.position === before) this.skip();
        this.recover(begins);
      }
    }
    [this.where, this.begins] = outer;
    return entries;
  }
}

const separators = { ",": "A comma", "=": "An equals sign", ":": "A colon" };

export function isPlain(word: string): boolean {
  return !reserved.has(word) && !starters.has(word) && !phrases.has(word);
}

/** Several words that are one token. */
export const phrases: ReadonlySet<string> = new Set(["at least", "at most", "in the last", "for each"]);

function say(token: Token): string {
  if (token.kind === "end") return "The end of the file";
  return token.text.startsWith('"') ? token.text : `"${token.text}"`;
}
