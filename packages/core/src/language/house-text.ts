// A house, and its parts, as text of the language: by way of the tree, so that there is one printer.
import {
  builds,
  type Dial,
  type Effect,
  type Expectation,
  type Expression,
  type Happening,
  type House,
  type NeverTogether,
  type Output,
  type Permit,
  type Range,
  type RoomFigure,
  type Sensor,
  type Sentence,
  type Trial,
  type Trigger,
  type TruthType,
  type ValueType,
  type ZonePhysics,
} from "../house/index.js";
import type { Unit } from "../units/index.js";
import { type Row, writeOne } from "./phrase.js";
import { attributeRows, unbindAttributes, unbindHouse, unbindRange, unbindType } from "./unbind/declarations.js";
import { unbindTrigger } from "./unbind/occasions.js";
import { unbindApart, unbindPermit, unbindSentence } from "./unbind/rules.js";
import { nowhere, unbindTerm, word } from "./unbind/terms.js";
import { unbindExpectation, unbindHappening, unbindTrial } from "./unbind/trials.js";
import { effectRows, roomRows, unbindFigures } from "./vocabulary/physics.js";
import { writeDeclaration, writeTypeNode } from "./write/declarations.js";
import { type Line, layOut } from "./write/layout.js";
import { guard, sentence as sentenceLines, trigger as triggerLines } from "./write/rules.js";
import { writeTerm } from "./write/terms.js";
import { expectation as expectationText, happening as happeningText } from "./write/trials.js";

/** The text of a house in its canonical layout. What a calendar file says is not written, and repeats stay unrolled. */
export function writeHouse(house: House): string {
  const lines = unbindHouse(house).flatMap((declaration) => writeDeclaration(declaration));
  return layOut(lines, [], "");
}

/** A trial as text of the language. */
export function writeTrial(trial: Trial): string {
  return layOut(writeDeclaration(unbindTrial(trial)), [], "");
}

/** An expression as one would write it; parentheses where they are needed. */
export function writeExpression(expression: Expression): string {
  return writeTerm(unbindTerm(expression));
}

const inOneLine = (lines: readonly Line[]) => lines.map(({ text }) => text).join(" ");

/** `while … keep … raise with …`, `when … do { … }`, in one line. */
export function writeSentence(sentence: Sentence): string {
  return inOneLine(sentenceLines(unbindSentence(sentence), 0));
}

/** `permit … only while …`. */
export function writePermit(permit: Permit): string {
  const node = { kind: "guard" as const, name: word(""), permits: [unbindPermit(permit)], apart: [], span: nowhere };
  return inOneLine(guard(node, 0).slice(1, -1));
}

/** `never together …, 3 min apart`. */
export function writeNeverTogether(one: NeverTogether): string {
  const node = { kind: "guard" as const, name: word(""), permits: [], apart: [unbindApart(one)], span: nowhere };
  return inOneLine(guard(node, 0).slice(1, -1));
}

/** `at 07:30 on Mon..Fri`, `bench.door has been open for 5 min`. */
export function writeTrigger(trigger: Trigger): string {
  return inOneLine(triggerLines(unbindTrigger(trigger), "", 0, 0)).trim();
}

/** `bench.dryer is on by 07:10:05`, `never (…)`. */
export function writeExpectation(expectation: Expectation): string {
  return expectationText(unbindExpectation(expectation));
}

/** `at 08:10 bench.door is open`, `5 min later bench.button is pressed`. */
export function writeHappening(one: Happening): string {
  return happeningText(unbindHappening(one));
}

/** `°C`, `open/closed`, `poor < fair < good`, `time`; nothing for what is true or false. */
export function writeType(type: ValueType | TruthType): string {
  return type.kind === "truth" ? "" : writeTypeNode(unbindType(type));
}

/** `35..60 %RH`, `1 s..2 min`. */
export function writeRange(range: Range, unit: Unit): string {
  return writeTypeNode(unbindRange(range, unit));
}

/** The figures of a simulated room, each as text: those that were said, and those that follow from how it is built. */
export function writeRoom({ zone: _, built, ...figures }: ZonePhysics, assumed: readonly RoomFigure[]) {
  const place = built === undefined ? {} : { built: Object.keys(builds).indexOf(built) };
  const written = unbindFigures({ ...figures, ...place }, roomRows).map((node) => ({
    name: node.kind as string,
    text: writeOne(roomRows, node),
  }));
  const isAssumed = (name: string) => (assumed as readonly string[]).includes(name);
  return {
    said: written.flatMap(({ name, text }) => (isAssumed(name) ? [] : [text])),
    assumed: written.flatMap(({ name, text }) => (isAssumed(name) ? [text] : [])),
  };
}

/** What acts on a simulated room, as text. */
export function writeEffect(effect: Effect): string {
  const { unbind } = effectRows[effect.kind] as Row<Effect, never>;
  return writeOne(effectRows, { kind: effect.kind, parts: unbind(effect, undefined) });
}

/** The declarations of some kinds as one writes them, each a list of lines. */
export function writeDeclarations(house: House, kinds: readonly ("profile" | "wire")[]): string[][] {
  return unbindHouse(house)
    .filter(({ kind }) => (kinds as readonly string[]).includes(kind))
    .map((node) => writeDeclaration(node).map(({ text, indent }) => "  ".repeat(indent) + text));
}

/** What is said of a thing after its type, each as text: `unknown after 15 min`. */
export function writeAttributes(
  thing: Sensor | Output | Dial,
  kind: keyof typeof attributeRows,
): { name: string; text: string }[] {
  const { rows, lists } = attributeRows[kind];
  return unbindAttributes(thing, rows as never, lists).map((node) => ({ name: node.kind, text: writeOne(rows as never, node) }));
}
