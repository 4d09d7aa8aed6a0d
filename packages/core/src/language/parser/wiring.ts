// Which topic each sensor and output is, and how its messages read.
import type { ReadingPart, WireNode, WiringNode, WritingPart } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { anyWord, name, quoted, stateWord, sum } from "./terms.js";

const begins = new Set(["zone", "notices"]);

export function wire(c: Cursor): WireNode {
  const first = c.word("wire");
  const declared = anyWord(c, "what it is wired by, as mqtt");
  const entries = c.block(`wire ${declared.text}`, begins, () => entry(c));
  return { kind: "wire", name: declared, entries, span: c.span(first) };
}

function entry(c: Cursor): WiringNode {
  const first = c.token;
  if (c.isWord("zone") && c.isWord("alive", 2)) {
    c.next();
    const zone = anyWord(c, "the name of a zone");
    c.words("alive", "while");
    const topic = quoted(c);
    c.word("reads");
    return { kind: "alive", zone, topic, reads: quoted(c), span: c.span(first) };
  }
  if (c.isWord("notices") && c.isWord("to", 2)) {
    c.next();
    const way = anyWord(c, "a way to a person");
    c.next();
    return { kind: "notices", way, topic: quoted(c), span: c.span(first) };
  }
  const thing = name(c, "a sensor or an output");
  if (c.takeWord("from")) {
    const topic = quoted(c);
    return { kind: "reading", name: thing, topic, parts: many(() => readingPart(c)), span: c.span(first) };
  }
  if (!c.takeWord("to")) c.fail(['"from"', '"to"']);
  const topic = quoted(c);
  return { kind: "writing", name: thing, topic, parts: many(() => writingPart(c)), span: c.span(first) };
}

function many<Part>(part: () => Part | undefined): Part[] {
  const parts: Part[] = [];
  for (let found = part(); found !== undefined; found = part()) parts.push(found);
  return parts;
}

function readingPart(c: Cursor): ReadingPart | undefined {
  if ((c.isWord("at") || c.isWord("record")) && c.peek().kind === "text") {
    const kind = c.next().text as "at" | "record";
    return { kind, text: quoted(c) };
  }
  if (!c.isWord("reading") || c.peek().kind !== "text") return undefined;
  c.next();
  const words = c.list(() => {
    const text = quoted(c);
    c.word("as");
    return { text, as: stateWord(c) };
  });
  return { kind: "reading", words };
}

function writingPart(c: Cursor): WritingPart | undefined {
  if (c.takeWords("confirmed", "by")) return { kind: "confirmed by", text: quoted(c) };
  if (c.takeWords("again", "every")) return { kind: "again every", every: sum(c) };
  if (!c.takeWord("writing")) return undefined;
  if (c.token.kind === "text") return { kind: "writing", text: quoted(c) };
  const words = c.list(() => {
    const word = stateWord(c);
    c.word("as");
    return { word, text: quoted(c) };
  });
  return { kind: "writing words", words };
}
