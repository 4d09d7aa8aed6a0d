// How the rooms behave when simulated, the weather around them and the people in them.
import type { FactNode, HabitNode, PeopleNode, PhysicsEntry, PhysicsNode, WeatherNode } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { anyWord, name, quoted, signed, sum } from "./terms.js";
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
    const facts = c.block(`the physics of ${zone.text}`, none, () => factList(c, zoneFacts)).flat();
    return { kind: "zone", zone, facts, span: c.span(first) };
  }
  if (first.kind === "word" && c.isWord("beside", 1)) {
    const zone = anyWord(c, "the name of a zone");
    c.next();
    const other = anyWord(c, "the name of a zone");
    c.word("passes");
    return { kind: "passes", zone, other, amount: signed(c), span: c.span(first) };
  }
  if (first.kind !== "dotted") c.fail(["a zone's output or sensor, as bench.heater"]);
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
  c.words("of", "leak", "to");
  return { kind: "adds", sensor: thing, word, amount, to: anyWord(c, '"outdoors" or a zone'), span: c.span(first) };
}

const zoneFacts = ["volume", "loses", "stores", "leaks", "soaks", "window"];
const airFacts = ["outdoors", "swings", "humidity", "cloud", "seed", "fronts"];

/** Facts parted by commas. */
function factList(c: Cursor, known: readonly string[]): FactNode[] {
  const facts = c.list(() => fact(c, known));
  if (!c.isSign("}")) c.fail(['","', '"}"']);
  return facts;
}

function fact(c: Cursor, known: readonly string[]): FactNode {
  const first = c.token;
  if (first.kind !== "word" || !known.includes(first.text)) c.fail(known.map((word) => `"${word}"`));
  c.next();
  if (first.text === "fronts") c.word("every");
  const value = first.text === "fronts" ? sum(c) : signed(c);
  if (first.text === "window") c.words("of", "daylight");
  return { name: first.text, value, span: c.span(first) };
}

export function weather(c: Cursor): WeatherNode {
  const first = c.word("weather");
  const head = heading(c, "weather");
  if (c.takeWord("from")) return { kind: "weather", ...head, recording: quoted(c), facts: [], span: c.span(first) };
  const facts = c.block(`weather ${head.name.text}`, none, () => factList(c, airFacts)).flat();
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
  let habits: { every?: HabitNode["every"]; breathes?: HabitNode["breathes"] } = {};
  while (c.takeSign(",")) {
    if (c.takeWord("breathes")) habits = { ...habits, breathes: signed(c) };
    else {
      c.words("comes", "and", "goes", "every");
      habits = { ...habits, every: sum(c) };
    }
  }
  const { every, breathes } = habits;
  return { zone, schedule, ...(every && { every }), ...(breathes && { breathes }), span: c.span(zone.span) };
}
