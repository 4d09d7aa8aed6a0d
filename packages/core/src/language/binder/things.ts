// What there is: types, ranges, attributes, schedules.
import type { Dial, Mode, Output, Range, Schedule, Sensor, Value, ValueType } from "../../house/index.js";
import { DAY, type Opening, type Weekday } from "../../time/index.js";
import { fromBase, readUnit, type Unit, units } from "../../units/index.js";
import { nearest } from "../nearest.js";
import type { ModeNode, ScheduleNode, Term, ThingNode, TypeNode, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import type { Scope } from "./scope.js";
import { bindDuration, bindValue, sayRange, withUnitOf } from "./terms.js";
import { headingOf } from "./text.js";
import { differenceOf, numberType, timeOfDay, typeOfValue } from "./type.js";

/** The type a thing is declared with, and the range where the type is one. */
export function bindType(node: TypeNode, scope: Scope): { type: ValueType; range?: Range } | undefined {
  switch (node.kind) {
    case "range":
      return bindRangeType(node, scope);
    case "words":
      return bindWords(node.words, node.ordered, scope);
    case "one":
      return bindOne(node, scope);
    default:
      throw new RangeError(`no such type: ${JSON.stringify(node satisfies never)}`);
  }
}

function bindWords(words: readonly Word[], ordered: boolean, scope: Scope) {
  const seen = new Set<string>();
  for (const { text, span } of words) {
    if (seen.has(text)) scope.faults.add(span, { kind: "doubleName", name: text });
    seen.add(text);
  }
  const [only] = words;
  if (words.length === 1 && only) {
    const remedy = `Name the other state too: ${only.text}/…`;
    scope.faults.add(only.span, { kind: "missing", what: "A thing with states has at least two.", remedy });
  }
  return { type: { kind: "words", words: words.map(({ text }) => text), ordered } as const };
}

function bindOne({ word, span }: Extract<TypeNode, { kind: "one" }>, scope: Scope) {
  if (word === "time") return { type: { kind: "time" } as const };
  if (word === "number") return { type: { kind: "number", unit: "" } as const };
  if (word === "duration") return { type: { kind: "number", unit: "min" } as const };
  const unit = readUnit(word);
  if (unit !== undefined) return { type: { kind: "number", unit } as const };
  const near = nearest(word, Object.keys(units));
  scope.faults.add(span, { kind: "unitUnknown", unit: word, nearest: near });
  return undefined;
}

function bindRangeType(node: Extract<TypeNode, { kind: "range" }>, scope: Scope) {
  const unit = unitOf(node.low) || unitOf(node.high);
  const range = bindRange(node.low, node.high, unit, scope);
  return range && { type: { kind: "number", unit } as const, range };
}

/** The unit a number is written in. */
function unitOf(term: Term): Unit {
  if (term.kind === "sign") return unitOf(term.of);
  return term.kind === "number" || term.kind === "duration" ? (readUnit(term.unit) ?? "") : "";
}

function bindRange(lowTerm: Term, highTerm: Term, unit: Unit, scope: Scope): Range | undefined {
  const want = numberType(unit);
  const low = constantTerm(withUnitOf(lowTerm, highTerm), want, scope);
  const high = constantTerm(withUnitOf(highTerm, lowTerm), want, scope);
  if (low === undefined || high === undefined) return undefined;
  if (low >= high) {
    const says = `The range ${writeTerm(lowTerm)}..${writeTerm(highTerm)} is empty.`;
    scope.faults.add(lowTerm.span, { kind: "backwards", says, remedy: "Put the lower end first." });
    return undefined;
  }
  return [low, high];
}

function constantTerm(term: Term, want: ReturnType<typeof numberType>, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, want);
  return bound && constantIn(bound, want.unit);
}

export function bindSensor(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Sensor {
  const after = node.attributes.find((attribute) => attribute.kind === "unknown after");
  const unknownAfter = after && bindDuration(after.duration, scope);
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    ...(unknownAfter && { unknownAfter }),
  };
}

/** The range of a sensor, in the unit of its type. */
export function bindSensorRange(node: ThingNode, type: ValueType, scope: Scope): Range | undefined {
  const attribute = node.attributes.find((attribute) => attribute.kind === "range");
  if (!attribute) return undefined;
  if (type.kind === "number") return bindRange(attribute.low, attribute.high, type.unit, scope);
  scope.faults.add(attribute.span, { kind: "wrongType", what: "A range", wanted: "an attribute of a thing with words" });
  return undefined;
}

