// What there is: types, ranges, attributes, groups, lets, countdowns, presets.
import {
  type Countdown,
  type Dial,
  type Group,
  type Let,
  type Mode,
  type Named,
  type Output,
  offWordOf,
  type Preset,
  type Range,
  reachOf,
  type Sensor,
  type ValueType,
} from "../../house/index.js";
import { readUnit, type Unit, units, writeNumber } from "../../units/index.js";
import { typeHabits } from "../habits.js";
import { nearest } from "../nearest.js";
import type { CountdownNode, GroupNode, LetNode, ModeNode, PresetNode, Term, ThingNode, TypeNode, Word } from "../syntax.js";
import { dialAttributes } from "../vocabulary/dial.js";
import { outputAttributes } from "../vocabulary/output.js";
import { ofNumbers, sensorAttributes } from "../vocabulary/sensor.js";
import { writeTerm } from "../write/terms.js";
import { bindAttributes, unitOf } from "./attribute.js";
import { bindRange, bindWord } from "./fixed.js";
import { typeNames } from "./names.js";
import { hasReach } from "./reach.js";
import type { HouseSymbol, Scope, Typed } from "./scope.js";
import { bindTargets } from "./targets.js";
import { type BoundTerm, bindCondition, bindDuration, bindTerm, bindValue } from "./terms.js";
import { headingOf } from "./text.js";
import { typeOfValue, valueTypeOf } from "./type.js";

/** The type a thing is declared with, and the range where the type is one. */
export function bindType(node: TypeNode, scope: Scope): { type: ValueType; range?: Range } | undefined {
  switch (node.kind) {
    case "range":
      return bindRangeType(node, scope);
    case "words":
      return bindWords(node.words, node.ordered, scope);
    case "one":
      return bindOne(node, scope);
    case "colour of":
      return { type: { kind: "colour" } };
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
    scope.faults.add(only.span, { kind: "missing", what: "A thing with states needs at least two.", remedy });
  }
  return { type: { kind: "words", words: words.map(({ text }) => text), ordered } as const };
}

function bindOne({ word, span }: Extract<TypeNode, { kind: "one" }>, scope: Scope) {
  const named: Readonly<Record<string, ValueType>> = typeNames;
  if (Object.hasOwn(named, word)) return { type: named[word] as ValueType };
  const unit = readUnit(word);
  if (unit !== undefined) return { type: { kind: "number", unit } as const };
  const other = word.toLowerCase();
  const near = Object.hasOwn(typeHabits, other) ? [typeHabits[other] as string] : nearest(word, Object.keys(units));
  scope.faults.add(span, { kind: "unitUnknown", unit: word, nearest: near });
  return undefined;
}

function bindRangeType(node: Extract<TypeNode, { kind: "range" }>, scope: Scope) {
  const unit = writtenUnit(node.low) || writtenUnit(node.high);
  const range = bindRange(node.low, node.high, unit, scope);
  return range && { type: { kind: "number", unit } as const, range };
}

/** The unit a number is written in. */
function writtenUnit(term: Term): Unit {
  if (term.kind === "sign") return writtenUnit(term.of);
  return term.kind === "number" || term.kind === "duration" ? (readUnit(term.unit) ?? "") : "";
}

