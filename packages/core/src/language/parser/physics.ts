// How the rooms behave when simulated, the weather around them and the people in them.

import { dimensionOf, isUnit } from "../../units/index.js";
import { outdoorsHabits, roomHabits, weatherHabits } from "../habits.js";
import { comesOne, type PhraseNode, readOne } from "../phrase.js";
import type { Figured, HabitNode, PeopleNode, PhysicsEntry, PhysicsNode, WeatherNode } from "../syntax.js";
import type { Token } from "../token.js";
import { airFigures, effectRows, type Figure, givenIn, habitFigures, roomRows } from "../vocabulary/physics.js";
import type { Cursor } from "./cursor.js";
import { heading } from "./heading.js";
import { quoted } from "./quoted.js";
import { signed } from "./terms.js";
import { anyWord, name } from "./words.js";

type Figures = Readonly<Record<string, Figure>>;

const none: ReadonlySet<string> = new Set();

export function physics(c: Cursor): PhysicsNode {
  const first = c.word("physics");
  const entries = c.block("physics", new Set(["zone"]), () => entry(c));
  return { kind: "physics", entries, span: c.span(first) };
}

function entry(c: Cursor): PhysicsEntry {
  const first = c.token;
  // A zone may itself be called so.
  if (c.isWord("zone") && c.isName(1) && c.comesAll(["is", "outdoors"], 2)) c.takeMeant("", ["zone"]);
  else if (c.isWord("zone") && !c.isWord("beside", 1) && !c.comesAll(["is", "outdoors"], 1)) {
    c.next();
    return room(c, first);
  }
  if (first.kind === "word" && (c.isSign("{", 1) || (c.peek().kind === "word" && c.isSign("{", 2)))) {
    if (!c.isSign("{", 1)) c.next();
    c.faults.add(first, { kind: "missing", what: "Figures belong to a zone.", remedy: `Write zone ${c.token.text} { … }.` });
    return room(c, first);
  }
  const effect = readOne(c, effectRows, { besides: ['"zone"'], remedy: form(c) });
  return { kind: "effect", effect, span: c.span(first) };
}

function room(c: Cursor, first: Token): PhysicsEntry {
  const zone = anyWord(c, "the name of a zone");
  return { kind: "zone", zone, ...figured(c, `the physics of ${zone.text}`, roomRows), span: c.span(first) };
}

/** How to write what seems to be meant of a thing or a zone. */
function form(c: Cursor): string | undefined {
  const line = [c.token, ...restOfLine(c)];
  const { kind, text } = line.find((token) => token.kind === "dotted") ?? c.token;
  if (kind !== "word" && kind !== "dotted") return undefined;
  const ahead = line.find((token) => token.kind === "quantity");
  const amount = ahead?.text;
  const isOutside = ({ text: word }: Token) => word === "outdoors" || word === "weather" || outdoorsHabits.has(word);
  const saysOutside = /^(is|lies|reads)$/.test(c.peek().text) && line.slice(1).some(isOutside);
  if (kind === "word" && saysOutside) return `Write ${text} is outdoors.`;
  if (kind === "word" && isOutside(c.token) && c.isName(1)) return `Write ${c.peek().text} is outdoors.`;
  if (kind === "word" && /^(is|has|of|was|floor|built|build)$/.test(c.peek().text))
    return `Write zone ${text} { floor ${ahead?.unit === "m²" ? amount : "20 m²"}, built solid }.`;
  if (kind === "word") return `Write ${text} beside … passes ${ahead?.unit === "W/K" ? amount : "20 W/K"}.`;
  const what = ahead && givenIn(ahead.unit);
  const takes = (what === "heat" || what === "water") && line.some((token) => takenAway.has(token.text));
  if (what) return `Write ${text} gives ${takes ? "-" : ""}${amount} of ${what}${what === "air" ? " from outdoors" : ""}.`;
  if (line.some((token) => token.text === "surface"))
    return `Write ${text} is a surface with ${ahead?.unit === "%" ? amount : "65 %"} of the warmth.`;
  if (ahead?.unit === "m²") return `Write ${text} is ${amount} of soil 25 cm deep.`;
  if (ahead?.unit === "l") return `Write ${text} holds ${amount}.`;
  if (ahead?.unit === "/h") return `Write ${text} open adds ${amount} of leak to outdoors.`;
  return `Write ${text} gives 1.5 kW of heat, or of a door: ${text} open adds 6 /h of leak to outdoors.`;
}

