// `for each`: the tokens of a body, read once for every value with the repeated word replaced.
import type { Term, Word } from "../syntax.js";
import type { Token } from "../token.js";
import { Cursor, withoutRepeated } from "./cursor.js";
import { value } from "./terms.js";
import { anyWord } from "./words.js";

export interface RepeatHead {
  readonly word: Word;
  readonly values: readonly Term[];
  /** What stands for the word, and the piece of a name for it. */
  readonly tokens: readonly (readonly Token[])[];
}

/** "for each" WORD "in" value { "," value } */
export function repeatHead(c: Cursor): RepeatHead {
  c.word("for each");
  const word = anyWord(c, "a word that stands for each");
  c.word("in");
  const values: Term[] = [];
  const tokens: Token[][] = [];
  do {
    const begins = c.position;
    values.push(value(c));
    tokens.push(c.tokens.slice(begins, c.position));
  } while (c.takeSign(","));
  return { word, values, tokens };
}

/** Cursors over the tokens from one place to another, one for each value. */
export function unroll(c: Cursor, { word, tokens }: RepeatHead, from: number, to: number): Cursor[] {
  const end = { ...(c.tokens[to] ?? c.token), kind: "end" as const, text: "" };
  return tokens.map((stands, index) => {
    const [only] = stands;
    // In a name, a value that is not a word is its place.
    const piece = stands.length === 1 && only?.kind === "word" ? only.text : String(index + 1);
    const stand = { tokens: stands, piece };
    const body = withoutRepeated(c.tokens.slice(from, to), new Map([[word.text, stand]]));
    return new Cursor(c.source, [...body, end], c.faults, new Map([...c.repeated, [word.text, stand]]));
  });
}
