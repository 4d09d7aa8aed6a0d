// A whole file: declarations one after another.
import { declarationHabits } from "../habits.js";
import { lex } from "../lexer.js";
import { Faults } from "../problem.js";
import type { Declaration, FileNode, RepeatNode } from "../syntax.js";
import { Asked } from "./asked.js";
import { Cursor, declarationWords, Unparsed } from "./cursor.js";
import { guard } from "./guards.js";
import { people, physics, weather } from "./physics.js";
import { repeatHead, unroll } from "./repeat.js";
import { alone, comesSentence, rule } from "./rules.js";
import { countdown, group, house, letNode, mode, preset, thing, zone } from "./things.js";
import { profile, schedule } from "./time.js";
import { trial } from "./trials.js";
import { wire } from "./wiring.js";

const parsers: Readonly<Record<string, (c: Cursor) => Declaration>> = {
  house,
  zone,
  dial: thing,
  mode,
  group,
  let: letNode,
  countdown,
  preset,
  schedule,
  profile,
  rule,
  guard,
  trial,
  physics,
  weather,
  people,
  wire,
  "for each": repeat,
};

const begins: ReadonlySet<string> = new Set([...declarationWords, "for each"]);

/** The tree of a text, broken or not; what is wrong is noted in `faults`. */
export function parseFile(file: string, text: string, faults: Faults): FileNode {
  const { tokens, comments } = lex(file, text, faults);
  const c = new Cursor(text, tokens, faults);
  return { file, text, tokens, names: c.names, declarations: declarations(c), comments };
}

/** What may come where a text stops; undefined within a comment, where anything may. */
export function askedAtEnd(text: string): Asked | undefined {
  const faults = new Faults({ "": text });
  const { tokens, comments } = lex("", text, faults);
  if (comments.at(-1)?.to === text.trimEnd().length && !/\s*[\n\r]\s*$/.test(text)) return undefined;
  const asked = new Asked();
  declarations(new Cursor(text, tokens, faults, new Map(), asked));
  return asked;
}

function declarations(c: Cursor): Declaration[] {
  const found: Declaration[] = [];
  c.begins = begins;
  while (c.token.kind !== "end") {
    const before = c.begin();
    try {
      found.push(declaration(c));
    } catch (error) {
      if (!(error instanceof Unparsed)) throw error;
      c.leave(before);
      if (c.position === before || c.isSign("}")) c.skip();
      c.recover(begins);
    }
  }
  c.attempt(() => declaration(c));
  return found;
}

function declaration(c: Cursor): Declaration {
  if (c.isSign("}")) {
    c.faults.add(c.token, { kind: "strayBrace" });
    throw new Unparsed();
  }
  const { kind, text } = c.token;
  if ((text === "sensor" || text === "output") && kind === "word")
    c.missing(c.token, `${text === "output" ? "An" : "A"} ${text} belongs to a zone.`, `Write zone hall { ${text} … }.`);
  const meant = kind === "word" && c.peek().kind === "word" ? parsers[declarationHabits[text] ?? ""] : undefined;
  const parse = c.choose(parsers) ?? meant;
  if (!parse && comesSentence(c)) alone(c, "A sentence stands in a rule.", "my_rule");
  return parse ? parse(c) : c.fail([...begins].map((word) => `"${word}"`));
}

function repeat(c: Cursor): RepeatNode {
  const first = c.token;
  const head = repeatHead(c);
  const from = c.position + 1;
  const body = c.block(`for each ${head.word.text}`, begins, () => declaration(c));
  const unrolled = unroll(c, head, from, Math.max(from, c.position - 1)).flatMap((inner) => declarations(inner));
  return { kind: "repeat", word: head.word, values: head.values, body, unrolled, span: c.span(first) };
}
