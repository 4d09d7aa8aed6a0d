// A whole file: declarations one after another.
import { lex } from "../lexer.js";
import type { Faults } from "../problem.js";
import type { Declaration, FileNode } from "../syntax.js";
import { Cursor, declarationWords, Unparsed } from "./cursor.js";
import { people, physics, weather } from "./physics.js";
import { guard, rule } from "./rules.js";
import { house, mode, schedule, thing, zone } from "./things.js";
import { trial } from "./trials.js";

const parsers: Readonly<Record<string, (c: Cursor) => Declaration>> = {
  house,
  zone,
  dial: thing,
  mode,
  schedule,
  rule,
  guard,
  trial,
  physics,
  weather,
  people,
};

const begins: ReadonlySet<string> = new Set([...declarationWords, "dial"]);

/** The tree of a text, broken or not; what is wrong is noted in `faults`. */
export function parseFile(file: string, text: string, faults: Faults): FileNode {
  const { tokens, comments } = lex(file, text, faults);
  const c = new Cursor(text, tokens, faults);
  const declarations: Declaration[] = [];
  while (c.token.kind !== "end") {
    const before = c.position;
    try {
      declarations.push(declaration(c));
    } catch (error) {
      if (!(error instanceof Unparsed)) throw error;
      if (c.position === before || c.isSign("}")) c.next();
      c.recover(begins);
    }
  }
  return { file, text, declarations, comments };
}

function declaration(c: Cursor): Declaration {
  if (c.isSign("}")) {
    c.faults.add(c.token, { kind: "strayBrace" });
    throw new Unparsed();
  }
  const parse = c.token.kind === "word" && Object.hasOwn(parsers, c.token.text) ? parsers[c.token.text] : undefined;
  return parse ? parse(c) : c.fail([...begins].map((word) => `"${word}"`));
}
