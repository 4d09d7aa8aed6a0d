// How the rooms behave when simulated, the weather around them and the people in them.
import { readOne, type Table } from "../phrase.js";
import type { HabitNode, PeopleNode, PhysicsEntry, PhysicsNode, WeatherNode } from "../syntax.js";
import { airFigures, effectRows, habitFigures, roomRows } from "../vocabulary/physics.js";
import type { Cursor } from "./cursor.js";
import { heading } from "./heading.js";
import { anyWord, name, quoted } from "./terms.js";

const none: ReadonlySet<string> = new Set();

export function physics(c: Cursor): PhysicsNode {
  const first = c.word("physics");
  const entries = c.block("physics", new Set(["zone"]), () => entry(c));
  return { kind: "physics", entries, span: c.span(first) };
}

function entry(c: Cursor): PhysicsEntry {
  const first = c.token;
  // A zone may itself be called so.
  if (c.isWord("zone") && !c.isWord("beside", 1)) {
    c.next();
    const zone = anyWord(c, "the name of a zone");
    const facts = c.block(`the physics of ${zone.text}`, none, () => figures(c, roomRows)).flat();
    return { kind: "zone", zone, facts, span: c.span(first) };
  }
  const effect = readOne(c, effectRows, ['"zone"']);
  return { kind: "effect", effect, span: c.span(first) };
}

/** Figures parted by commas. */
function figures(c: Cursor, table: Table) {
  const found = c.list(() => readOne(c, table));
  if (!c.isSign("}")) c.fail(['","', '"}"']);
  return found;
}

export function weather(c: Cursor): WeatherNode {
  const first = c.word("weather");
  const head = heading(c, "weather");
  if (c.takeWord("from")) return { kind: "weather", ...head, recording: quoted(c), facts: [], span: c.span(first) };
  const facts = c.block(`weather ${head.name.text}`, none, () => figures(c, airFigures)).flat();
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
  const habits = [];
  while (c.takeSign(",")) habits.push(readOne(c, habitFigures));
  return { zone, schedule, habits, span: c.span(zone.span) };
}
