// Names, and words that are none of the language's own.
import type { Word } from "../syntax.js";
import { reserved } from "../token.js";
import type { WantedName } from "../wanted.js";
import { type Cursor, phrases } from "./cursor.js";

/** A thing's name where nothing else can stand. */
export function name(c: Cursor, what: WantedName): Word {
  const token = c.name(what);
  return { text: token.text, span: token };
}

/** Any word, keywords included, but for the few reserved ones: a state, or a declared name. */
export function anyWord(c: Cursor, what: string): Word {
  c.want(what);
  if (c.token.kind !== "word" || phrases.has(c.token.text)) c.failFor(what);
  const token = c.takeName(what);
  if (reserved.has(token.text))
    c.faults.add(token, { kind: "reservedName", name: token.text, why: "it is a word of the language" });
  return { text: token.text, span: token };
}

/** What to do about a text without quotes: a topic, a name, up to the next blank. */
export function toQuote(c: Cursor, ahead: number): string | undefined {
  const { kind, leads, from } = c.peek(ahead);
  const [bare] = /^[^\s,;{}"]+/.exec(c.source.slice(from)) ?? [];
  return ["word", "dotted", "number"].includes(kind) && !leads && bare !== undefined ? `Put it in quotes: "${bare}".` : undefined;
}