export function bindSensor(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Sensor {
  const place = { scope, type, unit: unitOf(type), bounds: range };
  const { range: _, ...attributes } = bindAttributes(node.attributes, sensorAttributes, { numbers: ofNumbers }, place);
  return { ...headingOf(node, scope.whole(node.name.text)), type, ...(range && { range }), ...attributes };
}

/** The range of a sensor, in the unit of its type: known before its other attributes, as names are. */
export function bindSensorRange(node: ThingNode, type: ValueType, scope: Scope): Range | undefined {
  const said = node.attributes.find(({ kind }) => kind === "range");
  if (!said || type.kind !== "number") return undefined;
  return sensorAttributes.range.bind(said.parts, { scope, type, unit: type.unit, bounds: undefined, span: said.span });
}

const none: ReadonlySet<string> = new Set();

export function bindOutput(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Output {
  const place = { scope, type, unit: unitOf(type), bounds: reachOf({ type, ...(range && { range }) }) };
  const lists = ["atLeast", "atMost"];
  const attributes = bindAttributes(node.attributes, outputAttributes, { lists, numbers: none }, place);
  const rests = node.attributes.some(({ kind }) => kind === "atRest");
  if (!rests && range && (range[0] > 0 || range[1] < 0)) {
    const remedy = `Add for example: at rest ${`${writeNumber(range[0])} ${unitOf(type)}`.trim()}.`;
    scope.faults.add(node.name.span, {
      kind: "missing",
      what: `Output ${node.name.text} needs an at-rest value, because 0 is outside its range.`,
      remedy,
    });
  }
  const measured = node.attributes.find(({ kind }) => kind === "uses" || kind === "delivers");
  if (measured) hasReach({ name: scope.whole(node.name.text), type, ...(range && { range }) }, measured.span, scope);
  const flow = node.attributes.find(({ kind }) => kind === "delivers");
  if (flow && type.kind !== "words" && type.kind !== "number") {
    const what = `Output ${node.name.text} cannot deliver anything: it is neither on nor off.`;
    scope.faults.add(flow.span, { kind: "missing", what, remedy: "Say it of the output that is switched." });
  }
  if (flow && !rests && type.kind === "words" && !type.words.includes("off")) {
    const what = `Output ${node.name.text} needs an at-rest value: a dose would never end.`;
    scope.faults.add(node.name.span, {
      kind: "missing",
      what,
      // Of more than two states nobody can tell which one that is.
      remedy: `Add for example: at rest ${type.words.length === 2 ? offWordOf({ type }) : "…"}.`,
    });
  }
  if (type.kind === "press") {
    const remedy = "Give it states such as on/off, a range or a unit.";
    scope.faults.add(node.type.span, {
      kind: "missing",
      what: "An output cannot be a press.",
      remedy,
    });
  }
  const lamp = node.type.kind === "colour of" ? scope.resolve(node.type.of, ["output"]) : undefined;
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    ...(lamp && { colourOf: lamp.name }),
    ...(attributes as Pick<Output, "atLeast" | "atMost">),
  };
}

const steps: ReadonlySet<string> = new Set<keyof typeof dialAttributes>(["step"]);

export function bindDial(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Dial | undefined {
  const place = { scope, type, unit: unitOf(type), bounds: range };
  const attributes = bindAttributes(node.attributes, dialAttributes, { numbers: steps }, place);
  if (!node.isBroken && !node.attributes.some(({ kind }) => kind === "atFirst")) {
    const low = range ? `${writeNumber(range[0])} ${unitOf(type)}`.trim() : undefined;
    const first = low ?? (type.kind === "words" ? type.words[0] : "…");
    const remedy = `Add${first === "…" ? "" : " for example"}: at first ${first}.`;
    scope.faults.add(node.name.span, { kind: "missing", what: `Dial ${node.name.text} has no starting value.`, remedy });
  }
  if (attributes.atFirst === undefined) return undefined;
  const heading = headingOf(node, scope.whole(node.name.text));
  return { ...heading, type, ...(range && { range }), ...(attributes as Pick<Dial, "atFirst">) };
}

export function bindMode(node: ModeNode, scope: Scope): Mode | undefined {
  const { type } = bindWords(node.words, node.ordered, scope);
  const atFirst = bindWord(node.first, scope, type);
  return atFirst === undefined ? undefined : { ...headingOf(node), type, atFirst };
}

export function bindGroup(node: GroupNode, symbol: HouseSymbol): Group {
  return { ...headingOf(node), members: (symbol.members?.() ?? []).map(({ name }) => name) };
}

/** The value of a let, bound once: its type follows from it, or is said. */
export function bindLetValue(node: LetNode, scope: Scope): (BoundTerm & { readonly typed: Typed }) | undefined {
  const said = node.type && bindType(node.type, scope);
  if (node.type && !said) return undefined;
  const want = said && typeOfValue(said.type);
  const bound = bindTerm(node.value, scope, want);
  if (!bound) return undefined;
  if (want) {
    const expression = bindValue(node.value, scope, want, said.range);
    return expression && { expression, type: want, typed: { type: said.type, ...(said.range && { range: said.range }) } };
  }
  if (
    bound.type.kind === "words" &&
    bound.type.words.length === 2 &&
    bound.expression.kind !== "value" &&
    node.value.kind === "name"
  ) {
    const condition = bindCondition(node.value, scope);
    return condition && { ...bound, expression: condition, typed: { type: { kind: "truth" } } };
  }
  const type = valueTypeOf(bound.type);
  if (!type) {
    scope.faults.add(node.value.span, {
      kind: "wrongType",
      what: writeTerm(node.value),
      wanted: "a value of a known kind",
      remedy: "Name the kind: let x: °C = ….",
    });
    return undefined;
  }
  return { ...bound, typed: { type, ...(bound.range && { range: bound.range }) } };
}

export function bindLet(node: LetNode, scope: Scope, bound: BoundTerm & { readonly typed: Typed }): Let {
  return { ...headingOf(node, scope.whole(node.name.text)), type: bound.typed.type, value: bound.expression };
}

export function bindCountdown(node: CountdownNode, scope: Scope): Countdown | undefined {
  const lasts = bindDuration(node.lasts, scope);
  return lasts && { ...headingOf(node, scope.whole(node.name.text)), lasts };
}

export function bindPreset(node: PresetNode, scope: Scope): Preset {
  const targets = bindTargets(node.targets, scope, ["output", "group", "dial", "mode"]);
  const twice = node.targets.find(({ name }, index) => node.targets.findIndex((other) => other.name.text === name.text) < index);
  if (twice)
    scope.faults.add(twice.name.span, {
      kind: "missing",
      what: `Preset ${node.name.text} gives ${twice.name.text} two values.`,
      remedy: "Remove one of them.",
    });
  return { ...(headingOf(node) as Named), targets };
}
