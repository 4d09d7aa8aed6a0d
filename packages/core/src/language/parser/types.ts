// Types: a unit, a range, words, `colour of` a lamp.
import type { TypeNode, Word } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { signed } from "./terms.js";
import { anyWord, name } from "./words.js";

function startsNumber(c: Cursor): boolean {
  return ["number", "quantity", "duration"].includes(c.token.kind) || c.isSign("-") || c.isSign("+");
}

function range(c: Cursor) {
  const low = signed(c);
  if (!c.takeMeant("..", ["-", "to"])) c.sign("..");
  return { kind: "range" as const, low, high: signed(c) };
}

/** @param byComma words are parted by commas, where strokes are meant */
export function typeNode(c: Cursor, byComma = false): TypeNode {
  const first = c.token;
  if (startsNumber(c)) return { ...range(c), span: c.span(first) };
  if (first.kind === "unit") {
    c.next();
    return { kind: "one", word: first.unit, span: first };
  }
  if (c.takeWords("colour", "of")) return { kind: "colour of", of: name(c, "a lamp"), span: c.span(first) };
  if (byComma || c.isSign("/", 1) || c.isSign("<", 1)) return { kind: "words", ...words(c, byComma), span: c.span(first) };
  const word = anyWord(c, "a unit such as °C, a range such as 0..100 %, or words such as open/closed");
  return { kind: "one", word: word.text, span: first };
}

export function words(c: Cursor, byComma = false): { words: Word[]; ordered: boolean } {
  const list = [anyWord(c, "a word")];
  const sign = c.isSign("<") ? "<" : "/";
  // `, at first` is not one of them.
  const comesWord = () => byComma && !(c.comes("at", 1) && c.comes("first", 2)) && c.takeMeant("/", [",", "or"]);
  while (c.takeSign(sign) || comesWord()) list.push(anyWord(c, "a word"));
  return { words: list, ordered: sign === "<" };
}
