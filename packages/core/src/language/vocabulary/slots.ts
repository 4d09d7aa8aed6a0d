// What stands between the words of constructs: values, names, words, texts.
import type { Cursor } from "../parser/cursor.js";
import { quoted as readQuoted } from "../parser/quoted.js";
import * as read from "../parser/terms.js";
import { anyWord, name as readName } from "../parser/words.js";
import { comesOne, type PhraseNode, readOne, type Slot, type Table, writeOne } from "../phrase.js";
import type { Quoted, Term, Word } from "../syntax.js";
import type { WantedName } from "../wanted.js";
import { writeQuoted, writeTerm } from "../write/terms.js";

/** Behind a sign a number is two tokens. */
const numberAhead = (c: Cursor, at: number): number => {
  const isNumber = (ahead: number) => ["number", "quantity", "duration"].includes(c.peek(ahead).kind);
  if (c.isSign("-", at) || c.isSign("+", at)) return isNumber(at + 1) ? 2 : 0;
  return isNumber(at) ? 1 : 0;
};
const wordAhead = (c: Cursor, at: number): number => (c.peek(at).kind === "word" ? 1 : 0);

export const sum: Slot<Term> = { says: "a value", read: read.sum, write: writeTerm };
/** A sum, or a condition or word that stands as a value. */
export const value: Slot<Term> = { says: "a value", read: read.value, write: writeTerm };
/** A fixed number, with or without a sign. */
export const signed: Slot<Term> = { says: "a number", read: read.signed, write: writeTerm, ahead: numberAhead };
/** A word, or a fixed number, that something may be. */
export const state: Slot<Term> = {
  says: "a state",
  read: read.stateWord,
  write: writeTerm,
  ahead: (c, at) => wordAhead(c, at) || numberAhead(c, at),
};
export const quoted: Slot<Quoted> = {
  says: "a text in quotes",
  read: readQuoted,
  write: writeQuoted,
  ahead: (c, at) => (c.peek(at).kind === "text" ? 1 : 0),
};

/** The name of a thing. */
export function name(says: WantedName): Slot<Word> {
  return { says, read: (c) => readName(c, says), write: ({ text }) => text, ahead: (c, at) => (c.isName(at) ? 1 : 0) };
}

/** The name of a thing of a zone: with a dot. */
export function ofZone(says: WantedName): Slot<Word> {
  const { read: plain, ...slot } = name(says);
  return {
    ...slot,
    read(c) {
      if (c.isName(0) && !c.token.text.includes(".")) c.fail([says]);
      return plain(c);
    },
  };
}

/** Any word. */
export function word(says: string): Slot<Word> {
  return { says, read: (c) => anyWord(c, says), write: ({ text }) => text, ahead: wordAhead };
}

/** Several, joined by a word or a comma. */
export function several<Part>(slot: Slot<Part>, joins: "and" | ","): Slot<readonly Part[]> {
  return {
    says: slot.says,
    read(c) {
      const parts = [slot.read(c)];
      while (joins === "and" ? c.takeWord("and") : c.takeSign(",")) parts.push(slot.read(c));
      return parts;
    },
    write: (parts) => parts.map((part) => slot.write(part)).join(joins === "and" ? " and " : ", "),
    ...(slot.ahead && { ahead: slot.ahead }),
    goesOn: true,
  };
}

/** Two slots with a word between them; the other way round they are told, and read on with. */
export function pair<One, Other>(one: Slot<One>, joins: string, other: Slot<Other>): Slot<readonly [One, Other]> {
  const write = (first: One, second: Other) => `${one.write(first)} ${joins} ${other.write(second)}`;
  const swapped = (c: Cursor, at: number): number => {
    const first = other.ahead?.(c, at) ?? 0;
    const second = first > 0 && c.comes(joins, at + first) ? (one.ahead?.(c, at + first + 1) ?? 0) : 0;
    return second > 0 && !one.ahead?.(c, at) ? first + 1 + second : 0;
  };
  return {
    says: `${one.says} ${joins} ${other.says}`,
    read(c) {
      const begin = c.token;
      if (swapped(c, 0) > 0) {
        const second = other.read(c);
        c.word(joins);
        const first = one.read(c);
        c.tellMeant(begin, write(first, second));
        return [first, second];
      }
      const first = one.read(c);
      c.word(joins);
      return [first, other.read(c)];
    },
    write: ([first, second]) => write(first, second),
    ...(one.ahead && { ahead: (c: Cursor, at: number) => swapped(c, at) || (one.ahead?.(c, at) ?? 0) }),
    goesOn: true,
  };
}

/** As many constructs of a table as come, perhaps none. */
export function anyOf<Kind extends string>(table: Table<Kind>): Slot<readonly PhraseNode<Kind>[]> {
  return {
    says: "more",
    read(c) {
      const nodes: PhraseNode<Kind>[] = [];
      while (comesOne(c, table)) nodes.push(readOne(c, table));
      return nodes;
    },
    write: (nodes) => nodes.map((node) => writeOne(table, node)).join(" "),
  };
}