export function bindOutput(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Output {
  const atLeast: Output["atLeast"][number][] = [];
  let atRest: Value | undefined;
  for (const attribute of node.attributes) {
    if (attribute.kind === "at rest") atRest = bindConstantValue(attribute.value, scope, type, range);
    if (attribute.kind === "at least") {
      const word = bindWord(attribute.word, scope, type);
      const duration = bindDuration(attribute.duration, scope);
      if (word !== undefined && duration) atLeast.push({ word, duration });
    }
  }
  if (atRest === undefined && range && range[0] > 0 && !node.attributes.some(({ kind }) => kind === "at rest")) {
    const remedy = `Say it, as 0 is not in its range: at rest ${sayRange(range, type.kind === "number" ? type.unit : "").split("..")[0]} ….`;
    const what = `What ${node.name.text} does at rest is not said.`;
    scope.faults.add(node.name.span, { kind: "missing", what, remedy });
  }
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    ...(atRest !== undefined && { atRest }),
    atLeast,
  };
}

export function bindDial(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Dial | undefined {
  let atFirst: Value | undefined;
  let step: number | undefined;
  for (const attribute of node.attributes) {
    if (attribute.kind === "at first") atFirst = bindConstantValue(attribute.value, scope, type, range);
    if (attribute.kind === "step" && type.kind === "number") {
      const bound = bindValue(attribute.value, scope, differenceOf(numberType(type.unit)));
      const base = bound && constantIn(bound);
      if (base !== undefined) step = base / units[type.unit].factor;
    }
  }
  if (!node.attributes.some(({ kind }) => kind === "at first")) {
    const remedy = "Say what it is until somebody sets it: at first ….";
    scope.faults.add(node.name.span, { kind: "missing", what: `Dial ${node.name.text} has no first value.`, remedy });
  }
  if (atFirst === undefined) return undefined;
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    atFirst,
    ...(step !== undefined && { step }),
  };
}

/** A value that stands fixed in a declaration, in the thing's own unit. */
function bindConstantValue(term: Term, scope: Scope, type: ValueType, range?: Range): Value | undefined {
  const want = typeOfValue(type);
  const bound = bindValue(term, scope, want, range);
  if (!bound) return undefined;
  if (bound.kind === "word") return bound.word;
  const value = constantIn(bound);
  if (value === undefined) {
    const remedy = "Write a number or a word; it cannot depend on other things.";
    scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a fixed value", remedy });
    return undefined;
  }
  return type.kind === "number" ? fromBase(value, type.unit) : value;
}

/** A word that must be one of a type's. */
export function bindWord(word: Word, scope: Scope, type: ValueType): string | undefined {
  if (type.kind === "words" && type.words.includes(word.text)) return word.text;
  const words = type.kind === "words" ? type.words : [];
  if (words.length === 0) {
    scope.faults.add(word.span, { kind: "wrongType", what: `The word ${word.text}`, wanted: "a number" });
  } else {
    scope.faults.add(word.span, { kind: "unknownWord", word: word.text, words, nearest: nearest(word.text, words) });
  }
  return undefined;
}

export function bindMode(node: ModeNode, scope: Scope): Mode | undefined {
  const { type } = bindWords(node.words, node.ordered, scope);
  const atFirst = bindWord(node.first, scope, type);
  return atFirst === undefined ? undefined : { ...headingOf(node), type, atFirst };
}

export function bindSchedule(node: ScheduleNode, scope: Scope): Schedule {
  const openings: Opening[] = node.openings.map(({ days, spans }) => ({
    days: days as Weekday[],
    spans: spans.flatMap(({ from, to }) => {
      const begin = bindTimeOfDay(from, scope);
      const end = bindTimeOfDay(to, scope);
      return begin === undefined || end === undefined ? [] : [{ from: begin, to: end }];
    }),
  }));
  return { ...headingOf(node), openings };
}

function bindTimeOfDay(term: Term, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, timeOfDay);
  const ms = bound && constantIn(bound);
  if (bound && ms === undefined) {
    scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a time such as 07:30" });
  }
  if (ms !== undefined && (ms < 0 || ms > DAY)) {
    scope.faults.add(term.span, { kind: "noSuchTime", text: writeTerm(term) });
    return undefined;
  }
  return ms;
}

/** A number in a given unit, for physics and weather. */
export function bindFigure(term: Term, unit: Unit, scope: Scope): number | undefined {
  const number = term.kind === "sign" ? term.of : term;
  const want = numberType(unit);
  const bound = bindValue(term, scope, want);
  if (!bound || number.kind !== "number" || !readUnit(number.unit)) return undefined;
  const base = constantIn(bound);
  return base === undefined ? undefined : fromBase(base, unit);
}