/** Of heat and of water: what is taken away is given with a minus. */
const takenAway: ReadonlySet<string> = new Set("cools takes removes draws extracts absorbs dries dehumidifies chills".split(" "));

/** What stands behind the token on its line; so much at most. */
function restOfLine(c: Cursor): Token[] {
  const ahead = Array.from({ length: 8 }, (_, place) => c.peek(place + 1));
  const end = ahead.findIndex(({ leads, kind }) => leads || kind === "end");
  return end < 0 ? ahead : ahead.slice(0, end);
}

/** Figures parted by commas, between braces; one that cannot be read leaves the others as they are. */
function figured(c: Cursor, what: string, table: Figures): Figured {
  let broken = 0;
  const facts = c.block(what, none, () => {
    const found: PhraseNode[] = [];
    for (;;) {
      const figure = c.item(() => readFigure(c, table));
      if (figure) found.push(figure);
      else broken++;
      if (c.takeSign(",")) continue;
      if (c.isSign("}") || c.token.kind === "end" || c.startsDeclaration(none)) return found;
      if (figure && (comesOne(c, table) || meantFigure(c, table))) c.separator(",");
      else {
        c.item(() => c.fail(['","', '"}"'], insteadOf(c, table)));
        broken++;
        if (!c.takeSign(",")) return found;
      }
    }
  });
  return { facts: facts.flat(), ...(broken > 0 && { isPart: true }) };
}

function readFigure(c: Cursor, table: Figures): PhraseNode {
  const kind = meantFigure(c, table);
  const figure = kind === undefined ? undefined : table[kind];
  if (kind === undefined || !figure) return readOne(c, table, { remedy: insteadOf(c, table) });
  const first = c.token;
  const [words] = figure.phrase;
  const part = figure.words ? { built: anyWord(c, "a word") } : { figure: signed(c) };
  const span = c.span(first);
  const written = c.textOf(span);
  c.lacksWord(String(words), false, span, written);
  return { kind, parts: part, span };
}

/** What to write of weather or of a room in the place of a word that is none of theirs. */
function insteadOf(c: Cursor, table: Figures): string | undefined {
  return c.instead(table === airFigures ? weatherHabits : roomHabits);
}

/** The figure that a number is without its word, by its unit; or that a word is. */
function meantFigure(c: Cursor, table: Figures): string | undefined {
  const { kind, text, unit } = c.peek(c.isSign("-") || c.isSign("+") ? 1 : 0);
  const isMeant = (one: Figure) =>
    kind === "word"
      ? one.words?.includes(text)
      : kind === "quantity" && one.unit !== undefined && isUnit(unit) && dimensionOf(one.unit) === dimensionOf(unit);
  return Object.keys(table).find((name) => isMeant(table[name] as Figure));
}

export function weather(c: Cursor): WeatherNode {
  const first = c.word("weather");
  const head = heading(c, "weather");
  if (c.takeWord("from")) return { kind: "weather", ...head, recording: quoted(c), facts: [], span: c.span(first) };
  return { kind: "weather", ...head, ...figured(c, `weather ${head.name.text}`, airFigures), span: c.span(first) };
}

export function people(c: Cursor): PeopleNode {
  const first = c.word("people");
  const entries = c.block("people", none, () => habit(c));
  return { kind: "people", entries, span: c.span(first) };
}

function habit(c: Cursor): HabitNode {
  if (c.token.kind === "number")
    c.missing(c.token, "People are written one by one.", "Write a line for each: living during evening.");
  if (c.comes("zone") && c.isName(1) && c.comes("during", 2)) c.takeMeant("", ["zone"]);
  const zone = anyWord(c, "the name of a zone");
  c.word("during");
  const { kind, text } = c.token;
  if (kind === "time")
    c.missing(
      c.token,
      `A schedule tells when people are in ${zone.text}.`,
      `Declare schedule there { daily ${text} to … }, and write ${zone.text} during there.`,
    );
  const schedule = name(c, "a schedule");
  const habits = [];
  while (c.isSign(",") || comesOne(c, habitFigures)) {
    c.separator(",");
    if (c.peek(0).kind === "number")
      c.missing(c.token, "People are written one by one.", `Write a line for each: ${zone.text} during ${schedule.text}.`);
    habits.push(readOne(c, habitFigures));
  }
  return { zone, schedule, habits, span: c.span(zone.span) };
}
