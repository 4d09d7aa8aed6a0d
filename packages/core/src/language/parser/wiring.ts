// Which topic each sensor and output is, and how its messages read.
import { firstWords, readOne } from "../phrase.js";
import type { WireNode } from "../syntax.js";
import { wiringRows } from "../vocabulary/wiring.js";
import type { Cursor } from "./cursor.js";
import { anyWord } from "./terms.js";

const begins: ReadonlySet<string> = new Set(firstWords(wiringRows));

export function wire(c: Cursor): WireNode {
  const first = c.word("wire");
  const declared = anyWord(c, "what it is wired by, e.g. mqtt");
  const entries = c.block(`wire ${declared.text}`, begins, () => readOne(c, wiringRows));
  return { kind: "wire", name: declared, entries, span: c.span(first) };
}
