// How the rooms behave when simulated, the weather around them and the people in them.
import type { FactNode, HabitNode, PeopleNode, PhysicsEntry, PhysicsNode, WeatherNode } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { anyWord, name, signed, sum } from "./terms.js";
import { heading } from "./things.js";

const none: ReadonlySet<string> = new Set();

export function physics(c: Cursor): PhysicsNode {
  const first = c.word("physics");
  const entries = c.block("physics", new Set(["zone"]), () => entry(c));
  return { kind: "physics", entries, span: c.span(first) };
}

function entry(c: Cursor): PhysicsEntry {
  const first = c.token;
  if (c.isWord("zone") && c.isSign("{", 2)) {
    c.next();
    const zone = anyWord(c, "the name of a zone");
    const facts = c.block(`the physics of ${zone.text}`, none, () => fact(c, zoneFacts)).flat();
    return { kind: "zone", zone, facts, span: c.span(first) };
  }
  const thing = name(c, "a zone's output or sensor");
  if (c.takeWord("gives")) {
    const amount = signed(c);
    c.word("of");
    const what = anyWord(c, '"heat", "water" or "light"');
    return { kind: "gives", output: thing, amount, what, span: c.span(first) };
  }
  const word = anyWord(c, '"gives", or a word of the sensor');
  c.word("adds");
  const amount = signed(c);
  for (const text of ["of", "leak", "to", "outdoors"]) c.word(text);
  return { kind: "adds", sensor: thing, word, amount, span: c.span(first) };
}

const zoneFacts = ["volume", "loses", "stores", "leaks", "soaks", "window"];
const airFacts = ["outdoors", "swings", "humidity", "cloud"];

/** One fact after another, parted by commas. */
function fact(c: Cursor, known: readonly string[]): FactNode[] {
  const facts: FactNode[] = [];
  do {
    const first = c.token;
    if (first.kind !== "word" || !known.includes(first.text)) c.fail(known.map((word) => `"${word}"`));
    c.next();
    const value = signed(c);
    if (first.text === "window") {
      c.word("of");
      c.word("daylight");
    }
    facts.push({ name: first.text, value, span: c.span(first) });
  } while (c.takeSign(","));
  if (!c.isSign("}")) c.fail(['","', '"}"']);
  return facts;
}

export function weather(c: Cursor): WeatherNode {
  const first = c.word("weather");
  const head = heading(c, "weather");
  const facts = c.block(`weather ${head.name.text}`, none, () => fact(c, airFacts)).flat();
  return { kind: "weather", ...head, facts, span: c.span(first) };
}

export function people(c: Cursor): PeopleNode {
  const first = c.word("people");
  const entries = c.block("people", none, () => habit(c));
  return { kind: "people", entries, span: c.span(first) };
}

function habit(c: Cursor): HabitNode {
  const zone = anyWord(c, "the name of a zone");
  c.word("during");
  const schedule = name(c, "a schedule");
  let every: HabitNode["every"];
  while (c.takeSign(",")) {
    for (const text of ["comes", "and", "goes", "every"]) c.word(text);
    every = sum(c);
  }
  return { zone, schedule, ...(every && { every }), span: c.span(zone.span) };
}
